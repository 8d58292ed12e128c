"""What a camera over a piece sees happen in the hour after a pour: rules for pictures, one after the other.

For: the piece seen from above with the light taken out (corners, view), its wet edge (edge), spots that were
not there (spots), colour that still moves (flow), what is told of them (watcher, seen, words), which
pictures stay (thinning); where a face lies (outline); one photo in low side light (raking).
Never: a camera, a file or a clock; pictures come in with their moment. Read in order: seen, corners, view,
edge, spots, flow, watcher, outline, raking, words, thinning.
"""
