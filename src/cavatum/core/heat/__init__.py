"""Where the heat of a curing resin goes: finite volumes, one compiled kernel for every shape.

Temperatures are kelvin (_k) in here. Read in order: materials, grid, kernel, run, then the shapes (column,
cup, block, voxels).
Never: which split is chosen (see layers/).
"""
