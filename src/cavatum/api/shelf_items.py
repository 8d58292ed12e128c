"""Colourants, recipes and form materials of the shelf; colour worked out: scaled, mixed of two, repeated from
a record, its swatch read.
"""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.readings import Id, Length, Mass
from ..core.heat.form_materials import typical_materials
from ..core.mix.opacity import lets_through, share_for, words
from ..core.mix.recipe import blended, drop_mass, least_batch, parts_of, scaled
from ..core.mix.swatch import SEEN, corrected, difference
from ..core.piece.colour import Colourant, Recipe, RecipePart, typical_colourants
from ..core.piece.form_material import FormMaterial
from ..core.piece.shelf_items import ShelfItems
from ..services.shelf_items import colour_of_weighing, keep_version
from ..store import shelf_items as shelf
from ..store import workshops
from .answers import RouteAnswer
from .context import transaction, workshop_id
from .files import read_once
from .operations import Blueprint

blueprint = Blueprint("goods", "/api/v1/goods")


class ColourantPath(BaseModel):
    good_id: Id


class KindPath(ColourantPath):
    kind: Literal["colourant", "recipe", "material"]


class Classes(BaseModel):
    colourants: list[Colourant]
    materials: list[FormMaterial]


class ScaleBody(BaseModel):
    clear: Mass


class ScaledDose(BaseModel):
    colourant_id: str
    name: str
    exact_kg: float
    mass_kg: float
    off: float
    drops: int | None
    drops_off: float | None


class ScaledAnswer(BaseModel):
    """least_clear_kg: from which on every colourant can be weighed to a tenth."""

    doses: list[ScaledDose]
    least_clear_kg: float


class BlendPart(BaseModel):
    recipe_id: Id
    mass: Mass


class BlendBody(BaseModel):
    """Coloured mixes poured together, each with its weight, colourants included."""

    mixes: list[BlendPart] = Field(min_length=1, max_length=6)


class PartsAnswer(BaseModel):
    """Shares of the clear mix; said: what differs or has to be known."""

    parts: list[RecipePart]
    total: float
    lots: dict[str, str] = {}
    said: list[str] = []


class RecordBody(BaseModel):
    weighing_id: int = Field(ge=1)


class DropsBody(BaseModel):
    drops: int = Field(ge=1, le=10_000)
    mass: Mass


class DropsAnswer(BaseModel):
    drop_kg: float
    off: float


class OpacityBody(BaseModel):
    depth: Length
    wanted: float | None = Field(default=None, gt=0, lt=1)


class OpacityAnswer(BaseModel):
    """through: share of light at this depth; looks: in words; times: so many times the colour for `wanted`,
    None where it lets less through already.
    """

    through: float
    looks: str
    times: float | None
    note: str


class PhotoField(BaseModel):
    """A rectangle in the photo, as shares of its width and height."""

    left: float = Field(ge=0, le=1)
    top: float = Field(ge=0, le=1)
    right: float = Field(ge=0, le=1)
    bottom: float = Field(ge=0, le=1)


class SwatchBody(BaseModel):
    """The photo (a file kept already), where the grey patch is and where the swatch is."""

    photo: str = Field(pattern=r"^[0-9a-f]{64}$")
    patch: PhotoField
    swatch: PhotoField


class SwatchAnswer(BaseModel):
    """lab: CIELAB under the patch's own light; patch_off: how far the photo's patch was from its print;
    against: other recipes' swatches, nearest first.
    """

    lab: tuple[float, float, float]
    tint: str
    patch_off: float
    against: list[Likeness]


class Likeness(BaseModel):
    recipe_id: str
    name: str
    difference: float
    seen: bool


SwatchAnswer.model_rebuild()


@blueprint.get("", operation_id="readGoods", responses={200: ShelfItems})
def read_goods() -> RouteAnswer:
    with transaction() as connection:
        return shelf.newest(connection, workshop_id(connection)).model_dump(mode="json")


@blueprint.get("/classes", operation_id="readGoodsClasses", responses={200: Classes})
def read_classes() -> RouteAnswer:
    """Generic kinds to start from, every value typical."""
    return Classes(colourants=typical_colourants(), materials=typical_materials()).model_dump(mode="json")


def _keep(kind: shelf.Kind, good_id: str, body: shelf.Good) -> dict[str, Any]:
    with transaction() as connection:
        kept = keep_version(connection, workshop_id(connection), kind, good_id, body)
    return kept.model_dump(mode="json")


@blueprint.put("/colourant/<string:good_id>", operation_id="keepColourant", responses={200: Colourant})
def keep_colourant(path: ColourantPath, body: Colourant) -> RouteAnswer:
    return _keep("colourant", path.good_id, body)


@blueprint.put("/recipe/<string:good_id>", operation_id="keepRecipe", responses={200: Recipe})
def keep_recipe(path: ColourantPath, body: Recipe) -> RouteAnswer:
    return _keep("recipe", path.good_id, body)


@blueprint.put("/material/<string:good_id>", operation_id="keepMaterial", responses={200: FormMaterial})
def keep_material(path: ColourantPath, body: FormMaterial) -> RouteAnswer:
    return _keep("material", path.good_id, body)


@blueprint.delete("/<string:kind>/<string:good_id>", operation_id="retireGood", responses={204: None})
def retire(path: KindPath) -> RouteAnswer:
    """Off the shelf; its versions stay, so that old plans still explain themselves."""
    with transaction() as connection:
        shop = workshop_id(connection)
        newest, _ = shelf.newest_of(connection, shop, path.kind, path.good_id)
        shelf.add_version(connection, shop, path.kind, newest, retired=True)
    return "", 204


