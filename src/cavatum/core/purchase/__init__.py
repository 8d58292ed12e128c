"""What has to be bought, what stands on the shelf, and what is promised to which piece.

For: the cheapest kits for all needs together, exactly; bottles with their dates. Never: a database or a price
that nobody entered. Read first: stock, buying, solver, openings.
"""
