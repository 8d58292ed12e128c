"""How a resin turns solid: conversion over time and temperature, glass transition, gel, viscosity, what drifts in it meanwhile.

Temperatures are kelvin (_k) in here. Read in order: parameters, kinetics, viscosity, particles. Never: where the heat goes (see heat/).
"""
