"""When somebody is needed: people's hours, and the windows the sheet's times open. `now` is always an input.

Read in order: hours, windows. Never: volumes or weights.
"""
