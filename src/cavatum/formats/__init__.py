"""Open formats in and out. For now the piece file. Never: rules of the trade, database, web."""
