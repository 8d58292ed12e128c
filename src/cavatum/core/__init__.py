"""The rules of the job as pure computation.

For: turning a measured piece, resin sheets, a room, people's hours and a moment into a plan, every figure
with
its working. Never: a clock, a file, a socket, the environment, a database or the web; all of that comes in as
arguments. Flow: survey -> measure -> resin -> layers -> mix -> clock, composed in plan.py; options.py
compares
candidates. Read first: units, errors, working, verdict, piece, plan.
"""
