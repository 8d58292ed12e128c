"""No constant of the trade changes unseen."""

import json

from tests import constants


def test_every_constant_is_as_it_was_last_read():
    before, today = json.loads(constants.KEPT.read_text()), constants.numbers()
    assert len(before) > 1000
    changed = {
        name: (before.get(name), today.get(name))
        for name in before.keys() | today.keys()
        if before.get(name) != today.get(name)
    }
    assert not changed, "read it, say why beside it, then: python -m tests.constants keep"
