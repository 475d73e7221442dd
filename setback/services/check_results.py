"""What a check coupon says of its set, kept beside it for speed; made again from the readings at any time."""

from __future__ import annotations

from typing import Any, Literal

from ..core.check_dose import Dose, beyond_window, dose_seen
from ..core.evidence import Limits
from ..core.tally import tally
from ..core.verdict import Verdict, VerdictInput, coupon_verdict
from ..core.window.contract import WindowResult
from ..store import calibrations as store
from ..store import parameter_sets, readings
from ..store.rows import insert
from .bench import Bench
from .coupon_reads import FAULTS, read_feature


def refresh_check(bench: Bench, row: store.CouponRow) -> None:
    """Make the result of one check coupon again; nothing for other coupons. Runs in whoever's transaction."""
    if row.check_of is None:
        return
    db = bench.db
    db.execute("DELETE FROM check_result WHERE coupon_id = ?", (row.id,))
    held = parameter_sets.parameter_set(db, row.check_of)
    current = readings.current(db, [row.id])
    if held is None or not current or row.gone_at is not None:
        return
    reading = current[0]
    judged = readings.judgements(db, [row.id])
    if any(getattr(reading, fault) for fault in FAULTS) and not (judged and judged[0].include):
        return
    features = [read_feature(f) for f in readings.features(db, [reading.id])]
    counted = tally(row.exposure_s, features, label=row.code)
    said = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=Limits.model_validate(held.input["limits"])))
    dose, side = _by_dose(held.result, held.exposure_s, said.growth_um)
    verdict: Verdict | str | None = said.verdict
    judged_by = ", ".join(said.under + said.over)
    if verdict == "ok" and side is not None:
        verdict, judged_by = side, "dose"
    if judged and judged[0].verdict:
        verdict, judged_by = judged[0].verdict, "the technician"
    if verdict is None:
        return
    hours = db.execute("SELECT screen_hours FROM print WHERE id = ?", (row.print_id,)).fetchone()[0]
    insert(
        db, "check_result", coupon_id=row.id, parameter_set_id=held.id, printer_id=held.printer_id, at=reading.read_at,
        screen_hours=hours, off_pct=dose.off_pct if dose else None, verdict=verdict,
        passed=verdict == "ok", judged_by=judged_by,
    )  # fmt: skip


def rebuild(bench: Bench) -> int:
    """Make every result again; how many check coupons there are."""
    with bench.write():
        codes = [
            str(row[0]) for row in bench.db.execute("SELECT id FROM coupon WHERE check_of IS NOT NULL ORDER BY id")
        ]
        for coupon_id in codes:
            row = store.coupon(bench.db, coupon_id)
            if row is not None:
                refresh_check(bench, row)
    return len(codes)


def _by_dose(
    result: dict[str, Any], exposure_s: float, growth_um: float | None
) -> tuple[Dose | None, Literal["under", "over"] | None]:
    """The dose that the coupon tells, and the side of its window on which it puts the exposure."""
    if growth_um is None:
        return None, None
    kept = WindowResult.model_validate(result)
    dose = dose_seen(growth_um, exposure_s, kept.predictions)
    if dose is None:
        return None, None
    # An end that lies beyond what was printed is where the ladder stopped, not where parts fail.
    return dose, beyond_window(dose, exposure_s, *kept.ends_found())
