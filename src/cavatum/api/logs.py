"""One JSON line for every change, every refusal and every slow answer: with the request's id, never with a
secret, a body or a query.

The operation's name stands for the address, as some addresses are secrets themselves.
"""

from __future__ import annotations

import json
import logging
import os
import sys
import time
from datetime import UTC, datetime
from typing import Any

from flask import Flask, Response, g, request

from .health import count

SLOW_S = 1.0
log = logging.getLogger("cavatum.request")


def register(app: Flask) -> None:
    if os.environ.get("CAVATUM_LOG_REQUESTS"):
        handler = logging.StreamHandler(sys.stderr)
        handler.setFormatter(logging.Formatter("%(message)s"))
        log.addHandler(handler)
        log.setLevel(logging.INFO)
        log.propagate = False

    @app.before_request
    def begin() -> None:
        g.began = time.perf_counter()

    @app.after_request
    def end(response: Response) -> Response:
        operation = g.get("operation") or ("page" if not request.path.startswith("/api/") else "unknown")
        seconds = time.perf_counter() - g.get("began", time.perf_counter())
        count(operation, response.status_code, seconds)
        if "request_id" in g:
            response.headers["X-Request-ID"] = g.request_id
        if request.method not in ("GET", "HEAD") or response.status_code >= 400 or seconds > SLOW_S:
            log.info(line(operation, response.status_code, seconds))
        return response

    def log_exception(exc_info: Any) -> None:
        log.error(
            line(g.get("operation", "unknown"), 500, time.perf_counter() - g.get("began", 0.0)),
            exc_info=exc_info,
        )

    app.log_exception = log_exception  # type: ignore[method-assign]


def line(operation: str, status: int, seconds: float) -> str:
    who = g.get("who")
    return json.dumps(
        {
            "at": datetime.now(UTC).isoformat(timespec="milliseconds"),
            "request": g.get("request_id", ""),
            "method": request.method,
            "operation": operation,
            "status": status,
            "ms": round(seconds * 1000, 1),
            "workshop": who.workshop_id if who else None,
            "account": who.account_id if who else None,
            "how": who.how if who else None,
            "address": request.remote_addr,
        }
    )
