"""Four corners of a face in a picture: whether they can be."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError

LEAST_SIDE_M, MOST_SIDE_M = 0.02, 10.0
BESIDE = 0.02  # share of the picture's shorter side between a corner and the border


def lengths(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    """[4] of the sides, each from its corner on, in the unit of the corners. Raises nothing. Exact. Source:
    geometry.
    """
    return np.asarray(np.linalg.norm(np.roll(corners, -1, 0) - corners, axis=1), np.float64)


def sines(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    """[4] of the turn from each side to the next; above 0 where it goes on round to the right, as it is seen.
    No unit. Raises nothing. Exact. Source: geometry.
    """
    sides = np.roll(corners, -1, 0) - corners
    ahead = np.roll(sides, -1, 0)
    long = lengths(corners)
    turns = sides[:, 0] * ahead[:, 1] - sides[:, 1] * ahead[:, 0]
    return np.asarray(turns / (long * np.roll(long, -1) + 1e-9), np.float64)


def is_seen_whole(corners: NDArray[np.float64], size_px: tuple[int, int]) -> bool:
    """Four corners [4, 2, px] lie in a picture of that width and height, and BESIDE from its border. Raises
    nothing. Exact. Source: own judgement.
    """
    beside = BESIDE * min(size_px)
    return bool((corners >= beside).all() and (corners <= np.array(size_px) - beside).all())


def check_face(corners: NDArray[np.float64], length_m: float, width_m: float) -> None:
    """Four corners [4, 2, px] and sides [m] of a face.

    Raises DomainError for corners that do not go round in their order or lie nearer than 40 px, and for sides
    outside of LEAST_SIDE_M to MOST_SIDE_M. Exact. Source: own judgement.
    """
    if min(length_m, width_m) < LEAST_SIDE_M or max(length_m, width_m) > MOST_SIDE_M:
        raise DomainError(
            argument="size",
            value=f"{length_m} x {width_m} m",
            allowed=f"each side is {LEAST_SIDE_M} to {MOST_SIDE_M} m",
            way_out="Measure the face again.",
            code="size",
        )
    if corners.shape != (4, 2) or not (sines(corners) > 0).all() or lengths(corners).min() < 40:
        raise DomainError(
            argument="marking",
            value="crossed or too small",
            allowed="it goes round the face: far left, far right, near right, near left, 40 pixels apart",
            way_out="Move the four corners.",
            code="corners",
        )


def check_seen_whole(corners: NDArray[np.float64], size_px: tuple[int, int]) -> None:
    """Four corners [4, 2, px] in a picture of that width and height.

    Raises DomainError for a face that is cut off, or has no bench round it: what does not change there is
    what later pictures are laid on. Exact. Source: own judgement.
    """
    if not is_seen_whole(corners, size_px):
        raise DomainError(
            argument="piece",
            value="seen in part, or without bench round it",
            allowed="all four corners and bench on every side are in the picture",
            way_out="Move the camera back or turn it, then take the picture again.",
            code="half-seen",
        )
