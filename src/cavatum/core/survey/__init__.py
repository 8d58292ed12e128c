"""Is the piece fit to pour on? For now the room's air; substrate and defects follow. Never: volumes or
times.
"""
