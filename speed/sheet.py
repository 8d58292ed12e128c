"""./cavatum speed sheet: what is found and right on the made-up sheets, per quantity, of their text and of
their pictures; wrong and said to be sure; how long six pages and one picture take.
"""

from __future__ import annotations

import time

from common import Board

from cavatum.formats.pages_in import read_pdf
from tests.scenes.sheets.score import (
    Score,
    pictures,
    read,
    read_picture,
    score_of_pictures,
    score_of_text,
    truths,
)

FOUND, FOUND_ON_PICTURES, WRONG_AND_SURE, SIX_PAGES_S = 95.0, 85.0, 0.5, 2.0


def main() -> None:
    board = Board()
    _lines(board, "text", score_of_text(), FOUND)
    _lines(board, "pictures", score_of_pictures(), FOUND_ON_PICTURES)
    pdfs = [pdf for _, pdf, _ in truths()][:6]
    begun = time.monotonic()
    for pdf in pdfs:
        read(read_pdf(pdf))
    board.line("six pages read", time.monotonic() - begun, "s", most=SIX_PAGES_S)
    _, jpeg, _ = next(pictures())
    begun = time.monotonic()
    read_picture(jpeg)
    board.line("one picture read, twice", time.monotonic() - begun, "s")
    board.leave()


def _lines(board: Board, what: str, score: Score, least: float) -> None:
    for quantity, said in sorted(score.said.items()):
        share = 100 * score.right[quantity] / said
        board.line(f"{what}: found and right, {quantity} ({said})", share, "%", least=least)
    board.line(
        f"{what}: found and right, of all {sum(score.said.values())}", 100 * score.share, "%", least=least
    )
    wrong = 100 * len(score.wrong_and_sure) / score.found
    board.line(f"{what}: wrong and said to be sure, of {score.found}", wrong, "%", most=WRONG_AND_SURE)


if __name__ == "__main__":
    main()
