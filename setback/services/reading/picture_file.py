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
from .. import apart

FLOOR_MM = 0.35
"""Of a coupon of which only kind and pixel are known; a picture does not show it."""
REFUSED = ("mirrored", "half-outside", "wrong-resolution")
"""Of a coupon: what keeps it from being read at all."""
EXIF, TAKEN, MODEL = 0x8769, 36867, 272
"""Places in a file of what its camera wrote: when it took the picture by its own clock, and which it is."""


class Stated(NamedTuple):
    """What a camera says of its picture."""

    taken_at: str | None
    """By its clock, without a zone."""
    camera: str | None


class FileRead(NamedTuple):
    """A picture file with one coupon of it chosen."""

    coupon: dict[str, Any]
    straight: bytes
    photo: tuple[bytes, int, int]
    stated: Stated


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
    return FileRead(chosen.model_dump(), straight, cleaned(content), stated(content))


class TrayCoupon(NamedTuple):
    """One coupon of a tray: what was read, the coupon laid straight, and its own part of the picture."""

    coupon: dict[str, Any]
    drawing: int
    straight: bytes
    photo: tuple[bytes, int, int]


class TrayRead(NamedTuple):
    """A picture of a whole tray."""

    coupons: list[TrayCoupon]
    notices: list[str]
    stated: Stated


def read_tray(content: bytes, drawings: Sequence[tuple[str, dict[str, Any]]], dpi: float | None) -> TrayRead:
    """Every coupon of a picture, held against drawings given by kind and parameters; in a child, which reports how far it is.

    Raises
    ------
    Problem
        When the file is no picture that can be read.
    """
    from ...core.reading.picture.laid import cut_out, laid_straight
    from ...core.reading.picture.opened import opened
    from ...core.reading.picture.read import read_picture

    coupons = [drawn(kind, parameters) for kind, parameters in drawings]
    reading = read_picture(
        opened(content),
        [for_picture(coupon) for coupon in coupons],
        dpi=dpi,
        progress=lambda share: apart.report(0.9 * share),
    )
    answers = []
    for seen in reading.coupons:
        number = next(
            i
            for i, coupon in enumerate(coupons)
            if (coupon.kind, coupon.parameters.get("design", 1)) == (seen.kind, seen.design)
        )
        corners, coupon = seen.outline.corners_px, coupons[number]
        straight = laid_straight(content, corners, coupon.width_mm, coupon.height_mm)
        answers.append(TrayCoupon(seen.model_dump(), number, straight, cleaned(cut_out(content, corners))))
    return TrayRead(answers, [notice.message for notice in reading.notices], stated(content))


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
        if notice.code in REFUSED:
            raise _refused(notice.message)
    return chosen


def stated(content: bytes) -> Stated:
    """What a camera wrote into its file; nothing of it is believed but what a person can check."""
    from PIL import Image

    try:
        with Image.open(io.BytesIO(content)) as file:
            notes = file.getexif()
            taken, camera = notes.get_ifd(EXIF).get(TAKEN), notes.get(MODEL)
    except (OSError, ValueError, SyntaxError):
        return Stated(None, None)
    name = "".join(letter for letter in str(camera or "") if letter.isprintable()).strip()[:60]
    return Stated(str(taken)[:19] if taken else None, name or None)


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
