"""What a plan comes to: totals and cost, the state of each stage for the rail, systems side by side.

For: sums of figures that other stages have worked out. Never: a figure of its own from readings. Read first:
totals, rail, compare.
"""
