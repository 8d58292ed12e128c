"""Mutation testing of the core: small faults put in at random, each run against the tests of its line.

    ./cavatum mutants [FOLDER] [--count 200] [--seed 1] [--only FILE:LINE]

Faults and their places come from cosmic-ray. A place (an operator, a number, a condition) is drawn first,
then one fault for it, so that a line of arithmetic does not outweigh a line of logic. Tables of practice, the
compiled kernel and models are left out: their words and types are checked elsewhere. Which tests touch a line
is told by a run under coverage, kept until core or tests change. Survivors are printed as a diff, for a
person to judge: a test is missing, or the fault changes nothing.
"""

import argparse
import difflib
import hashlib
import json
import os
import random
import re
import shutil
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

import parso
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names
from coverage import CoverageData

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "src" / "cavatum" / "core"
KEPT = ROOT / ".cavatum" / "mutants"
TESTS = ["tests/core"]
LEFT_OUT = re.compile(r"practice/|heat/kernel\.py|model\.py|__init__\.py|unit_table\.py")
NO_FAULT = re.compile(r"BitOr|BitAnd|BitXor|Shift|RemoveDecorator|Variable|Invert|UAdd")
WORKERS, LONGEST_S = 2, 400.0
ALWAYS = "tests/core/test_constants.py"
DOCUMENTS = "test_figures_as_before"
MOST = {"": 120, DOCUMENTS: 30, "test_every_function": 2}  # tests of a line, by kind


@dataclass(frozen=True)
class Mutant:
    path: Path
    line: int
    operator: str
    occurrence: int

    def __str__(self) -> str:
        kind = self.operator.removeprefix("core/")
        return f"{self.path.relative_to(CORE)}:{self.line} {kind} {self.occurrence}"


def places(folder: Path) -> dict[tuple[Path, tuple[int, int]], list[Mutant]]:
    """All faults by the place they change."""
    found: dict[tuple[Path, tuple[int, int]], list[Mutant]] = {}
    names = [name for name in operator_names() if not NO_FAULT.search(name)]
    for path in sorted(folder.rglob("*.py") if folder.is_dir() else [folder]):
        if LEFT_OUT.search(str(path)):
            continue
        source = path.read_text()
        words = {line for span in _docstrings(source) for line in range(*span)}
        nodes = list(_nodes(parso.parse(source)))
        for name in names:
            operator, occurrence = get_operator(name)(), 0
            for node in nodes:
                for start, _ in operator.mutation_positions(node):
                    if start[0] not in words:
                        mutant = Mutant(path, start[0], name, occurrence)
                        found.setdefault((path, start), []).append(mutant)
                    occurrence += 1
    return found


def _nodes(node):
    yield node
    for child in getattr(node, "children", ()):
        yield from _nodes(child)


def _docstrings(source: str):
    import ast

    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            yield node.lineno, node.end_lineno + 1


def touched() -> dict[str, dict[int, list[str]]]:
    """Per file and line the tests that run it, those that run least first."""
    KEPT.mkdir(parents=True, exist_ok=True)
    digest = hashlib.sha256()
    for path in sorted([*CORE.rglob("*.py"), *(ROOT / "tests" / "core").rglob("*.py")]):
        digest.update(path.read_bytes())
    data, mark = KEPT / "coverage", KEPT / "digest"
    if not data.exists() or not mark.exists() or mark.read_text() != digest.hexdigest():
        print("which tests touch which lines: running them once ...", flush=True)
        settings = KEPT / "coveragerc"
        settings.write_text("[run]\nsource = cavatum.core\n")
        command = ["-m", "pytest", "-q", "-n", "2", *TESTS, "--cov=cavatum.core", f"--cov-config={settings}"]
        command += ["--cov-context=test", "--cov-report="]
        done = subprocess.run(
            [sys.executable, *command], cwd=ROOT, env={**os.environ, "COVERAGE_FILE": str(data)}
        )
        if done.returncode:
            raise SystemExit("the tests fail without any fault: mend them first")
        mark.write_text(digest.hexdigest())
    coverage = CoverageData(str(data))
    coverage.read()
    weight: dict[str, int] = {}
    lines: dict[str, dict[int, set[str]]] = {}
    for name in coverage.measured_files():
        coverage.set_query_contexts(None)
        for line, contexts in coverage.contexts_by_lineno(name).items():
            tests = {one.split("|")[0] for one in contexts if one}
            lines.setdefault(name, {})[line] = tests
            for test in tests:
                weight[test] = weight.get(test, 0) + 1
    return {
        name: {line: sorted(tests, key=lambda test: weight[test]) for line, tests in by_line.items()}
        for name, by_line in lines.items()
    }


