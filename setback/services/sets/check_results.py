"""What a check coupon says of its set, kept beside it for speed; made again from the readings at any time."""

from __future__ import annotations

from typing import Any, Literal

from ...core.reading.tally import tally
from ...core.status.check_dose import Dose, beyond_window, dose_seen
from ...core.window.contract import window_outcome
from ...core.window.lanes import Limits
from ...core.window.verdict import Verdict, VerdictInput, coupon_verdict
from ...store.calibrate import calibrations as store
from ...store.reading import readings
from ...store.rows import delete, insert
from ...store.sets import parameter_sets, validity
from ..reading.coupon_evidence import FAULTS, read_feature
from ..reading.reader_corrections import correcting
from ..unit_of_work import UnitOfWork


def refresh_check(work: UnitOfWork, row: store.CouponRow) -> None:
    """Make the result of one check coupon again; nothing for other coupons. Runs in whoever's transaction."""
    if row.check_of is None:
        return
    db = work.db
    delete(db, "check_result", row.id, key="coupon_id")
    set_row = parameter_sets.parameter_set(db, row.check_of)
    current = readings.current(db, [row.id])
    if set_row is None or not current or row.gone_at is not None:
        return
    reading = current[0]
    judgements = readings.judgements(db, [row.id])
    if any(getattr(reading, fault) for fault in FAULTS) and not (judgements and judgements[0].include):
        return
    features, _ = correcting(work, [reading.id]).corrected(
        reading.technician_id, reading.id, [read_feature(f) for f in readings.features(db, [reading.id])]
    )
    counted = tally(row.exposure_s, features, label=row.code)
    judged_reading = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=_limits_of(work, set_row)))
    dose, side = _by_dose(set_row.result, set_row.exposure_s, judged_reading.growth_um)
    verdict: Verdict | str | None = judged_reading.verdict
    judged_by = ", ".join(judged_reading.under + judged_reading.over)
    if verdict == "ok" and side is not None:
        verdict, judged_by = side, "dose"
    if judgements and judgements[0].verdict:
        verdict, judged_by = judgements[0].verdict, "the technician"
    if verdict is None:
        return
    insert(
        db,
        "check_result",
        coupon_id=row.id,
        parameter_set_id=set_row.id,
        printer_id=set_row.printer_id,
        at=reading.read_at,
        screen_hours=store.screen_hours_at(db, row.print_id),
        off_pct=dose.off_pct if dose else None,
        verdict=verdict,
        passed=verdict == "ok",
        judged_by=judged_by,
    )


def _limits_of(work: UnitOfWork, set_row: parameter_sets.SetRow) -> Limits:
    """Limits the set was issued with; one that rests on prints of parts keeps those of its calibration."""
    if "limits" in set_row.input:
        return Limits.model_validate(set_row.input["limits"])
    calibration = store.calibration(work.db, set_row.calibration_id)
    return Limits.model_validate(calibration.limits if calibration else {})


def rebuild(work: UnitOfWork) -> int:
    """Make every result again, and the windows that lists of sets show; how many check coupons there are."""
    with work.write():
        validity.read_windows_again(work.db)
        validity.find_newest_again(work.db)
        ids = store.check_coupons(work.db)
        for coupon_id in ids:
            row = store.coupon(work.db, coupon_id)
            if row is not None:
                refresh_check(work, row)
    return len(ids)


def _by_dose(
    result: dict[str, Any], exposure_s: float, growth_um: float | None
) -> tuple[Dose | None, Literal["under", "over"] | None]:
    """The dose that the coupon tells, and the side of its window on which it puts the exposure."""
    if growth_um is None:
        return None, None
    window = window_outcome(result)
    dose = dose_seen(growth_um, exposure_s, window.predictions)
    if dose is None:
        return None, None
    # An end that lies beyond what was printed is where the ladder stopped, not where parts fail.
    return dose, beyond_window(dose, exposure_s, *window.ends_found())
