"""Everything of an arm that waits to be printed, in one archive: nobody fetches five files one by one."""

from __future__ import annotations

import io
import zipfile

from ..core.contract import Problem
from ..store import calibrations as store
from .bench import Bench, Conflict, present
from .coupon_files import Format, Made, of_coupon, of_print


def waiting(bench: Bench, calibration_id: str, arm_number: int, file_format: Format) -> Made:
    """The files of all planned prints of an arm: a coupon that stands alone as asked for, a whole plate as its masks.

    Raises
    ------
    Conflict
        When nothing waits, or its printer is retired.
    """
    calibration = present(store.calibration(bench.db, calibration_id), "calibration")
    arm = next((one for one in store.arms(bench.db, calibration_id) if one.number == arm_number), None)
    if arm is None:
        said = f"{calibration.code} has no arm {arm_number}."
        raise Problem(said, {"arm": said})
    rows = [row for row in store.coupons(bench.db, [arm.id]) if row.status == "planned" and row.gone_at is None]
    if not rows:
        raise Conflict(f"Nothing of “{arm.name}” waits to be printed.")
    made = [of_coupon(bench, row.code, file_format) for row in rows if row.way == "separate"]
    plates = sorted({row.print_id for row in rows if row.way != "separate"})
    made += [of_print(bench, print_id, "masks") for print_id in plates]
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
        for one in made:
            archive.writestr(one.name, one.content)
    name = f"{calibration.code}-{len(rows)}-to-print.zip"
    volume = sum(one.volume_ml for one in made)
    return Made(held.getvalue(), "application/zip", name, f"{len(rows)} coupons to print", volume)
