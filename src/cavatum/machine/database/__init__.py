"""The private PostgreSQL cluster on loopback: made once, found again, never replaced by an empty one.

record    what is known of it: folder, port, the roles' passwords
programs  PostgreSQL's own, of the version that made the folder
making    initdb, and the settings that are laid down at every start
running   starts, stops, waits for it
roles     who may connect as what
finding   what is there, and whether to start it, make one, or refuse
taking_up a folder or a database whose note was lost; another version's folder
"""
