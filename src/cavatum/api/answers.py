"""What a route hands back: a body, a body with its status, or a response of its own."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import BaseModel, Field

# Flask's own name for it cannot be resolved at run time, and the OpenAPI document is made by resolving it.
Body = Response | dict[str, Any] | str
RouteAnswer = Body | tuple[Body, int]


class MadeOn(BaseModel):
    """The revision that somebody saw when they changed it."""

    made_on: int = Field(ge=1, le=2**31 - 1)
