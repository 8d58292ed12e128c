"""Resin systems: what a sheet says, typical classes to start from, doubts about a sheet. Never a real
product.

Read in order: system, typical, checks.
"""
