"""All pieces of a workshop on one clock, and how far each is by its plan.

For: starts that keep every window, hours, hands and places, proven by the solver and checked without it.
Never: the plan of a single piece (plan.py). Read first: together, plan_together, bench.
"""
