"""Instruments of the workshop and the stand-ins that speak the same lines. One process owns them all and
writes what they
say into the store; the web process never opens a port. Read in order: lines, reader, stand_in_level.
"""
