"""Drawings, meshes, photos and stations read in the child process: what is found, and how what is broken or
hostile is refused.
"""

import io
import math
import os
import struct
import subprocess
import sys
import zipfile

import ezdxf
import numpy as np
import pytest
import trimesh
from PIL import Image

from cavatum.core.common.errors import DomainError
from cavatum.core.measure.triangles import Solid
from cavatum.core.piece.shapes import River
from cavatum.formats import sandbox, sniff
from cavatum.formats.drawings_out import Sheet, write_dxf, write_svg
from cavatum.formats.solids_out import write_3mf, write_stl
from cavatum.formats.stations_csv import read_stations, write_stations

SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="180mm" height="180mm" viewBox="0 0 180 180">{}</svg>'
CUBE = trimesh.creation.box((100, 60, 40))


def outlines(data, kind="svg", **options):
    return sandbox.ask(
        "outlines", data.encode() if isinstance(data, str) else data, {"kind": kind, **options}
    )


def dxf(draw, unit=4):
    document = ezdxf.new("R2010")
    document.units = unit
    draw(document.modelspace())
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def refused(task, data, **options):
    with pytest.raises(DomainError) as caught:
        sandbox.ask(task, data, options)
    assert caught.value.way_out and caught.value.allowed
    return caught.value


def test_an_svg_with_its_size_in_mm_is_read_to_scale():
    found = outlines(SVG.format('<circle cx="90" cy="90" r="80"/><circle cx="90" cy="90" r="20"/>'))
    assert found["declared"] == "mm" and len(found["shapes"]) == 1 and len(found["shapes"][0]["holes_m"]) == 1
    assert found["shapes"][0]["area_m2"] == pytest.approx(
        math.pi * (0.08**2 - 0.02**2), rel=2e-4
    )  # circles as 256 chords


def test_an_svg_without_a_unit_waits_for_one():
    bare = SVG.replace('width="180mm" height="180mm"', "").format(
        '<rect x="0" y="0" width="90" height="60"/>'
    )
    found = outlines(bare)
    assert (
        found["declared"] is None
        and found["shapes"] == []
        and found["size"] == pytest.approx([90, 60], rel=1e-3)
    )
    assert outlines(bare, unit="cm")["shapes"][0]["area_m2"] == pytest.approx(0.9 * 0.6, rel=1e-3)


def test_layers_are_chosen_by_name_and_nest_by_themselves():
    two = SVG.format(
        '<g id="outer"><circle cx="90" cy="90" r="80"/></g><g id="pocket"><rect x="60" y="60" width="40" '
        'height="30"/></g>'
    )
    found = outlines(two)
    assert {one["name"] for one in found["layers"]} == {"outer", "pocket"} and all(
        not one["holes_m"] for one in found["shapes"]
    )
    assert [one["layer"] for one in outlines(two, layers=["pocket"])["shapes"]] == ["pocket"]


@pytest.mark.parametrize("times", [2, 3])
def test_an_outline_drawn_twice_is_one_and_no_hole_in_itself(times):
    """It was read as a hole as large as its outline: nothing was left, and the reader broke."""
    once = '<path d="M10 10 H70 V40 H10 Z"/><circle cx="30" cy="25" r="5"/>'
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">'
        f"{once * times}</svg>"
    )
    found = sandbox.ask("outlines", svg.encode(), {"kind": "svg", "unit": None, "layers": None})
    (shape,) = found["shapes"]
    assert shape["area_m2"] == pytest.approx((60 * 30 - math.pi * 25) * 1e-6, rel=1e-3)
    assert len(shape["holes_m"]) == 1
    assert f"{2 * (times - 1)} outlines on" in found["problems"][0] and "counted once" in found["problems"][0]


def test_groups_that_move_and_turn_keep_areas():
    found = outlines(
        SVG.format(
            '<g transform="translate(50 50) rotate(30)"><rect x="0" y="0" width="40" height="30"/></g>'
        )
    )
    assert found["shapes"][0]["area_m2"] == pytest.approx(0.04 * 0.03, rel=1e-5)


def test_a_dxf_of_loose_lines_and_arcs_is_joined_into_one_outline():
    def draw(space):
        space.add_line((0, 0), (100, 0))
        space.add_line((100, 50), (100, 0))
        space.add_arc((50, 50), 50, 0, 180)
        space.add_line((0, 50), (0, 0))
        space.add_circle((50, 30), 10)

    found = outlines(dxf(draw), "dxf")
    assert len(found["shapes"]) == 1 and found["shapes"][0]["area_m2"] == pytest.approx(
        (5000 + math.pi * 1250 - math.pi * 100) * 1e-6, rel=2e-4
    )


