"""A coupon cut out of a picture, laid straight, in even light: the same size and light for every coupon, so that they stand beside each other."""

from __future__ import annotations

import io
from collections.abc import Sequence

import cv2
import numpy as np
from PIL import Image, ImageOps

from .contract import MARGIN_MM, STRAIGHT_PX, Grey

QUALITY = 85
BROAD_MM = 8.0
"""Light that changes over more than this is the lamp's, not the coupon's."""
MOST_LIGHTER, MOST_CONTRAST = 1.9, 2.0
ROOM = 0.04
"""Ground round a coupon that is cut out of a picture, as a share of its length."""
DARK, BRIGHT = 45.0, 210.0
"""Where the darkest and brightest twentieth of a picture come to lie."""


def laid_straight(
    content: bytes, corners_px: Sequence[tuple[float, float]], width_mm: float, height_mm: float
) -> bytes:
    """The coupon laid straight, in even light, as JPEG.

    Parameters
    ----------
    content : bytes
        The picture file.
    corners_px : sequence of four (x, y)
        The coupon's corners in the picture, from the drawing's upper left clockwise.
    width_mm, height_mm : float
        Of the coupon; the answer has ``MARGIN_MM`` of ground round it and ``STRAIGHT_PX`` pixels per millimetre.
    """
    ends = np.array([(0, 0), (width_mm, 0), (width_mm, height_mm), (0, height_mm)], dtype=np.float32)
    ends = (ends + MARGIN_MM) * STRAIGHT_PX
    size = (round((width_mm + 2 * MARGIN_MM) * STRAIGHT_PX), round((height_mm + 2 * MARGIN_MM) * STRAIGHT_PX))
    corners = np.array(corners_px, dtype=np.float32)
    px_per_mm = float(np.linalg.norm(corners[1] - corners[0])) / width_mm
    with Image.open(io.BytesIO(content)) as file:
        whole = file.width
        # A JPEG can be read at a half or a quarter, much faster; no finer than it is shown is needed.
        less = max(int(px_per_mm / STRAIGHT_PX), 1)
        file.draft("RGB", (file.width // less, file.height // less))
        shrunk = file.width / whole
        colours = np.asarray(ImageOps.exif_transpose(file).convert("RGB"))
    to_straight = cv2.getPerspectiveTransform(corners * shrunk, ends.astype(np.float32))
    pixels = cv2.warpPerspective(colours, to_straight, size, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE)
    out = io.BytesIO()
    Image.fromarray(_evened(pixels)).save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def cut_out(content: bytes, corners_px: Sequence[tuple[float, float]]) -> bytes:
    """The part of a picture that one coupon takes, with some ground, as JPEG."""
    with Image.open(io.BytesIO(content)) as file:
        upright = ImageOps.exif_transpose(file).convert("RGB")
    corners = np.array(corners_px)
    (left, top), (right, bottom) = corners.min(axis=0), corners.max(axis=0)
    room = ROOM * max(right - left, bottom - top)
    part = upright.crop(
        (
            max(int(left - room), 0),
            max(int(top - room), 0),
            min(int(right + room), upright.width),
            min(int(bottom + room), upright.height),
        )
    )
    out = io.BytesIO()
    part.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def _evened(pixels: Grey) -> Grey:
    """Without the slope of the light, and with the same darkest and brightest parts in every picture; colours stay."""
    grey = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32)
    shrunk = cv2.resize(grey, None, fx=1 / 8, fy=1 / 8, interpolation=cv2.INTER_AREA)
    broad = cv2.GaussianBlur(shrunk, (0, 0), BROAD_MM * STRAIGHT_PX / 8, borderType=cv2.BORDER_REFLECT)
    light = cv2.resize(broad, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    lighter = np.clip(float(np.median(light)) / np.maximum(light, 1), 1 / MOST_LIGHTER, MOST_LIGHTER)
    dark, bright = np.percentile(grey * lighter, (5, 95))
    contrast = min((BRIGHT - DARK) / max(bright - dark, 1.0), MOST_CONTRAST)
    middle, at = (dark + bright) / 2, (DARK + BRIGHT) / 2
    even = (pixels * lighter[..., None] - middle) * contrast + at
    return np.asarray(np.clip(even, 0, 255).astype(np.uint8))
