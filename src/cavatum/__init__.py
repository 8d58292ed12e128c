"""Cavatum plans castings and coatings with two-part resins. Start reading in core/plan.py."""

__version__ = "0.7.0"
