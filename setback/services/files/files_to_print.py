"""Everything of an arm that waits to be printed, in one archive: nobody fetches five files one by one."""

from __future__ import annotations

import io
import zipfile

from ...core.contract import Problem
from ...core.printing.settings import Settings
from ...core.printing.steps import shown
from ...store import shelf
from ...store.calibrate import calibrations as store
from ..calibrate.settings_to_type import as_text, setting_lines
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
        archive.writestr("settings.txt", _settings(work, calibration, arm, rows))
    name = f"{calibration.code}-{len(rows)}-to-print.zip"
    volume = sum(arm_row.volume_ml for arm_row in made_files)
    return Made(buffer.getvalue(), "application/zip", name, f"{len(rows)} coupons to print", volume)


def _settings(work: UnitOfWork, calibration: store.Calibration, arm: store.Arm, rows: list[store.CouponRow]) -> str:
    """Every setting to type, and the exposure of each coupon."""
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    lines = setting_lines(
        Settings.model_validate(arm.settings), calibration.layer_height_um, None, printer.delay_includes_motion
    )
    title = f"{calibration.code}: {calibration.material} on {calibration.printer}, {arm.name}"
    return as_text(title, lines, [(row.code, shown(row.exposure_s, printer.exposure_step_s)) for row in rows])
