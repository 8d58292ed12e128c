"""Who asks, as every request knows it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from .permissions import Role


@dataclass(frozen=True, kw_only=True)
class Who:
    """how: here (the computer's own address), entry (logged in), bench (a paired device), token (a
    script).
    """

    workshop_id: int
    role: Role
    how: Literal["here", "entry", "bench", "token"]
    name: str
    account_id: int | None = None
    entry_id: int | None = None
    token_id: int | None = None


def owner_here(workshop_id: int) -> Who:
    return Who(workshop_id=workshop_id, role="owner", how="here", name="the shop's own screen")
