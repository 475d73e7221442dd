"""What coupons say as evidence: readings counted, verdicts, and the window they make together."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ...core.calibrate.ways import RANGE_ONLY, effective_exposure_s
from ...core.contract import Notice, Problem
from ...core.printing.steps import steps_between
from ...core.reading.evidence import CouponEvidence
from ...core.reading.seen_marks import SeenOnCoupon, seen_on
from ...core.reading.tally import FeatureState, ReadFeature, Tally, tally
from ...core.window.contract import CutOffs, WindowInput, WindowOutcome
from ...core.window.lanes import CureCurve, Limits
from ...core.window.verdict import VerdictInput, VerdictResult, coupon_verdict
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.reading import looks, readings
from ..calibrate.windows import window_for
from ..unit_of_work import UnitOfWork
from .reader_corrections import correcting, correction_notices

# Predictions for every step come in one response, so that arrow keys need no request.
MOST_STEPS = 600
FAULTS = ("damaged", "unwashed", "uncured")


@dataclass(frozen=True)
class CouponRead:
    """A coupon with its counted reading, verdict and faults."""

    row: store.CouponRow
    reading: readings.Reading | None
    tally: Tally | None
    judgement: readings.Judgement | None
    verdict: VerdictResult | None
    photo_ids: list[str]
    states: dict[str, FeatureState]
    seen: SeenOnCoupon | None
    look: looks.Look | None = None
    corrections: frozenset[str] = frozenset()
    """What is said of sizes that were corrected for their reader's bias."""

    @property
    def effective_s(self) -> float:
        """The exposure the coupon counts at, s."""
        return effective_exposure_s(self.row.exposure_s, self.row.dose_ratio)

    @property
    def range_only(self) -> bool:
        """Whether it only tells where to look."""
        return self.row.way == "plate" and self.row.dose_ratio is None

    @property
    def in_window(self) -> bool:
        """A strip only seeds, and a grid tells of its plate."""
        return self.tally is not None and self.row.kind not in ("strip", "grid") and self.row.way != "strip"

    @property
    def left_out(self) -> bool:
        """Whether it does not count."""
        return self.tally is not None and bool(self.tally.evidence.faults) and not self.tally.evidence.include

    @property
    def final_verdict(self) -> str | None:
        """The verdict set by hand, else the computed one, else that of one look."""
        if self.judgement and self.judgement.verdict:
            return self.judgement.verdict
        if self.verdict:
            return self.verdict.verdict
        return {"under": "under", "right": "ok", "over": "over"}[self.look.verdict] if self.look else None


def coupon_reads(work: UnitOfWork, rows: list[store.CouponRow], limits: Limits) -> list[CouponRead]:
    """Coupons with what was read off them, all in a few queries."""
    db = work.db
    ids = [row.id for row in rows]
    current = {r.coupon_id: r for r in readings.current(db, ids)}
    features: dict[str, list[readings.ReadFeature]] = {}
    for feature in readings.features(db, [r.id for r in current.values()]):
        features.setdefault(feature.reading_id, []).append(feature)
    judgements = {j.coupon_id: j for j in readings.judgements(db, ids)}
    looked = looks.looks(db, ids)
    bias = correcting(work, [r.id for r in current.values()])
    photos: dict[str, list[str]] = {}
    for photo in readings.photos(db, ids):
        photos.setdefault(photo.coupon_id or "", []).append(photo.id)
    reads = []
    for row in rows:
        reading, judgement = current.get(row.id), judgements.get(row.id)
        counted, verdict, states, also, corrections = None, None, {}, None, frozenset[str]()
        if reading is not None:
            features_read = features.get(reading.id, [])
            read_off, corrections = bias.corrected(
                reading.technician_id, reading.id, [read_feature(f) for f in features_read]
            )
            light = effective_exposure_s(row.exposure_s, row.dose_ratio)
            also = seen_on(light, row.code, read_off)
            counted = tally(
                light,
                read_off,
                label=row.code,
                faults=tuple(f for f in FAULTS if getattr(reading, f)),
                include=bool(judgement and judgement.include),
                temp_c=row.temp_c,
                own=row.kind == "own",
            )
            verdict = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=limits))
            states = {f.feature_key: f.state for f in features_read if f.state}
        photo_ids = photos.get(row.id, [])
        look = looked.get(row.id)
        reads.append(CouponRead(row, reading, counted, judgement, verdict, photo_ids, states, also, look, corrections))
    return reads


