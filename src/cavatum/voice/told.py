"""What is sent, and why it did not arrive."""

from __future__ import annotations

import json
from dataclasses import dataclass

LIMIT_S = 10.0  # a server that is slower than this is asked again later


@dataclass(frozen=True, kw_only=True)
class Told:
    """One message. key: what arrives twice under the same key is shown once."""

    key: str
    title: str
    text: str
    link: str = ""
    is_urgent: bool = False

    def as_json(self) -> bytes:
        said = {"key": self.key, "title": self.title, "text": self.text, "link": self.link}
        return json.dumps({**said, "urgent": self.is_urgent}).encode()


class Undelivered(Exception):
    """It did not arrive. is_final: it never will under this address; else it is worth another try."""

    def __init__(self, why: str, *, is_final: bool = False) -> None:
        super().__init__(why)
        self.why = why
        self.is_final = is_final
