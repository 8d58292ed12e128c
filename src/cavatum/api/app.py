"""The one factory that wires everything: blueprints, errors, CSRF, headers, the built front end."""

from __future__ import annotations

import hashlib
import json
import os
import secrets
import sys
from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import Path

from flask import Flask, Response, abort, g, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from flask_wtf.csrf import CSRFError
from werkzeug.middleware.proxy_fix import ProxyFix

from .. import __version__
from ..core.first.look import AtKey
from ..formats.piece_file import schema as piece_schema
from ..machine import paths
from ..services.pieces import PointedError
from . import (
    account,
    archive,
    bench,
    devices,
    ears,
    exports,
    files,
    finish,
    first,
    handed_in,
    health,
    heat,
    labels,
    learned,
    logbook,
    login,
    logs,
    mend,
    pairing,
    people,
    pieces,
    problems,
    resin,
    runs,
    schedule,
    sheets,
    shelf_items,
    stock,
    systems,
    voice,
    voice_ways,
    watching,
    weighing,
    who,
    workshop,
)
from .answers import RouteAnswer
from .operations import kept_document
from .speaking import speak_in_units

DIST = Path(os.environ.get("CAVATUM_PAGES") or paths.pages())
# an event's short answer waits for its turn beside somebody's long plan a dozen times: Python's own 5 ms each
# would add up
SWITCH_S = 0.0005
PLACES = (
    pieces,
    first,
    resin,
    heat,
    weighing,
    runs,
    schedule,
    finish,
    logbook,
    learned,
    mend,
    exports,
    files,
    sheets,
    labels,
    systems,
    shelf_items,
    stock,
    workshop,
    bench,
    voice,
    voice_ways,
    watching,
    devices,
    ears,
    pairing,
    handed_in,
    login,
    account,
    people,
    health,
    archive,
)
MOST_BODY_BYTES = 2 * 1024 * 1024
TRUSTED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
LEAST_SECRET = 32
NONCE_MARK = b"__NONCE__"
SHIPPED = ("favicon.svg", "icon-192.png", "icon-512.png", "manifest.webmanifest")


def create_network_app() -> Flask:
    """The application as the network reaches it: over HTTPS, by the names of its certificate, for whoever is
    let in.

    Behind a proxy on this computer (CAVATUM_BEHIND_PROXY) that one carries HTTPS, and what it says of
    address, host and protocol is believed, one step of it.
    """
    app = create_app(network_hosts=os.environ["CAVATUM_NETWORK_HOSTS"].split(","))
    if os.environ.get("CAVATUM_BEHIND_PROXY"):
        app.config["BEHIND_PROXY"] = True
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=1, x_proto=1, x_host=1)  # type: ignore[method-assign]
    return app


def create_app(
    shop_url: str | None = None,
    door_url: str | None = None,
    *,
    secret_key: str | None = None,
    now: Callable[[], datetime] | None = None,
    network_hosts: Sequence[str] | None = None,
) -> Flask:
    """The application. Without arguments it is configured by the environment that the start command sets.

    shop_url      of PostgreSQL, as the role that sees one workshop; else CAVATUM_SHOP_URL
    door_url      as the role that knows accounts and no workshop's rows; else CAVATUM_DOOR_URL
    secret_key    signs sessions; else CAVATUM_SECRET_KEY; never a default, never a short one
    now           the clock of tests and rehearsals; else the server's own
    network_hosts names it is reached by on the workshop's network; None: on loopback, where nobody has to be
    paired
    """
    app = OpenAPI(
        "cavatum",
        info=Info(title="Cavatum", version=__version__),
        doc_prefix="/api/v1",
        doc_ui=False,
        security_schemes={
            "token": {
                "type": "http",
                "scheme": "bearer",
                "description": "A script's token, made under People.",
            }
        },
        static_folder=None,
        validation_error_status=422,
        validation_error_callback=problems.from_validation,
        validation_error_model=problems.Problem,
    )
    app.config.update(
        SHOP_URL=shop_url or os.environ["CAVATUM_SHOP_URL"],
        DOOR_URL=door_url or os.environ["CAVATUM_DOOR_URL"],
        SECRET_KEY=_long_enough(secret_key or os.environ["CAVATUM_SECRET_KEY"]),
        MAX_CONTENT_LENGTH=MOST_BODY_BYTES,
        TRUSTED_HOSTS=list(network_hosts or TRUSTED_HOSTS),
        NOW=now,
        NETWORK_ADDRESS=os.environ.get("CAVATUM_NETWORK_ADDRESS"),
        NETWORK_AUTHORITY=os.environ.get("CAVATUM_NETWORK_AUTHORITY"),
        NETWORK_FINGERPRINT=os.environ.get("CAVATUM_NETWORK_FINGERPRINT"),
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_NAME="cavatum",
        WTF_CSRF_TIME_LIMIT=None,
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]  # of the default provider
    sys.setswitchinterval(SWITCH_S)
    problems.register(app)
    logs.register(app)
    app.register_error_handler(CSRFError, _csrf_problem)
    app.register_error_handler(PointedError, pieces.answer_pointed)
    app.register_error_handler(AtKey, first.answer_at_key)
    app.before_request(files.more_room)
    for module in PLACES:
        app.register_api(module.blueprint)
    operations = {at: one for module in PLACES for at, one in module.blueprint.operations.items()}
    who.guard(app, operations, is_network=network_hosts is not None)
    _documents(app)
    _front_end(app)
    _import_slow_ones()
    speak_in_units(app)
    app.after_request(_headers)
    return app