@blueprint.post(
    "/<string:kind>/<string:good_id>/bring-back", operation_id="bringBackGood", responses={204: None}
)
def bring_back(path: KindPath) -> RouteAnswer:
    with transaction() as connection:
        shop = workshop_id(connection)
        newest, retired = shelf.newest_of(connection, shop, path.kind, path.good_id)
        if retired:
            shelf.add_version(connection, shop, path.kind, newest)
    return "", 204


def _recipe(shelf_items: ShelfItems, id_: str) -> Recipe:
    if id_ not in shelf_items.recipes:
        raise DomainError(
            argument="recipe",
            value=id_,
            allowed="it stands on the shelf",
            way_out="Choose another.",
            code="no-recipe",
        )
    return shelf_items.recipes[id_]


@blueprint.post("/recipe/<string:good_id>/scale", operation_id="scaleRecipe", responses={200: ScaledAnswer})
def scale_recipe(path: ColourantPath, body: ScaleBody) -> RouteAnswer:
    """The recipe for so much clear mix, to the workshop's scale. Nothing is stored."""
    with transaction() as connection:
        shop = workshop_id(connection)
        shelf_items, step = (
            shelf.newest(connection, shop),
            workshops.read(connection, shop).scale.step_kg.value,
        )
    recipe = _recipe(shelf_items, path.good_id)
    doses = [
        ScaledDose(
            name=shelf_items.colourants[one.colourant_id].name
            if one.colourant_id in shelf_items.colourants
            else one.colourant_id,
            **one.__dict__,
        )
        for one in scaled(recipe, body.clear.value, step, shelf_items.colourants)
    ]
    return ScaledAnswer(doses=doses, least_clear_kg=least_batch(recipe, step)).model_dump(mode="json")


@blueprint.post("/blend", operation_id="blendRecipes", responses={200: PartsAnswer})
def blend(body: BlendBody) -> RouteAnswer:
    """The colour that comes of pouring coloured mixes together. Nothing is stored."""
    with transaction() as connection:
        shelf_items = shelf.newest(connection, workshop_id(connection))
    parts = parts_of(blended([(_recipe(shelf_items, one.recipe_id), one.mass.value) for one in body.mixes]))
    return PartsAnswer(parts=parts, total=sum(part.share.value for part in parts)).model_dump(mode="json")


@blueprint.post("/repeat", operation_id="repeatColour", responses={200: PartsAnswer})
def repeat(body: RecordBody) -> RouteAnswer:
    """The colour of a weighed batch as a recipe, with what its lots are now."""
    with transaction() as connection:
        found = colour_of_weighing(connection, workshop_id(connection), body.weighing_id)
    total = sum(part.share.value for part in found.parts)
    return PartsAnswer(parts=found.parts, total=total, lots=found.lots, said=found.said).model_dump(
        mode="json"
    )


@blueprint.post("/drops", operation_id="calibrateDrops", responses={200: DropsAnswer})
def calibrate_drops(body: DropsBody) -> RouteAnswer:
    """One drop from a weighed number of them."""
    with transaction() as connection:
        step = workshops.read(connection, workshop_id(connection)).scale.step_kg.value
    drop, off = drop_mass(body.mass.value, body.drops, step)
    return DropsAnswer(drop_kg=drop, off=off).model_dump()


@blueprint.post(
    "/recipe/<string:good_id>/opacity", operation_id="readOpacity", responses={200: OpacityAnswer}
)
def opacity(path: ColourantPath, body: OpacityBody) -> RouteAnswer:
    """How much light a layer of this recipe lets through, by its swatch."""
    with transaction() as connection:
        recipe = _recipe(shelf.newest(connection, workshop_id(connection)), path.good_id)
    swatch = recipe.swatch
    if swatch is None or swatch.lets_through is None:
        raise DomainError(
            argument="swatch",
            value="not made",
            allowed="one of known depth with the light it lets through",
            way_out="Cast one 3 mm thick, hold it over the printed card and say how much comes through.",
            code="no-swatch",
        )
    known = (swatch.depth_m.value, recipe.total, swatch.lets_through.value)
    through = lets_through(*known, body.depth.value, recipe.total)
    share = share_for(*known, body.depth.value, body.wanted) if body.wanted else None
    return OpacityAnswer(
        through=through,
        looks=words(through),
        times=share / recipe.total if share and share > recipe.total else None,
        note="An estimate by the Beer-Lambert law from the swatch: powders scatter and lie flat, and let "
        "through less.",
    ).model_dump()


@blueprint.post("/swatch", operation_id="readSwatch", responses={200: SwatchAnswer})
def read_swatch(body: SwatchBody) -> RouteAnswer:
    """The swatch's colour under the light that makes the patch its printed grey, and which recipes look like
    it. Nothing is stored.
    """
    with transaction() as connection:
        shelf_items = shelf.newest(connection, workshop_id(connection))
    found = read_once(
        body.photo,
        "photo fields",
        ("photo",),
        {"fields": [body.patch.model_dump(), body.swatch.model_dump()]},
    )
    patch, swatch = (np.array(one) for one in found["means"])
    of_patch, of_swatch = found["burnt"]
    lab, tint, off = corrected(swatch, patch, (of_swatch, of_patch))
    near = [
        Likeness(
            recipe_id=one.id,
            name=one.name,
            difference=round(difference(lab, one.swatch.lab), 2),
            seen=difference(lab, one.swatch.lab) > SEEN,
        )
        for one in shelf_items.recipes.values()
        if one.swatch and one.swatch.lab
    ]
    return SwatchAnswer(
        lab=lab, tint=tint, patch_off=round(off, 2), against=sorted(near, key=lambda one: one.difference)[:8]
    ).model_dump(mode="json")
