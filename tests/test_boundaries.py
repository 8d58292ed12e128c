"""The rules of the house: which folder may know which, kept by reading imports and files."""

import ast
import dataclasses
import gzip
import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "cavatum"
TABLES = ("practice", "demo")  # words and documents that are read row by row
FORBIDDEN_IN_CORE = {
    "flask",
    "psycopg",
    "psycopg_pool",
    "os",
    "socket",
    "pathlib",
    "io",
    "subprocess",
    "time",
    "random",
    "requests",
    "urllib",
    "tempfile",
    "yoyo",
}


def modules(folder: str) -> list[Path]:
    return sorted((SOURCE / folder).rglob("*.py"))


def imported(path: Path) -> set[str]:
    """Top-level names imported by a module, relative ones as their package under cavatum."""
    found = set()
    package = list(path.relative_to(SOURCE).parts[:-1])
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name.split(".")[0] for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.level == 0:
            found.add((node.module or "").split(".")[0])
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1]
            target = [*base, *(node.module or "").split(".")]
            found.add("cavatum." + next((part for part in target if part), "."))
    return found


@pytest.mark.parametrize("path", modules("core"), ids=lambda path: str(path.relative_to(SOURCE)))
def test_the_core_is_pure(path):
    names = imported(path)
    assert not names & FORBIDDEN_IN_CORE
    assert {name for name in names if name.startswith("cavatum.")} <= {"cavatum.core"}


def test_the_core_never_asks_what_time_it_is():
    for path in modules("core"):
        assert not re.search(r"\.(now|today|utcnow)\(", path.read_text()), path


@pytest.mark.parametrize("folder", ["formats", "store"])
def test_formats_and_store_know_only_the_core(folder):
    for path in modules(folder):
        assert {name for name in imported(path) if name.startswith("cavatum.")} <= {
            "cavatum.core",
            f"cavatum.{folder}",
        }, path


def test_sql_is_written_in_the_store_only():
    for path in SOURCE.rglob("*.py"):
        if "store" not in path.parts and "machine" not in path.parts:
            assert not re.search(r'"(select|insert into|update|delete from) \w', path.read_text()), path


def test_contracts_of_the_imports_are_kept():
    """The order of the core's stages, and of what stands beside the core: pyproject.toml names both."""
    run("lint-imports", "--no-cache", cwd=ROOT, environment={"PYTHONPATH": str(ROOT / "src")})


@pytest.mark.slow
def test_a_dataclass_with_more_than_three_fields_is_made_by_name():
    import importlib
    import pkgutil

    import cavatum

    for module in pkgutil.walk_packages(cavatum.__path__, "cavatum."):
        if module.name.endswith("__main__"):
            continue
        for name, one in vars(importlib.import_module(module.name)).items():
            if dataclasses.is_dataclass(one) and isinstance(one, type) and one.__module__ == module.name:
                given = [field for field in dataclasses.fields(one) if field.init]
                assert len(given) <= 3 or all(field.kw_only for field in given), f"{module.name}.{name}"


def test_set_up_needs_only_the_standard_library():
    for path in modules("machine"):
        assert {name for name in imported(path) if not name.startswith("cavatum.")} <= set(
            sys.stdlib_module_names
        ), path


KERNELS = {"march", "brentq"}  # numerical loops that are read as one


def test_functions_stay_simple():
    """Cyclomatic complexity, with boolean operators and comprehensions counted, at most 12. Their length is
    kept by the linter: at most 50 statements.
    """
    from radon.complexity import cc_visit

    found = [
        f"{path.relative_to(SOURCE)}: {block.name} {block.complexity}"
        for path in SOURCE.rglob("*.py")
        for block in cc_visit(path.read_text())
        if block.letter != "C" and block.complexity > 12 and block.name not in KERNELS
    ]
    assert not found


def test_modules_stay_short():
    for path in SOURCE.rglob("*.py"):
        assert path.read_text().count("\n") <= 400 or path.parent.name in TABLES, path


def test_every_public_module_says_what_it_is_for():
    for path in SOURCE.rglob("*.py"):
        assert ast.get_docstring(ast.parse(path.read_text())), path


def test_every_room_of_the_core_says_what_it_is_for_and_what_never():
    for path in (SOURCE / "core").glob("*/__init__.py"):
        said = ast.get_docstring(ast.parse(path.read_text())) or ""
        assert len(said) > 80 and "Never" in said, path