@pytest.mark.parametrize(("unit", "factor"), [(1, 0.0254), (4, 1e-3), (5, 1e-2), (6, 1.0)])
def test_a_dxf_says_its_unit(unit, factor):
    found = outlines(
        dxf(lambda space: space.add_lwpolyline([(0, 0), (2, 0), (2, 1), (0, 1)], close=True), unit), "dxf"
    )
    assert found["shapes"][0]["area_m2"] == pytest.approx(2 * factor**2, rel=1e-6)


def test_blocks_are_taken_apart_and_texts_are_counted_as_left_out():
    document = ezdxf.new("R2010")
    document.units = 4
    block = document.blocks.new("pocket")
    block.add_circle((0, 0), 10)
    document.modelspace().add_blockref("pocket", (50, 50), dxfattribs={"xscale": 2, "yscale": 2})
    document.modelspace().add_text("depth 5")
    out = io.StringIO()
    document.write(out)
    found = outlines(out.getvalue().encode(), "dxf")
    assert found["shapes"][0]["area_m2"] == pytest.approx(math.pi * 0.02**2, rel=5e-4) and found[
        "left_out"
    ] == {"words": 1}


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ('<path d="M0 0 L50 0 L50 50"/>', "open"),
        ('<path d="M0 0 L50 50 L50 0 L0 50 Z"/>', "crosses"),
        (
            '<rect x="0" y="0" width="40" height="40"/><rect x="20" y="20" width="40" height="40"/>',
            "cross near",
        ),
    ],
)
def test_open_and_crossing_outlines_are_explained_with_their_place(body, said):
    found = outlines(SVG.format(body))
    assert any(said in problem for problem in found["problems"]), found["problems"]


@pytest.mark.slow
def test_what_is_written_as_svg_and_dxf_is_read_back_the_same():
    rings = {"opening": [[(0.0, 0.0), (0.21, 0.0), (0.21, 0.13), (0.0, 0.13)]]}
    svg = outlines(write_svg(Sheet(rings, "words & <signs>")), layers=["opening"])
    drawn = outlines(write_dxf(Sheet(rings)), "dxf")
    for found in (svg, drawn):
        assert found["declared"] == "mm" and found["shapes"][0]["area_m2"] == pytest.approx(
            0.21 * 0.13, rel=5e-6
        )  # svgelements takes 96 px to the inch to six digits


@pytest.mark.parametrize("kind", ["stl", "obj", "ply", "3mf", "ascii stl"])
@pytest.mark.slow
def test_every_mesh_format_gives_the_same_volume(kind):
    if kind == "3mf":
        data = write_3mf(Solid(np.asarray(CUBE.vertices) / 1000, np.asarray(CUBE.faces)), "cube")
    else:
        data = CUBE.export(file_type="stl_ascii" if kind == "ascii stl" else kind)
    data = data.encode() if isinstance(data, str) else data
    short = "stl" if kind == "ascii stl" else kind
    assert sniff.kind_of(data, f"cube.{short}") == short
    options = {
        "kind": short,
        "unit": "mm",
        "up": "z",
        "role": "cavity",
        "source": {"format": short, "name": "cube"},
    }
    assert sandbox.ask("mesh", data, options)["rows"][-1]["volume_m3"] == pytest.approx(240e-6, rel=1e-6)
    assert sandbox.ask("mesh about", data, {"kind": short})["size"] == pytest.approx([100, 60, 40], rel=1e-6)


def test_what_is_written_as_stl_is_read_back_in_mm():
    data = write_stl(Solid(np.asarray(CUBE.vertices) / 1000, np.asarray(CUBE.faces)))
    assert sandbox.ask("mesh about", data, {"kind": "stl"})["size"] == pytest.approx([100, 60, 40], rel=1e-5)


def test_only_3mf_says_its_unit():
    data = write_3mf(Solid(np.asarray(CUBE.vertices) / 1000, np.asarray(CUBE.faces)), "cube")
    assert sandbox.ask("mesh about", data, {"kind": "3mf"})["declared"] == "mm"
    assert sandbox.ask("mesh about", CUBE.export(file_type="stl"), {"kind": "stl"})["declared"] is None


