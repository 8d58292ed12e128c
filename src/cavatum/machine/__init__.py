"""Sets up and runs Cavatum on one machine: packages, front-end build, database cluster, server.

Standard library only, because it runs before anything is installed. It never touches the rules of the
trade, and stops only what it started. Read in this order: paths, tell, packages, cluster, server, commands.
"""
