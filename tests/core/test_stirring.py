"""Resin that stirs itself by its own warmth: against the linear theory of its beginning, other people's
correlations and benchmark figures, and what must hold whatever the numbers are.
"""

from __future__ import annotations

import random
from dataclasses import replace

import numpy as np
import pytest
from scipy.linalg import eig
from scipy.optimize import minimize_scalar

from cavatum.core.cure.parameters import CLASSES
from cavatum.core.cure.viscosity import viscosity
from cavatum.core.heat import kernel
from cavatum.core.heat.body import Body
from cavatum.core.heat.cast import Cast, reach_of
from cavatum.core.heat.column import Stack
from cavatum.core.heat.grid import Grid, Room, kinetics_row
from cavatum.core.heat.materials import Surround
from cavatum.core.heat.run import March, march
from cavatum.core.heat.stirring import CRITICAL, layer_times, slot_times, thickness
from tests.core.test_heat import box

SLOW = CLASSES["slow-casting-epoxy"]


def chebyshev(n: int) -> tuple[np.ndarray, np.ndarray]:
    """Points of [-1, 1] and what differentiates: Trefethen, Spectral Methods in MATLAB (2000), chapter 6."""
    x = np.cos(np.pi * np.arange(n + 1) / n)
    c = np.hstack([2, np.ones(n - 1), 2]) * (-1) ** np.arange(n + 1)
    away = x[:, None] - x[None, :] + np.eye(n + 1)
    d = np.outer(c, 1 / c) / away
    return d - np.diag(d.sum(axis=1)), x


def least_rayleigh(wave: float, n: int = 24) -> float:
    """Rayleigh number at which a roll of that wave number neither grows nor dies between two fixed plates.

    (D2 - k2)2 w = k2 Ra th,  (D2 - k2) th = -w,  w = Dw = th = 0 at both plates
    """
    d, _ = chebyshev(n)
    d = 2 * d  # on a depth of one
    d2 = d @ d
    one, m = np.eye(n + 1), n + 1
    bent = d2 - wave**2 * one
    left, right = np.zeros((2 * m, 2 * m)), np.zeros((2 * m, 2 * m))
    left[:m, :m], left[m:, m:], left[m:, :m] = bent @ bent, bent, one
    right[:m, m:] = wave**2 * one
    for row, condition in (
        (0, one[0]),
        (1, d[0]),
        (n - 1, d[n]),
        (n, one[n]),
    ):
        left[row, :], right[row, :] = 0, 0
        left[row, :m] = condition
    for row in (m, 2 * m - 1):
        left[row, :], right[row, :] = 0, 0
        left[row, m:] = one[row - m]
    values = eig(left, right, right=False)
    real = values.real[np.isfinite(values) & (abs(values.imag) < 1e-6 * abs(values.real))]
    return float(real[real > 1].min())


def test_it_begins_where_the_linear_theory_says():
    """Rigid plates: Ra 1707.76 at wave number 3.117 (Chandrasekhar, Hydrodynamic and Hydromagnetic Stability,
    1961, from memory); worked out here by collocation.
    """
    found = minimize_scalar(least_rayleigh, bounds=(2.5, 4.0), method="bounded")
    assert found.fun == pytest.approx(CRITICAL, rel=1e-3) and found.x == pytest.approx(3.117, abs=0.01)
    assert layer_times(CRITICAL * 0.999) == 1.0 < layer_times(CRITICAL * 1.01)


@pytest.mark.parametrize("rayleigh", [3.5e3, 1e4, 3e4, 1e5])
def test_a_layer_agrees_with_a_correlation_of_thick_liquids(rayleigh):
    """O'Toole and Silveston, AIChE Chem. Eng. Prog. Symp. Ser. 57 (1961) 81, silicone oils among them, from
    memory: 0.229 Ra^0.252 from 3500 to 1e5.
    """
    assert layer_times(rayleigh) == pytest.approx(0.229 * rayleigh**0.252, rel=0.15)


def test_a_deeper_layer_is_never_said_to_carry_more_than_thick_liquids_do():
    """The same authors above 1e5: 0.104 Ra^0.305 Pr^0.084, here with Pr 1000."""
    for rayleigh in np.geomspace(1e5, 1e8, 30):
        assert layer_times(rayleigh) <= 1.05 * 0.104 * rayleigh**0.305 * 1000**0.084


@pytest.mark.parametrize(("rayleigh", "benchmark"), [(1e4, 2.243), (1e5, 4.519), (1e6, 8.800)])
def test_a_slot_agrees_with_the_benchmark_of_a_square_of_air(rayleigh, benchmark):
    """de Vahl Davis, Int. J. Numer. Meth. Fluids 3 (1983) 249, from memory; in air the correlation counts
    Ra Pr / (0.2 + Pr).
    """
    assert slot_times(rayleigh * 0.71 / 0.91, 1.0) == pytest.approx(benchmark, rel=0.1)


