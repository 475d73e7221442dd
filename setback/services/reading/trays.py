"""A picture of a whole tray: each coupon of a calibration is found in it by its code, and waits to be confirmed on its own page."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any, Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.reading.picture.hole_code import number_of
from ...store import shelf
from ...store.calibrate import calibrations
from ...store.database import files_beside
from ...store.reading import pictures as store
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .photos import LIMIT_BYTES
from .picture_file import REFUSED, FileRead, TrayCoupon, read_tray
from .pictures import check_taken, keep_read
from .readings import PICTURED, CouponPlan

Progress = Callable[[float, str], None]
SLOWEST_S = 90.0


class TrayOrder(Contract):
    """A tray as it waits in the queue."""

    calibration_id: str
    file_name: str
    scanner_dpi: float | None
    initials: str | None


class TrayLine(View):
    """One coupon of a tray that waits to be confirmed."""

    code: str
    sure: int = Field(description="Marks that are filled in")
    asked: int = Field(description="Marks that are asked")


class TrayResult(View):
    """What came of a picture of a tray."""

    coupons: list[TrayLine] = Field(description="Those that wait to be confirmed")
    others: list[str] = Field(description="What was not read, each with what helps")


def receive(work: UnitOfWork, calibration_id: str, content: bytes, scanner_dpi: float | None) -> TrayOrder:
    """Lay a picture of a tray beside the database, for the job that reads it.

    Raises
    ------
    Conflict
        When no coupon of the calibration can be read by picture yet.
    Problem
        When the file is too large.
    """
    work.technician()
    calibration = present(calibrations.calibration(work.db, calibration_id), "calibration")
    if len(content) > LIMIT_BYTES:
        message = f"The picture is larger than {LIMIT_BYTES // 1_000_000} MB. Take it at a lower resolution."
        raise Problem(message, {"picture": message})
    if not _printed(work, calibration.id):
        raise Conflict(
            f"No printed {' or '.join(PICTURED)} coupon of {calibration.code} is there to be read by picture."
        )
    folder = files_beside(work.db)
    # One that was cut off with the server is read by nobody any more.
    for old in folder.glob("tray-*"):
        if work.clock().timestamp() - old.stat().st_mtime > SLOWEST_S * 10:
            old.unlink(missing_ok=True)
    path = folder / f"tray-{work.new_id()}"
    path.write_bytes(content)
    return TrayOrder(
        calibration_id=calibration.id, file_name=path.name, scanner_dpi=scanner_dpi, initials=work.initials
    )


def run(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Read a tray: whole or not at all."""
    order = TrayOrder.model_validate(request)
    work.initials = order.initials
    path = files_beside(work.db) / order.file_name
    try:
        rows = _printed(work, order.calibration_id)
        designs = {d.id: d for d in calibrations.designs(work.db, sorted({row.design_id for row in rows}))}
        drawings = {
            json.dumps([d.kind, d.parameters], sort_keys=True): (d.kind, d.parameters) for d in designs.values()
        }
        tray = apart.run(
            read_tray,
            path.read_bytes(),
            list(drawings.values()),
            order.scanner_dpi,
            field="picture",
            seconds=SLOWEST_S,
            meanwhile=lambda share: progress(share, "Finding the coupons" if share < 0.45 else "Reading their marks"),
        )
    finally:
        path.unlink(missing_ok=True)
    progress(0.95, "Keeping what was read")
    by_number = {number_of(row.code): row for row in rows}
    answer = TrayResult(coupons=[], others=list(tray.notices))
    read_ids: set[str] = set()
    with work.write():
        for seen in tray.coupons:
            row, problem = _whose(seen, by_number, rows, read_ids)
            if row is not None:
                try:
                    check_taken(tray.stated.taken_at, row)
                except Problem as too_early:
                    row, problem = None, too_early.message
            if row is None:
                answer.others.append(problem)
                continue
            read_ids.add(row.id)
            keep_read(work, row, FileRead(seen.coupon, seen.straight, seen.photo, tray.stated), order.scanner_dpi)
            marks = seen.coupon["features"]
            asked = sum(not mark["sure"] for mark in marks)
            answer.coupons.append(TrayLine(code=row.code, sure=len(marks) - asked, asked=asked))
    return answer.model_dump()


