"""Meshes by height: against closed forms, compensated sums over tetrahedra, trimesh's own volume and slices,
and manifold3d.
"""

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString
from shapely.ops import polygonize

from cavatum.core.common.errors import DomainError
from cavatum.core.measure.hollow import BowlHollow
from cavatum.core.measure.mesh_shape import level_cut, mesh_shape, middle_cut, placed_mesh
from cavatum.core.measure.outline import checked_polygon
from cavatum.core.measure.shape_hollow import hollow_of
from cavatum.core.measure.solids import from_triangles, layer_of, solid_of
from cavatum.core.measure.thinning import thinned
from cavatum.core.measure.triangles import Solid, by_height, check_solid, signed_volume, turned
from cavatum.core.piece.shapes import Mesh, Source

SOURCE = Source(format="stl", name="test.stl")


def solid(mesh) -> Solid:
    return Solid(np.asarray(mesh.vertices, float), np.asarray(mesh.faces, np.int64))


def lump(seed=3, subdivisions=3):
    """A closed irregular body without level faces: a sphere pushed about."""
    mesh = trimesh.creation.icosphere(subdivisions, radius=40)
    rng = np.random.default_rng(seed)
    directions = rng.normal(size=(6, 3))
    waves = sum(np.sin(3 * mesh.vertices @ d / 40 + rng.uniform(0, 6)) for d in directions)
    mesh.vertices = mesh.vertices * (1 + 0.03 * waves[:, None])
    return mesh


def tetrahedra_sum(body: Solid) -> float:
    a, b, c = (body.corners[body.triangles[:, i]] for i in range(3))
    return math.fsum(np.einsum("ij,ij->i", a, np.cross(b, c))) / 6


def heights_of(body: Solid, count=41):
    return np.linspace(0, float(np.ptp(body.corners[:, 2])), count)


@pytest.mark.parametrize("seed", range(5))
def test_volume_to_the_top_equals_the_compensated_sum_over_tetrahedra(seed):
    body = solid(lump(seed))
    assert by_height(body, heights_of(body), open_top=False).volume[-1] == pytest.approx(
        tetrahedra_sum(body), rel=1e-9
    )


def test_volume_below_each_height_equals_the_mesh_cut_off_by_trimesh():
    # trimesh cuts the mesh; its tetrahedra to the origin and the lid's cone make up the volume
    mesh, body = lump(), solid(lump())
    heights = heights_of(body, 9)[1:-1]
    found = by_height(body, heights, open_top=False)
    low = mesh.bounds[0][2]
    for height, volume in zip(heights, found.volume, strict=True):
        below = trimesh.intersections.slice_mesh_plane(mesh, [0, 0, -1], [0, 0, low + height], cap=False)
        rings = level_cut(Solid(body.corners - [0, 0, low], body.triangles), height)
        lid = sum(checked_polygon([(x / 100, y / 100) for x, y in ring], []).area * 1e4 for ring in rings)
        # an open mesh's signed volume, completed by the lid's cone to the origin
        assert tetrahedra_sum(solid(below)) + lid * (low + height) / 3 == pytest.approx(volume, rel=1e-6)


def test_area_at_each_height_equals_the_slice_through_the_mesh():
    body = placed_mesh(solid(lump()), "mm", "z")
    heights = heights_of(body, 12)[1:-1]
    found = by_height(body, heights, open_top=False)
    for height, area in zip(heights, found.area, strict=True):
        rings = level_cut(body, float(height))
        assert sum(checked_polygon(ring, []).area for ring in rings) == pytest.approx(area, rel=1e-6)


def test_surface_below_the_top_equals_trimeshs_area():
    assert by_height(solid(lump()), heights_of(solid(lump())), open_top=False).wetted[-1] == pytest.approx(
        lump().area, rel=1e-9
    )


def test_a_sphere_of_triangles_comes_near_the_spherical_cap():
    # 80 mm sphere, 20,480 triangles: within 0.1 % of the closed form at every height
    body = solid(trimesh.creation.icosphere(5, radius=40))
    heights = heights_of(body, 21)[1:]
    found = by_height(body, heights, open_top=False)
    for height, volume in zip(heights, found.volume, strict=True):
        assert volume == pytest.approx(math.pi * height**2 * (120 - height) / 3, abs=1e-3 * found.volume[-1])
    assert BowlHollow(0.04, 0.04).volume(0.04) * 1e9 == pytest.approx(found.volume[9], rel=2e-3)


@given(st.floats(min_value=0.01, max_value=0.99))
def test_union_and_complement_at_any_height(share):
    # the body below a height and the body above it, turned over, add up to the body
    body = solid(lump(1, 2))
    top = float(np.ptp(body.corners[:, 2]))
    low = by_height(body, np.array([share * top]), open_top=False).volume[0]
    high = by_height(turned(body, "-z"), np.array([(1 - share) * top]), open_top=False).volume[0]
    assert low + high == pytest.approx(signed_volume(body), rel=1e-9)


