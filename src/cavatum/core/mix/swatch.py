"""A swatch's colour from a photo with a grey patch of known lightness in it, and how far two swatches are
apart. Rule 5.6.
"""

from __future__ import annotations

import math

import numpy as np

from ..common.errors import DomainError

PATCH = 0.18  # luminance of the printed patch's middle grey against paper white; printed sRGB 118
# a difference that is just seen, CIELAB. Mahy, Van Eycken and Oosterlinck, Color Res. Appl. 19 (1994), from
# memory
SEEN = 2.3
# Linear sRGB to XYZ, IEC 61966-2-1; D65 white is the sum of each row.
_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
BURNT_MOST = 0.02  # own judgement: of a field's pixels at an end of the scale, where they tell nothing
ENDS = (3, 252)  # of 255: a pixel beyond is cut off, JPEG's ringing allowed for
Lab = tuple[float, float, float]


def linear(srgb: np.ndarray) -> np.ndarray:
    """sRGB to linear light, both 0 to 1 without a unit, any shape.

        c / 12.92 up to 0.04045, else ((c + 0.055) / 1.055)^2.4

    srgb  each 0 to 1
    Raises nothing. Exact. Source: IEC 61966-2-1.
    """
    return np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)


def burnt_share(srgb: np.ndarray, *, is_patch: bool) -> float:
    """Share of pixels with a channel cut off at white, of a patch also at black; a dark swatch may be black.

    srgb  shape (n, 3), 0 to 255, without a unit
    Raises nothing. Exact. Source: own.
    """
    cut = (srgb > ENDS[1]).any(axis=1)
    if is_patch:
        cut |= (srgb < ENDS[0]).any(axis=1)
    return float(cut.mean())


def lab_of(linear_rgb: np.ndarray) -> Lab:
    """CIELAB (D65) of linear sRGB, shape (3,). Source: CIE 15."""
    ratio = (_XYZ @ linear_rgb) / _XYZ.sum(axis=1)
    f = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio / (3 * (6 / 29) ** 2) + 4 / 29)
    return float(116 * f[1] - 16), float(500 * (f[0] - f[1])), float(200 * (f[1] - f[2]))


def corrected(
    swatch: np.ndarray, patch: np.ndarray, burnt: tuple[float, float] = (0.0, 0.0)
) -> tuple[Lab, str, float]:
    """The swatch's CIELAB as if the patch were the grey it is printed as, its tint for the screen, and how
    far the photo's patch was off (CIEDE2000).

    swatch, patch  mean linear sRGB of the two fields, shape (3,), 0 to 1, without a unit
    burnt          share of each field's pixels with a channel at its end (white; for the patch black too),
    0..1:
                   where some are, a mean that looks sound is not
    Each channel is multiplied so that the patch comes out at PATCH.
    Raises DomainError for a patch that is burnt out or black, or either field with over BURNT_MOST of its
    pixels so: then the photo tells nothing.
    Valid for one even light on both; it takes out its colour and strength, not its shadows or gloss.
    Source: own, the scaling of each channel that a grey card is used for (von Kries 1902).
    """
    if patch.min() < 0.01 or patch.max() > 0.9:
        raise DomainError(
            argument="grey patch",
            value=f"{patch.max():.0%} bright",
            allowed="it is neither burnt out nor black in the photo",
            way_out="Take the photo again in even, softer light.",
            code="patch",
        )
    for name, share in zip(("swatch", "grey patch"), burnt, strict=True):
        if share > BURNT_MOST:
            raise DomainError(
                argument=name,
                value=f"burnt out or black in {share:.0%} of its pixels",
                allowed=f"at most {BURNT_MOST:.0%} of them are",
                way_out="Take the photo again in even, softer light, or draw the field where nothing shines.",
                code="clipped",
            )
    as_printed = np.full(3, PATCH)
    under_it = swatch * as_printed / patch
    return lab_of(under_it), _tint(under_it), difference(lab_of(patch), lab_of(as_printed))


def _tint(light: np.ndarray) -> str:
    """sRGB as #RRGGBB; what a screen cannot show is cut to what it can, for show only."""
    within = np.clip(light, 0.0, 1.0)
    srgb = np.where(within <= 0.0031308, 12.92 * within, 1.055 * within ** (1 / 2.4) - 0.055)
    return "#" + "".join(f"{round(float(one) * 255):02X}" for one in srgb)


def difference(one: Lab, other: Lab) -> float:
    """Difference of two colours in CIEDE2000, without a unit (about 1 is just seen), with kL = kC = kH = 1.

    one, other  CIELAB (D65), L 0..100
    Raises nothing. Valid for small differences, below about 5. Source: Sharma, Wu and Dalal, Color Res.
    Appl. 30 (2005) 21.
    """
    (l1, a1, b1), (l2, a2, b2) = one, other
    middle = (math.hypot(a1, b1) + math.hypot(a2, b2)) / 2
    g = 0.5 * (1 - math.sqrt(middle**7 / (middle**7 + 25**7)))
    a1, a2 = (1 + g) * a1, (1 + g) * a2
    c1, c2 = math.hypot(a1, b1), math.hypot(a2, b2)
    h1, h2 = (math.degrees(math.atan2(b, a)) % 360 for a, b in ((a1, b1), (a2, b2)))
    turn = 0.0 if c1 * c2 == 0 else (h2 - h1 + 180) % 360 - 180
    if c1 * c2 and turn == -180 and h2 > h1:
        turn = 180.0
    dl, dc, dh = l2 - l1, c2 - c1, 2 * math.sqrt(c1 * c2) * math.sin(math.radians(turn / 2))
    light, chroma = (l1 + l2) / 2, (c1 + c2) / 2
    hue = (
        h1 + h2
        if c1 * c2 == 0
        else (h1 + h2) / 2
        if abs(h1 - h2) <= 180
        else (h1 + h2 + 360) / 2
        if h1 + h2 < 360
        else (h1 + h2 - 360) / 2
    )
    t = (
        1
        - 0.17 * math.cos(math.radians(hue - 30))
        + 0.24 * math.cos(math.radians(2 * hue))
        + 0.32 * math.cos(math.radians(3 * hue + 6))
        - 0.20 * math.cos(math.radians(4 * hue - 63))
    )
    sl = 1 + 0.015 * (light - 50) ** 2 / math.sqrt(20 + (light - 50) ** 2)
    sc, sh = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    rt = (
        -2
        * math.sqrt(chroma**7 / (chroma**7 + 25**7))
        * math.sin(math.radians(60 * math.exp(-(((hue - 275) / 25) ** 2))))
    )
    return math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rt * (dc / sc) * (dh / sh))