def test_a_slot_grows_with_its_rayleigh_number_and_shrinks_with_its_height():
    for slender in (1.0, 2.0, 5.0, 12.0, 40.0):
        times = [slot_times(one, slender) for one in np.geomspace(1.0, 1e7, 40)]
        assert times[0] == 1.0 and all(b >= a for a, b in zip(times, times[1:], strict=False))
    assert slot_times(1e6, 1.0) > slot_times(1e6, 4.0) > slot_times(1e6, 20.0) > 1.0
    assert slot_times(1e6, 0.9) == 1.0


def test_its_viscosity_is_the_one_of_the_cure():
    draw = random.Random(7)
    for kinetics in CLASSES.values():
        row = kinetics_row(kinetics)
        for _ in range(40):
            t, a = draw.uniform(275.0, 420.0), draw.uniform(0.0, 0.7)
            assert thickness(row, t, a) == pytest.approx(viscosity(kinetics, a, t), rel=1e-9)


def inert(
    floor_k: float, top_k: float, depth_m: float, *, stirs: bool, cells: int = 20
) -> tuple[Grid, float]:
    """A liquid that hardly reacts, between two faces that are held (all but) at their temperatures."""
    kinetics = SLOW.model_copy(update={"k2_ref_1_s": 1e-15})
    cells = 20
    k, dz = kinetics.conductivity_w_m_k, depth_m / cells
    g = np.full(cells, k / dz)
    g[-1] = 0.0
    groom, power = np.zeros(cells), np.zeros(cells)
    held = 1e4
    groom[[0, -1]] = held
    power[0] = held * (floor_k - top_k)
    nothing = np.zeros(cells)
    grid = Grid(
        shape=(cells, 1, 1),
        capacity=np.full(cells, kinetics.density_kg_m3 * kinetics.heat_capacity_j_kg_k * dz),
        heat=nothing,
        kind=np.zeros(cells, np.int64),
        kinetics=kinetics_row(kinetics).reshape(1, -1),
        gz=g,
        gy=nothing,
        gx=nothing,
        groom=groom,
        layer=np.zeros(cells, np.int64),
        tops=np.array([cells - 1]),
        power=power,
        reach=np.array([[depth_m, 0.0, 1.0]]) if stirs else np.zeros((1, 3)),
    )
    return grid, k


def flux(grid: Grid, k: float, top_k: float) -> tuple[float, np.ndarray]:
    """What goes up through the upper half once it is steady [W/m2], and the temperatures."""
    done = march(grid, np.full(grid.cells, top_k), np.zeros(grid.cells), Room((top_k,)), 0.0, 5e5)
    return float(grid.groom[-1] * (done.t[-1] - top_k)), done.t


def test_a_layer_warm_below_carries_what_the_correlation_says():
    """An independent sum: the steady flux against Nu of the temperatures it came to rest at."""
    depth, top_k = 0.05, 296.15
    grid, k = inert(top_k + 12, top_k, depth, stirs=True)
    carried, t = flux(grid, k, top_k)
    over, kinetics = t[0] - t[-1], SLOW
    eta = viscosity(kinetics, 0.0, (t[0] + t[-1]) / 2)
    rayleigh = (
        9.81
        * 5.5e-4
        * over
        * depth**3
        * kinetics.density_kg_m3**2
        * kinetics.heat_capacity_j_kg_k
        / (eta * k)
    )
    nu = 1 + 1.44 * (1 - 1708 / rayleigh) + (rayleigh / 5830) ** (1 / 3) - 1
    between = depth * (grid.cells - 1) / grid.cells  # of the first cell's middle and the last one's
    assert rayleigh > 5e4 and carried == pytest.approx(nu * k * over / between, rel=0.02)
    at_rest, _ = flux(*inert(top_k + 12, top_k, depth, stirs=False), top_k)
    assert carried > 3 * at_rest


def test_a_layer_warm_on_top_is_at_rest():
    grid, k = inert(296.15 - 10, 296.15, 0.05, stirs=True)
    carried, t = flux(grid, k, 296.15)
    still, t_still = flux(*inert(296.15 - 10, 296.15, 0.05, stirs=False), 296.15)
    assert carried == pytest.approx(still, rel=1e-9) and np.allclose(t, t_still)


