"""A public function that computes says what, by which equation, from what, when it refuses, how far it holds
and on whose word. The rooms are those of the physics; the house style asks for it."""

import ast
import re
from pathlib import Path

import pytest

import cavatum.core

ROOMS = ("measure", "resin", "cure", "calibration", "heat", "layers", "mix", "clock")
NUMBERS = re.compile(r"^(float|int|Floats|Array|np\.ndarray|(tuple|list)\[.*float.*\]|float \| None)$")
CORE = Path(cavatum.core.__file__).parent


def functions():
    """Public functions of a module's top that return numbers, with their source."""
    for room in ROOMS:
        for path in sorted((CORE / room).glob("*.py")):
            for node in ast.parse(path.read_text()).body:
                if not isinstance(node, ast.FunctionDef) or node.name.startswith("_") or node.returns is None:
                    continue
                if NUMBERS.match(ast.unparse(node.returns)):
                    yield pytest.param(node, id=f"{room}/{path.stem}.{node.name}")


FUNCTIONS = list(functions())


def raised(node: ast.FunctionDef) -> set[str]:
    found = (one.exc for one in ast.walk(node) if isinstance(one, ast.Raise) and one.exc)
    return {ast.unparse(one).split("(")[0] for one in found}


@pytest.mark.parametrize("node", FUNCTIONS)
def test_it_says_what_it_computes(node):
    said = ast.get_docstring(node) or ""
    for word in ("Raises", "Source:"):
        assert word in said, f"says nothing of: {word}"
    assert re.search(r"\b(Valid|Exact)\b", said), "says not how far it holds"
    assert re.search(r"\[[^\]]+\]|0\.\.1|share|without a unit|[Nn]umber|unit|c in", said), "no unit"
    assert all(name in said for name in raised(node)), "raises what it does not name"
    assert not (raised(node) and "Raises nothing" in said)


@pytest.mark.parametrize("node", FUNCTIONS)
def test_it_names_its_inputs(node):
    said = ast.get_docstring(node) or ""
    for argument in [*node.args.args, *node.args.kwonlyargs]:
        told = ast.unparse(argument.annotation) if argument.annotation else ""
        if "float" in told and argument.arg not in said:
            stem = argument.arg.rsplit("_", 1)[0]
            assert re.search(rf"\b{stem}", said), f"says nothing of {argument.arg}"
