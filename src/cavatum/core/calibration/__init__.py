"""From what a data sheet says, or a probe measured, to the kinetics of a resin and its gates.

For: one set of parameters for each system that meets its own times, in words what they rest on, and what does
not fit together. Never: a rate law of its own (cure/) or a grid of its own (heat/). Read first: from_sheet,
of_system, gates, pot_clock.
"""
