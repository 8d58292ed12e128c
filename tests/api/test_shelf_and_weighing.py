"""Over the API: a batch weighed with its entries kept once, bottles booked, goods in versions, colours worked
out, purchase, comparison.
"""

import io
import uuid
from datetime import timedelta

import numpy as np
import psycopg
import pytest
from PIL import Image

from cavatum.core.mix.swatch import PATCH
from cavatum.core.resin.typical import typical_systems
from cavatum.demo import scenario
from cavatum.store import devices, stock, systems, weighings
from cavatum.store.workshops import implied_workshop
from tests.samples import NOW, box_void
from tests.scenes.bookings import adds_up


@pytest.fixture
def shop(client, database_url):
    """A shelf with the typical sheets, one piece of one batch, a bottle of each part."""
    with psycopg.connect(database_url) as connection:
        id_ = implied_workshop(connection)
        for sheet in typical_systems():
            systems.add_version(connection, id_, sheet)
    made = client.call(
        "POST",
        "/pieces",
        {"name": "Plaque", "system_id": "casting-epoxy-25", "voids": [box_void("200 mm", "100 mm", "12 mm")]},
    )
    client.piece = made.json["id"]
    client.bottles = {}
    for part, kg in (("A", "600 g"), ("B", "100 g")):
        answer = client.call(
            "POST",
            "/stock",
            {
                "bottle": {
                    "goods": "system",
                    "goods_id": "casting-epoxy-25",
                    "part": part,
                    "lot": f"L{part}",
                    "full_kg": kg,
                }
            },
        )
        client.bottles[part] = answer.json["standing"]["id"]
    return client


def begun(client, pour: int = 1, batch: int = 1) -> dict:
    answer = client.call("POST", f"/pieces/{client.piece}/weighings", {"pour": pour, "batch": batch})
    assert answer.status_code == 201, answer.json
    return answer.json


def enter(client, one: dict, event: dict, event_id: str | None = None, after: int | None = None):
    body = {
        "event_id": event_id or str(uuid.uuid4()),
        "after": one["state"]["version"] if after is None else after,
        "event": event,
    }
    return client.call("POST", f"/weighings/{one['id']}/entries", body)


def took(step: str, kg: float, by: str = "hand") -> dict:
    return {"kind": "taken", "step": step, "mass_kg": kg, "by": by}


def weighed(client) -> dict:
    """Both parts in, from their bottles, not ended yet."""
    one = begun(client)
    for part in "AB":
        one = enter(
            client,
            one,
            {"kind": "bottle", "step": part, "bottle_id": client.bottles[part], "lot": f"L{part}"},
        ).json
        step = one["state"]["steps"]["AB".index(part)]
        one = enter(client, one, took(part, step["remaining_kg"])).json
    return one


def test_an_entry_sent_twice_is_kept_once_and_one_made_too_late_is_refused(shop):
    one = begun(shop)
    id_ = str(uuid.uuid4())
    first = enter(shop, one, took("A", 0.05), id_, 0)
    again = enter(shop, one, took("A", 0.05), id_, 0)
    assert first.json["state"] == again.json["state"] and len(again.json["entries"]) == 1
    late = enter(shop, one, took("A", 0.05), after=0)
    assert late.status_code == 422 and late.json["problems"][0]["code"] == "moved-on"


def test_two_devices_that_begin_the_same_batch_share_it(shop):
    assert begun(shop)["id"] == begun(shop)["id"]


def test_what_a_pour_took_is_booked_from_the_bottles_that_were_named(shop):
    one = weighed(shop)
    ended = enter(shop, one, {"kind": "end", "how": "mixed"}).json
    left = {
        row["standing"]["bottle"]["part"]: row["standing"]["left_kg"]
        for row in shop.get("/stock").json["bottles"]
    }
    took_a = ended["state"]["mass_a_kg"]
    assert left["A"] == pytest.approx(0.6 - took_a, abs=1e-5)
    moves = shop.get(f"/stock/{shop.bottles['A']}/moves").json["moves"]
    assert moves[0]["kg"] == pytest.approx(-took_a) and "Plaque, pour 1, batch 1" in moves[0]["why"]


