"""The hazard statements that a safety data sheet names."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..common.working import Data
from ..practice.hazards import STATEMENTS
from .page import Page, Place, box_of

CODE = re.compile(r"\b(?:EUH\d{3}|H[2-4]\d\d)(?:[A-Za-z]{1,2})?\b")


class Hazard(Data):
    """code: as the sheet says it; says: the statement, empty where it is not known here; todo: what it asks
    for; where: its first place on the sheet.
    """

    code: str
    says: str
    todo: str
    where: Place


def hazards_of(pages: Sequence[Page]) -> list[Hazard]:
    """Each hazard statement that is named, once, by its code.

    Raises nothing. Valid for sheets in the form of the Regulation; one that is not known here is listed with
    its code alone. Source: Regulation (EC) No 1272/2008, Annex III.
    """
    found: dict[str, Hazard] = {}
    for page in pages:
        for word in page.words:
            for code in CODE.findall(word.text):
                says, todo = STATEMENTS.get(plain_code(code), ("", "Read it in the sheet."))
                found.setdefault(
                    plain_code(code),
                    Hazard(code=plain_code(code), says=says, todo=todo, where=box_of([word], page.number)),
                )
    return [found[code] for code in sorted(found)]


def plain_code(code: str) -> str:
    """Without the letters that narrow a statement: "H360FD" is H360.

    code  as it was found
    Raises nothing. Exact. Source: Regulation (EC) No 1272/2008, Annex III.
    """
    return re.sub(r"(?<=\d)[A-Za-z]+$", "", code)
