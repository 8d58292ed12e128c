"""A second way to a pour's heat: finite elements (scikit-fem) in space and SciPy's BDF in time, sharing
nothing with the product but the parameters of the resin and of what stands round it.

    C dT/dt + (K + R) T = R T_room + S da/dt,   da/dt = rate(T, a) at the nodes

C, K, S are the (lumped) integrals of rho cp, k and rho H over the elements, R that of the air's coefficients
over the faces. Cut through the middle where a body is the same on both sides.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import scipy.sparse as sparse
from scipy.integrate import solve_ivp
from skfem import (
    Basis,
    BilinearForm,
    ElementHex1,
    ElementQuad1,
    ElementTriP1,
    FacetBasis,
    Mesh,
    MeshHex,
    MeshQuad,
    MeshTri,
)

from cavatum.core.cure.parameters import Kinetics
from cavatum.core.heat.materials import Material

ZERO_C_K = 273.15
ELEMENTS = {MeshTri: ElementTriP1, MeshQuad: ElementQuad1, MeshHex: ElementHex1}


@dataclass(frozen=True, kw_only=True)
class Air:
    """A face to the room: where [of the middle of a facet], and its coefficient [W/(m2 K)]."""

    where: Callable[[np.ndarray], np.ndarray]
    w_m2k: float


def rate(resin: Kinetics, t_k: np.ndarray, a: np.ndarray) -> np.ndarray:
    """f k2 (b + a) (1 - a)^2 [1/s], slowed by vitrification, as the computation's own paper has it."""
    k2 = resin.k2_ref_1_s * np.exp(-resin.energy_j_mol / 8.314462618 * (1 / t_k - 1 / 296.15))
    tg = resin.tg0_k + (resin.tginf_k - resin.tg0_k) * resin.lam * a / (1 - (1 - resin.lam) * a)
    free = 1 / (1 + np.exp(np.minimum((tg - t_k - 12.0) / 4.0, 500.0)))
    return free * k2 * (resin.b + a) * (1 - a) ** 2


def lines(*stops: tuple[float, int]) -> np.ndarray:
    """From 0 on: so many cells to each stop."""
    found = [np.array([0.0])]
    for to, cells in stops:
        found.append(np.linspace(found[-1][-1], to, cells + 1)[1:])
    return np.concatenate(found)


@BilinearForm
def _leading(u, v, w):
    return w.k * w.weight * sum(u.grad[i] * v.grad[i] for i in range(len(u.grad)))


@BilinearForm
def _holding(u, v, w):
    return w.c * w.weight * u * v


def peak_c(
    mesh: Mesh,
    resin: Kinetics,
    is_resin: Callable[[np.ndarray], np.ndarray],
    solid: Material,
    air: list[Air],
    *,
    room_c: float = 23.0,
    until_s: float = 72 * 3600.0,
    is_round: bool = False,
) -> float:
    """Hottest the resin gets [degC].

    is_resin  of the middles of the elements, shape (dimensions, n); the rest is of the one solid
    is_round  the first coordinate is the distance from an axis
    """
    basis = Basis(mesh, next(made() for kind, made in ELEMENTS.items() if isinstance(mesh, kind)))
    inside = is_resin(mesh.p[:, mesh.t].mean(axis=1))
    weight = _weight(basis, is_round)

    def by_element(of_resin: float, of_solid: float) -> np.ndarray:
        return np.where(inside, of_resin, of_solid)[:, None] * np.ones_like(weight)

    k = _leading.assemble(basis, k=by_element(resin.conductivity_w_m_k, solid.conductivity), weight=weight)
    stored = resin.density_kg_m3 * resin.heat_capacity_j_kg_k, solid.density * solid.heat_capacity
    capacity = _lumped(basis, by_element(*stored), weight)
    heat = _lumped(basis, by_element(resin.density_kg_m3 * resin.heat_j_kg, 0.0), weight)
    lost = sparse.csr_matrix(k.shape)
    for one in air:
        faces = FacetBasis(mesh, basis.elem, facets=mesh.facets_satisfying(one.where, boundaries_only=True))
        at = _weight(faces, is_round)
        lost = lost + _holding.assemble(faces, c=np.full_like(at, one.w_m2k), weight=at)
    return _hottest(resin, capacity, heat, sparse.csr_matrix(k + lost), room_c, until_s)


def _weight(basis: Basis, is_round: bool) -> np.ndarray:
    x = np.asarray(basis.global_coordinates())
    return 2 * np.pi * x[0] if is_round else np.ones_like(x[0])


def _lumped(basis: Basis, c: np.ndarray, weight: np.ndarray) -> np.ndarray:
    return np.asarray(_holding.assemble(basis, c=c, weight=weight).sum(axis=1)).ravel()


def _hottest(
    resin: Kinetics,
    capacity: np.ndarray,
    heat: np.ndarray,
    leads: sparse.csr_matrix,
    room_c: float,
    until_s: float,
) -> float:
    reacts = np.flatnonzero(heat > 0)
    n, room_k = len(capacity), room_c + ZERO_C_K
    by_c = sparse.diags(1 / capacity) @ leads

    def change(_: float, y: np.ndarray) -> np.ndarray:
        t, a = y[:n], np.clip(y[n:], 0.0, 1.0)
        pace = rate(resin, t[reacts], a)
        dt = -(by_c @ (t - room_k))
        dt[reacts] += heat[reacts] / capacity[reacts] * pace
        return np.concatenate([dt, pace])

    def slope(_: float, y: np.ndarray) -> sparse.csc_matrix:
        t, a = y[:n][reacts], np.clip(y[n:], 0.0, 1.0)
        pace = rate(resin, t, a)
        rt, ra = (rate(resin, t + 1e-3, a) - pace) / 1e-3, (rate(resin, t, a + 1e-6) - pace) / 1e-6
        place = sparse.csr_matrix((np.ones(len(reacts)), (reacts, np.arange(len(reacts)))), (n, len(reacts)))
        source = sparse.diags(heat[reacts] / capacity[reacts])
        return sparse.bmat(
            [
                [-by_c + place @ source @ sparse.diags(rt) @ place.T, place @ source @ sparse.diags(ra)],
                [sparse.diags(rt) @ place.T, sparse.diags(ra)],
            ],
            format="csc",
        )

    begun = np.concatenate([np.full(n, room_k), np.zeros(len(reacts))])
    done = solve_ivp(change, (0.0, until_s), begun, method="BDF", jac=slope, rtol=1e-5, atol=1e-4)
    assert done.success, done.message
    return float(done.y[:n][reacts].max()) - ZERO_C_K