def _whose(
    seen: TrayCoupon,
    by_number: dict[int, calibrations.CouponRow],
    rows: list[calibrations.CouponRow],
    read_ids: set[str],
) -> tuple[calibrations.CouponRow | None, str]:
    """The coupon that was found, or why none can be told."""
    for notice in seen.coupon["notices"]:
        if notice["code"] in REFUSED:
            return None, notice["message"]
    code = seen.coupon["code"]
    if code is None:
        waiting = [row for row in rows if row.kind == seen.coupon["kind"]]
        # Of a kind without holes, the only one there is can be no other.
        if len(waiting) == 1 and waiting[0].id not in read_ids:
            return waiting[0], ""
        return None, "The code of one coupon cannot be read. Open it by its code, and choose its picture there."
    row = by_number.get(int(code))
    if row is None:
        return None, f"Coupon {code} is not one of this calibration’s printed ones. Read it on its own page."
    if row.id in read_ids:
        return None, f"Two coupons carry the code {row.code}. Take one of them away."
    return row, ""


def _printed(work: UnitOfWork, calibration_id: str) -> list[calibrations.CouponRow]:
    arms = [arm.id for arm in calibrations.arms(work.db, calibration_id)]
    return [
        row
        for row in calibrations.coupons(work.db, arms)
        if row.kind in PICTURED and row.status == "printed" and row.gone_at is None
    ]


PictureState = Literal["confirmed", "waiting", "none"]


class LadderCoupon(View):
    """A coupon of the ladder with its straight picture, where there is one."""

    code: str
    exposure_s: float
    arm: str
    picture_id: str | None
    margin_mm: float = Field(description="Ground round the coupon on its picture, mm")
    state: PictureState


class Ladder(View):
    """Coupons of one drawing in order of exposure."""

    title: str
    plan: CouponPlan = Field(description="The drawing all of them share")
    coupons: list[LadderCoupon]


class LadderView(View):
    """The pictures of a calibration."""

    calibration_id: str
    code: str
    material: str
    printer: str
    exposure_step_s: float
    ladders: list[Ladder] = Field(description="By drawing, the one with most coupons first")


def ladder(work: UnitOfWork, calibration_id: str) -> LadderView:
    """Coupons of a calibration beside each other, in order of exposure."""
    calibration = present(calibrations.calibration(work.db, calibration_id), "calibration")
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    arms = {arm.id: arm.name for arm in calibrations.arms(work.db, calibration.id)}
    rows = sorted(_printed(work, calibration.id), key=lambda row: (row.exposure_s, row.number))
    newest = store.newest_of(work.db, [row.id for row in rows])
    designs = {d.id: d for d in calibrations.designs(work.db, sorted({row.design_id for row in rows}))}
    ladders = [
        Ladder(
            title=design.plan["title"],
            plan=CouponPlan.model_validate(design.plan),
            coupons=[
                LadderCoupon(
                    code=row.code,
                    exposure_s=row.exposure_s,
                    arm=arms[row.arm_id],
                    picture_id=newest[row.id].id if row.id in newest else None,
                    margin_mm=newest[row.id].margin_mm if row.id in newest else 0.0,
                    state=_state(newest.get(row.id)),
                )
                for row in rows
                if row.design_id == design.id
            ],
        )
        for design in designs.values()
    ]
    return LadderView(
        calibration_id=calibration.id,
        code=calibration.code,
        material=calibration.material,
        printer=calibration.printer,
        exposure_step_s=printer.exposure_step_s,
        ladders=sorted(ladders, key=lambda rungs: -len(rungs.coupons)),
    )


def _state(picture: store.PictureReading | None) -> PictureState:
    if picture is None:
        return "none"
    return "confirmed" if picture.reading_id else "waiting"
