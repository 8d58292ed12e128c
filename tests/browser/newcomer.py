"""A scripted newcomer with an empty shelf: twelve jobs from the list of pieces to the first weights, every
tap, field and key counted. Invented pieces.
"""

from __future__ import annotations

import re
import time
from dataclasses import dataclass, field

from playwright.sync_api import Page, expect

PANEL, TABLE, CUP = "picture or panel", "table or board", "cup on a rotator"
MOULD, BLOCK, RIVER, POCKET = "mould", "block or form", "river or crack", "carved pocket"


@dataclass(frozen=True, kw_only=True)
class Job:
    """fields: what is typed, by label, in the order of typing; bounds: at most so many fields and taps."""

    name: str
    bench: str
    fields: dict[str, str]
    most_fields: int
    most_taps: int = 3
    units: str = "metric"


def _river(length: str, widths: tuple[str, str, str], depth: str) -> dict[str, str]:
    ends = ("width at one end", "width in the middle", "width at the other end")
    return {"length": length, **dict(zip(ends, widths, strict=True)), "depth": depth}


def _sized(length: str, width: str, **more: str) -> dict[str, str]:
    return {"length": length, "width": width, **more}


AMOUNT, FILM, RULE = "the amount you would mix", "the film it leaves", "your rule"
JOBS = [
    Job(
        name="thin coat by amount",
        bench=PANEL,
        fields=_sized("860", "330", **{AMOUNT: "200 mL in all"}),
        most_fields=3,
    ),
    Job(
        name="flood coat by film",
        bench=TABLE,
        fields=_sized("1200", "600", **{FILM: "1.5 mm"}),
        most_fields=3,
    ),
    Job(
        name="flood coat by rule, US",
        bench=TABLE,
        fields=_sized("48", "24", **{RULE: "3 fl oz per ft2"}),
        most_fields=3,
        units="us",
    ),
    Job(
        name="thin coat by amount, US",
        bench=PANEL,
        fields=_sized("24", "12", **{AMOUNT: "4 fl oz in all"}),
        most_fields=3,
        units="us",
    ),
    Job(
        name="cup on a rotator",
        bench=CUP,
        fields={
            "diameter at the lip": "86",
            "diameter at the foot": "64",
            "height": "140",
            "bare band at the lip": "10",
            FILM: "0.5 mm",
        },
        most_fields=5,
    ),
    Job(name="box void", bench=BLOCK, fields=_sized("300", "200", depth="40"), most_fields=4),
    Job(name="deep block", bench=BLOCK, fields=_sized("230", "170", depth="95"), most_fields=4),
    Job(name="box void, US", bench=BLOCK, fields=_sized("12", "8", depth="1 1/2"), most_fields=4, units="us"),
    Job(
        name="six castings in a mould",
        bench=MOULD,
        fields={"diameter": "86", "depth": "30", "how many alike": "6"},
        most_fields=4,
    ),
    Job(
        name="river by three widths",
        bench=RIVER,
        fields=_river("1200", ("100", "140", "120"), "40"),
        most_fields=6,
        most_taps=4,
    ),
    Job(
        name="crack, US",
        bench=RIVER,
        fields=_river("14", ("3/8", "1/2", "1/4"), "3/4"),
        most_fields=6,
        most_taps=4,
        units="us",
    ),
    Job(
        name="twelve carved pockets",
        bench=POCKET,
        fields=_sized("60", "25", depth="6", **{"how many alike": "12"}),
        most_fields=4,
    ),
]

# Seconds of a person by the keystroke-level model: a key of an average typist, pointing with a tap, and
# thinking before each field. Source: Card, Moran, Newell, The keystroke-level model for user performance time
# with interactive systems, Communications of the ACM 23 (1980), 396-410 (0.28, 1.1, 1.35 s; from memory).
KEY_S, TAP_S, THINK_S = 0.28, 1.1, 1.35


@dataclass
class Took:
    """taps, fields, keys  of the person;  answers_ms  of the server, while typing;  weights  as shown"""

    taps: int = 0
    fields: int = 0
    keys: int = 0
    waited_s: float = 0.0
    answers_ms: list[float] = field(default_factory=list)
    weights: str = ""

    @property
    def person_s(self) -> float:
        return self.keys * KEY_S + self.taps * TAP_S + self.fields * THINK_S + self.waited_s


LISTEN = """() => {
  if (window.answersOfLooks) return;
  window.answersOfLooks = [];
  const real = window.fetch;
  window.fetch = async (...all) => {
    const begun = performance.now();
    const got = await real(...all);
    if (String(all[0]).endsWith("/first-look")) window.answersOfLooks.push(performance.now() - begun);
    return got;
  };
}"""


def walk(page: Page, job: Job) -> Took:
    """From the list of pieces to the first weights, as a person would: keys and taps alone, Enter to the next
    field.
    """
    took = Took()
    page.evaluate(LISTEN)
    page.get_by_role("link", name="New piece").first.click()
    took.taps += 1
    page.get_by_text(job.bench, exact=True).first.click()
    took.taps += 1
    reach = page.get_by_label(next(iter(job.fields)), exact=True)
    expect(reach).to_be_focused()  # the kind was tapped: its first measure waits for the number
    for label, typed in job.fields.items():
        place = page.get_by_label(label, exact=True)
        for _ in range(6):
            if place.evaluate("one => one === document.activeElement"):
                break
            page.keyboard.press("Enter")
            took.keys += 1
        expect(place).to_be_focused()
        page.keyboard.type(typed)
        took.keys += len(typed)
        took.fields += 1
    begun = time.monotonic()
    weights = page.get_by_label("What to weigh")
    expect(page.locator("[aria-busy=false]").filter(has=weights)).to_contain_text(re.compile(r"\d g"))
    took.waited_s = time.monotonic() - begun
    took.weights = weights.inner_text()
    took.answers_ms = page.evaluate("window.answersOfLooks.splice(0)")
    return took