def test_no_lock_file_names_a_host():
    for path in (ROOT / "requirements").iterdir():
        assert "://" not in path.read_text(), path
    assert '"resolved"' not in (ROOT / "web" / "package-lock.json").read_text()


def run(*command: str, cwd: Path = ROOT / "web", environment: dict[str, str] | None = None) -> str:
    path = f"{Path(sys.executable).parent}{os.pathsep}{os.environ['PATH']}"
    known = {**os.environ, "PATH": path, **(environment or {})}
    done = subprocess.run(command, cwd=cwd, capture_output=True, text=True, check=False, env=known)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def test_the_openapi_document_in_the_repository_is_fresh():
    kept = json.loads((ROOT / "web" / "src" / "api" / "openapi.json").read_text())
    fresh = json.loads(
        run(sys.executable, "-m", "cavatum.cli", "openapi", environment={"PYTHONPATH": str(ROOT / "src")})
    )
    assert kept == fresh, (
        "run: PYTHONPATH=src python -m cavatum.cli openapi > web/src/api/openapi.json, then npm run "
        "types in web/"
    )


@pytest.mark.slow
def test_the_typescript_types_are_fresh(tmp_path):
    run(
        "npx",
        "openapi-typescript",
        "src/api/openapi.json",
        "--default-non-nullable",
        "false",
        "-o",
        str(tmp_path / "fresh.ts"),
    )
    assert (tmp_path / "fresh.ts").read_text() == (
        ROOT / "web" / "src" / "api" / "schema.generated.ts"
    ).read_text(), "run: npm run types in web/"
    run("node", "operations.mjs", str(tmp_path / "operations.ts"))
    kept = ROOT / "web" / "src" / "api" / "operations.generated.ts"
    assert (tmp_path / "operations.ts").read_text() == kept.read_text(), "run: npm run types in web/"


def test_only_the_api_folder_asks_the_server():
    """Screens call an operation by its name; links to files and pages go by their address."""
    asks = re.compile(r"(?<![\w.])(?:call|fetch)(?:<[^(]*>)?\(")
    for path in (ROOT / "web" / "src").rglob("*.ts*"):
        if path.parent.name != "api" and ".test." not in path.name:
            assert not asks.search(path.read_text()), path


def test_the_published_piece_schema_is_fresh():
    from cavatum.formats.piece_file import schema

    assert json.loads((ROOT / "docs" / "formats" / "piece.schema.json").read_text()) == schema()


@pytest.mark.long
def test_python_type_checks():
    run("mypy", "--cache-dir", ".cavatum/mypy", cwd=ROOT)


@pytest.mark.long
@pytest.mark.slow
def test_the_front_end_type_checks():
    run("npm", "run", "--silent", "check")


def test_the_first_script_stays_small():
    """At most 120 kB compressed: stages and places are fetched when they are opened."""
    page = (ROOT / "web" / "dist" / "index.html").read_text()
    script = re.search(r'<script type="module"[^>]* src="/(assets/[^"]+)"', page)
    assert script
    packed = gzip.compress((ROOT / "web" / "dist" / script[1]).read_bytes(), 9)
    assert len(packed) <= 120_000


def test_the_front_end_has_no_lint():
    run("npm", "run", "--silent", "lint")


def test_the_front_ends_own_tests_pass():
    run("npm", "run", "--silent", "test")


def test_python_has_no_lint():
    run(sys.executable, "-m", "ruff", "check", "src", "tests", "speed", "docs", cwd=ROOT)


def test_python_is_formatted():
    run(sys.executable, "-m", "ruff", "format", "--check", "src", "tests", "speed", "docs", cwd=ROOT)


@pytest.mark.slow
def test_the_front_end_is_formatted():
    run("npm", "run", "--silent", "format")


def test_the_diagrams_show_the_imports_as_they_are():
    from docs.diagram import PAGE, with_diagrams

    assert with_diagrams(PAGE.read_text()) == PAGE.read_text(), "run: docs/diagram.py keep"


def test_drawing_and_domain_of_the_front_end_fetch_nothing():
    """They may name the API's types; nothing of it that runs."""
    for folder in ("domain", "drawing"):
        for path in (ROOT / "web" / "src" / folder).rglob("*.ts*"):
            for line in re.findall(r"^import (?!type)[^;]*;", path.read_text(), flags=re.M):
                names = re.sub(r"\btype \w+,?", "", line.partition("from")[0])
                fetches = "/api/" in line and re.search(r"\w", names.replace("import", ""))
                assert not fetches, f"{path.name}: {line}"


