"""The arrows between the folders of the code, read off the real imports, as a Mermaid diagram.

    .cavatum/venv/bin/python docs/diagram.py        prints the two diagrams
    .cavatum/venv/bin/python docs/diagram.py keep   writes them into docs/architecture.md

An arrow that follows from two others is left out, so that the drawing shows the order and not every import.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "cavatum"
PAGE = ROOT / "docs" / "architecture.md"
BEGIN, END = "<!-- {} from here on: docs/diagram.py keep -->", "<!-- {} up to here -->"


def imports(path: Path) -> Iterator[tuple[str, ...]]:
    """What a module imports of Cavatum, as the parts of the name below `cavatum`."""
    package = path.relative_to(SOURCE).parts[:-1]
    for node in ast.walk(ast.parse(path.read_text())):
        if not isinstance(node, ast.ImportFrom):
            continue
        if node.level:
            base = package[: len(package) - node.level + 1]
        elif (node.module or "").split(".")[0] == "cavatum":
            base = ()
        else:
            continue
        named = tuple(part for part in (node.module or "").split(".") if part and part != "cavatum")
        for alias in node.names:
            yield (*base, *named, alias.name)


def room(parts: tuple[str, ...], below: tuple[str, ...]) -> str | None:
    """The folder or file just below `below` that a name belongs to."""
    if parts[: len(below)] != below or len(parts) <= len(below):
        return None
    return parts[len(below)].removesuffix(".py")


def arrows(*below: str) -> dict[str, set[str]]:
    """Which room of a folder imports which others of it."""
    found: dict[str, set[str]] = {}
    known = {one.stem for one in SOURCE.joinpath(*below).iterdir() if not one.name.startswith("_")}
    for path in sorted(SOURCE.joinpath(*below).rglob("*.py")):
        own = room(path.relative_to(SOURCE).parts, below)
        if own not in known:
            continue
        others = {room(parts, below) for parts in imports(path)}
        found.setdefault(own, set()).update(one for one in others if one in known and one != own)
    return found


def reduced(found: dict[str, set[str]]) -> dict[str, set[str]]:
    """Without the arrows that follow from two others."""

    def reach(start: str) -> set[str]:
        seen: set[str] = set()
        ways = list(found.get(start, ()))
        while ways:
            one = ways.pop()
            if one not in seen:
                seen.add(one)
                ways += found.get(one, ())
        return seen

    return {
        own: {one for one in others if not any(one in reach(other) for other in others - {one})}
        for own, others in found.items()
    }


def drawn(found: dict[str, set[str]]) -> str:
    lines = [
        f"  {own} --> {other}" for own, others in sorted(reduced(found).items()) for other in sorted(others)
    ]
    return "\n".join(["```mermaid", "graph TD", *lines, "```"])


def diagrams() -> dict[str, str]:
    return {"whole": drawn(arrows()), "core": drawn(arrows("core"))}


def with_diagrams(page: str) -> str:
    for name, diagram in diagrams().items():
        begin, end = BEGIN.format(name), END.format(name)
        page = re.sub(
            f"{re.escape(begin)}.*?{re.escape(end)}",
            lambda _, begin=begin, end=end, diagram=diagram: f"{begin}\n{diagram}\n{end}",
            page,
            flags=re.DOTALL,
        )
    return page


if __name__ == "__main__":
    if sys.argv[1:] == ["keep"]:
        PAGE.write_text(with_diagrams(PAGE.read_text()))
    else:
        for name, diagram in diagrams().items():
            print(f"{name}\n{diagram}\n")
