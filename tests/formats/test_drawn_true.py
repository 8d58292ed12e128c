"""Drawings and meshes with a known truth: clones, drawings within drawings, gaps, bodies that overlap.
Areas and
volumes are worked by hand, or by trimesh's own union.
"""

import numpy as np
import pytest
import trimesh

from cavatum.core.common.errors import DomainError
from cavatum.core.measure.triangles import Solid, by_height, level_areas, signed_volume
from cavatum.formats.drawings_out import Sheet, write_svg
from cavatum.formats.solids_in import joined
from cavatum.formats.tasks import TASKS
from tests.formats.test_files_in import dxf

HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="90mm" '
    'height="60mm" viewBox="0 0 90 60">'
)
SQUARE = '<rect width="10" height="10"/>'


def outlines(data, kind="svg", **options):
    return TASKS["outlines"](data if isinstance(data, bytes) else data.encode(), {"kind": kind, **options})


def corners(found):
    """Lower left corner and size of each outline in mm, from the drawing's own corner, in order."""
    return sorted(
        tuple(round(float(one) * 1000, 3) for one in (*np.min(shape["points_m"], axis=0), *shape["size_m"]))
        for shape in found["shapes"]
    )


# inside <svg>, and the outlines it draws: left, bottom (from the lowest line), wide, high in mm
DRAWN = {
    "a clone beside": (
        '<rect id="a" width="10" height="10"/><use href="#a" x="20"/>',
        [(0, 0, 10, 10), (20, 0, 10, 10)],
    ),
    "clones of what is only defined": (
        f'<defs><g id="q">{SQUARE}</g></defs><use xlink:href="#q" x="5"/>'
        '<use href="#q" x="40" transform="scale(2)"/>',
        [(0, 10, 10, 10), (75, 0, 20, 20)],
    ),
    "a clone of a clone": (
        f'<g id="a">{SQUARE}</g><g id="b"><use href="#a" x="20"/></g><use href="#b" x="20"/>',
        [(0, 0, 10, 10), (20, 0, 10, 10), (40, 0, 10, 10)],
    ),
    "a symbol in a box of its own": (
        f'<symbol id="s" viewBox="0 0 10 10">{SQUARE}</symbol>'
        '<use href="#s" x="10" y="0" width="30" height="30"/>',
        [(0, 0, 30, 30)],
    ),
    "a drawing within": (
        f'{SQUARE}<svg x="40" y="0" width="20" height="20" viewBox="0 0 10 10">{SQUARE}</svg>',
        [(0, 10, 10, 10), (40, 0, 20, 20)],
    ),
    "a drawing within a drawing within": (
        f'{SQUARE}<svg x="10" width="40" height="40" viewBox="0 0 20 20"><svg x="5" width="10" height="10" '
        f'viewBox="0 0 10 10">{SQUARE}</svg></svg>',
        [(0, 10, 10, 10), (20, 0, 20, 20)],
    ),
    "its view box off its corner": (
        f'{SQUARE}<svg x="40" width="20" height="10" viewBox="-5 0 20 10">{SQUARE}</svg>',
        [(0, 0, 10, 10), (45, 0, 10, 10)],
    ),
    "offsets in millimetres": (
        # a CSS millimetre is 96/25.4 user units, and a user unit here is drawn as one: 5 mm is 18.898
        f'{SQUARE}<svg x="5mm" width="10" height="10" viewBox="0 0 10 10">{SQUARE}</svg>',
        [(0, 0, 10, 10), (18.898, 0, 10, 10)],
    ),
}


@pytest.mark.parametrize("name", DRAWN)
def test_clones_and_drawings_within_stand_where_they_are_drawn(name):
    inside, wanted = DRAWN[name]
    found = outlines(HEAD + inside + "</svg>")
    assert corners(found) == [pytest.approx(one, abs=2e-3) for one in wanted]
    assert found["left_out"] == {}


def test_what_is_left_out_is_named():
    inside = (
        f'{SQUARE}<rect x="20" width="5" height="5" display="none"/><text>hi</text><image width="4"/>'
        '<path d="M30 0 L x"/><rect x="40" width="9" height="9" clip-path="url(#c)"/><use href="#gone"/>'
        '<g id="self"><use href="#self"/></g><clipPath id="c"><rect width="3" height="3"/></clipPath>'
    )
    found = outlines(HEAD + inside + "</svg>")
    assert set(found["left_out"]) == {
        "hidden",
        "words",
        "a picture",
        "a path that is broken",
        "a clip or mask: what it cuts is read whole",
        "a clone of what is not in the file",
        "a clone of itself",
    }
    assert found["found"] == 2
    named = outlines(dxf(lambda space: (space.add_text("hi"), space.add_circle((0, 0), 5))), "dxf")
    assert named["left_out"] == {"words": 1} and named["found"] == 1


def test_clones_of_clones_without_end_are_refused():
    levels = "".join(f'<g id="l{k + 1}">' + f'<use href="#l{k}"/>' * 10 + "</g>" for k in range(9))
    with pytest.raises(DomainError, match="clones of clones"):
        outlines(f'{HEAD}<defs><g id="l0">{SQUARE}</g>{levels}</defs><use href="#l9"/></svg>')


def test_the_scale_bar_of_an_exported_drawing_does_not_come_back_as_an_outline():
    ring = [(0.0, 0.0), (0.09, 0.0), (0.09, 0.06), (0.0, 0.06)]
    found = outlines(write_svg(Sheet({"opening": [ring]}, "words")))
    assert found["found"] == 1 and [one["name"] for one in found["layers"]] == ["opening"]
    assert found["left_out"] == {"scale bar": 1}