def stl(triangles):
    rows = np.zeros(len(triangles), dtype=[("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")])
    rows["c"] = triangles
    return b"x".ljust(80) + struct.pack("<I", len(rows)) + rows.tobytes()


@pytest.mark.slow
def test_meshes_that_hold_nothing_are_refused_in_words():
    faces = np.asarray(CUBE.vertices)[np.asarray(CUBE.faces)]
    broken = faces.copy()
    broken[0, 0, 0] = np.nan
    assert refused("mesh about", stl(faces[:-2]), kind="stl").code == "open-mesh"
    assert refused("mesh about", stl(broken), kind="stl").code in ("not-a-number", "open-mesh")
    assert refused("mesh about", stl(faces[:0]), kind="stl").code == "empty"
    assert refused("mesh about", stl(faces * [1, 1, 0]), kind="stl").code == "flat"


@pytest.mark.slow
def test_ten_million_triangles_are_refused_by_their_header():
    claimed = (
        b"ply\nformat binary_little_endian 1.0\nelement vertex 3\nproperty float x\nproperty float "
        b"y\nproperty float z\nelement face 10000000\n"
        b"property list uchar int vertex_indices\nend_header\n" + b"\0" * 64
    )
    assert refused("mesh about", claimed, kind="ply").code == "too-heavy"
    assert refused("mesh about", b"f 1 2 3\n" * 1_600_000, kind="obj").code == "too-heavy"


def test_an_entity_bomb_is_refused_before_it_is_read():
    bomb = '<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "aaaaaaaaaa">' + "".join(
        f'<!ENTITY {chr(98 + i)} "{("&" + chr(97 + i) + ";") * 10}">' for i in range(9)
    )
    assert (
        refused("outlines", (bomb + "]>" + SVG.format("<text>&j;</text>")).encode(), kind="svg").code
        == "entities"
    )


def zip_of(entries):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries:
            archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.slow
def test_a_zip_bomb_is_refused_by_its_directory():
    assert (
        refused("mesh about", zip_of([("3D/3dmodel.model", b" " * (450 << 20))]), kind="3mf").code
        == "too-heavy"
    )


@pytest.mark.parametrize("content", [b"", b"<model>", b"<!DOCTYPE x><model/>", b"\xff\xfe\x00"])
def test_a_3mf_with_a_broken_model_is_refused(content):
    refused(
        "mesh about",
        zip_of([("[Content_Types].xml", b"<Types/>"), ("3D/3dmodel.model", content)]),
        kind="3mf",
    )


def jpeg(width, height, colour=(120, 150, 190)):
    out = io.BytesIO()
    Image.new("RGB", (width, height), colour).save(out, "JPEG")
    return out.getvalue()


@pytest.mark.slow
def test_a_photo_of_two_hundred_megapixels_is_refused_by_its_header():
    big = io.BytesIO()
    Image.new("1", (20_000, 10_000)).save(big, "PNG")
    assert refused("photo view", big.getvalue(), kind="photo").code == "too-heavy"
    assert refused("photo view", jpeg(100, 100), kind="photo").code == "too-small"


def test_a_photo_is_turned_upright_and_made_small_enough():
    out = io.BytesIO()
    picture = Image.new("RGB", (3000, 1500), (120, 150, 190))
    exif = picture.getexif()
    exif[0x0112] = 6  # camera held upright: turn by a quarter
    picture.save(out, "JPEG", exif=exif)
    found = sandbox.ask("photo view", out.getvalue(), {"kind": "photo"})
    assert (found["width"], found["height"]) == (1200, 2400)


@pytest.mark.parametrize(
    ("task", "kind"),
    [
        ("outlines", "svg"),
        ("outlines", "dxf"),
        ("mesh about", "stl"),
        ("mesh about", "obj"),
        ("mesh about", "ply"),
        ("mesh about", "3mf"),
        ("photo view", "photo"),
    ],
)
@pytest.mark.parametrize("data", [b"\0" * 300, b"nonsense " * 40, b"PK\x03\x04" + b"\xff" * 200])
@pytest.mark.slow
def test_noise_in_any_format_is_refused_with_a_way_out(task, kind, data):
    refused(task, data, kind=kind)


