"""How resin shrinks: while it is liquid its level falls; once it has gelled it pulls. Rules 2.3, 4.2.

Coefficients of expansion of unfilled epoxies and polyurethanes, from memory: 50 to 80 ppm/K as a glass, 150
to 200 ppm/K as a rubber, 5 to 6 x 10^-4 /K by volume as a liquid.
"""

from __future__ import annotations

GLASS_PER_K, RUBBER_PER_K = 65e-6, 180e-6
LIQUID_VOLUME_PER_K = 5.5e-4


def cure_strain(shrinkage: float, from_a: float, to_a: float) -> float:
    """Linear strain of a free body that cures on.

        1 - ((1 - s a2) / (1 - s a1))^(1/3)

    shrinkage  s by volume of the whole reaction, 0 <= s < 1;  from_a, to_a  conversions [-], 0 <= from_a <=
               to_a <= 1
    Raises nothing. Valid as volume falls in proportion to the conversion, which is found for epoxies within a
    tenth. Source: geometry.
    """
    return 1 - float(((1 - shrinkage * to_a) / (1 - shrinkage * from_a)) ** (1 / 3))


def cooling_strain(hot_k: float, tg_k: float, room_k: float) -> float:
    """Linear strain of a free body that cools from its hottest to the room.

        alpha_r (T - max(Tg, T_room))+ + alpha_g (min(T, Tg) - T_room)+

    hot_k, tg_k, room_k  [K];  ()+  nothing where negative
    Raises nothing. Valid for unfilled resin within a quarter. Source: thermal expansion on both sides of the
    glass transition.
    """
    rubber = max(hot_k - max(tg_k, room_k), 0.0)
    glass = max(min(hot_k, tg_k) - room_k, 0.0)
    return RUBBER_PER_K * rubber + GLASS_PER_K * glass


def drop_share(shrinkage: float, to_a: float, poured_k: float, room_k: float) -> float:
    """Share of its depth by which a fill between walls that hold it falls, from poured to cold.

        1 - (1 - s a) (1 - beta (T_poured - T_room))

    shrinkage  s by volume of the whole reaction;  to_a  conversion reached [-];  poured_k, room_k  [K]
    Raises nothing. Valid where the walls hold and all goes into depth; s is measured at one temperature, so
    the liquid cools first and cures then, whatever it did really. Source: volume balance.
    """
    return 1 - (1 - shrinkage * to_a) * (1 - LIQUID_VOLUME_PER_K * (poured_k - room_k))
