"""./cavatum speed mix: buying exactly, systems side by side, the scale's lines and the bench view's answer.
Ratios against a reference of the same run.
"""

from __future__ import annotations

import json
import os
import random
import secrets
import time
import urllib.request
import uuid
from datetime import timedelta
from statistics import median

import psycopg
from common import Board, own_app, own_database, served, timed

from cavatum.core.mix.overshoot import put_right
from cavatum.core.mix.weigh_events import Taken, Undo, Zero
from cavatum.core.mix.weighing import reduce
from cavatum.core.purchase.solver import FOREVER_S, Held, Need, Offer, cheapest, useful
from cavatum.core.resin.ratio import MixRatio
from cavatum.core.resin.typical import typical_systems
from cavatum.demo import scenario
from cavatum.devices.scale_lines import parse_scale
from cavatum.services.planning import inputs_of
from cavatum.services.resin import compared
from cavatum.store import devices, pieces, stock, systems, weighings
from cavatum.store.migrate import migrate
from cavatum.store.workshops import implied_workshop
from tests.conftest import Client
from tests.core.test_purchase import brute
from tests.core.test_weighing import task
from tests.samples import NOW
from tests.scenes.bookings import STEPS, adds_up

KITS, NEEDS, DAY = 200, 30, 86400.0
BUY_S, COMPARE_S, LINES_A_S, LIVE_MS, PLAN_TIMES = 1.0, 1.5, 20_000, 50, 2.0


def market(seed: int) -> tuple[list[Offer], list[Need]]:
    """Kits from 0.3 to 30 kg, dearer by the kilogram the smaller they are, with chance; needs over 400
    days.
    """
    chance = random.Random(seed)
    sizes = [round(10 ** chance.uniform(-0.5, 1.5), 2) for _ in range(KITS)]
    offers = [
        Offer(f"kit {i}", mass, int(2300 * mass**0.85 * chance.uniform(0.9, 1.1)))
        for i, mass in enumerate(sizes)
    ]
    return offers, [
        Need(f"need {i}", round(chance.uniform(0.3, 9), 3), chance.uniform(0, 400) * DAY)
        for i in range(NEEDS)
    ]


def buying(board: Board) -> None:
    for life, name in (
        (FOREVER_S, "kept for ever"),
        (180 * DAY, "kept 180 days"),
        (90 * DAY, "kept 90 days"),
        (30 * DAY, "kept 30 days"),
    ):
        seconds = []
        for seed in range(5):
            offers, needs = market(seed)
            begun = time.perf_counter()
            cheapest(offers, needs, [Held(2.0)], life)
            seconds.append(time.perf_counter() - begun)
        board.line(
            f"cheapest of {KITS} kits for {NEEDS} needs, {name}, slowest of 5", max(seconds), "s", most=BUY_S
        )
    offers, needs = market(1)
    exact, plain = cheapest(offers, needs, opened_life_s=90 * DAY).price_minor, _one_by_one(offers, needs)
    board.line("price against buying for each need by itself", exact / plain, "times", most=1.0)
    chance = random.Random(4)
    agreed = 0
    for _ in range(40):
        small = [
            Offer(f"{grams} g", grams / 1000, chance.randint(1, 9))
            for grams in chance.sample(range(3, 10), 2)
        ]
        few = sorted(
            (Need(str(i), chance.randint(1, 5) / 1000, chance.randint(0, 20)) for i in range(3)),
            key=lambda one: one.at_s,
        )
        life = chance.choice([3.0, 8.0, FOREVER_S])
        agreed += cheapest(small, few, opened_life_s=life).price_minor == brute(small, few, life)[0]
    board.line("small cases as cheap as brute force, of 40", agreed, "cases", least=40)
    offers, needs = market(2)
    small_needs, small_offers = needs[:3], useful(offers)[:2]
    mine = timed(lambda: cheapest(small_offers, small_needs, opened_life_s=30 * DAY), 5)
    board.line("a case of 2 kits and 3 needs", mine * 1000, "ms")


def _one_by_one(offers: list[Offer], needs: list[Need]) -> int:
    return sum(cheapest(offers, [need]).price_minor for need in needs)


def at_the_scale(board: Board) -> None:
    lines = ["ST,GS,+  100.0 g", "US,NT,-   0.5g", "S S     1234.56 g", "1 lb 4.50 oz", "OL"] * 2000
    seconds = timed(lambda: [parse_scale(line) for line in lines], 3)
    board.line("lines of a scale read", len(lines) / seconds, "a second", least=LINES_A_S)
    batch = task()
    events = [Zero(gross_kg=0.0)]
    for _ in range(130):
        events += [Taken(step="A", mass_kg=0.01, by="hand"), Undo(), Zero(gross_kg=0.0)]
    begun = timed(lambda: reduce(batch, events), 5)
    board.line(f"a batch of {len(events)} entries folded", begun * 1000, "ms", most=10)
    chance, worst = random.Random(7), 0.0
    ratio = MixRatio(1 / 0.83, 1150, 955)
    for _ in range(20_000):
        worst = max(
            worst,
            abs(
                put_right(
                    chance.uniform(0.01, 3), chance.uniform(0.01, 3), ratio, 0.1, 1.0, 1e-9, 1e3
                ).ratio_off
            ),
        )
    board.line("ratio after the overshoot's answer, worst of 20,000", worst, "share", most=1e-6)


