"""Broken files by mutation of sound ones, each read in a process of its own under the limits that the server
sets: repeatable by seed.
"""

from __future__ import annotations

import io
import json
import os
import random
import resource
import signal
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from zoneinfo import ZoneInfo

import numpy as np
import trimesh
from PIL import Image
from pydantic import ValidationError

from cavatum.core.common.errors import DomainError
from cavatum.core.measure.triangles import Solid
from cavatum.formats import calendar, child, photos_in, piece_file, probe_csv, sniff, stations_csv, tasks
from cavatum.formats.drawings_out import Sheet, write_dxf, write_svg
from cavatum.formats.solids_out import write_3mf
from tests.samples import NOW, box_piece

LONGEST_S, MOST_BYTES = 10.0, 1024**3
WAITS = 4  # times as long by the wall as by its own time, on a machine that is busy
TOKENS = (
    b"NaN",
    b"-1",
    b"1e308",
    b"1e-320",
    b"99999999999999999999",
    b"\x00",
    b"\xff\xfe",
    b"{}",
    b"[[[[[[[[",
    b"null",
    b'"',
    b"<",
    b"&lol;",
    b"\r\n",
    b",",
    b";",
    b"DTSTART:99999999T999999",
    b"RRULE:FREQ=SECONDLY",
    b"../../etc/passwd",
    b"'; drop table piece; --",
    b"\xf0\x9f\xaa\xb5",
    b"0" * 400,
)


def _mesh() -> trimesh.Trimesh:
    return trimesh.creation.icosphere(subdivisions=2, radius=40.0)


def _exported(kind: str, **more) -> bytes:
    data = _mesh().export(file_type=kind, **more)
    return data if isinstance(data, bytes) else data.encode()


def _photo(kind: str) -> bytes:
    out = io.BytesIO()
    pixels = np.random.default_rng(3).integers(0, 255, (220, 300, 3), dtype=np.uint8)
    Image.fromarray(pixels).save(out, kind)
    return out.getvalue()


def _solid() -> Solid:
    mesh = _mesh()
    return Solid(np.asarray(mesh.vertices) / 1000, np.asarray(mesh.faces))


def _rings() -> Sheet:
    return Sheet({"opening": [[(0.0, 0.0), (0.3, 0.0), (0.3, 0.2), (0.1, 0.25), (0.0, 0.2)]]}, "a form")


ICS = (
    b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:20260303T090000Z\r\nDTEND:20260303T100000Z\r\n"
    b"RRULE:FREQ=WEEKLY;COUNT=8\r\nSUMMARY:market\r\nEND:VEVENT\r\nBEGIN:VEVENT\r\nUID:2\r\nDTSTART;VALUE=DATE:20260310\r\nDTEND;VALUE=DATE:20260312\r\n"
    b"EXDATE:20260311T000000Z\r\nSUMMARY:away\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
)


def _probe() -> bytes:
    rows = [
        f"2026-03-02 {12 + number // 12:02}:{number % 12 * 5:02},{20 + number * 0.4:.1f}"
        for number in range(60)
    ]
    return ("time,temperature (C)\n" + "\n".join(rows)).encode()


@dataclass(frozen=True)
class Format:
    name: str
    sound: Callable[[], bytes]
    read: Callable[[bytes], object]


def _child(task: str, **options) -> Callable[[bytes], object]:
    return lambda data: tasks.TASKS[task](data, options)


SOURCE = {"format": "stl", "name": "x", "file": "0" * 64}
FORMATS = (
    Format("svg", lambda: write_svg(_rings()), _child("outlines", kind="svg", unit="mm")),
    Format("dxf", lambda: write_dxf(_rings()), _child("outlines", kind="dxf", unit="mm")),
    Format("stl", lambda: _exported("stl"), _child("mesh about", kind="stl")),
    Format(
        "stl as text",
        lambda: _exported("stl_ascii"),
        _child("mesh", kind="stl", unit="mm", up="z", role="cavity", source=SOURCE),
    ),
    Format("obj", lambda: _exported("obj"), _child("mesh about", kind="obj")),
    Format("ply", lambda: _exported("ply"), _child("mesh about", kind="ply")),
    Format("3mf", lambda: write_3mf(_solid(), "form"), _child("mesh about", kind="3mf")),
    Format("png", lambda: _photo("PNG"), lambda data: photos_in.read_photo(data)),
    Format("jpeg", lambda: _photo("JPEG"), _child("photo view")),
    Format(
        "stations",
        lambda: b"at mm;width mm\n0;100\n250;180\n500;140\n900;90\n",
        lambda data: stations_csv.read_stations(data, "mm"),
    ),
    Format("probe log", _probe, lambda data: probe_csv.read_probe_csv(data.decode("utf-8", "replace"))),
    Format("calendar", lambda: ICS, lambda data: calendar.read_busy(data, NOW, ZoneInfo("Europe/Berlin"))),
    Format("piece", lambda: piece_file.write_piece(box_piece()), piece_file.read_piece),
    Format("kind", lambda: _exported("stl_ascii"), lambda data: sniff.kind_of(data, "form.stl")),
)
SANDBOXED = {
    "svg",
    "dxf",
    "stl",
    "stl as text",
    "obj",
    "ply",
    "3mf",
    "png",
    "jpeg",
}  # there child.py turns a reader's own failure into a refusal


