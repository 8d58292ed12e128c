"""Coats laid one after another: an amount, a rule or a film, how each lies, levels and creeps, and what it
needs.

Read in order: amount, laid, flow, figures, verdicts. Never: heat of deep layers, weighing, hours.
"""
