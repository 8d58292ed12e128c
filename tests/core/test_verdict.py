"""The weights of verdicts, also those that earlier releases kept."""

import pytest

from cavatum.core.common.verdict import WEIGHTS, Verdict

SAID = {"stage": "mix", "code": "x", "title": "t", "text": "w"}


@pytest.mark.parametrize(("kept", "today"), [("stops", "blocker"), ("care", "warning"), ("good", "note")])
def test_weights_kept_by_earlier_releases_are_read(kept, today):
    assert Verdict.model_validate({**SAID, "weight": kept}).weight == today


def test_the_heaviest_comes_first_and_others_are_refused():
    assert WEIGHTS == ("blocker", "warning", "note")
    with pytest.raises(ValueError, match="weight"):
        Verdict.model_validate({**SAID, "weight": "grave"})
