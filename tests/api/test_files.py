"""Files through the API: kept by content, read once, refused in words; exports that are read back."""

import io

import ezdxf
import numpy as np
import pytest
import trimesh

from cavatum.store import files as stored_files
from tests.samples import box_void
from tests.scenes.photo import SHEETS_M, render

CUBE = trimesh.creation.box((100, 60, 40)).export(file_type="stl")
SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60"><rect '
    b'id="pocket" width="90" height="60"/></svg>'
)


def send(client, data, name="file"):
    return client.call(
        "POST", f"/files?name={name}", data=data, headers={"Content-Type": "application/octet-stream"}
    )


def made(client, **document):
    answer = client.call("POST", "/pieces", {"name": "Measured", **document})
    assert answer.status_code == 201, answer.json
    return answer.json


def test_a_file_is_kept_by_its_content_and_told_by_it(client):
    first, again = send(client, CUBE, "cube.bin"), send(client, CUBE, "other.stl")
    assert first.status_code == 201 and first.json["kind"] == "stl" and first.json["size"] == len(CUBE)
    assert again.json["sha256"] == first.json["sha256"] and again.json["name"] == "cube.bin"


@pytest.mark.parametrize(
    ("data", "name", "status"),
    [(b"", "x.stl", 422), (b"MZ\x90\0program", "x.exe", 422), (b"1;2\n" * 600_000, "x.csv", 413)],
)
def test_a_file_of_no_use_is_refused_in_words(client, data, name, status):
    answer = send(client, data, name)
    assert answer.status_code == status and answer.json["problems"][0]["way_out"]


def test_more_than_64_mb_are_never_taken_in(client):
    answer = send(client, b"0" * ((64 << 20) + 8192), "x.stl")
    assert answer.status_code == 413


def test_other_bodies_keep_their_two_megabytes(client):
    assert (
        client.call(
            "POST", "/pieces", data=b"{" + b" " * (3 << 20), headers={"Content-Type": "application/json"}
        ).status_code
        == 413
    )


def test_a_file_needs_the_pages_token(client):
    assert client.http.post("/api/v1/files?name=x", data=CUBE).status_code == 403


def test_a_mesh_waits_for_its_unit_and_becomes_a_void(client):
    sha = send(client, CUBE).json["sha256"]
    about = client.get(f"/files/{sha}/mesh").json
    assert about["size"] == pytest.approx([100, 60, 40]) and about["declared"] is None
    assert client.call("POST", f"/files/{sha}/mesh", {"up": "z"}).status_code == 422
    shape = client.call("POST", f"/files/{sha}/mesh", {"unit": "mm"}).json
    piece = made(client, voids=[box_void() | {"shape": shape}])
    plan = client.get(f"/pieces/{piece['id']}/plan").json["plan"]
    assert (
        plan["totals"]["net"]["value"] == pytest.approx(240e-6, rel=1e-6)
        and plan["sections"][0]["cut"] == "true"
    )


def test_what_was_read_once_is_not_read_again(client, monkeypatch):
    from cavatum.formats import sandbox

    sha = send(client, CUBE).json["sha256"]
    first = client.get(f"/files/{sha}/mesh").json
    monkeypatch.setattr(sandbox, "ask", lambda *_: pytest.fail("read twice"))
    assert client.get(f"/files/{sha}/mesh").json == first


def test_the_preview_is_small_and_says_what_it_leaves_out(client):
    sha = send(client, trimesh.creation.icosphere(6, radius=50).export(file_type="stl")).json["sha256"]
    preview = client.get(f"/files/{sha}/preview?unit=mm&up=z").json
    assert (
        preview["of"] == 81_920
        and preview["shown"] <= 24_000
        and preview["size_m"] == pytest.approx([0.1, 0.1, 0.1], rel=1e-3)
    )


def test_an_open_mesh_is_explained_and_nothing_is_kept_of_it(client):
    half = trimesh.creation.box((100, 60, 40))
    half.update_faces(np.arange(len(half.faces)) > 0)
    sha = send(client, half.export(file_type="stl")).json["sha256"]
    answer = client.get(f"/files/{sha}/mesh")
    assert (
        answer.status_code == 422
        and "belong to one triangle only" in answer.json["detail"]
        and "fill test" in answer.json["detail"]
    )


def test_a_drawing_gives_its_outlines(client):
    sha = send(client, SVG).json["sha256"]
    found = client.call("POST", f"/files/{sha}/outlines", {}).json
    assert found["declared"] == "mm" and found["shapes"][0]["area_m2"] == pytest.approx(0.0054, rel=1e-5)
    assert client.get(f"/files/{sha}/mesh").status_code == 422  # a drawing is no mesh