def test_a_bottle_that_held_less_never_loses_the_batch_and_says_so(shop):
    one = weighed(shop)  # part B: more than the 100 g that were booked
    assert one["state"]["mass_b_kg"] > 0.05
    shop.call("POST", f"/stock/{shop.bottles['B']}/weigh", {"left": "20 g"})
    ended = enter(shop, one, {"kind": "end", "how": "mixed"})
    assert ended.status_code == 200 and [said["code"] for said in ended.json["booked"]] == [
        "bottle-held-less"
    ]
    row = shop.get(f"/pieces/{shop.piece}/weighings").json["weighings"][0]
    assert row["ended"] == "mixed" and row["lots"] == {"A": "LA", "B": "LB"}
    assert shop.get("/stock").json["bottles"][1]["standing"]["left_kg"] == 0


def test_after_the_end_nothing_is_weighed_and_the_next_begin_is_another(shop):
    one = weighed(shop)
    ended = enter(shop, one, {"kind": "end", "how": "mixed"}).json
    assert enter(shop, ended, took("A", 0.1)).status_code == 422
    assert begun(shop)["id"] != one["id"]


def test_the_task_stays_as_it_was_when_the_plan_changes(shop):
    one = begun(shop)
    stored = shop.get(f"/pieces/{shop.piece}").json
    shop.call(
        "PUT",
        f"/pieces/{shop.piece}",
        {
            "base_revision": stored["revision"],
            "piece": {**stored["piece"], "voids": [box_void("100 mm", "100 mm", "12 mm")]},
        },
    )
    assert shop.get(f"/weighings/{one['id']}").json["task"] == one["task"]


def test_the_live_scale_is_read_from_what_the_devices_process_kept(shop, database_url):
    one = begun(shop)
    assert not one["live"]["connected"]
    readings = [
        {"at_s": i * 0.12, "mass_kg": 0.18, "unit": "g", "stable": True, "overload": False} for i in range(12)
    ]
    with psycopg.connect(database_url) as connection:
        devices.keep_reading(
            connection,
            implied_workshop(connection),
            "scale",
            "the workshop's scale",
            {
                "stand_in": False,
                "problem": "",
                "step_kg": 1e-4,
                "unchanged_since_s": 0.0,
                "readings": readings,
            },
        )
    live = shop.get(f"/weighings/{one['id']}").json["live"]
    assert live["connected"] and live["tone"] == "no zero" and live["gross_kg"] == 0.18
    assert shop.get("/scale").json["connected"]
    assert (
        shop.call("POST", "/scale/commands", {"command": "POUR 50"}).json["problems"][0]["code"]
        == "not-a-stand-in"
    )
    assert shop.call("POST", "/scale/commands", {"command": "tare"}).status_code == 204
    assert shop.call("POST", "/scale/commands", {"command": "rm -rf"}).status_code == 422


def test_the_wrong_bottle_is_suspected_over_the_api(shop):
    one = begun(shop)
    answer = shop.call(
        "POST",
        f"/weighings/{one['id']}/bottle-test",
        {"step": "A", "volume": "100 mL", "mass": "97 g", "line": "1 mL"},
    )
    assert answer.json["verdict"]["code"] == "bottle-other"


@pytest.mark.parametrize(
    ("body", "code"),
    [
        ({"bottle": {"goods": "system", "goods_id": "casting-epoxy-25", "full_kg": "1 kg"}}, "no-part"),
        (
            {"bottle": {"goods": "system", "goods_id": "nobody", "part": "A", "full_kg": "1 kg"}},
            "not-on-shelf",
        ),
        (
            {
                "bottle": {"goods": "system", "goods_id": "casting-epoxy-25", "part": "A", "full_kg": "1 kg"},
                "left": "3 kg",
            },
            "over-full",
        ),
    ],
)
def test_a_bottle_that_cannot_be_is_refused(shop, body, code):
    answer = shop.call("POST", "/stock", body)
    assert answer.status_code == 422 and answer.json["problems"][0]["code"] == code


