"""Refusals as problem details (RFC 9457): which field, which value, what would be taken, the way out."""

from __future__ import annotations

import logging
import os
from typing import Any

import psycopg
from flask import Flask, Response, jsonify, request
from psycopg_pool import PoolTimeout
from pydantic import BaseModel, ValidationError
from werkzeug.exceptions import HTTPException

from ..core.common.errors import DomainError
from ..core.common.extras import left_out
from ..core.piece.document import Piece
from ..formats.piece_file import explain
from ..store.migrate import NewerDatabase
from ..store.pool import Conflict, NotFound, Unconfirmed
from ..store.revisions import Changed
from .texts import broken

STATUS_TITLES = {
    400: "That could not be read",
    401: "Please log in",
    403: "Not allowed",
    404: "Not here",
    405: "Not possible here",
    409: "Changed on another device",
    413: "Too large",
    415: "Wrong kind of content",
    422: "Please check a value",
    500: "Cavatum made a mistake",
    503: "Try again in a moment",
}


class FieldProblem(BaseModel):
    pointer: str
    message: str
    value: str
    way_out: str
    code: str
    choices: list[str] = []


class Clash(BaseModel):
    """One place that two devices changed: what it was, what the other made of it, what you made of it."""

    pointer: str
    base: object = None
    theirs: object = None
    yours: object = None


class Problem(BaseModel):
    type: str = "about:blank"
    title: str
    status: int
    detail: str
    problems: list[FieldProblem] = []
    clashes: list[Clash] = []
    head: int | None = None
    merged: Piece | None = None


CHECKOUTS_COMMAND = "./cavatum"


def command() -> str:
    """As a person calls it who has what is installed here: the start command says which."""
    return os.environ.get("CAVATUM_COMMAND", CHECKOUTS_COMMAND)


def answer(problem: Problem) -> Response:
    response = jsonify(_as_called_here(problem.model_dump(mode="json")))
    response.status_code = problem.status
    response.content_type = "application/problem+json"
    return response


def _as_called_here(said: Any) -> Any:
    if isinstance(said, str):
        return said.replace(CHECKOUTS_COMMAND, command())
    if isinstance(said, list):
        return [_as_called_here(one) for one in said]
    if isinstance(said, dict):
        return {key: _as_called_here(one) for key, one in said.items()}
    return said


def from_validation(error: ValidationError, status: int = 422) -> Response:
    if request.is_json and request.get_json(silent=True) is None:
        return answer(
            Problem(title=STATUS_TITLES[400], status=400, detail="The request could not be read (bad JSON).")
        )
    fields = [FieldProblem.model_validate(one) for one in explain(error)]
    detail = f"{fields[0].message} {fields[0].way_out}" if fields else "The document is not sound."
    return answer(Problem(title=STATUS_TITLES[422], status=status, detail=detail, problems=fields))


def from_domain(error: DomainError, pointer: str = "") -> Response:
    status = {"too-large": 413}.get(error.code, 422)
    field = FieldProblem(
        pointer=pointer,
        message=f"{error.argument.capitalize()} is {error.value}; {error.allowed}.",
        value=error.value,
        way_out=error.way_out,
        code=error.code,
        choices=error.choices,
    )
    return answer(
        Problem(
            title=STATUS_TITLES[status],
            status=status,
            detail=f"{field.message} {field.way_out}",
            problems=[field],
        )
    )


def _from_conflict(error: Conflict) -> Response:
    detail = (
        "This piece was changed on another device in the meantime. Nothing is lost: choose for each "
        "value which one holds."
    )
    return answer(
        Problem(
            title=STATUS_TITLES[409],
            status=409,
            detail=detail,
            head=error.head,
            clashes=[Clash(**one) for one in error.clashes],
            merged=Piece.model_validate(error.document),
        )
    )


def _from_changed(error: Changed) -> Response:
    detail = (
        "This was changed on another device in the meantime, and so were the same values. Nothing is lost: "
        "choose which holds."
    )
    clashes = [Clash(**one) for one in error.clashes]
    return answer(
        Problem(title=STATUS_TITLES[409], status=409, detail=detail, head=error.head, clashes=clashes)
    )


def _from_http(error: HTTPException) -> Response:
    code = error.code or 500
    detail = {
        413: "At most 64 MB are taken."
        if request.path.endswith("/files")
        else "At most 2 MB are taken. A piece file holds no photos or meshes.",
        404: "There is nothing at this address.",
    }.get(code, error.description or "")
    return answer(Problem(title=STATUS_TITLES.get(code, error.name), status=code, detail=detail))


def _from_database(error: Exception) -> Response:
    """It is away, or too busy with the same rows: whoever sends again loses nothing, as every event and edit
    counts once.
    """
    logging.getLogger("cavatum.request").error("database: %s", type(error).__name__, exc_info=error)
    detail = "The database does not answer just now. Nothing was changed; it is tried again."
    if isinstance(error, Unconfirmed):
        detail = (
            "The database did not confirm that this is kept. Look whether it is there before you do it "
            "again; entries of a pour are sent again by themselves."
        )
    response = answer(Problem(title=STATUS_TITLES[503], status=503, detail=detail))
    response.headers["Retry-After"] = "2"
    return response


def _from_a_newer_one(error: NewerDatabase) -> Response:
    """Stopped, rather than read or write what this version does not understand."""
    return answer(Problem(title="Not ready", status=503, detail=str(error)))


def _from_left_out(error: ModuleNotFoundError) -> Response:
    return from_domain(left_out(error))


def _from_broken_text(error: UnicodeEncodeError) -> Response:
    return from_domain(broken())


def register(app: Flask) -> None:
    app.register_error_handler(ValidationError, from_validation)
    app.register_error_handler(DomainError, from_domain)
    app.register_error_handler(Conflict, _from_conflict)
    app.register_error_handler(Changed, _from_changed)
    app.register_error_handler(
        NotFound,
        lambda error: answer(
            Problem(
                title=STATUS_TITLES[404],
                status=404,
                detail=f"There is no {error} here; it may have been removed.",
            )
        ),
    )
    app.register_error_handler(
        RecursionError,
        lambda _: answer(
            Problem(
                title=STATUS_TITLES[400],
                status=400,
                detail="The document is nested too deeply to be a piece.",
            )
        ),
    )
    app.register_error_handler(
        psycopg.DataError,
        lambda _: answer(
            Problem(
                title=STATUS_TITLES[422],
                status=422,
                detail="A value holds a character or number that cannot be kept. Type it again; nothing "
                "was changed.",
            )
        ),
    )
    app.register_error_handler(psycopg.OperationalError, _from_database)
    app.register_error_handler(PoolTimeout, _from_database)
    app.register_error_handler(ModuleNotFoundError, _from_left_out)
    app.register_error_handler(UnicodeEncodeError, _from_broken_text)
    app.register_error_handler(NewerDatabase, _from_a_newer_one)
    app.register_error_handler(HTTPException, _from_http)
