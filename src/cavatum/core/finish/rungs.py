"""The ladder of grits to the surface that is wanted, with what is doubted of it. Rule 8.4."""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.verdict import Verdict
from ..piece.finish_wishes import Finish
from .grit import ENDS, STARTS, Rung, ladder
from .verdicts import finish_verdict


def rungs_of(wishes: Finish) -> tuple[list[Rung], str, list[Verdict]]:
    """The rungs, why they end there, and verdicts; nothing while no surface is wanted."""
    if wishes.surface == "not said":
        return [], "", []
    end, why = ENDS[wishes.surface]
    start, from_what = STARTS[wishes.start]
    try:
        rungs = ladder(wishes.series, max(start, end), end, wishes.papers or None)
    except DomainError as error:
        return (
            [],
            "",
            [finish_verdict("warning", error.code, "8.4", "Papers", str(error), where="/finish/papers")],
        )
    long = [
        finish_verdict(
            "warning",
            "long-jump",
            "8.4",
            f"A long way to {one.series}{one.grade}",
            f"Its grain is {one.ratio:.2f} of the last one's; under 0.5 it takes very long to take the "
            "old scratches out.",
            "Get a grit between, or sand twice as long.",
            "/finish/papers",
        )
        for one in rungs
        if one.is_long
    ]
    return rungs, f"From {from_what}. {why}", long
