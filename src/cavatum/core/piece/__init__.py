"""The piece as a document: what a maker measured, chose and wished, and what is on the shelf for it.

For: types that check what is typed, with the field to blame. Never: a computation beyond that check. Read
first: document, shapes, coats, parts, shelf_items.
"""
