"""Reading a coupon by its picture: proposed mark by mark, and nothing counted that a person has not seen."""

from __future__ import annotations

import json
from datetime import datetime, timedelta

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.reading.picture.contract import MARGIN_MM, STRAIGHT_PX, TOO_TALL
from ...store.calibrate import calibrations as store
from ...store.reading import pictures
from ...store.rows import insert, update
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, present
from .photos import LIMIT_BYTES, insert_cleaned
from .picture_file import FileRead, read_coupon
from .readings import PICTURED, CouponView, coupon

SLOWEST_S = 60.0
"""A picture takes three to ten seconds; a machine that is busy, or slow, several times that."""
LATEST_ZONE_H = 14
"""A camera's clock has no zone: it may be this far from ours."""
LEAST_DPI, MOST_DPI = 150.0, 4800.0
SCANNER_DPI = (300, 600, 1200, 2400)
"""Resolutions of flatbed scanners that a person chooses from, dots per inch."""


class ScanInput(Contract):
    """What somebody confirms about a scan."""

    scanner_dpi: float | None = Field(
        None,
        ge=LEAST_DPI,
        le=MOST_DPI,
        description="Resolution of the scanner, dots per inch: sizes are then true to scale",
    )


def read(work: UnitOfWork, id_or_code: str, content: bytes, scanner_dpi: float | None = None) -> CouponView:
    """Read a picture of a coupon and keep what was seen, to be confirmed.

    Parameters
    ----------
    content : bytes
        A JPEG or PNG with this coupon in it.
    scanner_dpi : float, optional
        Of a scan whose resolution somebody confirms: its sizes are then true to scale.

    Raises
    ------
    Conflict
        When the coupon is lost or not printed yet.
    Problem
        When the picture cannot be read, or shows something else; nothing is kept.
    """
    if len(content) > LIMIT_BYTES:
        raise _refused(f"The picture is larger than {LIMIT_BYTES // 1_000_000} MB. Take it at a lower resolution.")
    row = present(store.coupon(work.db, id_or_code), "coupon")
    _check(row, scanner_dpi)
    design = present(store.design(work.db, row.design_id), "design")
    file_read = apart.run(
        read_coupon, content, design.kind, design.parameters, row.code, scanner_dpi, field="picture", seconds=SLOWEST_S
    )
    check_taken(file_read.stated.taken_at, row)
    with work.write() as answer:
        row = present(store.coupon(work.db, id_or_code), "coupon")
        _check(row, scanner_dpi)
        keep_read(work, row, file_read, scanner_dpi)
        return answer(coupon(work, row.id))


def discard(work: UnitOfWork, picture_id: str) -> CouponView:
    """Leave a picture unconfirmed for good; its photo stays with the coupon.

    Raises
    ------
    Conflict
        When it was confirmed already.
    """
    with work.write() as answer:
        picture = present(pictures.picture(work.db, picture_id), "picture")
        if picture.reading_id is not None:
            raise Conflict("This picture was confirmed already: its reading can be corrected or withdrawn.")
        update(work.db, "picture_reading", picture_id, discarded_at=work.now())
        return answer(coupon(work, picture.coupon_id))


def straight(work: UnitOfWork, picture_id: str) -> bytes:
    """The coupon laid straight, as JPEG."""
    return present(pictures.straight(work.db, picture_id), "picture")


def _check(row: store.CouponRow, scanner_dpi: float | None) -> None:
    if row.gone_at is not None:
        raise Conflict(f"Coupon {row.code} is gone ({row.gone_reason}).")
    if row.status != "printed":
        raise Conflict(f"Coupon {row.code} is not printed yet. Mark its print as done first.")
    if row.kind not in PICTURED:
        raise Conflict(f"Pictures are read of the {' and the '.join(PICTURED)} coupon. Keep this one as a photo.")
    if scanner_dpi is None and PICTURED[row.kind] == "scan":
        raise _refused(TOO_TALL)


def check_taken(taken_at: str | None, row: store.CouponRow) -> None:
    """Refuse a picture that is older than its print: it shows another coupon.

    Raises
    ------
    Problem
        With the day the camera says.
    """
    if taken_at is None or row.printed_at is None:
        return
    try:
        taken = datetime.strptime(taken_at, "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return
    printed = datetime.fromisoformat(row.printed_at).replace(tzinfo=None)
    if taken + timedelta(hours=LATEST_ZONE_H) < printed:
        raise _refused(
            f"The camera says this picture was taken on {taken:%-d %B %Y}, before coupon {row.code} was printed. "
            "Choose the right picture; if the camera's clock is wrong, set it and take the picture again."
        )


def keep_read(work: UnitOfWork, row: store.CouponRow, file_read: FileRead, scanner_dpi: float | None) -> None:
    """Keep what a picture shows, in the place of one that waits; in the transaction that is open."""
    earlier = pictures.waiting(work.db, row.id)
    if earlier is not None:
        update(work.db, "picture_reading", earlier.id, discarded_at=work.now())
    picture_id = work.new_id()
    insert(
        work.db,
        "picture_reading",
        id=picture_id,
        coupon_id=row.id,
        photo_id=insert_cleaned(work, *file_read.photo, coupon_id=row.id),
        straight=file_read.straight,
        straight_px_per_mm=STRAIGHT_PX,
        margin_mm=MARGIN_MM,
        px_per_mm=file_read.coupon["px_per_mm"],
        blur_px=file_read.coupon["blur_px"],
        tilt_deg=file_read.coupon["tilt_deg"],
        scanner_dpi=scanner_dpi,
        notices=json.dumps(file_read.coupon["notices"]),
        technician_id=work.technician().id,
        read_at=work.now(),
    )
    if file_read.stated.camera and scanner_dpi is None:
        insert(work.db, "picture_camera", picture_reading_id=picture_id, name=file_read.stated.camera)
    for mark in file_read.coupon["features"]:
        insert(
            work.db,
            "picture_mark",
            picture_reading_id=picture_id,
            feature_key=mark["key"],
            state=mark["state"],
            size_mm=mark["size_mm"],
            sd_um=mark["sd_um"],
            sure=mark["sure"],
            reason=mark["reason"],
        )


def _refused(message: str) -> Problem:
    return Problem(message, {"picture": message})
