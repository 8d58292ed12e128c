"""Photos into pixels: size checked before decoding, turned as the camera says, made small enough to work on.
In the child only.
"""

from __future__ import annotations

import io

import cv2
import numpy as np
from PIL import Image, ImageOps

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly

MOST_PIXELS = 60_000_000
WORKING_SIDE = 2400
FORMATS = ("JPEG", "PNG", "WEBP")


def read_photo(data: bytes, side: int = WORKING_SIDE) -> np.ndarray:
    """BGR picture with its longer side at most `side` pixels: the same pixels that corners and points
    are given in.
    """
    Image.MAX_IMAGE_PIXELS = None  # the check below says it in words
    with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
        pixels = picture.width * picture.height
        if pixels > MOST_PIXELS:
            raise DomainError(
                argument="photo",
                value=f"{pixels / 1e6:.0f} megapixels",
                allowed=f"at most {plainly(MOST_PIXELS / 1e6)} are read",
                way_out="Take or export it smaller; 12 megapixels are plenty.",
                code="too-heavy",
            )
        if min(picture.width, picture.height) < 200:
            raise DomainError(
                argument="photo",
                value=f"{picture.width} × {picture.height} pixels",
                allowed="at least 200 each way are needed",
                way_out="Take it larger.",
                code="too-small",
            )
        if picture.format == "JPEG":
            picture.draft("RGB", (side, side))
        turned = ImageOps.exif_transpose(picture).convert("RGB")
        turned.thumbnail((side, side), Image.Resampling.LANCZOS)
        return cv2.cvtColor(np.asarray(turned), cv2.COLOR_RGB2BGR)


def as_jpeg(picture: np.ndarray, quality: int = 85) -> bytes:
    return cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, quality])[1].tobytes()


MOST_FRAME_PIXELS = 4_000_000


def read_frame(data: bytes) -> np.ndarray:
    """A camera's picture in grey [height, width], as it lies in the file. Raises DomainError."""
    with Image.open(io.BytesIO(data), formats=("JPEG",)) as picture:
        pixels = picture.width * picture.height
        if pixels > MOST_FRAME_PIXELS or min(picture.width, picture.height) < 200:
            raise DomainError(
                argument="picture",
                value=f"{picture.width} × {picture.height} pixels",
                allowed="at least 200 each way and at most 4 megapixels are looked at",
                way_out="Choose another size in the camera.",
                code="too-heavy",
            )
        return np.asarray(picture.convert("L"))