@pytest.mark.parametrize("gap_mm", [0.0, 0.02, 0.048, 0.06, 0.5])
def test_a_small_gap_is_closed_and_said_and_a_large_one_told(gap_mm):
    def draw(space):
        for a, b in [
            ((0, 0), (200, 0)),
            ((200, 0), (200, 100)),
            ((200, 100), (0, 100)),
            ((0, 100), (0, gap_mm)),
        ]:
            space.add_line(a, b)

    found = outlines(dxf(draw), "dxf")
    if gap_mm > 0.05:
        assert found["found"] == 0 and "open" in found["problems"][0] and found["notes"] == []
        return
    assert found["found"] == 1 and found["problems"] == []
    assert found["shapes"][0]["area_m2"] == pytest.approx(0.02, rel=3e-4)
    assert bool(found["notes"]) is (gap_mm > 0)
    if gap_mm:
        assert f"up to {gap_mm:g} mm" in found["notes"][0] and "0.05 mm" in found["notes"][0]


def test_three_ends_that_meet_in_a_gap_are_not_joined_by_guess():
    def draw(space):
        for a, b in [((0, 0), (50, 0)), ((50, 0.03), (50, 40)), ((50.03, 0), (90, 0))]:
            space.add_line(a, b)

    assert outlines(dxf(draw), "dxf")["notes"] == []


def solid(mesh) -> Solid:
    return Solid(np.asarray(mesh.vertices, float), np.asarray(mesh.faces, np.int64))


def box(size, at=(0, 0, 0), inwards=False):
    made = trimesh.creation.box(size)
    made.apply_translation(np.array(at) + np.array(size) / 2)
    if inwards:
        made.invert()
    return made


# bodies [mm], and the volume by hand [mm3]
BODIES = {
    "two boxes that overlap": (
        [box((60, 60, 40)), box((60, 60, 40), (30, 30, 0))],
        2 * 144000 - 30 * 30 * 40,
    ),
    "one in the other": ([box((60, 60, 40)), box((10, 10, 10), (20, 20, 20))], 144000),
    "three in a row": ([box((40, 40, 40), (30 * k, 0, 0)) for k in range(3)], 100 * 1600),
    "apart": ([box((40, 40, 40)), box((40, 40, 40), (60, 0, 0))], 2 * 64000),
    "a hollow": ([box((60, 60, 60)), box((20, 20, 20), (20, 20, 20), inwards=True)], 216000 - 8000),
    "a body in a hollow": (
        [box((60, 60, 60)), box((40, 40, 40), (10, 10, 10), inwards=True), box((10, 10, 10), (25, 25, 25))],
        216000 - 64000 + 1000,
    ),
    "as a whole inside out": (
        [box((60, 60, 40), inwards=True), box((60, 60, 40), (30, 30, 0), inwards=True)],
        252000,
    ),
}


@pytest.mark.parametrize("name", BODIES)
def test_bodies_count_once(name):
    meshes, wanted = BODIES[name]
    found, notes = joined(solid(trimesh.util.concatenate(meshes)))
    assert signed_volume(found) == pytest.approx(wanted, rel=1e-9)
    heights = np.linspace(0, float(np.ptp(found.corners[:, 2])), 9)
    assert by_height(found, heights, open_top=False).volume[-1] == pytest.approx(wanted, rel=1e-9)
    counted = sum(abs(one.volume) * np.sign(one.volume) for one in meshes)
    assert bool(notes) is bool(abs(abs(counted) - wanted) > 1)


def test_the_file_of_two_boxes_says_what_was_joined():
    made = trimesh.util.concatenate(BODIES["two boxes that overlap"][0])
    options = {"kind": "stl", "unit": "mm", "up": "z", "role": "cavity"}
    source = {"format": "stl", "name": "two", "file": "0" * 64}
    shape = TASKS["mesh"](made.export(file_type="stl"), {**options, "source": source})
    assert shape["rows"][-1]["volume_m3"] == pytest.approx(252e-6, rel=1e-6)  # 288 mL counted twice
    assert "joined" in shape["source"]["read_as"]
    assert "joined" in TASKS["mesh about"](made.export(file_type="stl"), options)["notes"][0]


@pytest.mark.parametrize("seed", range(6))
def test_bodies_at_random_are_joined_as_trimesh_joins_them(seed):
    rng = np.random.default_rng(seed)
    meshes = []
    for _ in range(rng.integers(2, 6)):
        one = trimesh.creation.icosphere(subdivisions=2, radius=rng.uniform(10, 30))
        one.apply_translation(rng.uniform(-30, 30, 3))
        meshes.append(one)
    found, _ = joined(solid(trimesh.util.concatenate(meshes)))
    assert signed_volume(found) == pytest.approx(trimesh.boolean.union(meshes).volume, rel=1e-6)


def test_a_surface_through_itself_is_refused():
    # a tube bent so far that its end runs through its beginning: one body, sound edge by edge
    t = np.linspace(0, 1, 41)
    turn = 2 * np.pi * 1.15 * t
    path = np.stack([40 * np.cos(turn), 40 * np.sin(turn), 12 * t], axis=1)
    circle = [(8 * np.cos(a), 8 * np.sin(a)) for a in np.linspace(0, 2 * np.pi, 25)[:-1]]
    from shapely.geometry import Polygon

    tube = trimesh.creation.sweep_polygon(Polygon(circle), path)
    assert tube.is_watertight
    with pytest.raises(DomainError, match="runs through itself"):
        joined(solid(tube))
    assert level_areas(solid(box((20, 20, 20))), 10.0) == (0.0, pytest.approx(400, rel=1e-9))


def test_a_hollow_that_lies_in_nothing_is_refused():
    lost = trimesh.util.concatenate([box((60, 60, 60)), box((20, 20, 20), (50, 20, 20), inwards=True)])
    with pytest.raises(DomainError, match="inside out"):
        joined(solid(lost))
