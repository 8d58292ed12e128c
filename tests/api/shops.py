"""Two workshops on one server, each with all that a workshop can hold and with a person of every role."""

from __future__ import annotations

from dataclasses import dataclass, field
from uuid import uuid4

import psycopg
from psycopg.types.json import Jsonb

from cavatum.core.common.workshop import typical_workshop
from cavatum.network import passwords
from cavatum.store import logins, people
from tests.samples import NOW, box_piece, box_void, system

HERE = "https://shop.local"
PASSWORD = "seven quiet larch planks drying"
ROLES = ("owner", "maker", "viewer")


@dataclass(kw_only=True)
class Caller:
    """A browser, device or script on the network, with its cookies."""

    app: object
    bearer: str = ""
    http: object = None
    token: str = ""

    def __post_init__(self):
        self.http = self.app.test_client()
        self.token = self.get("/door").json["csrf_token"]

    def call(self, method: str, path: str, json=None, **more):
        headers = {
            "X-CSRFToken": self.token,
            "Referer": HERE + "/",
            **({"Authorization": f"Bearer {self.bearer}"} if self.bearer else {}),
            **more.pop("headers", {}),
        }
        return self.http.open(
            f"/api/v1{path}", method=method, json=json, headers=headers, base_url=HERE, **more
        )

    def get(self, path: str):
        return self.call("GET", path)

    def again(self):
        """A page opened anew: its token belongs to the new session."""
        self.token = self.get("/door").json["csrf_token"]
        return self


@dataclass(kw_only=True)
class Shop:
    id: int
    marker: str
    callers: dict[str, Caller] = field(default_factory=dict)
    ids: dict[str, object] = field(default_factory=dict)


def new_shop(connection: psycopg.Connection, name: str) -> int:
    settings = typical_workshop().model_copy(update={"name": name}).model_dump(mode="json")
    return connection.execute(
        "insert into workshop (settings) values (%s) returning id", (Jsonb(settings),)
    ).fetchone()[0]


def invited(app, database_url: str, shop: int, role: str, email: str, name: str) -> Caller:
    with psycopg.connect(database_url) as connection:
        secret, _ = people.invite(connection, shop, role, name, None, NOW)
    caller = Caller(app=app)
    answer = caller.call(
        "POST", "/door/join", {"secret": secret, "name": name, "email": email, "password": PASSWORD}
    )
    assert answer.status_code == 204, answer.json
    return caller.again()


def quick_member(app, database_url: str, shop: int, role: str, email: str, name: str) -> Caller:
    """As invited(), without argon2's half second: let in by the store."""
    with psycopg.connect(database_url) as connection:
        account = logins.make_account(connection, email, name, _hash())
        logins.join(connection, shop, account, role)
        token, _ = logins.begin_entry(connection, shop, account, "a test", NOW)
    caller = Caller(app=app)
    caller.http.set_cookie("__Host-cavatum-in", token, domain="shop.local", secure=True, path="/")
    return caller.again()


def _hash(known: list[str] = []) -> str:  # noqa: B006, kept for the session on purpose
    if not known:
        known.append(passwords.hash_of(PASSWORD))
    return known[0]


def save_workshop(client, settings: dict):
    """On the revision in force, as a page that was just loaded."""
    made_on = client.get("/session").json["revision"]
    return client.call("PUT", f"/workshop?made_on={made_on}", settings)


def bench_device(app, owner: Caller) -> Caller:
    code = owner.call("POST", "/phones", {"name": "bench tablet", "hours": 12}).json["code"]
    device = Caller(app=app)
    assert device.call("POST", "/pairing/enter", {"code": code}).status_code == 204
    return device


def fill(shop: Shop) -> None:
    """One of everything, each with the workshop's marker in its words."""
    owner, mark = shop.callers["owner"], shop.marker

    def made(method: str, path: str, body):
        answer = owner.call(method, path, body)
        assert answer.status_code < 300, (path, answer.json)
        return answer.json

    made("POST", "/systems", system().model_copy(update={"name": f"resin {mark}"}).model_dump(mode="json"))
    shop.ids["system_id"] = system().id
    piece = box_piece(name=f"block {mark}", voids=[box_void(depth="70 mm")])
    shop.ids["piece_id"] = made("POST", "/pieces", piece.model_dump(mode="json"))["id"]
    colourant = {
        "id": f"{mark}-blue",
        "name": f"blue {mark}",
        "kind": "mica powder",
        "density_kg_m3": "3 g/cm3",
        "most": "5 %",
    }
    made("PUT", f"/goods/colourant/{colourant['id']}", colourant)
    shop.ids |= {"good_id": colourant["id"], "kind": "colourant"}
    bottle = {
        "goods": "system",
        "goods_id": system().id,
        "part": "A",
        "lot": f"lot {mark}",
        "full_kg": "1 kg",
    }
    shop.ids["bottle_id"] = made("POST", "/stock", {"bottle": bottle})["standing"]["id"]
    shop.ids["trial_id"] = made("POST", "/trials", {"what": "flame", "system_id": system().id})["trials"][0][
        "id"
    ]
    shop.ids["job_id"] = made("POST", "/schedule", {"pieces": [shop.ids["piece_id"]]})["job_id"]
    run = made("POST", f"/pieces/{shop.ids['piece_id']}/runs", {"rehearse": None})
    moment = NOW.isoformat()
    shop.ids["run_id"] = run["id"]
    made(
        "POST",
        f"/runs/{run['id']}/events",
        {
            "since": 0,
            "events": [
                {
                    "event_id": str(uuid4()),
                    "device": str(uuid4()),
                    "seq": 1,
                    "at": moment,
                    "device_at": moment,
                    "event": {"kind": "note", "text": f"note {mark}"},
                }
            ],
        },
    )
    shop.ids["weighing_id"] = made(
        "POST", f"/pieces/{shop.ids['piece_id']}/weighings", {"pour": 1, "batch": 1}
    )["id"]
    shop.ids["sha"] = owner.call(
        "POST",
        f"/files?name={mark}.svg",
        data=f'<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm"><!-- {mark} -->'
        '<rect width="10" height="10"/></svg>'.encode(),
        headers={"Content-Type": "application/octet-stream"},
    ).json["sha256"]
    made("POST", "/people/tokens", {"name": f"script {mark}"})
    shop.ids["token_id"] = owner.get("/people").json["tokens"][0]["id"]
    made("POST", "/people/invitations", {"name": f"guest {mark}", "role": "viewer"})
    shop.ids["invitation_id"] = owner.get("/people").json["invited"][0]["id"]
    shop.ids["pairing_id"] = owner.get("/phones").json["phones"][0]["id"]
    shop.ids["account_id"] = owner.get("/people").json["people"][1]["account_id"]


def two_shops(app, database_url: str) -> tuple[Shop, Shop]:
    with psycopg.connect(database_url) as connection:
        shops = [
            Shop(id=new_shop(connection, f"shop {mark}"), marker=mark) for mark in ("alderwick", "brantmoor")
        ]
    for shop in shops:
        for role in ROLES:
            shop.callers[role] = quick_member(
                app, database_url, shop.id, role, f"{role}@{shop.marker}.example", f"{role} {shop.marker}"
            )
        shop.callers["bench"] = bench_device(app, shop.callers["owner"])
        fill(shop)
    return shops[0], shops[1]


__all__ = [
    "HERE",
    "NOW",
    "PASSWORD",
    "ROLES",
    "Caller",
    "Shop",
    "invited",
    "new_shop",
    "quick_member",
    "two_shops",
]