@given(st.floats(min_value=0.1, max_value=10))
def test_scaling_a_mesh_scales_by_the_cube(factor):
    body = solid(lump(2, 2))
    larger = Solid(body.corners * factor, body.triangles)
    ours = by_height(body, heights_of(body, 7), open_top=False).volume
    theirs = by_height(larger, heights_of(larger, 7), open_top=False).volume
    assert theirs == pytest.approx(ours * factor**3, rel=1e-9)


@pytest.mark.parametrize("up", ["x", "-x", "y", "-y", "z", "-z"])
def test_turning_keeps_the_body_and_never_mirrors_it(up):
    body = solid(trimesh.creation.box((100, 60, 40)))
    put = turned(body, up)
    assert signed_volume(put) == pytest.approx(signed_volume(body), rel=1e-12)
    assert np.ptp(put.corners[:, 2]) == pytest.approx({"x": 100, "y": 60, "z": 40}[up.strip("-")])


def test_level_floors_and_lids_count_where_they_belong():
    # a step: 100 x 60 mm up to 20 mm, then 50 x 60 mm up to 40 mm; the opening at the top is no surface
    step = trimesh.creation.extrude_polygon(
        checked_polygon([(0, 0), (0.1, 0), (0.1, 0.02), (0.05, 0.02), (0.05, 0.04), (0, 0.04)], []), 0.06
    )
    body = Solid(
        np.asarray(step.vertices)[:, [0, 2, 1]] * [1, 1, 1], np.asarray(step.faces)[:, ::-1].astype(np.int64)
    )
    found = by_height(body, np.array([0.0, 0.01, 0.02, 0.03, 0.04]), open_top=True)
    assert found.area == pytest.approx([0.006, 0.006, 0.003, 0.003, 0.003], rel=1e-6)
    assert found.volume == pytest.approx([0, 60e-6, 120e-6, 150e-6, 180e-6], rel=1e-6, abs=1e-12)
    ledge, sides = 0.05 * 0.06, 2 * (0.1 + 0.06) * 0.02 + 2 * (0.05 + 0.06) * 0.02
    assert found.wetted[-1] == pytest.approx(0.006 + ledge + sides, rel=1e-6)


def test_a_shape_read_from_a_mesh_fills_like_the_mesh():
    shape = mesh_shape(solid(lump()), SOURCE, unit="mm")
    hollow = hollow_of(shape)
    body = placed_mesh(solid(lump()), "mm", "z")
    heights = np.linspace(0, hollow.depth_m, 57)[1:]
    exact = by_height(body, heights, open_top=True).volume
    assert [hollow.volume(float(h)) for h in heights] == pytest.approx(list(exact), rel=1e-4, abs=1e-10)


def test_the_table_between_its_rows_never_falls():
    hollow = hollow_of(mesh_shape(solid(trimesh.creation.box((100, 60, 40))), SOURCE, unit="mm"))
    volumes = [hollow.volume(hollow.depth_m * i / 2000) for i in range(2001)]
    assert all(low < high for low, high in zip(volumes, volumes[1:], strict=False))
    assert hollow.volume(0.0123) == pytest.approx(0.1 * 0.06 * 0.0123, rel=1e-9)


def test_heat_goes_across_a_meshs_opening():
    """The circle that fits: a box's width, a cylinder's diameter. Lower down no wider."""
    for made, wide_m in (
        (trimesh.creation.box((100, 60, 40)), 0.06),
        (trimesh.creation.cylinder(radius=50, height=40, sections=64), 0.1),
    ):
        hollow = hollow_of(mesh_shape(solid(made), SOURCE, unit="mm"))
        assert hollow.through(hollow.depth_m) == pytest.approx(wide_m, rel=0.01)
        assert hollow.through(hollow.depth_m / 2) == pytest.approx(wide_m, rel=0.01)


def test_a_body_in_a_form_leaves_the_rest():
    shape = mesh_shape(
        solid(trimesh.creation.box((100, 60, 40))), SOURCE, unit="mm", role="body", form_m=(0.2, 0.1, 0.05)
    )
    hollow = hollow_of(shape)
    assert hollow.volume(0.05) == pytest.approx(0.2 * 0.1 * 0.05 - 0.1 * 0.06 * 0.04, rel=1e-9)
    # form floor without where the body stands, form walls, body sides and its top
    assert hollow.wetted(0.05) == pytest.approx(0.02 - 0.006 + 0.6 * 0.05 + 0.32 * 0.04 + 0.006, rel=1e-9)


@pytest.mark.parametrize("unit", ["mm", "cm", "in"])
def test_the_unit_scales_the_volume(unit):
    factor = {"mm": 1e-3, "cm": 1e-2, "in": 0.0254}[unit]
    shape = mesh_shape(solid(trimesh.creation.box((10, 6, 4))), SOURCE, unit=unit)
    assert shape.rows[-1].volume_m3 == pytest.approx(240 * factor**3, rel=1e-9)


