"""Amounts that an answer still has marked are put into the units of whoever asks: the one place of the web
for it.
"""

from __future__ import annotations

import psycopg
from flask import Flask, Response
from werkzeug.exceptions import Unauthorized

from ..core.common.wording import MARKED, Wording
from ..core.common.workshop import typical_workshop
from ..store import workshops
from .context import transaction, workshop_id

BEGIN = ("«", "\\u00ab")
END = ("»", "\\u00bb")


def speak_in_units(app: Flask) -> None:
    @app.after_request
    def spoken(response: Response) -> Response:
        if response.is_streamed or not response.is_json:
            return response
        text = response.get_data(as_text=True)
        if not any(one in text for one in BEGIN):
            return response
        for written in (BEGIN, END):
            text = text.replace(written[1], written[0])
        response.set_data(_wording(text))
        return response


def _wording(text: str) -> str:
    if not MARKED.search(text):
        return text
    try:
        with transaction() as connection:
            settings = workshops.read(connection, workshop_id(connection))
    except (
        Unauthorized,
        psycopg.Error,
    ):  # nobody is known, or the database is away: the refusal goes out all the same
        settings = typical_workshop()
    return Wording(settings).words(text)