def test_a_photo_is_traced_and_seen_without_what_the_camera_wrote(client):
    import cv2

    scene = render(np.random.default_rng(1), width=1200, height=900)
    sha = send(client, cv2.imencode(".jpg", scene.image)[1].tobytes()).json["sha256"]
    assert client.get(f"/files/{sha}/photo").json == {"width": 1200, "height": 900}
    picture = client.http.get(f"/api/v1/files/{sha}/photo.jpg")
    assert picture.mimetype == "image/jpeg" and b"Exif" not in picture.data
    reference = {
        "kind": "rectangle",
        "points_px": scene.corners_px.tolist(),
        "first_m": SHEETS_M["A4"][0],
        "second_m": SHEETS_M["A4"][1],
    }
    found = client.call(
        "POST", f"/files/{sha}/trace", {"reference": reference, "seeds_px": scene.seed_px.tolist()}
    ).json
    assert abs(found["area_m2"] - scene.area_m2) <= found["half_m2"]
    x, y = np.array(found["points_m"]).T
    assert abs((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) / 2 == pytest.approx(
        found["area_m2"], rel=1e-4
    )  # the few points enclose what was traced
    by_hand = client.call(
        "POST", f"/files/{sha}/trace", {"reference": reference, "outline_px": found["outline_px"]}
    ).json
    assert by_hand["by_hand"] and by_hand["half_m2"] > found["half_m2"]
    assert client.call("POST", f"/files/{sha}/trace", {"reference": reference}).status_code == 422


def test_stations_from_a_csv(client):
    sha = send(client, b"place [mm];width [mm]\n0;104\n115;118\n", "inlet.csv").json["sha256"]
    found = client.call("POST", f"/files/{sha}/stations", {}).json["stations"]
    assert [one["width_m"]["value"] for one in found] == pytest.approx([0.104, 0.118])


@pytest.mark.parametrize("path", ["mesh", "photo", "photo.jpg", "preview?unit=mm"])
def test_a_file_that_is_not_here_is_said(client, path):
    assert client.get(f"/files/{'0' * 64}/{path}").status_code == 404


def test_rows_typed_in_one_go(client):
    answer = client.call(
        "POST", "/rows", {"text": "0 104\n115 118 100\n", "unit": "mm", "kind": "stations"}
    ).json
    assert answer["stations"][1]["bottom_width_m"]["value"] == pytest.approx(0.1)
    wrong = client.call("POST", "/rows", {"text": "0 104\n115 wide\n", "unit": "mm", "kind": "stations"})
    assert wrong.status_code == 422 and "line 2" in wrong.json["detail"]


@pytest.fixture
def measured(client):
    river = {
        "kind": "river",
        "depth_m": "40 mm",
        "stations": [{"at_m": f"{i * 100} mm", "width_m": "80 mm"} for i in range(5)],
    }
    defect = {
        "id": "peg",
        "kind": "other",
        "x_m": "50 mm",
        "y_m": "50 mm",
        "length_m": "12 mm",
        "width_m": "10 mm",
        "is_through": True,
        "treat": "patch",
    }
    return made(
        client,
        system_id=None,
        survey={"material": "ash", "defects": [defect]},
        voids=[
            box_void("200 mm", "100 mm", "40 mm"),
            {"id": "river", "name": "River", "shape": river, "portions": [{"id": "r1"}]},
        ],
    )


def export(client, piece, void, query):
    return client.http.get(f"/api/v1/pieces/{piece['id']}/voids/{void}/export?{query}")


def test_a_hollow_goes_out_as_stl_and_3mf_with_its_volume(client, measured):
    answer = export(client, measured, "box", "what=cavity&format=stl")
    assert answer.headers["Content-Disposition"] == 'attachment; filename="measured-box-cavity.stl"'
    assert trimesh.load(io.BytesIO(answer.data), file_type="stl").volume == pytest.approx(
        200 * 100 * 40, rel=1e-6
    )
    sha = send(client, export(client, measured, "box", "what=cavity&format=3mf").data, "back.3mf").json[
        "sha256"
    ]
    assert client.call("POST", f"/files/{sha}/mesh", {"unit": "mm"}).json["rows"][-1][
        "volume_m3"
    ] == pytest.approx(800e-6, rel=1e-5)


def test_an_opening_goes_out_to_scale(client, measured):
    drawing = ezdxf.read(
        io.StringIO(export(client, measured, "box", "what=opening&format=dxf").data.decode())
    )
    polyline = drawing.modelspace().query("LWPOLYLINE").first
    xs, ys = zip(*((x, y) for x, y, *_ in polyline.get_points()), strict=True)
    assert (max(xs) - min(xs), max(ys) - min(ys)) == pytest.approx((200, 100)) and drawing.units == 4
    assert b"50 mm" in export(client, measured, "box", "what=opening&format=svg").data


def test_a_dam_a_patch_and_stations_go_out(client, measured):
    ring = trimesh.load(
        io.BytesIO(
            export(client, measured, "box", "what=dam&format=stl&dam_height_m=0.01&dam_wall_m=0.006").data
        ),
        file_type="stl",
    )
    assert ring.is_watertight and ring.extents == pytest.approx([212, 112, 10], rel=1e-4)
    patch = client.http.get(f"/api/v1/pieces/{measured['id']}/patches/peg?format=svg")
    assert patch.status_code == 200 and b'id="tape up to"' in patch.data
    assert export(client, measured, "river", "what=stations&format=csv").data.startswith(
        b"place [mm];width [mm]"
    )


def test_a_layer_goes_out_as_the_solid_between_its_heights(client):
    client.call("POST", "/demo")
    shelf = client.get("/systems").json
    assert shelf["sheets"]
    piece = made(client, voids=[box_void("200 mm", "100 mm", "60 mm")], system_id="slow-casting-epoxy")
    layers = [
        layer
        for pour in client.get(f"/pieces/{piece['id']}/plan").json["plan"]["pours"]
        for layer in pour["layers"]
    ]
    solid = trimesh.load(
        io.BytesIO(export(client, piece, "box", "what=layer&format=stl&layer=1").data), file_type="stl"
    )
    assert solid.volume * 1e-9 == pytest.approx(layers[0]["volume"]["value"], rel=1e-5)
    assert export(client, piece, "box", "what=layer&format=stl&layer=9").status_code == 422


@pytest.mark.parametrize(
    ("void", "query", "status"),
    [
        ("gone", "what=cavity&format=stl", 404),
        ("box", "what=cavity&format=svg", 422),
        ("box", "what=opening&format=stl", 422),
        ("box", "what=stations&format=csv", 422),
        ("box", "what=everything&format=stl", 422),
    ],
)
def test_what_cannot_go_out_is_said(client, measured, void, query, status):
    assert export(client, measured, void, query).status_code == status


def test_the_workshops_share_of_files_is_bounded(client, monkeypatch):
    monkeypatch.setattr(stored_files, "MOST_BYTES_A_WORKSHOP", len(CUBE) - 1)
    assert send(client, CUBE).status_code == 413


COAT = {
    "id": "top",
    "name": "Top",
    "film_m": "1.2 mm",
    "portions": [{"id": "s", "system_id": "thin-sealing-epoxy", "to_m": "0.3 mm"}, {"id": "f"}],
    "surface": {"kind": "board", "length_m": "600 mm", "width_m": "400 mm", "thickness_m": "20 mm"},
}


def test_a_coats_systems_travel_in_its_piece_file(client):
    client.call("POST", "/demo")
    piece = made(client, coats=[COAT], system_id="coating-epoxy")
    file = client.http.get(f"/api/v1/pieces/{piece['id']}/file")
    assert {sheet["id"] for sheet in file.json["systems"]} == {"thin-sealing-epoxy", "coating-epoxy"}
    back = client.call("POST", "/pieces/file", data=file.data, headers={"Content-Type": "application/json"})
    assert back.status_code == 201 and back.json["piece"]["coats"] == piece["piece"]["coats"]


def test_a_coat_that_cannot_be_is_refused_at_its_field(client):
    answer = client.call("POST", "/pieces", {"name": "x", "coats": [COAT | {"existing_m": "2 mm"}]})
    assert answer.status_code == 422 and answer.json["problems"][0]["pointer"] == "/coats/0"
    wrong = client.call(
        "POST",
        "/pieces",
        {
            "name": "x",
            "coats": [COAT | {"surface": {"kind": "disc", "diameter_m": "wide", "thickness_m": "2 mm"}}],
        },
    )
    assert wrong.json["problems"][0]["pointer"].endswith("/coats/0/surface/diameter_m")


def test_the_level_says_what_it_reads_now_and_refuses_what_is_old(client, database_url):
    import psycopg

    from cavatum.store import devices, workshops

    assert client.get("/level").json["problems"][0]["code"] == "no-device"
    with psycopg.connect(database_url) as connection:
        shop = workshops.implied_workshop(connection)
        devices.keep_reading(
            connection, shop, "level", "stand-in level", {"pitch_deg": 0.3, "roll_deg": -0.1}
        )
    assert client.get("/level").json["pitch_deg"] == 0.3
    with psycopg.connect(database_url) as connection:
        connection.execute("update device_reading set read_at = now() - interval '1 minute'")
    assert client.get("/level").json["problems"][0]["code"] == "quiet"


def test_an_opening_is_printed_on_the_workshops_own_paper_over_as_many_sheets_as_it_needs(client):
    import pypdfium2

    piece = made(client, voids=[box_void("700 mm", "300 mm", "20 mm")])
    where = f"/api/v1/pieces/{piece['id']}/voids/{piece['piece']['voids'][0]['id']}/export"
    answer = client.http.get(f"{where}?what=opening&format=pdf")
    assert answer.mimetype == "application/pdf" and len(pypdfium2.PdfDocument(answer.data)) > 1
