"""The first minute: from what lies on the bench to what to weigh, before anything is kept.

Read in order: benches, look. Never: anything that is kept, or a figure that plan.py does not work out.
"""