def asked(address: str, times: int) -> list[float]:
    seconds = []
    for _ in range(times):
        begun = time.perf_counter()
        urllib.request.urlopen(address).read()
        seconds.append(time.perf_counter() - begun)
    return seconds


def over_the_api(board: Board) -> None:
    os.environ["CAVATUM_SECRET_KEY"] = secrets.token_urlsafe(32)
    with own_database() as url:
        migrate(url)
        with psycopg.connect(url) as connection:
            shop = implied_workshop(connection)
            scenario.ensure(connection, shop, NOW)
            rows, _ = pieces.listed(connection, shop, "", 50, 0)
            ids = {row.name: row.id for row in rows}
            open_ = weighings.start(connection, shop, ids["Drawer pulls"], 1, 1, task())
            for number in range(40):
                weighings.append(
                    connection,
                    shop,
                    open_.id,
                    uuid.uuid4(),
                    Taken(step="A", mass_kg=0.001, by="hand"),
                    number,
                )
            readings = [
                {"at_s": i * 0.12, "mass_kg": 0.18, "unit": "g", "stable": True, "overload": False}
                for i in range(24)
            ]
            devices.keep_reading(
                connection,
                shop,
                "scale",
                "stand-in scale",
                {
                    "stand_in": True,
                    "problem": "",
                    "step_kg": 1e-4,
                    "unchanged_since_s": 0.0,
                    "readings": readings,
                },
            )
        with served(url) as address:
            compare(board, url, ids)
            again = median(asked(f"{address}/api/v1/pieces/{ids['Seed-head block']}/candidates", 6)[2:])
            board.line("the comparison asked for again within the half hour", again, "s", most=COMPARE_S)
            plan = median(asked(f"{address}/api/v1/pieces/{ids['Seed-head block']}/plan", 8)[2:])
            board.line(
                "bench view asks for its batch and the scale",
                median(asked(f"{address}/api/v1/weighings/{open_.id}", 60)[5:]) * 1000,
                "ms",
                most=LIVE_MS,
            )
            board.line(
                "against the stored plan of a piece",
                median(asked(f"{address}/api/v1/weighings/{open_.id}", 60)[5:]) / plan,
                "times",
                most=PLAN_TIMES,
            )
            board.line(
                "what to buy for all pieces of the demo",
                _bought(address, list(ids.values())),
                "s",
                most=BUY_S,
            )


def compare(board: Board, url: str, ids: dict[str, int]) -> None:
    """The comparison itself, computed anew each time: warm is the kernel and the fits of the sheets, not its
    own answer.
    """
    with psycopg.connect(url) as connection:
        shop = implied_workshop(connection)
        inputs, there = inputs_of(connection, shop), stock.listed(connection, shop)
        for name in ("Seed-head block", "Waymark discs", "Entrance bench seat", "Refectory counter"):
            stored = pieces.read(connection, shop, ids[name])
            board.line(
                f"six systems compared, {name}, warm",
                timed(lambda stored=stored: compared(stored, inputs, there, NOW, chances=True), 3),
                "s",
                most=COMPARE_S,
            )


def _bought(address: str, ids: list[int]) -> float:
    from http.cookiejar import CookieJar

    browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
    token = json.load(browser.open(f"{address}/api/v1/session"))["csrf_token"]
    body = json.dumps({"piece_ids": ids}).encode()

    def ask() -> None:
        browser.open(
            urllib.request.Request(
                f"{address}/api/v1/purchase", body, {"Content-Type": "application/json", "X-CSRFToken": token}
            )
        ).read()

    return timed(ask, 5)


DAYS_OF_BOOKINGS = 3


def bookings(board: Board) -> None:
    """Random days at the shelf and the scale, beside a ledger kept by plain adding."""
    with own_database() as url:
        migrate(url)
        client = Client(own_app(url, now=lambda: NOW))
        with psycopg.connect(url) as connection:
            for sheet in typical_systems():
                systems.add_version(connection, implied_workshop(connection), sheet)

        def call(method: str, path: str, body: object) -> tuple[int, object]:
            answer = client.call(method, path, body)
            return answer.status_code, answer.json

        faults = []
        for seed in range(DAYS_OF_BOOKINGS):
            faults += adds_up(call, "casting-epoxy-25", NOW + timedelta(days=2), 100 + seed)
            for row in client.get("/pieces?limit=50").json["pieces"]:
                client.call("DELETE", f"/pieces/{row['id']}")
        board.line(
            f"bookings of {DAYS_OF_BOOKINGS} random days of {STEPS} steps: moments that did not add up",
            len(faults),
            "",
            most=0,
        )
        for one in faults[:5]:
            print("   ", one)


def main() -> None:
    board = Board()
    buying(board)
    at_the_scale(board)
    over_the_api(board)
    bookings(board)
    board.leave()


if __name__ == "__main__":
    main()
