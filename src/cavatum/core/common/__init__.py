"""What every room of the core uses: quantities, readings, workings, verdicts, refusals, wording.

For: one form of a figure with its working, one of a refusal, one way to put an amount into words. Never: a
rule of the trade. Read first: units, readings, working, verdict, errors, wording.
"""
