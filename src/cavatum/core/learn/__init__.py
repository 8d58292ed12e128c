"""Records turned into corrected values, with how many runs they rest on and how sure they are. Rules 9.1 and
9.2.

Read in order: factors (what can be learned, and what is typical), robust (many runs -> one value with its
band), record (one run in figures),
observe (a run -> what it says of each factor), learned (all together, and what of it the next plan uses),
progress (predicted against measured).
Never: a value used without saying so, or from fewer than three runs.
"""
