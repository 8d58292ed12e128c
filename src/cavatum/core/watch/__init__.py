"""What a camera over a piece sees happen in the hour after a pour: rules for pictures, one after the other.

For: the piece seen from above with the light taken out (view), its wet edge (edge), spots that were not there
(spots), and what is told of them (watcher, seen). Never: a camera, a file or a clock; pictures come in with
their moment. Read in order: seen, view, edge, spots, watcher.
"""
