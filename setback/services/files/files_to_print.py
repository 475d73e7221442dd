"""Everything of an arm that waits to be printed, in one archive: nobody fetches five files one by one."""

from __future__ import annotations

import io
import zipfile

from ...core.contract import Problem
from ...store.calibrate import calibrations as store
from ..unit_of_work import Conflict, UnitOfWork, present
from .coupon_files import Format, Made, of_coupon, of_print


def waiting(work: UnitOfWork, calibration_id: str, arm_number: int, file_format: Format) -> Made:
    """The files of all planned prints of an arm: a coupon that stands alone as asked for, a whole plate as its masks.

    Raises
    ------
    Conflict
        When nothing waits, or its printer is retired.
    """
    calibration = present(store.calibration(work.db, calibration_id), "calibration")
    arm = next((arm_row for arm_row in store.arms(work.db, calibration_id) if arm_row.number == arm_number), None)
    if arm is None:
        message = f"{calibration.code} has no arm {arm_number}."
        raise Problem(message, {"arm": message})
    rows = [row for row in store.coupons(work.db, [arm.id]) if row.status == "planned" and row.gone_at is None]
    if not rows:
        raise Conflict(f"Nothing of “{arm.name}” waits to be printed.")
    made_files = [of_coupon(work, row.code, file_format) for row in rows if row.way == "separate"]
    plates = sorted({row.print_id for row in rows if row.way != "separate"})
    made_files += [of_print(work, print_id, "masks") for print_id in plates]
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for arm_row in made_files:
            archive.writestr(arm_row.name, arm_row.content)
    name = f"{calibration.code}-{len(rows)}-to-print.zip"
    volume = sum(arm_row.volume_ml for arm_row in made_files)
    return Made(buffer.getvalue(), "application/zip", name, f"{len(rows)} coupons to print", volume)
