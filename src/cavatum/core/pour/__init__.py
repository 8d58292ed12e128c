"""The pour as it is carried out: a frozen plan compiled into steps, and what a log of events makes of them.

For: script (plan -> steps), events, state (the pure fold, kept alike in web/src/domain/run.ts), pace
(readings against the predicted curve),
debrief, rehearsal. Never: a clock or a device; the moment and the readings come in. Read in order: script,
events, state.
"""
