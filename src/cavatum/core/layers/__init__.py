"""How many pours and how deep. For now by the sheet's depth rules for the mass of that layer; the heat follows.

Read in order: rules, split. Never: what to weigh or when.
"""
