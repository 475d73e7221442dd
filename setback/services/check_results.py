"""What a check coupon says of its set, kept beside it for speed; made again from the readings at any time."""

from __future__ import annotations

import math
from typing import Any

from ..core.evidence import Limits
from ..core.tally import ReadFeature, tally
from ..core.verdict import VerdictInput, coupon_verdict
from ..store import calibrations as store
from ..store import parameter_sets, readings
from ..store.rows import insert
from .bench import Bench

FAULTS = ("damaged", "unwashed", "uncured")


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
    features = [
        ReadFeature.model_validate(
            {"key": f.feature_key, "kind": f.kind, "side": f.side, "size_mm": f.size_mm, "axis": f.axis,
             "state": f.state, "measured_mm": f.measured_mm}
        )
        for f in readings.features(db, [reading.id])
    ]  # fmt: skip
    counted = tally(row.exposure_s, features, label=row.code)
    said = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=Limits.model_validate(held.input["limits"])))
    verdict = judged[0].verdict if judged and judged[0].verdict else said.verdict
    if verdict is None:
        return
    hours = db.execute("SELECT screen_hours FROM print WHERE id = ?", (row.print_id,)).fetchone()[0]
    insert(
        db, "check_result", coupon_id=row.id, parameter_set_id=held.id, printer_id=held.printer_id, at=reading.read_at,
        screen_hours=hours, off_pct=_off_pct(held.result, held.exposure_s, said.growth_um), verdict=verdict,
        passed=verdict == "ok",
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


def _off_pct(result: dict[str, Any], exposure_s: float, growth_um: float | None) -> float | None:
    """How far the dose seems off, percent: departure of growth from what was expected, over growth per ln t."""
    told = [p for p in result.get("predictions", []) if p.get("growth_um") is not None]
    if growth_um is None or len(told) < 2:
        return None
    told.sort(key=lambda p: p["exposure_s"])
    low, high = told[0], told[-1]
    run = math.log(high["exposure_s"] / low["exposure_s"])
    slope = (high["growth_um"] - low["growth_um"]) / run if run else 0.0
    if slope <= 0:
        return None
    expected = low["growth_um"] + slope * math.log(exposure_s / low["exposure_s"])
    return float(100 * math.expm1((growth_um - expected) / slope))
