"""How much there is to fill: voids as area by height, what displaces, what goes missing, and the section
drawn from it.

Read in order: hollow, outline, cavity, allowances, holddown, section. Never: resin chemistry or times.
"""
