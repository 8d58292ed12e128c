"""What went wrong, and the way back. Rule 10.

For: diagnose (what is seen and what the record shows -> ranked causes), evidence (a record -> facts),
way_back (a cause -> steps with amounts).
Never: words of the trade; they stand in practice/troubles.py and practice/ways_back.py, which a maker can
read and correct.
"""
