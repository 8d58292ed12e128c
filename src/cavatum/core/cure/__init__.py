"""How a resin turns solid: conversion over time and temperature, glass transition, gel, viscosity, what
drifts in it meanwhile.

Temperatures are kelvin (_k) in here. Read in order: parameters, kinetics, viscosity, particles; calibration,
gates and of_system bring in a
sheet; potclock a batch in its cup. Where the heat goes is heat/.
"""
