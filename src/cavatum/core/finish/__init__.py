"""From cured to handed over: readiness by test, the ladder of grits, the oven, the plan of finishing and the
care note. Rules 8.1 to 8.7.

Read in order: gates (tests and the cure model -> passed, not passed, not sure, and when to test again), grit,
oven, plan, care.
Never: readiness by an elapsed time alone.
"""
