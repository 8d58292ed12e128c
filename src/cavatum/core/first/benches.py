"""What may lie on the bench: which measures each kind asks for, what is taken until somebody says otherwise,
and the piece that comes of it. Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from ..common.working import Data

Bench = Literal[
    "picture or panel",
    "table or board",
    "cup on a rotator",
    "mould",
    "block or form",
    "river or crack",
    "carved pocket",
]
Parts = dict[str, Any]  # a void or a coat as a document, without ids


class Ask(Data):
    """One measure: its place in the drawing, what it is called, its quantity, and what is taken for it while
    nobody says; empty: it has to be said. help: how to measure it.
    """

    key: str
    label: str
    kind: Literal["length", "count"] = "length"
    taken: str = ""
    help: str = ""


class Choice(Data):
    """One question with few answers, the first of which is taken while nobody says."""

    key: str
    label: str
    options: list[str]


@dataclass(frozen=True, kw_only=True)
class Kind:
    """kind_of_work  as the piece has it;  system_id  the typical class that suits it;  asks  in the order of
    measuring;  film  that is usual, empty for what is filled;  made  the void or coat from what was read
    """

    kind_of_work: str
    system_id: str
    asks: tuple[Ask, ...]
    choices: tuple[Choice, ...] = ()
    film: str = ""
    made: Callable[[Mapping[str, Any], Mapping[str, str]], Parts]

    @property
    def is_coat(self) -> bool:
        return bool(self.film)


EDGES = Choice(key="edges", label="the edge", options=["runs over and drips", "taped off"])


def _board(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {
        "surface": {
            "kind": "board",
            "length_m": read["length"],
            "width_m": read["width"],
            "thickness_m": read["thickness"],
        },
        "edges": "none" if chosen["edges"] == "taped off" else "all",
    }


def _panel(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {**_board(read, chosen), "grain": "not porous"}


def _top(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {**_board(read, chosen), "grain": "dense" if chosen["surface"] == "sealed" else "open"}


def _cup(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {
        "surface": {
            "kind": "cup",
            "top_diameter_m": read["top"],
            "bottom_diameter_m": read["bottom"],
            "height_m": read["height"],
            "bare_band_m": read["band"],
        },
        "grain": "not porous",
        "wall": "metal",
    }


def _mould(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {
        "wall": "silicone",
        "count": read["count"],
        "shape": {"kind": "cylinder", "diameter_m": read["diameter"], "depth_m": read["depth"]},
    }


def _box(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {
        "wall": chosen["walls"],
        "shape": {
            "kind": "box",
            "length_m": read["length"],
            "width_m": read["width"],
            "depth_m": read["depth"],
        },
    }


def _river(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    half = {**read["length"], "value": read["length"]["value"] / 2, "as_typed": "", "spread": None}
    start = {"value": 0.0, "origin": "measured"}
    widths = (read["width-1"], read["width-2"], read["width-3"])
    return {
        "wall": "wood",
        "shape": {
            "kind": "river",
            "depth_m": read["depth"],
            "stations": [
                {"at_m": at, "width_m": width}
                for at, width in zip((start, half, read["length"]), widths, strict=True)
            ],
        },
    }


def _pocket(read: Mapping[str, Any], chosen: Mapping[str, str]) -> Parts:
    return {**_box(read, {"walls": "wood"}), "count": read["count"]}


def _length(key: str, label: str, help: str, taken: str = "") -> Ask:
    return Ask(key=key, label=label, help=help, taken=taken)


_COUNT = Ask(
    key="count", label="how many alike", kind="count", taken="1", help="Count the hollows of one pour."
)
_DEPTH = _length("depth", "depth", "Stand a rule on the floor and read at the rim.")

BENCHES: dict[Bench, Kind] = {
    "picture or panel": Kind(
        kind_of_work="painted top",
        system_id="coating-epoxy",
        film="1 mm",
        asks=(
            _length("length", "length", "The longer side of the face."),
            _length("width", "width", "The shorter side of the face."),
            _length(
                "thickness", "thickness at the edge", "How high the edge is that resin runs over.", "18 mm"
            ),
        ),
        choices=(EDGES,),
        made=_panel,
    ),
    "table or board": Kind(
        kind_of_work="flood coat",
        system_id="coating-epoxy",
        film="1.5 mm",
        asks=(
            _length("length", "length", "The longer side of the top."),
            _length("width", "width", "The shorter side of the top."),
            _length(
                "thickness", "thickness at the edge", "How high the edge is that resin runs over.", "30 mm"
            ),
        ),
        choices=(EDGES, Choice(key="surface", label="the wood", options=["sealed", "bare"])),
        made=_top,
    ),
    "cup on a rotator": Kind(
        kind_of_work="rotator",
        system_id="coating-epoxy",
        film="0.5 mm",
        asks=(
            _length(
                "top", "diameter at the lip", "Over the outside, with a calliper or by the girth / 3.14."
            ),
            _length("bottom", "diameter at the foot", "Over the outside, at the foot."),
            _length("height", "height", "From the foot to the lip."),
            _length("band", "bare band at the lip", "What stays free of resin for the seal.", "10 mm"),
        ),
        made=_cup,
    ),
    "mould": Kind(
        kind_of_work="small castings",
        system_id="craft-casting-epoxy",
        asks=(
            _length("diameter", "diameter", "Across the hollow, inside."),
            _DEPTH,
            _COUNT,
        ),
        made=_mould,
    ),
    "block or form": Kind(
        kind_of_work="deep pour",
        system_id="slow-casting-epoxy",
        asks=(
            _length("length", "length", "Inside the form."),
            _length("width", "width", "Inside the form."),
            _DEPTH,
        ),
        choices=(
            Choice(key="walls", label="the form", options=["board", "silicone", "plastic", "metal", "wood"]),
        ),
        made=_box,
    ),
    "river or crack": Kind(
        kind_of_work="deep pour",
        system_id="slow-casting-epoxy",
        asks=(
            _length("length", "length", "Along the middle, from end to end."),
            _length("width-1", "width at one end", "Across, edge to edge."),
            _length("width-2", "width in the middle", "Across, edge to edge."),
            _length("width-3", "width at the other end", "Across, edge to edge."),
            _DEPTH,
        ),
        made=_river,
    ),
    "carved pocket": Kind(
        kind_of_work="carved pockets",
        system_id="craft-casting-epoxy",
        asks=(
            _length("length", "length", "Of the pocket, rim to rim."),
            _length("width", "width", "Of the pocket, rim to rim."),
            _DEPTH,
            _COUNT,
        ),
        made=_pocket,
    ),
}
