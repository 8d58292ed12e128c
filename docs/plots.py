"""The plots of docs/validation.md, as SVG files beside it: python docs/plots.py

What was compared stands in the tables of that page and is read from there; what the movement of the liquid
does is computed here.
"""

from __future__ import annotations

import csv
import re
import sys
from pathlib import Path

HERE = Path(__file__).resolve().parent
sys.path.insert(0, str(HERE.parent / "src"))

from cavatum.core.cure.parameters import CLASSES  # noqa: E402
from cavatum.core.heat.body import Body  # noqa: E402
from cavatum.core.heat.cast import Cast  # noqa: E402
from cavatum.core.heat.column import Stack  # noqa: E402
from cavatum.core.heat.grid import Room  # noqa: E402
from cavatum.core.heat.materials import Surround  # noqa: E402

WIDTH, HEIGHT, LEFT, TOP, RIGHT, BOTTOM = 640, 400, 64, 24, 24, 56
INK, PALE, COLOURS = "#20262b", "#c9c3b2", ("#1f5a50", "#c98a2b", "#a93226")
Points = list[tuple[float, float]]


class Plot:
    """One frame with two axes, from the lowest to the highest value of each."""

    def __init__(
        self, across: tuple[float, float, float], up: tuple[float, float, float], names: tuple[str, str]
    ):
        self.across, self.up, self.names = across, up, names
        self.drawn: list[str] = []

    def x(self, value: float) -> float:
        low, high, _ = self.across
        return LEFT + (value - low) / (high - low) * (WIDTH - LEFT - RIGHT)

    def y(self, value: float) -> float:
        low, high, _ = self.up
        return HEIGHT - BOTTOM - (value - low) / (high - low) * (HEIGHT - TOP - BOTTOM)

    def line(self, points: Points, colour: str, dashes: str = "") -> None:
        at = " ".join(f"{self.x(a):.1f},{self.y(b):.1f}" for a, b in points)
        self.drawn.append(
            f'<polyline points="{at}" fill="none" stroke="{colour}" stroke-width="2" '
            f'stroke-dasharray="{dashes}"/>'
        )

    def dots(self, points: Points, colour: str) -> None:
        self.drawn += [
            f'<circle cx="{self.x(a):.1f}" cy="{self.y(b):.1f}" r="4" fill="{colour}"/>' for a, b in points
        ]

    def word(self, x: float, y: float, text: str, anchor: str = "start", colour: str = INK) -> None:
        self.drawn.append(
            f'<text x="{x:.0f}" y="{y:.0f}" text-anchor="{anchor}" fill="{colour}">{text}</text>'
        )

    def says(self, title: str) -> str:
        axes = []
        for low, high, step in (self.across, self.up):
            axes.append([low + step * i for i in range(round((high - low) / step) + 1)])
        for value in axes[0]:
            self.word(self.x(value), HEIGHT - BOTTOM + 20, f"{value:g}", "middle")
        for value in axes[1]:
            self.word(LEFT - 8, self.y(value) + 4, f"{value:g}", "end")
        self.word((LEFT + WIDTH - RIGHT) / 2, HEIGHT - 12, self.names[0], "middle")
        self.word(LEFT, TOP - 8, self.names[1])
        grid = "".join(
            f'<line x1="{LEFT}" x2="{WIDTH - RIGHT}" y1="{at:.1f}" y2="{at:.1f}" stroke="{PALE}"/>'
            for at in map(self.y, axes[1])
        )
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" role="img" '
            f'font-family="sans-serif" font-size="13"><title>{title}</title>'
            f'<rect width="{WIDTH}" height="{HEIGHT}" fill="#f4f0e4"/>{grid}{"".join(self.drawn)}</svg>\n'
        )


def table_under(heading: str) -> list[list[str]]:
    """Cells of the first table under a heading of validation.md."""
    text = (HERE / "validation.md").read_text().split(f"## {heading}\n")[1].split("\n## ")[0]
    rows = [line.strip("|").split("|") for line in text.splitlines() if line.startswith("|")]
    return [[cell.strip() for cell in row] for row in rows[2:]]


