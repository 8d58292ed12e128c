"""Gunicorn's settings for every web process: the Procfiles name this file and the address."""

import gc

preload_app = True
worker_class = "gthread"
workers = 3  # one more than a small computer's two cores: an event finds one that is not deep in a plan
threads = 12
graceful_timeout = 2
control_socket_disable = True


def pre_fork(server: object, worker: object) -> None:
    """What the loaded application holds lives as long as the process: taken out of the collector's rounds,
    which would halt every request to walk it."""
    gc.collect()
    gc.freeze()