def test_stock_never_goes_below_zero(shop):
    path = f"/stock/{shop.bottles['B']}"
    refused = shop.call("POST", f"{path}/take", {"mass": "120 g"})
    assert refused.status_code == 422 and "Weigh the bottle" in refused.json["detail"]
    assert shop.call("POST", f"{path}/take", {"mass": "60 g"}).json["standing"]["left_kg"] == pytest.approx(
        0.04
    )
    assert shop.call("POST", f"{path}/weigh", {"nothing": True}).json["standing"]["left_kg"] == 0
    assert shop.call("POST", f"{path}/weigh", {}).status_code == 422


def test_a_bottle_off_the_shelf_can_be_brought_back_and_a_kit_comes_home_as_two(shop):
    path = f"/stock/{shop.bottles['B']}"
    assert shop.call("DELETE", path).status_code == 204 and len(shop.get("/stock").json["bottles"]) == 1
    assert shop.call("POST", f"{path}/bring-back").json["standing"]["left_kg"] == pytest.approx(0.1)
    kit = shop.call("POST", "/stock/kits", {"system_id": "casting-epoxy-25", "kit": 0, "lot": "K1"})
    assert [row["standing"]["bottle"]["part"] for row in kit.json["bottles"]] == ["A", "B"]
    assert shop.call("POST", "/stock/kits", {"system_id": "casting-epoxy-25", "kit": 9}).status_code == 422


def test_two_who_take_the_last_at_once_do_not_both_get_it(shop, database_url):
    with psycopg.connect(database_url) as one, psycopg.connect(database_url) as other:
        id_ = implied_workshop(one)
        stock.take(one, id_, shop.bottles["B"], 0.08, "first")
        other.execute("set lock_timeout = '200ms'")
        with pytest.raises(psycopg.errors.LockNotAvailable):
            stock.take(other, id_, shop.bottles["B"], 0.08, "second")


def test_an_empty_jug_is_said_on_the_piece_with_what_to_buy(shop):
    shop.call("POST", f"/stock/{shop.bottles['B']}/weigh", {"nothing": True})
    answer = shop.get(f"/pieces/{shop.piece}/stock").json
    assert [one["code"] for one in answer["verdicts"]] == ["jug-empty-b"] and answer["buy"][0]["lines"][0][
        "count"
    ] == 1


def test_a_started_plan_reserves_and_the_next_piece_hears_of_it(shop):
    stored = shop.get(f"/pieces/{shop.piece}").json
    shop.call(
        "PUT",
        f"/pieces/{shop.piece}",
        {
            "base_revision": stored["revision"],
            "piece": {**stored["piece"], "first_pour_at": "2026-03-03T09:00:00Z"},
        },
    )
    assert shop.get("/stock").json["reserved"][0]["who"] == "Plaque"
    shop.call("POST", f"/stock/{shop.bottles['B']}/weigh", {"left": "90 g"})
    other = shop.call(
        "POST",
        "/pieces",
        {"name": "Second", "system_id": "casting-epoxy-25", "voids": [box_void("200 mm", "100 mm", "6 mm")]},
    ).json["id"]
    assert "promised-b" in " ".join(
        one["code"] for one in shop.get(f"/pieces/{other}/stock").json["verdicts"]
    )


def test_kits_are_shared_by_pieces_in_one_answer(shop):
    second = shop.call(
        "POST",
        "/pieces",
        {"name": "Second", "system_id": "casting-epoxy-25", "voids": [box_void("200 mm", "100 mm", "12 mm")]},
    ).json["id"]
    alone = shop.call("POST", "/purchase", {"piece_ids": [second]}).json
    both = shop.call("POST", "/purchase", {"piece_ids": [shop.piece, second]}).json
    assert (
        both["price_minor"] == 4300
        and [need["who"] for need in both["buy"][0]["needs"]] == ["Plaque", "Second"]
        and alone["price_minor"] <= 4300
    )