def poured(depth_m: float, *, stirs: bool, body: Body | None = None, **more) -> March:
    around = Surround(wall_m=0.018 if body else 0.0)
    stack = Stack(body=body or Body.wide(), surround=around, room=Room.steady(23.0))
    cast = Cast(from_m=0.0, to_m=depth_m, kinetics=SLOW, stirs=float(stirs), **more)
    return stack.pour(cast).wait(4 * 86400.0)[1]


@pytest.mark.parametrize("body", [None, box(0.3, 0.06), box(0.08, 0.08)])
def test_it_is_never_hotter_for_it_and_cures_all_the_same(body):
    for depth in (0.02, 0.04, 0.05, 0.06, 0.09):
        still, stirred = (poured(depth, stirs=one, body=body) for one in (False, True))
        assert stirred.peak(0)[0] <= still.peak(0)[0] + 0.3
        assert (stirred.watched[:, 0, kernel.STIRRED] >= 1).all()
        assert (still.watched[:, 0, kernel.STIRRED] == 1).all()
    assert still.peak(0)[0] - stirred.peak(0)[0] > (5 if body is None else 1)


def test_a_layer_of_a_tapered_form_stirs_between_its_own_walls():
    """Half the width at its middle, by hand: 40 mm wide below and 1 mm more each mm up, layers of 20 mm."""
    body = Body(
        width=lambda h: 0.04 + h, area=lambda h: 0.3 * (0.04 + h), wetted=lambda h: 0.7 * h, tall_m=0.06
    )
    casts = tuple(
        Cast(from_m=i * 0.02, to_m=(i + 1) * 0.02, kinetics=SLOW, stirs=stirs)
        for i, stirs in enumerate((1.0, 0.0, 2.0))
    )
    assert reach_of(body, casts) == pytest.approx(
        np.array([[0.02, 0.025, 1.0], [0.0, 0.0, 0.0], [0.02, 0.045, 2.0]])
    )
    assert reach_of(Body.wide(), casts)[:, 1] == pytest.approx(0.0)


def test_what_has_gelled_is_at_rest():
    done = poured(0.06, stirs=True)
    gelled = done.watched[:, 0, kernel.MOST_CURED] >= SLOW.gel
    assert done.watched[~gelled, 0, kernel.STIRRED].max() > 2
    assert (done.watched[1:, 0, kernel.STIRRED][gelled[:-1]] == 1).all()
    still, stirred = (poured(0.04, stirs=one, conversion=SLOW.gel + 0.01) for one in (False, True))
    assert np.array_equal(still.t, stirred.t)


def test_thick_resin_hardly_stirs_itself():
    """A hundredfold viscosity: the peak at rest, within a kelvin."""
    around, room = Surround(), Room.steady(23.0)
    thick = SLOW.model_copy(update={"viscosity_23_pa_s": SLOW.viscosity_23_pa_s * 100})
    peaks = [
        Stack(body=Body.wide(), surround=around, room=room)
        .pour(Cast(from_m=0.0, to_m=0.05, kinetics=thick, stirs=float(stirs)))
        .wait(4 * 86400.0)[1]
        .peak(0)[0]
        for stirs in (False, True)
    ]
    assert peaks[1] == pytest.approx(peaks[0], abs=1.0)


def test_smaller_steps_and_fewer_cells_tell_the_same():
    """Its way there by steps is no part of the answer."""
    stack = Stack(body=Body.wide(), surround=Surround(), room=Room.steady(23.0))
    cast = Cast(from_m=0.0, to_m=0.05, kinetics=SLOW, stirs=1.0)
    usual = stack.pour(cast).wait(3 * 86400.0)[1].peak(0)[0]
    finer = replace(stack, tolerance_k=0.01).pour(cast).wait(3 * 86400.0)[1].peak(0)[0]
    coarse = stack.pour(replace(cast, is_coarse=True)).wait(3 * 86400.0)[1].peak(0)[0]
    assert usual == pytest.approx(finer, abs=0.7) and coarse == pytest.approx(usual, abs=2.5)


def test_heat_that_is_made_is_kept_or_given_off():
    """No heat is lost or won on the way: in a body that gives nothing off, the rise is H a / cp."""
    around = Surround(
        wall_m=0.0, floor_m=0.0, top_w_m2k=1e-9, floor="plastic", stands_on="bench", underside_times=1e-9
    )
    stack = Stack(body=Body.wide(), surround=around, room=Room.steady(23.0))
    done = stack.pour(Cast(from_m=0.0, to_m=0.06, kinetics=SLOW, stirs=1.0)).wait(2 * 86400.0)[0]
    made = SLOW.heat_j_kg * done.a.mean() / SLOW.heat_capacity_j_kg_k
    assert done.t.mean() - 296.15 == pytest.approx(made, rel=0.01)
