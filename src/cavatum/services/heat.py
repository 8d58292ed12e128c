"""What long work on a piece's heat is asked with, and a probe's log laid over its plan. Rules 4.1, 9.2."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg import Connection

from ..core.calibration.of_system import cure_of
from ..core.calibration.told import class_of
from ..core.common.errors import DomainError
from ..core.common.workshop import LearnedAir
from ..core.cure.parameters import CLASSES
from ..core.layers.refit import Refit, Teaches, Times, refit, stand_in_curve
from ..core.piece.document import Piece
from ..core.plan import courses_of
from ..core.plan_model import Plan
from ..core.resin.system import CureFit, System
from ..formats.probe_csv import ProbeLog, read_probe_csv
from ..store.pieces import StoredPiece
from . import planning


def heat_inputs(
    connection: Connection, shop: int, piece_id: int, now: datetime
) -> tuple[Piece, Plan, dict[str, Any]]:
    stored, inputs, plan = planning.opened(connection, shop, piece_id, now)
    return stored.piece, plan, planning.job_inputs(stored.piece, inputs, plan.made_at)


def earlier_of(system: System) -> Times:
    """What the plan used: its rate over the class's own, its heat over the sheet's."""
    return Times(
        rate=cure_of(system).kinetics.k2_ref_1_s / CLASSES[class_of(system)].k2_ref_1_s,
        heat=system.cure_fit.heat_factor if system.cure_fit else 1.0,
    )


@dataclass(frozen=True, kw_only=True)
class ProbeOver:
    """A probe's log of one layer (0 the lowest) of one void, and what it is to teach. stand_in: take the
    stand-in's log instead."""

    void_id: str
    layer: int
    text: str
    begun_s: float
    stand_in: bool
    teaches: Teaches


@dataclass(frozen=True, kw_only=True)
class Refitted:
    refit: Refit
    left_out: list[str]
    system_id: str
    fit: CureFit | None
    air: LearnedAir | None


def refit_to(stored: StoredPiece, inputs: planning.Inputs, plan: Plan, log: ProbeOver) -> Refitted:
    """What refitting to the log would change; nothing is kept.

    Raises DomainError for a layer whose heat is not computed, and a log that cannot be used.
    """
    courses = courses_of(stored.piece, inputs.sheets, inputs.workshop, plan, inputs.shelf_items)
    course = courses.get(log.void_id)
    if course is None or log.layer >= len(course.layers):
        raise DomainError(
            argument="layer",
            value=f"{log.layer + 1} of {log.void_id}",
            allowed="its heat is computed",
            way_out="Choose a layer that the plan has.",
            code="no-layer",
        )
    read = (
        ProbeLog(points=stand_in_curve(course, log.layer), left_out=[])
        if log.stand_in
        else read_probe_csv(log.text)
    )
    system = inputs.sheets[course.layers[log.layer].cure.system_id]
    points = [(at + log.begun_s, celsius) for at, celsius in read.points if at + log.begun_s >= 0]
    found = refit(course, log.layer, points, earlier_of(system), log.teaches)
    note = f"{'stand-in ' if log.stand_in else ''}probe in {stored.piece.name}"[:120]
    before = system.cure_fit
    fit = CureFit(
        rate_factor=found.rate_factor,
        # What an older fit knows of the top stays, unless the workshop's own air takes its place.
        top_w_m2k=before.top_w_m2k if before and log.teaches == "resin" else None,
        heat_factor=found.heat_factor,
        before_k=found.before_k,
        after_k=found.after_k,
        points=found.points,
        note=note,
    )
    air = LearnedAir(top_times=found.top_times, side_times=found.side_times, points=found.points, note=note)
    return Refitted(
        refit=found,
        left_out=read.left_out,
        system_id=system.id,
        fit=None if log.teaches == "workshop" else fit,
        air=None if log.teaches == "resin" else air,
    )
