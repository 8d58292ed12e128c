"""The demo workshop, Quillstone Yard. Invented; nobody and nothing in it is real. Laid around the current
day.
"""
