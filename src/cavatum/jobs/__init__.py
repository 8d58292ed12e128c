"""Long work on a queue in PostgreSQL (procrastinate): asked for by the API, done by as many workers on as
many hosts as wanted.

Read in order: queue (how it is asked for), work (what each kind does), worker (the process). The job's row in
the store holds its state
and its one result; the queue only says that there is something to do.
"""
