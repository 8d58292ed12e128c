"""Amounts that an answer still has marked are put into the units of whoever asks: the one place of the web
for it.
"""

from __future__ import annotations

import json

import psycopg
from flask import Flask, Response
from werkzeug.exceptions import Unauthorized

from ..core.common.wording import Wording, rendered
from ..core.common.workshop import typical_workshop
from ..store import workshops
from .context import transaction, workshop_id

SIGNS = ("⟦", "\\u27e6")


def speak_in_units(app: Flask) -> None:
    @app.after_request
    def spoken(response: Response) -> Response:
        if response.is_streamed or not response.is_json:
            return response
        text = response.get_data(as_text=True)
        # Read as a whole before it is changed: JSON may escape any sign of an amount.
        if any(one in text for one in SIGNS):
            response.set_data(app.json.dumps(rendered(json.loads(text), _wording())))
        return response


def _wording() -> Wording:
    try:
        with transaction() as connection:
            settings = workshops.read(connection, workshop_id(connection))
    except (Unauthorized, psycopg.Error):
        # Nobody is known, or the database is away: the refusal goes out all the same.
        settings = typical_workshop()
    return Wording(settings)