def tests_for(mutant: Mutant, lines: dict[str, dict[int, list[str]]]) -> list[str]:
    """Those of the line; of a constant, which runs at import, those of its whole module."""
    by_line = lines.get(str(mutant.path), {})
    near = range(mutant.line, max(mutant.line - 12, 0), -1)  # a long expression counts at its first line
    found = next((by_line[line] for line in near if by_line.get(line)), None)
    if found is None:
        found = list(dict.fromkeys(test for some in by_line.values() for test in some))
    kinds: dict[str, list[str]] = {kind: [] for kind in MOST}
    for test in found:
        kind = next((kind for kind in MOST if kind and kind in test), "")
        kinds[kind].append(test)
    # Of the kept documents those that touch most: a piece with everything in it shows most.
    widest = {kind: kinds[kind][::-1] if kind == DOCUMENTS else kinds[kind] for kind in MOST}
    return [ALWAYS, *(test for kind, most in MOST.items() for test in widest[kind][:most])]


def verdict(mutant: Mutant, tests: list[str], copy: Path) -> tuple[str, str]:
    """("killed" | "timeout" | "survived" | "no test", diff)."""
    original = mutant.path.read_text()
    changed = mutate_code(original, get_operator(mutant.operator)(), mutant.occurrence)
    diff = "".join(difflib.unified_diff(original.splitlines(True), (changed or "").splitlines(True), n=1))
    if changed is None or not tests:
        return "no test", diff
    target = copy / mutant.path.relative_to(ROOT)
    target.write_text(changed)
    _forget_compiled(mutant, copy)
    try:
        done = subprocess.run(
            [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "--no-header", *tests],
            cwd=copy,
            env={**os.environ, "PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1"},
            capture_output=True,
            timeout=LONGEST_S,
        )
        return ("survived" if done.returncode == 0 else "killed"), diff
    except subprocess.TimeoutExpired:
        return "timeout", diff
    finally:
        target.write_text(original)
        _forget_compiled(mutant, copy)


def _forget_compiled(mutant: Mutant, copy: Path) -> None:
    """What is compiled is kept by the file of its caller: a fault in what it calls would never be run."""
    if "njit" in mutant.path.read_text():
        for kept in (copy / "src").rglob("*.nb[ci]"):
            kept.unlink()


def lay_out_copy(number: int) -> Path:
    """A tree of its own for each worker; what is not changed is linked."""
    copy = KEPT / f"copy-{number}"
    shutil.rmtree(copy, ignore_errors=True)
    copy.mkdir(parents=True)
    for name in ("src", "tests"):
        shutil.copytree(ROOT / name, copy / name)
    for name in (
        "pyproject.toml",
        "examples",
        "docs",
        "web",
        "speed",
        "requirements",
        "README.md",
        "cavatum",
    ):
        (copy / name).symlink_to(ROOT / name)
    return copy


def main() -> int:
    parser = argparse.ArgumentParser(prog="./cavatum mutants")
    parser.add_argument("folder", nargs="?", default="")
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", help="all faults of one line, FILE:LINE")
    parser.add_argument("--again", action="store_true", help="those that survived the last run")
    options = parser.parse_args()
    found = places(CORE / options.folder)
    lines = touched()
    draw = random.Random(options.seed)
    if options.again:
        last = json.loads((KEPT / "results.json").read_text())
        names = {one["mutant"] for one in last if one["how"] in ("survived", "no test")}
        chosen = [one for some in found.values() for one in some if str(one) in names]
    elif options.only:
        file, line = options.only.rsplit(":", 1)
        chosen = [one for some in found.values() for one in some if str(one).startswith(f"{file}:{line} ")]
    else:
        keys = draw.sample(sorted(found), min(options.count, len(found)))
        chosen = [draw.choice(found[key]) for key in keys]
    copies: Queue[Path] = Queue()
    for number in range(WORKERS):
        copies.put(lay_out_copy(number))

    def judge(mutant: Mutant) -> tuple[Mutant, str, str]:
        copy = copies.get()
        try:
            return mutant, *verdict(mutant, tests_for(mutant, lines), copy)
        finally:
            copies.put(copy)

    begun, counts, results = time.monotonic(), dict[str, int](), []
    with ThreadPoolExecutor(WORKERS) as pool:
        for mutant, how, diff in pool.map(judge, chosen):
            counts[how] = counts.get(how, 0) + 1
            results.append({"mutant": str(mutant), "how": how, "diff": diff})
            if how in ("survived", "no test"):
                print(f"\n{how}: {mutant}\n{diff}", flush=True)
    (KEPT / "results.json").write_text(json.dumps(results, indent=1))
    dead = counts.get("killed", 0) + counts.get("timeout", 0)
    print(f"{len(found)} places; {len(chosen)} drawn by seed {options.seed}: {counts}")
    took_s = time.monotonic() - begun
    print(f"killed {dead / max(len(chosen), 1):.0%} before survivors are judged, {took_s:.0f} s")
    return 0


if __name__ == "__main__":
    sys.exit(main())
