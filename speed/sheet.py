"""./cavatum speed sheet: what is found and right on the made-up sheets, per quantity; wrong and said to be
sure; how long six pages take.
"""

from __future__ import annotations

import time

from common import Board

from cavatum.formats.pages_in import read_pdf
from tests.scenes.sheets.score import read, score_of_text, truths

FOUND, WRONG_AND_SURE, SIX_PAGES_S = 95.0, 0.5, 2.0


def main() -> None:
    board = Board()
    score = score_of_text()
    for quantity, said in sorted(score.said.items()):
        board.line(f"found and right: {quantity}", 100 * score.right[quantity] / said, "%", least=FOUND)
    board.line("found and right, of all", 100 * score.share, "%", least=FOUND)
    board.line(
        "wrong and said to be sure", 100 * len(score.wrong_and_sure) / score.found, "%", most=WRONG_AND_SURE
    )
    pdfs = [pdf for _, pdf, _ in truths()][:6]
    begun = time.monotonic()
    for pdf in pdfs:
        read(read_pdf(pdf))
    board.line("six pages read", time.monotonic() - begun, "s", most=SIX_PAGES_S)
    board.leave()


if __name__ == "__main__":
    main()