def test_the_example_files_are_planned_without_a_question():
    from cavatum.core.common.workshop import typical_workshop
    from cavatum.core.plan import make_plan
    from cavatum.formats.piece_file import read_piece
    from tests.samples import NOW

    files = sorted((ROOT / "examples").glob("*.cavatum.json"))
    assert len(files) == 3
    for file in files:
        piece = read_piece(file.read_bytes())
        assert piece.workshop and piece.goods
        sheets = {one.id: one for one in piece.systems}
        plan = make_plan(piece, sheets, piece.workshop or typical_workshop(), NOW, shelf_items=piece.goods)
        assert plan.pours and not [one for one in plan.verdicts if one.weight == "blocker"], file.name


def test_documents_do_not_link_to_nowhere():
    for page in [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *(ROOT / "docs").rglob("*.md")]:
        for target in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", page.read_text()):
            assert (page.parent / target).exists(), f"{page.name}: {target}"


def test_documents_name_files_that_are_there():
    for page in [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *(ROOT / "docs").rglob("*.md")]:
        text = page.read_text()
        for name in re.findall(r"`([\w/.-]+/[\w.-]+\.(?:py|tsx?|sql))`", text):
            assert any((base / name).exists() for base in (ROOT, SOURCE, page.parent)), f"{page.name}: {name}"
        for name in re.findall(r"`(test_\w+\.py)`", text):
            assert list((ROOT / "tests").rglob(name)), f"{page.name}: {name}"


def _named_tests(text: str) -> list[tuple[str, str]]:
    return re.findall(r"`(test_\w+)::(test_\w+)`", text)


def _is_there(file: str, function: str) -> bool:
    return any(
        re.search(rf"^\s*def {function}\(", one.read_text(), re.M)
        for one in (ROOT / "tests").rglob(f"{file}.py")
    )


def test_what_is_claimed_of_safety_names_the_test_that_holds_it():
    """docs/security.md row by row, docs/network.md section by section."""
    security, network = ((ROOT / "docs" / name).read_text() for name in ("security.md", "network.md"))
    rows = re.findall(r"^\| \d[^|]* \|[^|]*\|( .*) \|$", security, re.M)
    assert len(rows) > 150
    for row in rows:
        how, _, held_by = row.rpartition("|")
        if how.strip().startswith(("yes", "in part")):
            assert _named_tests(held_by), f"a claim without a test: {row}"
        else:
            assert how.strip().startswith(("no", "—")), f"neither claimed nor denied: {row}"
    for section in network.split("\n## ")[1:]:
        assert _named_tests(section), f"a section without a test: {section[:60]}"
    for file, function in _named_tests(security + network):
        assert _is_there(file, function), f"{file}::{function} is not there"


def test_reference_pages_come_from_the_docstrings(tmp_path):
    style = ROOT / "docs" / "reference_style"
    run(
        *(sys.executable, "-m", "pdoc", "--no-show-source", "-t", str(style), "-o", str(tmp_path)),
        "cavatum.core.cure.kinetics",
        cwd=ROOT,
        environment={"PYTHONPATH": str(ROOT / "src")},
    )
    page = (tmp_path / "cavatum" / "core" / "cure" / "kinetics.html").read_text()
    assert "DiBenedetto" in page and "Tginf - Tg0" in page and "pre-line" in page


LAZY = re.compile(
    r"\((?:one|now|all|piece|hollow|coat)\) =>(?:(?!=>|;).){0,260}?event\.(?:target|currentTarget)", re.S
)


def test_an_edit_waiting_its_turn_does_not_read_the_field_then():
    """An edit runs after those before it; by then React has put the field back to what is saved."""
    late = []
    for path in sorted((ROOT / "web/src/stages").rglob("*.tsx")):
        text = path.read_text()
        late += [
            f"{path.name}:{text[: found.start()].count(chr(10)) + 1}"
            for found in LAZY.finditer(text)
            if "edits.edit(" in text[max(found.start() - 160, 0) : found.start()]
            or "change(" in text[max(found.start() - 160, 0) : found.start()]
        ]
    assert not late