def against_finite_elements() -> str:
    """Plan and run in three dimensions over the finite elements."""
    plot = Plot((20, 100, 10), (20, 100, 10), ("finite elements, °C", "plan and three dimensions, °C"))
    plot.line([(20, 20), (100, 100)], INK)
    for sign in (1, -1):
        plot.line([(t, t + sign * max(3.0, 0.05 * (t - 23))) for t in (20, 23, 83, 97)], PALE, "4 4")
    rows = table_under("The plan against finite elements")
    number = re.compile(r"\d+(\.\d+)?")
    for column, colour, word in ((2, COLOURS[0], "plan"), (3, COLOURS[1], "three dimensions")):
        plot.dots(
            [(float(row[1]), float(row[column])) for row in rows if number.fullmatch(row[column])], colour
        )
        plot.word(LEFT + 12, TOP + 20 * column - 20, f"● {word}", colour=colour)
    plot.word(WIDTH - RIGHT - 8, HEIGHT - BOTTOM - 10, "dashes: 3 K or 5 % of the rise", "end")
    return plot.says("Hottest by the plan and by the run in three dimensions, over finite elements")


def many_bodies() -> str:
    """Plan over the run in three dimensions, of the bodies that `python speed/bodies.py` drew and ran."""
    plot = Plot((20, 120, 20), (20, 120, 20), ("three dimensions, °C", "plan, °C"))
    plot.line([(20, 20), (120, 120)], INK)
    for sign in (1, -1):
        plot.line([(t, t + sign * max(3.0, 0.05 * (t - 23))) for t in (20, 23, 83, 114)], PALE, "4 4")
    with (HERE / "validation" / "bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    groups = (
        ("boxes and rivers", ("box", "river"), COLOURS[0]),
        ("cones, bowls, rings", ("cone", "bowl", "ring"), COLOURS[1]),
        ("outlines", ("outline",), COLOURS[2]),
    )
    for place, (word, kinds, colour) in enumerate(groups):
        points = [(float(one["three_c"]), float(one["plan_c"])) for one in rows if one["kind"] in kinds]
        plot.dots([one for one in points if max(one) <= 120], colour)
        plot.word(LEFT + 12, TOP + 20 + 20 * place, f"● {word}", colour=colour)
    plot.word(WIDTH - RIGHT - 8, HEIGHT - BOTTOM - 10, "dashes: 3 K or 5 % of the rise", "end")
    return plot.says("Hottest by the plan over the run in three dimensions, of two hundred drawn bodies")


def peak_c(name: str, depth_m: float, stirs: float) -> float:
    stack = Stack(body=Body.wide(), surround=Surround(), room=Room.steady(23.0))
    cast = Cast(from_m=0.0, to_m=depth_m, kinetics=CLASSES[name], stirs=stirs)
    return stack.pour(cast).wait(5 * 86400.0)[1].peak(0)[0] - 273.15


def what_stirring_does() -> str:
    """Hottest of a wide layer on board over its depth, at rest and moving by its own warmth."""
    plot = Plot((10, 80, 10), (20, 180, 20), ("depth of a wide layer on board at 23 °C, mm", "hottest, °C"))
    kinds = [("casting-epoxy-25", "casting, 25 mm", 0), ("slow-casting-epoxy", "slow casting", 1)]
    for name, word, which in kinds:
        depths = [one for one in range(10, 81, 2)]
        for stirs, dashes in ((0.0, "5 4"), (1.0, "")):
            points = [(float(mm), peak_c(name, mm / 1000, stirs)) for mm in depths]
            plot.line([one for one in points if one[1] <= 180], COLOURS[which], dashes)
        plot.word(LEFT + 12, TOP + 20 + 20 * which, word, colour=COLOURS[which])
    plot.word(LEFT + 12, TOP + 60, "dashes: at rest")
    return plot.says("Hottest over depth, at rest and as the liquid moves by its own warmth")


if __name__ == "__main__":
    (HERE / "validation" / "finite-elements.svg").write_text(against_finite_elements())
    (HERE / "validation" / "bodies.svg").write_text(many_bodies())
    (HERE / "validation" / "stirring.svg").write_text(what_stirring_does())