def read_feature(row: readings.ReadFeature) -> ReadFeature:
    """A stored feature as the core reads it."""
    return ReadFeature.model_validate(
        {
            "key": row.feature_key,
            "kind": row.kind,
            "side": row.side,
            "size_mm": row.size_mm,
            "axis": row.axis,
            "state": row.state,
            "measured_mm": row.measured_mm,
        }
    )


def window_evidence(reads: list[CouponRead]) -> tuple[list[CouponEvidence], bool]:
    """What makes the window, and whether it only finds the range.

    Coupons that shared a plate without a map step back as soon as others stand at two exposures.
    """
    counted = [r for r in reads if r.in_window]
    sure = [r for r in counted if not r.range_only]
    if len({r.effective_s for r in sure if not r.left_out}) >= 2 or len(sure) == len(counted):
        return [r.tally.evidence for r in sure if r.tally is not None], False
    return [r.tally.evidence for r in counted if r.tally is not None], True


def window_input(
    calibration: store.Calibration,
    step_s: float,
    evidence: list[CouponEvidence],
    cure: CureCurve | None,
    sure: CutOffs,
    reader_spread_um: float | None,
) -> WindowInput:
    """The whole input of the process window, as it is computed and as an issued set keeps it."""
    counted = [e.exposure_s for e in evidence if not e.faults or e.include] or [e.exposure_s for e in evidence]
    low, high = min(counted), max(counted)
    stride = max(1, math.ceil((high - low) / step_s / MOST_STEPS))
    return WindowInput(
        coupons=evidence,
        limits=Limits.model_validate(calibration.limits),
        exposure_step_s=step_s,
        guard_band_pct=calibration.guard_band_pct,
        cut_offs=sure,
        cure=cure,
        reproducibility_sd_um=reader_spread_um,
        exposures_s=steps_between(low, high, step_s)[::stride],
    )


def window_of(
    calibration: store.Calibration,
    printer: shelf.Printer,
    reads: list[CouponRead],
    cure: CureCurve | None,
    sure: CutOffs,
    reader_spread_um: float | None,
) -> tuple[WindowOutcome | None, str | None]:
    """The window that evidence makes under a calibration's limits."""
    evidence, range_only = window_evidence(reads)
    if not evidence:
        return None, None
    try:
        inputs = window_input(calibration, printer.exposure_step_s, evidence, cure, sure, reader_spread_um)
        result = with_corrections(window_for(inputs), reads)
        if range_only:
            mixed = Notice(code="range-only", message=RANGE_ONLY)
            result = result.model_copy(update={"provisional": True, "warnings": [mixed, *result.warnings]})
        return result, None
    except Problem as problem:
        return None, problem.message


def with_corrections(window: WindowOutcome, reads: list[CouponRead]) -> WindowOutcome:
    """The window, saying which sizes were corrected for their reader's bias."""
    notices = correction_notices([read.corrections for read in reads])
    return window.model_copy(update={"warnings": [*notices, *window.warnings]}) if notices else window


def arms_evidence(
    work: UnitOfWork, calibration: store.Calibration, arm_ids: list[str]
) -> dict[str, tuple[list[CouponEvidence], bool]]:
    """Evidence of each arm, and whether it only finds the range."""
    reads = coupon_reads(work, store.coupons(work.db, arm_ids), Limits.model_validate(calibration.limits))
    present_reads = [r for r in reads if r.row.gone_at is None]
    return {arm_id: window_evidence([r for r in present_reads if r.row.arm_id == arm_id]) for arm_id in arm_ids}
