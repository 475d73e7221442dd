"""The reading of a picture file, in a child: what is in it, and the coupon laid straight."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any, NamedTuple

from ...core.contract import Contract, Problem
from ...core.pictures import cleaned
from ...core.reading.picture.contract import PictureReading, ReadCoupon
from ...core.reading.picture.hole_code import number_of
from ...coupon import NEWEST, drawn
from ...coupon.for_picture import for_picture
from ...store.codes import check_letter

FLOOR_MM = 0.35
"""Of a coupon of which only kind and pixel are known; a picture does not show it."""
TAKEN = 36867
"""Of EXIF: when a camera took the picture, by its own clock."""


class FileRead(NamedTuple):
    """A picture file with one coupon of it chosen."""

    coupon: dict[str, Any]
    straight: bytes
    photo: tuple[bytes, int, int]
    taken_at: str | None
    """By the camera's clock, without a zone."""


def read_file(
    content: bytes, drawings: Sequence[tuple[str, dict[str, Any]]], dpi: float | None = None, code: str = ""
) -> PictureReading:
    """Everything in a picture, held against coupons given by kind and parameters, and by the code that is expected.

    Raises
    ------
    Problem
        When the file is no picture that can be read.
    """
    from ...core.reading.picture.opened import opened
    from ...core.reading.picture.read import read_picture

    return read_picture(
        opened(content), [for_picture(drawn(kind, parameters), code) for kind, parameters in drawings], dpi=dpi
    )


def read_coupon(content: bytes, kind: str, parameters: dict[str, Any], code: str, dpi: float | None) -> FileRead:
    """One coupon of a picture: the one with a code, or the only one where its design has none to be read.

    Raises
    ------
    Problem
        Under ``picture``: nothing was found, another coupon, a mirror image, two of one code, a part outside; with what helps.
    """
    from ...core.reading.picture.laid import laid_straight

    reading = read_file(content, [(kind, parameters)], dpi, code)
    chosen = _chosen(reading, code)
    coupon = drawn(kind, parameters)
    straight = laid_straight(content, chosen.outline.corners_px, coupon.width_mm, coupon.height_mm)
    return FileRead(chosen.model_dump(), straight, cleaned(content), _taken_at(content))


def _chosen(reading: PictureReading, code: str) -> ReadCoupon:
    """The coupon that is meant."""
    faults = [notice for notice in reading.notices if notice.code in ("nothing-found", "same-code")]
    if faults:
        raise _refused(faults[0].message)
    number = str(number_of(code))
    coded = [coupon for coupon in reading.coupons if coupon.code is not None]
    right = [coupon for coupon in coded if coupon.code == number]
    uncoded = [coupon for coupon in reading.coupons if coupon.code is None]
    if right:
        chosen = right[0]
    elif coded and not uncoded:
        others = ", ".join(sorted(coupon.code or "" for coupon in coded))
        raise _refused(f"This picture shows coupon {others}, not {code}. Open that coupon, or choose another picture.")
    elif len(uncoded) > 1:
        raise _refused(
            f"{len(uncoded)} coupons are in the picture and the code of {code} cannot be read on any. Take it alone."
        )
    else:
        chosen = uncoded[0]
    for notice in chosen.notices:
        if notice.code in ("mirrored", "half-outside"):
            raise _refused(notice.message)
    return chosen


def _taken_at(content: bytes) -> str | None:
    """When the camera says the picture was taken."""
    from PIL import Image

    try:
        with Image.open(io.BytesIO(content)) as file:
            stated = file.getexif().get_ifd(0x8769).get(TAKEN)
    except (OSError, ValueError, SyntaxError):
        return None
    return str(stated)[:19] if stated else None


def _refused(message: str) -> Problem:
    return Problem(message, {"picture": message})


class FromCommandLine(Contract):
    """What ``setback read`` says of the coupons in a picture."""

    kind: str
    pixel_um: float
    design: int | None = None
    code: str | None = None
    dpi: float | None = None


def read_for_command_line(content: bytes, request: FromCommandLine) -> PictureReading:
    """A picture read without a lab: against the drawing that kind, pixel and design say. Codes carry their check letter.

    Raises
    ------
    Problem
        When the file is no picture, or there is no such design.
    """
    newest = NEWEST.get(request.kind, 1)
    if request.design is not None and request.design > newest:
        message = f"The newest design of the {request.kind} coupon is {newest}."
        raise Problem(message, {"design": message})
    parameters: dict[str, Any] = {"pixel_mm": request.pixel_um / 1000, "floor_mm": FLOOR_MM}
    designs = [request.design] if request.design else range(1, newest + 1)
    drawings = [(request.kind, parameters | ({"design": design} if design > 1 else {})) for design in designs]
    reading = read_file(content, drawings, request.dpi, request.code or "")
    for coupon in reading.coupons:
        coupon.code = f"{coupon.code}{check_letter(int(coupon.code))}" if coupon.code else request.code
    return reading


def in_words(reading: PictureReading) -> str:
    """A reading for the eye: a line for each coupon and each of its marks."""
    lines = [notice.message for notice in reading.notices]
    for coupon in reading.coupons:
        lines.append(
            f"{coupon.code or 'no code'}: {coupon.kind}, design {coupon.design}, {coupon.px_per_mm:.1f} px/mm, "
            f"blur {coupon.blur_px:.1f} px, {coupon.tilt_deg:.0f}° aslant"
        )
        lines += [f"  {notice.message}" for notice in coupon.notices]
        for mark in coupon.features:
            size = (
                f"{mark.size_mm:.3f} ± {2 * (mark.sd_um or 0) / 1000:.3f} mm"
                if mark.size_mm is not None
                else mark.state
            )
            lines.append(f"  {mark.key:16}{size or 'not told'}" + (f"  unsure: {mark.reason}" if mark.reason else ""))
    return "\n".join(lines)