def test_systems_stand_side_by_side_with_reasons_and_what_there_is_to_buy(shop):
    found = {
        one["facts"]["system_id"]: one
        for one in shop.get(f"/pieces/{shop.piece}/candidates").json["candidates"]
    }
    assert len(found) == 6 and found["slow-casting-epoxy"]["facts"]["buy_minor"] == 2400
    fast = found["fast-casting-polyurethane"]
    assert (
        "pressure chamber" in fast["reasons"]["against"]
        and fast["facts"]["peak_c"] > found["slow-casting-epoxy"]["facts"]["peak_c"]
    )


RUST = {
    "id": "rust",
    "name": "Rust",
    "parts": [{"colourant_id": "mica", "share": "2 %"}],
    "swatch": {"depth_m": "3 mm", "lets_through": "20 %"},
}
MICA = {"id": "mica", "name": "Mica", "kind": "mica powder", "density_kg_m3": "2.8 g/mL", "most": "5 %"}


@pytest.fixture
def coloured(shop):
    assert shop.call("PUT", "/goods/colourant/mica", MICA).status_code == 200
    assert shop.call("PUT", "/goods/recipe/rust", RUST).status_code == 200
    return shop


def test_goods_are_kept_in_versions_and_an_old_one_undoes_nothing(coloured):
    changed = coloured.call("PUT", "/goods/recipe/rust", {**RUST, "name": "Rust, darker"})
    assert changed.json["version"] == 2
    assert coloured.call("PUT", "/goods/recipe/rust", RUST).json == changed.json  # seen before the change
    rusty = coloured.call("PUT", "/goods/recipe/rust", {**RUST, "name": "Rusty"})
    assert rusty.status_code == 409 and rusty.json["clashes"][0]["theirs"] == "Rust, darker"
    assert (
        coloured.call("DELETE", "/goods/recipe/rust").status_code == 204
        and coloured.get("/goods").json["recipes"] == {}
    )
    assert (
        coloured.call("POST", "/goods/recipe/rust/bring-back").status_code == 204
        and coloured.get("/goods").json["recipes"]["rust"]["name"] == "Rust, darker"
    )


def test_a_recipe_is_scaled_mixed_and_read_for_its_opacity(coloured):
    assert coloured.call("POST", "/goods/recipe/rust/scale", {"clear": "250 g"}).json["doses"][0][
        "mass_kg"
    ] == pytest.approx(0.005)
    blend = coloured.call("POST", "/goods/blend", {"mixes": [{"recipe_id": "rust", "mass": "102 g"}]}).json
    assert blend["total"] == pytest.approx(0.02)
    assert coloured.call("POST", "/goods/recipe/rust/opacity", {"depth": "6 mm", "wanted": 0.02}).json[
        "through"
    ] == pytest.approx(0.04)
    assert coloured.call("POST", "/goods/drops", {"drops": 50, "mass": "1.9 g"}).json[
        "drop_kg"
    ] == pytest.approx(3.8e-5)
    assert coloured.call("POST", "/goods/recipe/none/scale", {"clear": "250 g"}).status_code == 422


def test_last_months_colour_comes_back_from_its_record_with_its_lots(coloured):
    stored = coloured.get(f"/pieces/{coloured.piece}").json
    void = {**stored["piece"]["voids"][0], "portions": [{"id": "p1", "recipe_id": "rust"}]}
    coloured.call(
        "PUT",
        f"/pieces/{coloured.piece}",
        {"base_revision": stored["revision"], "piece": {**stored["piece"], "voids": [void]}},
    )
    one = weighed(coloured)
    bag = {"goods": "colourant", "goods_id": "mica", "lot": "M-1", "full_kg": "100 g"}
    bag_id = coloured.call("POST", "/stock", {"bottle": bag}).json["standing"]["id"]
    one = enter(coloured, one, {"kind": "bottle", "step": "0/mica", "bottle_id": bag_id}).json
    mass = one["state"]["mass_a_kg"] + one["state"]["mass_b_kg"]
    enter(coloured, one, took("0/mica", 0.03 * mass))
    coloured.call("DELETE", f"/stock/{bag_id}")
    found = coloured.call("POST", "/goods/repeat", {"weighing_id": one["id"]}).json
    assert (
        found["parts"][0]["share"]["value"] == pytest.approx(0.03)
        and found["lots"] == {"mica": "M-1"}
        and "not known" in found["said"][0]
    )
    assert coloured.get("/weighings").json["weighings"][0]["colourants"] == {
        "mica": pytest.approx(0.03 * mass)
    }


