"""PostgreSQL through psycopg, plain SQL, one module a stage. Never a rule of the trade; never SQL put
together from input.

Read in order: migrate, pool, workshops, systems, pieces, plans. Every row belongs to a workshop, every query
names it.
"""