@pytest.mark.slow
def test_a_mesh_that_names_corners_far_away_is_refused_and_no_child_outgrew_its_memory():
    data = b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 99999999\n" * 10
    refused("mesh about", data, kind="obj")
    # Asked by a small process of its own: a child begins with the high-water mark of whoever forks it.
    code = (
        "import resource, sys\nfrom cavatum.core.common.errors import DomainError\n"
        "from cavatum.formats import sandbox\n"
        "try:\n    sandbox.ask('mesh about', sys.stdin.buffer.read(), {'kind': 'obj'})\nexcept DomainError:\n"
        "    print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code],
        input=data,
        capture_output=True,
        check=True,
        env={**os.environ, "PYTHONPATH": "src"},
    )
    assert int(done.stdout) < 1024 * 1024  # kB: no child grew past a gigabyte


def test_a_reader_that_never_ends_is_ended(monkeypatch):
    monkeypatch.setattr(sandbox, "PATIENCE_S", 0.01)
    assert refused("mesh about", CUBE.export(file_type="stl"), kind="stl").code == "too-heavy"


@pytest.mark.parametrize(
    ("data", "name", "kind"),
    [
        (b"\xff\xd8\xff\xe0", "a.txt", "photo"),
        (b"ply\nformat ascii 1.0\n", "x", "ply"),
        (b"solid x\n facet normal 0 0 1\n", "x", "stl"),
        (b'<?xml version="1.0"?>\n<svg xmlns="http://www.w3.org/2000/svg"/>', "x.xml", "svg"),
        (b"  0\nSECTION\n  2\nHEADER\n", "x", "dxf"),
        (b"0;100\n115;118\n", "a.csv", "csv"),
    ],
)
def test_files_are_told_by_their_content(data, name, kind):
    assert sniff.kind_of(data, name) == kind


@pytest.mark.parametrize(
    ("data", "name", "code"),
    [
        (b"", "a.stl", "empty"),
        (b"MZ\x90\0", "a.exe", "unknown-kind"),
        (b"x" * (2 << 20), "a.csv", "too-large"),
    ],
)
def test_other_files_are_refused(data, name, code):
    with pytest.raises(DomainError) as caught:
        sniff.kind_of(data, name)
    assert caught.value.code == code


def test_stations_are_read_with_the_unit_of_their_header():
    rows = read_stations(b"place [mm];width [mm];width at the bottom [mm]\n0;104;90\n115;118,5;\n", None)
    assert (
        rows[1]["width_m"] == {"value": pytest.approx(0.1185), "as_typed": "118.5 mm"}
        and "bottom_width_m" not in rows[1]
    )


@pytest.mark.parametrize(
    ("text", "unit", "code"),
    [
        ("0,104\n115,118\n", None, "no-unit"),
        ("0,104\n115,wide\n", "mm", "not-a-number"),
        ("0,104\n", "mm", "count"),
        ("\xff\xfe", "mm", "broken"),
    ],
)
def test_stations_that_cannot_be_read_name_the_line(text, unit, code):
    with pytest.raises(DomainError) as caught:
        read_stations(text.encode("latin-1"), unit)
    assert caught.value.code == code


def test_stations_written_are_read_back():
    river = River.model_validate(
        {
            "kind": "river",
            "depth_m": "42 mm",
            "stations": [
                {"at_m": "0 mm", "width_m": "104 mm", "bottom_width_m": "90 mm"},
                {"at_m": "4 1/2 in", "width_m": "118 mm"},
            ],
        }
    )
    back = River.model_validate(
        {"kind": "river", "depth_m": "42 mm", "stations": read_stations(write_stations(river), None)}
    )
    assert back.stations[0].bottom_width_m.value == pytest.approx(0.090) and back.stations[
        1
    ].at_m.value == pytest.approx(0.1143)


def test_the_files_of_the_demo_are_what_its_drawings_say(tmp_path, monkeypatch):
    from cavatum.demo import draw

    monkeypatch.setattr(draw, "FILES", tmp_path)
    shipped = draw.Path(draw.__file__).parent / "files"
    draw.main()
    for name in ("waymark.svg", "fern-tray.stl"):
        assert (tmp_path / name).read_bytes() == (shipped / name).read_bytes()


@pytest.mark.slow
def test_the_largest_photo_is_read_within_the_childs_memory():
    out = io.BytesIO()
    Image.new("RGB", (9_000, 6_600), (120, 150, 190)).save(out, "PNG")  # 59 megapixels
    found = sandbox.ask("photo view", out.getvalue(), {"kind": "photo"})
    assert (found["width"], found["height"]) == (2400, 1760)
