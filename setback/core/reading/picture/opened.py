"""A picture file from outside, opened: checked, turned upright, as grey values, with the resolution it states."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import numpy as np

from ...contract import Problem
from ...pictures import MOST_PIXELS
from .contract import Bytes, Grey

LONGEST_PX = 9000
LEAST_PX = 200
SEARCH_PX = 1100
"""The picture is searched for coupons at this length."""
HEIC = (b"ftypheic", b"ftypheix", b"ftypmif1", b"ftyphevc", b"ftypavif")
MM_PER_INCH = 25.4


@dataclass(frozen=True)
class Opened:
    """Grey values from 0 to 255, which pixels are drowned in light, and what the file says of its resolution."""

    grey: Grey
    drowned: Bytes
    """255 where the picture is drowned in light."""
    small: Grey
    """The same in colour, red, green, blue, small enough to be searched."""
    dpi: float | None

    @property
    def size(self) -> tuple[int, int]:
        """Width and height, px."""
        return self.grey.shape[1], self.grey.shape[0]


def opened(content: bytes) -> Opened:
    """Open a JPEG or PNG.

    Raises
    ------
    Problem
        Under ``picture``: no picture, HEIC, too large or too small; with what to do.
    """
    import cv2
    from PIL import Image, ImageOps, UnidentifiedImageError

    if content[4:12] in HEIC:
        raise _refused(
            "This is a HEIC picture, which is not taken. Choose JPEG (on a phone: most compatible), or save it as JPEG."
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content), formats=("JPEG", "PNG")) as file:
                pixels = file.width * file.height
                if pixels > MOST_PIXELS:
                    most = MOST_PIXELS // 10**6
                    raise _refused(
                        f"The picture has {pixels / 1e6:.0f} million pixels; up to {most} million are taken. "
                        "Take it at a lower resolution, or scan fewer coupons at once."
                    )
                dpi = file.info.get("dpi")
                upright = ImageOps.exif_transpose(file).convert("RGB")
    except Problem:
        raise
    except Image.DecompressionBombError:
        raise _refused("The picture has hundreds of millions of pixels. Take it at a lower resolution.") from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        raise _refused("This is no picture that can be read. Give a JPEG or PNG.") from None
    if min(upright.size) < LEAST_PX:
        raise _refused(
            f"The picture is only {upright.width} × {upright.height} pixels. Take it nearer, at full resolution."
        )
    if max(upright.size) > LONGEST_PX:
        raise _refused(f"The picture is {max(upright.size)} pixels long; up to {LONGEST_PX} are taken.")
    colours = np.asarray(upright)
    grey = np.asarray(upright.convert("L"), dtype=np.float32)
    stated = float(dpi[0]) if dpi and 50 <= float(dpi[0]) <= 10_000 and abs(float(dpi[0]) - 72) > 0.5 else None
    upright.thumbnail((SEARCH_PX, SEARCH_PX))
    red, green, blue = cv2.split(colours)
    drowned = np.asarray(cv2.inRange(cv2.max(cv2.max(red, green), blue), 252, 255), dtype=np.uint8)
    return Opened(grey, drowned, np.asarray(upright, dtype=np.float32), stated)


def _refused(message: str) -> Problem:
    return Problem(message, {"picture": message})