def test_the_section_drawing_is_the_cut_through_the_mesh():
    # trimesh's own section in the same plane encloses the same area
    mesh = lump()
    body = placed_mesh(solid(mesh), "mm", "z")
    ours = sum(checked_polygon(ring, []).area for ring in middle_cut(body))
    low, high = mesh.bounds
    size = high - low
    axis = 0 if size[0] >= size[1] else 1
    origin = (low + high) / 2
    origin[axis] += 1e-6 * size[axis]
    lines = trimesh.intersections.mesh_plane(mesh, np.eye(3)[axis], origin)
    flat = np.round(np.delete(lines, axis, axis=2), 6)
    theirs = sum(one.area for one in polygonize([LineString(pair) for pair in flat]))
    assert ours == pytest.approx(theirs * 1e-6, rel=1e-6)


def test_a_layer_cut_from_a_mesh_by_manifold3d_has_the_layers_volume():
    body = placed_mesh(solid(lump()), "mm", "z")
    hollow = hollow_of(mesh_shape(solid(lump()), SOURCE, unit="mm"))
    cut = layer_of(from_triangles(body), 0.02, 0.05).volume()
    assert cut == pytest.approx(hollow.volume(0.05) - hollow.volume(0.02), rel=2e-4)


def test_a_body_in_a_form_as_a_solid_has_the_same_volume():
    shape = mesh_shape(solid(lump()), SOURCE, unit="mm", role="body", form_m=(0.2, 0.2, 0.12))
    made = solid_of(shape, placed_mesh(solid(lump()), "mm", "z"))
    assert made.volume() == pytest.approx(shape.rows[-1].volume_m3, rel=1e-4)


def open_box():
    mesh = trimesh.creation.box((100, 60, 40))
    return Solid(np.asarray(mesh.vertices, float), np.asarray(mesh.faces, np.int64)[:-1])


def flipped_box():
    mesh = trimesh.creation.box((100, 60, 40))
    faces = np.asarray(mesh.faces, np.int64).copy()
    faces[0] = faces[0][::-1]
    return Solid(np.asarray(mesh.vertices, float), faces)


def with_nan():
    mesh = solid(trimesh.creation.box((100, 60, 40)))
    corners = mesh.corners.copy()
    corners[3, 1] = np.nan
    return Solid(corners, mesh.triangles)


def doubled():
    mesh = solid(trimesh.creation.box((100, 60, 40)))
    return Solid(mesh.corners, np.concatenate([mesh.triangles, mesh.triangles[:1]]))


@pytest.mark.parametrize(
    ("body", "code"),
    [
        (open_box(), "open-mesh"),
        (flipped_box(), "winding"),
        (with_nan(), "not-a-number"),
        (doubled(), "not-manifold"),
        (Solid(np.zeros((0, 3)), np.zeros((0, 3), np.int64)), "empty"),
    ],
)
def test_an_unsound_mesh_is_explained(body, code):
    with pytest.raises(DomainError) as caught:
        check_solid(body)
    assert caught.value.code == code and caught.value.way_out


def test_an_open_mesh_names_the_place_and_the_number_of_open_edges():
    with pytest.raises(DomainError, match="3 edges belong to one triangle only, the first near x"):
        check_solid(open_box())


@pytest.mark.parametrize(
    ("unit", "role", "form", "code"),
    [
        ("m", "cavity", None, "wrong-unit"),
        ("mm", "body", None, "no-form"),
        ("mm", "body", (0.09, 0.1, 0.05), "no-room"),
    ],
)
def test_a_wrong_unit_or_form_is_told(unit, role, form, code):
    with pytest.raises(DomainError) as caught:
        mesh_shape(solid(trimesh.creation.box((100, 60, 40))), SOURCE, unit=unit, role=role, form_m=form)
    assert caught.value.code == code


def test_a_mesh_facing_inwards_as_a_whole_is_the_same_body():
    body = solid(lump())
    inside_out = Solid(body.corners, body.triangles[:, ::-1])
    assert mesh_shape(inside_out, SOURCE, unit="mm").rows[-1].volume_m3 == pytest.approx(
        mesh_shape(body, SOURCE, unit="mm").rows[-1].volume_m3, rel=1e-12
    )


def test_a_document_whose_table_falls_is_refused():
    sound = mesh_shape(solid(trimesh.creation.box((100, 60, 40))), SOURCE, unit="mm").model_dump()
    sound["rows"][5]["volume_m3"] = 1.0
    with pytest.raises(ValueError, match="falls"):
        Mesh.model_validate(sound)


def test_few_triangles_for_the_screen_keep_the_look():
    fine = solid(lump(3, 6))
    few = thinned(fine, 5000)
    assert len(few.triangles) <= 5000
    assert few.low_high[1] == pytest.approx(fine.low_high[1], rel=0.05)
