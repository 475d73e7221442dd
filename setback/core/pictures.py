"""Pictures from outside, as small upright JPEGs without anything but their pixels."""

from __future__ import annotations

import io
import warnings

from .contract import Problem

LONGEST_PX = 2000
MOST_PIXELS = 60_000_000
"""Before a picture is unpacked: a file of ten kilobytes can hold a billion of them."""
QUALITY = 88


def cleaned(content: bytes) -> tuple[bytes, int, int]:
    """A picture turned upright, at most 2000 pixels long, as JPEG, with its width and height.

    Text, comments, places, profiles and thumbnails in the file are left behind.

    Raises
    ------
    Problem
        When it is no JPEG, PNG or WebP that can be read, or has more pixels than are taken.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP")) as opened:
                pixels = opened.width * opened.height
                if pixels > MOST_PIXELS:
                    raise _too_many_pixels(f"{pixels / 1e6:.0f} million pixels")
                opened.draft("RGB", (LONGEST_PX, LONGEST_PX))
                upright = ImageOps.exif_transpose(opened).convert("RGB")
    except Problem:
        raise
    except Image.DecompressionBombError:
        raise _too_many_pixels("hundreds of million pixels") from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        message = "This is no picture that can be read. Give a JPEG, PNG or WebP photo."
        raise Problem(message, {"photo": message}) from None
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    upright.info.clear()
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=QUALITY)
    return out.getvalue(), upright.width, upright.height


def _too_many_pixels(count: str) -> Problem:
    most = MOST_PIXELS // 10**6
    message = f"The picture has {count}; up to {most} million are taken. Take it at a lower resolution."
    return Problem(message, {"photo": message})
