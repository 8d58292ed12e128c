"""How many pours, how deep, how hot, when the next: the sheet's depth rules and the heat together.

Read in order: rules, split, course (one void being filled), planner (the search), heat and heat_plan (the
whole piece in a plan), chance (how many of a hundred such pours get too hot), heat_figures,
heat_verdicts; then refit and three, which take longer. Never: what to weigh.
"""