def mutated(rng: random.Random, data: bytes) -> bytes:
    """One to six changes: bits, cuts, repeats, words that mean something somewhere, numbers put beside
    themselves.
    """
    found = bytearray(data)
    for _ in range(rng.randint(1, 6)):
        at = rng.randrange(len(found) + 1)
        to = min(len(found), at + rng.choice((1, 2, 8, 64, 1000)))
        match rng.randrange(7):
            case 0 if at < len(found):
                found[at] ^= 1 << rng.randrange(8)
            case 1:
                del found[at:to]
            case 2:
                found[at:at] = found[at:to] * rng.choice((1, 2, 50))
            case 3:
                found[at:at] = rng.choice(TOKENS)
            case 4:
                found[at:to] = rng.choice(TOKENS)
            case 5:
                found[at:to] = bytes(rng.randrange(256) for _ in range(to - at))
            case 6 if len(found) > 4:
                found = found[: rng.randrange(len(found))]
    return bytes(found)


def broken_json(rng: random.Random, data: bytes) -> bytes:
    """A document that is sound JSON with one value in it put out of its kind: what a mutation of bytes seldom
    makes.
    """
    document = json.loads(data)
    place, inner = document, document
    while isinstance(inner, dict | list) and inner:
        key = rng.choice(list(inner) if isinstance(inner, dict) else range(len(inner)))
        place, inner = inner, inner[key]
        if rng.random() < 0.25:
            break
    place[key] = rng.choice(
        (
            None,
            -1,
            1e308,
            "",
            "x" * 5000,
            [],
            {},
            [[[]]],
            True,
            "-3 mm",
            "4/0 in",
            {"value": float(10**300)},
            10**400 % 10**18,
        )
    )
    return json.dumps(document).encode()


@dataclass(kw_only=True)
class Found:
    files: int = 0
    taken: Counter = field(default_factory=Counter)
    refused: Counter = field(default_factory=Counter)
    ended: Counter = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)
    slowest_s: float = 0.0
    largest_bytes: int = 0


def _read(one: Format, data: bytes) -> int:
    """0 taken, 1 refused in words, 2 anything else."""
    try:
        one.read(data)
        return 0
    except (DomainError, ValidationError, MemoryError):
        return 1
    except Exception:
        return 1 if one.name in SANDBOXED else 2


def _in_a_process(one: Format, data: bytes) -> tuple[int, float, int]:
    """(exit status, seconds of its own, most memory that it took on top of what this process had)."""
    had = _own_memory(RESIDENT)
    pid = os.fork()
    if pid == 0:
        code = 3
        try:
            os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
            most = child.MEMORY_BYTES + _own_memory(ADDRESSES)
            resource.setrlimit(resource.RLIMIT_AS, (most, most))
            resource.setrlimit(resource.RLIMIT_CPU, (child.CPU_S, child.CPU_S + 1))
            signal.alarm(WAITS * child.CPU_S)
            code = _read(one, data)
        finally:
            os._exit(code)
    _, status, used = os.wait4(pid, 0)
    return status, used.ru_utime + used.ru_stime, max(used.ru_maxrss * 1024 - had, 0)


ADDRESSES, RESIDENT = 0, 1


def _own_memory(which: int) -> int:
    """What this test's own process already takes: limits are for what a file adds."""
    with open("/proc/self/statm") as file:
        return int(file.read().split()[which]) * resource.getpagesize()


def campaign(files: int, seed: int) -> Found:
    """Reads that many broken files. `wrong` names each that neither was taken nor refused in words, or took
    over LONGEST_S or MOST_BYTES.
    """
    found, rng = Found(), random.Random(seed)
    sound = {one.name: one.sound() for one in FORMATS}
    for number in range(files):
        one = FORMATS[number % len(FORMATS)]
        data = (
            broken_json(rng, sound["piece"])
            if one.name == "piece" and rng.random() < 0.6
            else mutated(rng, sound[one.name])
        )
        status, seconds, size = _in_a_process(one, data)
        found.files += 1
        found.slowest_s, found.largest_bytes = max(found.slowest_s, seconds), max(found.largest_bytes, size)
        (
            found.taken
            if status == 0
            else found.refused
            if os.WIFEXITED(status) and os.WEXITSTATUS(status) == 1
            else found.ended
        )[one.name] += 1
        if (
            seconds > LONGEST_S
            or size > MOST_BYTES
            or (os.WIFEXITED(status) and os.WEXITSTATUS(status) > 1)
            or os.WIFSIGNALED(status)
        ):
            found.wrong.append(
                f"{one.name} {seed}/{number}: status {status}, {seconds:.1f} s, {size >> 20} MB: "
                f"{data[:80]!r}"
            )
    return found


__all__ = ["FORMATS", "campaign", "mutated"]