def photo(swatch, lamp) -> bytes:
    """Left half the patch, right half the swatch, under one lamp. Linear light turned into sRGB."""
    light = np.ones((300, 600, 3)) * PATCH
    light[:, 300:] = swatch
    light = light * np.array(lamp)
    srgb = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    out = io.BytesIO()
    Image.fromarray((srgb * 255).round().clip(0, 255).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def read_swatch(client, data: bytes):
    sha = client.call(
        "POST", "/files?name=swatch.png", data=data, headers={"Content-Type": "application/octet-stream"}
    ).json["sha256"]
    field = {"top": 0.2, "bottom": 0.8}
    return client.call(
        "POST",
        "/goods/swatch",
        {
            "photo": sha,
            "patch": {"left": 0.1, "right": 0.4, **field},
            "swatch": {"left": 0.6, "right": 0.9, **field},
        },
    )


def test_a_swatch_reads_the_same_under_another_lamp(coloured):
    plain = read_swatch(coloured, photo((0.3, 0.1, 0.05), (1.0, 1.0, 1.0))).json
    warm = read_swatch(coloured, photo((0.3, 0.1, 0.05), (1.3, 1.0, 0.7))).json
    assert warm["lab"] == pytest.approx(plain["lab"], abs=1.5) and warm["patch_off"] > 5 > plain["patch_off"]
    assert read_swatch(coloured, photo((0.3, 0.1, 0.05), (6.0, 6.0, 6.0))).status_code == 422


def test_a_piece_file_brings_its_recipes_and_colourants_along(coloured):
    made = coloured.call(
        "POST",
        "/pieces",
        {
            "name": "Red",
            "system_id": "casting-epoxy-25",
            "voids": [
                {**box_void("100 mm", "100 mm", "6 mm"), "portions": [{"id": "p", "recipe_id": "rust"}]}
            ],
        },
    )
    file = coloured.get(f"/pieces/{made.json['id']}/file").data
    coloured.call("PUT", "/goods/recipe/rust", {**RUST, "parts": [{"colourant_id": "mica", "share": "4 %"}]})
    back = coloured.call("POST", "/pieces/file", data=file, headers={"Content-Type": "application/json"}).json
    recipe = back["piece"]["voids"][0]["portions"][0]["recipe_id"]
    assert recipe == "rust-2" and coloured.get("/goods").json["recipes"]["rust-2"]["parts"][0]["share"][
        "value"
    ] == pytest.approx(0.02)


def test_a_leftover_finds_the_piece_that_waits_for_it(shop):
    shop.get(f"/pieces/{shop.piece}/plan")
    found = shop.get("/leftovers?volume_m3=0.0004&system_id=casting-epoxy-25&colour=").json["offers"]
    assert [one["waiting"]["piece"] for one in found] == ["Plaque"]
    assert shop.get("/leftovers?volume_m3=0.00001&system_id=casting-epoxy-25&colour=").json["offers"] == []


def test_the_demo_has_a_shelf_and_a_record_to_repeat(connection):
    shop = implied_workshop(connection)
    scenario.ensure(connection, shop, NOW)
    one = weighings.newest(connection, shop)[0]
    assert (
        one.task.piece == "Door plaque"
        and one.ended_at is not None
        and len(stock.listed(connection, shop)) == 16
    )
    scenario.lay_out_anew(connection, shop, NOW)
    assert len(stock.listed(connection, shop)) == 16


@pytest.mark.slow
@pytest.mark.parametrize("seed", range(4))
def test_what_is_left_taken_and_reserved_adds_up_at_every_moment(shop, seed):
    def call(method, path, body):
        answer = shop.call(method, path, body)
        return answer.status_code, answer.json

    assert adds_up(call, "casting-epoxy-25", NOW + timedelta(days=2), seed) == []


def test_a_bottle_of_the_other_part_or_of_something_else_is_refused_at_the_scale(shop):
    one = begun(shop)
    for step, bottle in (("A", shop.bottles["B"]), ("B", shop.bottles["A"])):
        answer = enter(shop, one, {"kind": "bottle", "step": step, "bottle_id": bottle})
        assert answer.status_code == 422 and answer.json["problems"][0]["code"] == "other-bottle"
    assert enter(shop, one, {"kind": "bottle", "step": "A", "bottle_id": 10**9}).status_code == 404


def test_a_bottle_past_its_date_is_said_when_it_is_chosen_and_its_own_lot_is_kept(shop):
    bottle = {"goods": "system", "goods_id": "casting-epoxy-25", "part": "A", "lot": "OLD", "full_kg": "1 kg"}
    old = shop.call("POST", "/stock", {"bottle": {**bottle, "best_before": "2025-01-31"}}).json["standing"][
        "id"
    ]
    chosen = {"kind": "bottle", "step": "A", "bottle_id": old, "lot": "typed otherwise", "past": None}
    found = enter(shop, begun(shop), chosen).json
    assert [one["code"] for one in found["state"]["verdicts"]] == ["bottle-past-A"]
    assert "31 Jan 2025" in found["state"]["verdicts"][0]["text"]
    assert found["state"]["steps"][0]["lot"] == "OLD"


def test_two_bottles_of_one_part_are_both_booked_and_both_lots_are_in_the_record(shop):
    bottle = {
        "goods": "system",
        "goods_id": "casting-epoxy-25",
        "part": "A",
        "lot": "SMALL",
        "full_kg": "100 g",
    }
    small = shop.call("POST", "/stock", {"bottle": bottle}).json["standing"]["id"]
    one = enter(shop, begun(shop), {"kind": "bottle", "step": "A", "bottle_id": small}).json
    second = {"kind": "bottle", "step": "A", "bottle_id": shop.bottles["A"], "so_far_kg": 0.1}
    one = enter(shop, one, second).json
    one = enter(shop, one, took("A", one["state"]["steps"][0]["remaining_kg"])).json
    one = enter(shop, one, took("B", one["state"]["steps"][1]["remaining_kg"])).json
    mass_a = enter(shop, one, {"kind": "end", "how": "mixed"}).json["state"]["mass_a_kg"]
    left = {row["standing"]["id"]: row["standing"]["left_kg"] for row in shop.get("/stock").json["bottles"]}
    assert left[small] == pytest.approx(0, abs=1e-6)
    assert left[shop.bottles["A"]] == pytest.approx(0.6 - (mass_a - 0.1), abs=1e-6)
    assert shop.get(f"/pieces/{shop.piece}/weighings").json["weighings"][0]["lots"]["A"] == "SMALL, LA"


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"opened_on": "2030-01-01"}, "opened-in-the-future"),
        ({"price_minor": 0}, "no-price"),
        ({"full_kg": "100 g"}, "over-full"),
    ],
)
def test_a_bottle_cannot_be_changed_into_one_that_cannot_be(shop, change, code):
    bottle = {"goods": "system", "goods_id": "casting-epoxy-25", "part": "A", "lot": "LA", "full_kg": "600 g"}
    for answer in (
        shop.call("PUT", f"/stock/{shop.bottles['A']}?made_on=1", {**bottle, **change}),
        shop.call("POST", "/stock", {"bottle": {**bottle, **change}, "left": "600 g"}),
    ):
        assert answer.status_code == 422 and answer.json["problems"][0]["code"] == code
    heavier = shop.call("POST", f"/stock/{shop.bottles['A']}/weigh", {"left": "5 kg"})
    assert heavier.json["problems"][0]["code"] == "over-full"
    free = {"system_id": "casting-epoxy-25", "kit": 0, "price_minor": 0}
    assert shop.call("POST", "/stock/kits", free).json["problems"][0]["code"] == "no-price"


def test_a_bottle_taken_off_the_shelf_meanwhile_does_not_stop_the_batch(shop):
    one = weighed(shop)
    shop.call("DELETE", f"/stock/{shop.bottles['B']}")
    assert enter(shop, one, {"kind": "end", "how": "mixed"}).status_code == 200