def _long_enough(secret_key: str) -> str:
    """Raises ValueError for a key that could be guessed: the server does not start with it."""
    if len(secret_key.strip()) < LEAST_SECRET:
        raise ValueError(
            f"CAVATUM_SECRET_KEY has {len(secret_key.strip())} characters; {LEAST_SECRET} at "
            "random are the least"
        )
    return secret_key


def _import_slow_ones() -> None:
    """Loaded by the core only where needed; a server pays for them at its start, not in somebody's first
    plan.
    """
    import scipy.optimize  # noqa: F401

    from ..core.heat.warm import warm
    from ..core.measure import outline  # noqa: F401

    warm()


def _csrf_problem(error: CSRFError) -> Response:
    detail = "This page's token is missing or out of date. Reload the page; what you typed is kept there."
    return problems.answer(problems.Problem(title=problems.STATUS_TITLES[403], status=403, detail=detail))


def _documents(app: OpenAPI) -> None:
    @app.route("/api/v1/openapi.json")
    def openapi_document() -> RouteAnswer:
        return kept_document()

    @app.route("/api/v1/piece-schema.json")
    def piece_file_schema() -> RouteAnswer:
        return piece_schema()


def _front_end(app: Flask) -> None:
    """Hashed files as they are; every other address gets the page, which routes by itself."""

    @app.route("/assets/<path:name>")
    def assets(name: str) -> RouteAnswer:
        response = send_from_directory(DIST / "assets", name)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @app.route("/", defaults={"path": ""})
    @app.route("/<path:path>")
    def page(path: str) -> RouteAnswer:
        if path.startswith("api/"):
            abort(404)
        if path in SHIPPED:
            return send_from_directory(DIST, path)
        if path == "sw.js":
            return _service_worker()
        g.nonce = secrets.token_urlsafe(16)
        html = (DIST / "index.html").read_bytes().replace(NONCE_MARK, g.nonce.encode())
        return Response(html, mimetype="text/html", headers={"Cache-Control": "no-store"})


def _service_worker() -> Response:
    """The worker that keeps pages at hand, told which built files there are: another build, another
    worker.
    """
    files = sorted(
        f"/assets/{one.name}"
        for one in (DIST / "assets").iterdir()
        if one.suffix in (".js", ".css", ".woff2")
    )
    version = hashlib.sha256("".join(files).encode()).hexdigest()[:16]
    text = (
        (DIST / "sw.js").read_text().replace("__VERSION__", version).replace("__FILES__", json.dumps(files))
    )
    return Response(text, mimetype="text/javascript", headers={"Cache-Control": "no-cache"})


def _headers(response: Response) -> Response:
    nonce = f" 'nonce-{g.nonce}'" if "nonce" in g else ""
    response.headers.setdefault(
        "Content-Security-Policy",
        (
            f"default-src 'none'; script-src 'self'; style-src 'self'{nonce}; img-src 'self' data: "
            "blob:; font-src 'self'; "
            "connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action "
            "'none'; frame-ancestors 'none'"
        ),
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["X-Frame-Options"] = "DENY"
    response.headers["Referrer-Policy"] = "same-origin"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    response.headers["Permissions-Policy"] = "camera=(self), microphone=(self), geolocation=()"
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
        if response.mimetype == "application/json":
            response.headers.setdefault(
                "Content-Disposition", 'attachment; filename="answer.json"'
            )  # opened by itself it is a file, never a page
    return response
