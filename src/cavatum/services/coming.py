"""What comes after the step of now, for lists of runs. Never: what may be done with it."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from ..core.pour.script_model import Script
from ..core.pour.view import RunView

MOST = 3
OVER = ("done", "skipped", "over", "elsewhere")


class Coming(BaseModel):
    """A step after the one that is to be done now, and when it opens."""

    step: str
    opens_at: datetime | None


def coming(script: Script, view: RunView) -> list[Coming]:
    """The next steps after the one of now, in order."""
    titles = {one.id: one.title for one in script.steps}
    ahead = [
        one for one in view.steps if one.id != view.current and one.when not in OVER and one.id in titles
    ]
    return [Coming(step=titles[one.id], opens_at=one.opens_at) for one in ahead[:MOST]]
