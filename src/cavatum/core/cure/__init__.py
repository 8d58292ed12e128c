"""How a resin turns solid: conversion over time and temperature, glass transition, gel, viscosity, what
drifts in it meanwhile.

Temperatures are kelvin (_k) in here. Read in order: parameters, kinetics, viscosity, particles. What a sheet
makes of them is calibration/, where the heat goes is heat/. Never: a temperature that comes of heat flow.
"""
