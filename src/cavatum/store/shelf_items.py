"""Colourants, recipes and form materials: immutable versions, as sheets are."""

from __future__ import annotations

from typing import Literal

from psycopg import Connection
from psycopg.types.json import Jsonb

from ..core.piece.colour import Colourant, Recipe
from ..core.piece.form_material import FormMaterial
from ..core.piece.shelf_items import ShelfItems
from . import revisions
from .pool import NotFound

Kind = Literal["colourant", "recipe", "material"]
Good = Colourant | Recipe | FormMaterial
MODELS: dict[str, type[Colourant] | type[Recipe] | type[FormMaterial]] = {
    "colourant": Colourant,
    "recipe": Recipe,
    "material": FormMaterial,
}


def newest(connection: Connection, workshop_id: int) -> ShelfItems:
    """The newest version of everything that stands on the shelf."""
    rows = connection.execute(
        "select distinct on (kind, good_id) kind, good_id, content, is_retired from good_version where "
        "workshop_id = %s"
        " order by kind, good_id, version desc",
        (workshop_id,),
    ).fetchall()
    there = [
        (kind, id_, MODELS[kind].model_validate(content))
        for kind, id_, content, retired in rows
        if not retired
    ]
    there.sort(key=lambda one: one[2].name.lower())
    return ShelfItems.model_validate(
        {f"{kind}s": {id_: one for found, id_, one in there if found == kind} for kind in MODELS}
    )


def newest_of(connection: Connection, workshop_id: int, kind: Kind, good_id: str) -> tuple[Good, bool]:
    """The newest version of one, retired or not."""
    row = connection.execute(
        "select content, is_retired from good_version where workshop_id = %s and kind = %s and good_id = "
        "%s order by version desc limit 1",
        (workshop_id, kind, good_id),
    ).fetchone()
    if row is None:
        raise NotFound(f"{kind} {good_id}")
    return MODELS[kind].model_validate(row[0]), row[1]


def versions(connection: Connection, workshop_id: int, kind: Kind, good_id: str) -> list[Good]:
    rows = connection.execute(
        "select content from good_version where workshop_id = %s and kind = %s and good_id = %s order by "
        "version desc",
        (workshop_id, kind, good_id),
    ).fetchall()
    if not rows:
        raise NotFound(f"{kind} {good_id}")
    return [MODELS[kind].model_validate(row[0]) for row in rows]


def add_version(
    connection: Connection, workshop_id: int, kind: Kind, good: Good, *, retired: bool = False
) -> Good:
    """Store as the next version of its id. Two at once: one waits and counts on."""
    connection.execute("select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, f"{kind}/{good.id}"))
    row = connection.execute(
        "select coalesce(max(version), 0) from good_version where workshop_id = %s and kind = %s and "
        "good_id = %s",
        (workshop_id, kind, good.id),
    ).fetchone()
    numbered = good.model_copy(update={"version": (row[0] if row else 0) + 1})
    connection.execute(
        "insert into good_version (workshop_id, kind, good_id, version, content, is_retired) values (%s, "
        "%s, %s, %s, %s, %s)",
        (workshop_id, kind, good.id, numbered.version, Jsonb(numbered.model_dump(mode="json")), retired),
    )
    return numbered


def change(connection: Connection, workshop_id: int, kind: Kind, good: Good) -> Good:
    """A new one, or the next version of one, made on good.version and joined with what was changed since. One
    that is off the shelf is put on it anew.

    Raises revisions.Changed where both changed the same value.
    """
    connection.execute("select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, f"{kind}/{good.id}"))
    try:
        known = versions(connection, workshop_id, kind, good.id)
        retired = newest_of(connection, workshop_id, kind, good.id)[1]
    except NotFound:
        return add_version(connection, workshop_id, kind, good)
    if not retired and good.version != known[0].version:
        base = next((one for one in known if one.version == good.version), None)
        theirs, yours = (one.model_dump(mode="json", exclude={"version"}) for one in (known[0], good))
        before = base.model_dump(mode="json", exclude={"version"}) if base else {}
        both = revisions.joined(before, theirs, yours, known[0].version)
        if both == theirs:
            return known[0]
        good = MODELS[kind].model_validate(both)
    return add_version(connection, workshop_id, kind, good)


def remove_all(connection: Connection, workshop_id: int) -> None:
    connection.execute("delete from good_version where workshop_id = %s", (workshop_id,))
