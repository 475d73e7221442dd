"""What the evidence of a calibration says now: derived afresh from the rows, never stored."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..core.campaign import STAGES, Stage, stage
from ..core.contract import Notice, Problem
from ..core.evidence import CouponEvidence, Limits
from ..core.next_exposure import JudgedCoupon, NextExposureInput, NextExposureResult, next_exposure
from ..core.settings import Settings
from ..core.steps import steps_between
from ..core.tally import ReadFeature, Tally, tally
from ..core.verdict import VerdictInput, VerdictResult, coupon_verdict
from ..core.window import process_window
from ..core.window_contract import WindowInput, WindowResult
from ..store import calibrations as store
from ..store import readings, shelf
from .bench import Bench, View, present
from .planning import PlanInput, Quote, cost_of
from .readings import CouponPlan, JudgementView, ReadingInput

# Predictions for every step come in one response, so that arrow keys need no request.
MOST_STEPS = 600
FAULTS = ("damaged", "unwashed", "uncured")


class CouponCard(View):
    """A coupon on the tray."""

    id: str
    code: str
    kind: str
    exposure_s: float
    is_repeat: bool
    status: str
    print_id: str
    print_code: str
    temp_c: float | None
    temp_place: str | None
    duration_s: float
    volume_ml: float
    design_id: str
    reading_id: str | None
    initials: str | None
    read_at: str | None
    note: str
    states: dict[str, str]
    verdict: str | None
    computed_verdict: str | None
    under: list[str]
    over: list[str]
    growth_um: float | None
    walls: tuple[int, int] | None
    slots: tuple[int, int] | None
    tips: tuple[int, int] | None
    faults: list[str]
    included: bool
    left_out: bool
    judgement: JudgementView | None
    findings: list[str]
    photo_ids: list[str]
    warnings: list[Notice]


class NextStep(View):
    """What to print next with one kind of coupon, and what that costs."""

    kind: str
    advice: NextExposureResult
    cost: Quote | None
    refused: str | None


class ArmView(View):
    id: str
    number: int
    name: str
    settings: Settings
    coupons: list[CouponCard]
    to_print: list[str]
    to_read: list[str]
    next: list[NextStep]
    window: WindowResult | None
    window_refused: str | None
    stage: Stage


@dataclass(frozen=True)
class _Read:
    row: store.CouponRow
    reading: readings.Reading | None
    tally: Tally | None
    judgement: readings.Judgement | None
    verdict: VerdictResult | None
    photo_ids: list[str]
    states: dict[str, str]

    @property
    def left_out(self) -> bool:
        return self.tally is not None and bool(self.tally.evidence.faults) and not self.tally.evidence.include

    @property
    def final_verdict(self) -> str | None:
        if self.judgement and self.judgement.verdict:
            return self.judgement.verdict
        return self.verdict.verdict if self.verdict else None


def arms(bench: Bench, calibration: store.Calibration, issued: bool) -> list[ArmView]:
    """Every arm with its coupons, verdicts, next exposure and window. Six queries, whatever the number of coupons."""
    db = bench.db
    arm_rows = store.arms(db, calibration.id)
    printer = shelf.printer(db, calibration.printer_id)
    assert printer is not None
    bottle = shelf.bottle(db, calibration.bottle_id) if calibration.bottle_id else None
    rows = store.coupons(db, [arm.id for arm in arm_rows])
    reads = _reads(bench, rows, Limits.model_validate(calibration.limits))
    views = []
    for arm in arm_rows:
        own = [r for r in reads if r.row.arm_id == arm.id]
        views.append(_arm(calibration, arm, printer, bottle.left_ml if bottle else None, own, issued))
    return views


def _reads(bench: Bench, rows: list[store.CouponRow], limits: Limits) -> list[_Read]:
    db = bench.db
    ids = [row.id for row in rows]
    current = {r.coupon_id: r for r in readings.current(db, ids)}
    features: dict[str, list[readings.FeatureRow]] = {}
    for feature in readings.features(db, [r.id for r in current.values()]):
        features.setdefault(feature.reading_id, []).append(feature)
    judged = {j.coupon_id: j for j in readings.judgements(db, ids)}
    photos: dict[str, list[str]] = {}
    for photo in readings.photos(db, ids):
        photos.setdefault(photo.coupon_id, []).append(photo.id)
    reads = []
    for row in rows:
        reading, judgement = current.get(row.id), judged.get(row.id)
        counted, verdict, states = None, None, {}
        if reading is not None:
            seen = features.get(reading.id, [])
            counted = tally(
                row.exposure_s,
                [_read_feature(f) for f in seen],
                label=row.code,
                faults=tuple(f for f in FAULTS if getattr(reading, f)),
                include=bool(judgement and judgement.include),
            )
            verdict = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=limits))
            states = {f.feature_key: f.state for f in seen if f.state}
        reads.append(_Read(row, reading, counted, judgement, verdict, photos.get(row.id, []), states))
    return reads


def _read_feature(row: readings.FeatureRow) -> ReadFeature:
    return ReadFeature.model_validate(
        {
            "key": row.feature_key, "kind": row.kind, "side": row.side, "size_mm": row.size_mm, "axis": row.axis,
            "state": row.state, "measured_mm": row.measured_mm,
        }
    )  # fmt: skip


def _arm(
    calibration: store.Calibration, arm: store.Arm, printer: shelf.Printer, left_ml: float | None, reads: list[_Read],
    issued: bool,
) -> ArmView:  # fmt: skip
    here = [r for r in reads if r.row.gone_at is None]
    window, refused = _window(calibration, printer, here)
    steps = _next_steps(calibration, arm, printer, left_ml, here)
    verdicts = [v for r in here if (v := r.final_verdict) and not r.left_out]
    open_steps = [s.advice for s in steps if s.advice.action != "done"]
    following = open_steps[0] if open_steps else steps[0].advice if steps else None
    exposures = {r.row.exposure_s for r in here if r.tally is not None and not r.left_out}
    return ArmView(
        id=arm.id,
        number=arm.number,
        name=arm.name,
        settings=Settings.model_validate(arm.settings),
        coupons=[_card(r) for r in sorted(here, key=lambda r: (r.row.exposure_s, r.row.number))],
        to_print=[r.row.code for r in here if r.row.status == "planned"],
        to_read=[r.row.code for r in here if r.row.status == "printed" and r.reading is None],
        next=steps,
        window=window,
        window_refused=refused,
        stage=stage(verdicts, following, window, len(exposures), issued),
    )


def window_input(calibration: store.Calibration, step_s: float, evidence: list[CouponEvidence]) -> WindowInput:
    """The whole input of the process window, as it is computed and as an issued set keeps it."""
    counted = [e.exposure_s for e in evidence if not e.faults or e.include] or [e.exposure_s for e in evidence]
    low, high = min(counted), max(counted)
    stride = max(1, math.ceil((high - low) / step_s / MOST_STEPS))
    return WindowInput(
        coupons=evidence,
        limits=Limits.model_validate(calibration.limits),
        exposure_step_s=step_s,
        guard_band_pct=calibration.guard_band_pct,
        exposures_s=steps_between(low, high, step_s)[::stride],
    )


def _window(
    calibration: store.Calibration, printer: shelf.Printer, reads: list[_Read]
) -> tuple[WindowResult | None, str | None]:
    evidence = [r.tally.evidence for r in reads if r.tally is not None]
    if not evidence:
        return None, None
    try:
        return process_window(window_input(calibration, printer.exposure_step_s, evidence)), None
    except Problem as problem:
        return None, problem.message


def arm_evidence(bench: Bench, calibration: store.Calibration, arm_id: str) -> list[CouponEvidence]:
    """Evidence of one arm, for issuing."""
    reads = _reads(bench, store.coupons(bench.db, [arm_id]), Limits.model_validate(calibration.limits))
    return [r.tally.evidence for r in reads if r.tally is not None and r.row.gone_at is None]


def _next_steps(
    calibration: store.Calibration, arm: store.Arm, printer: shelf.Printer, left_ml: float | None, reads: list[_Read]
) -> list[NextStep]:
    """One answer per kind of coupon: kinds show different failures, so they must not contradict each other."""
    kinds = list(dict.fromkeys(["flat", *(r.row.kind for r in reads)]))
    if all(r.row.kind == "support" for r in reads) and reads:
        kinds = ["support"]
    settings = Settings.model_validate(arm.settings)
    steps = []
    for kind in kinds:
        judged = [
            JudgedCoupon.model_validate(
                {
                    "exposure_s": r.row.exposure_s,
                    "verdict": r.final_verdict,
                    "label": r.row.code,
                    "repeat": r.row.is_repeat,
                }
            )
            for r in sorted(reads, key=lambda r: r.row.number)
            if r.row.kind == kind and r.final_verdict and not r.left_out
        ]
        advice = next_exposure(
            NextExposureInput(
                coupons=judged, exposure_step_s=printer.exposure_step_s, low_s=calibration.low_s,
                high_s=calibration.high_s, shows="under" if kind == "support" else "both",
            )
        )  # fmt: skip
        cost, refused = None, None
        wanted = [advice.exposure_s] if advice.action == "print" else advice.repeat_exposures_s
        if wanted and wanted[0] is not None:
            try:
                plan = PlanInput.model_validate({"kind": kind, "exposures_s": wanted})
                cost = cost_of(plan, settings, calibration.layer_height_um, printer, left_ml)
            except Problem as problem:
                refused = problem.message
        steps.append(NextStep(kind=kind, advice=advice, cost=cost, refused=refused))
    return steps


def _card(read: _Read) -> CouponCard:
    row, reading, verdict = read.row, read.reading, read.verdict
    evidence = read.tally.evidence if read.tally else None

    def counts(pairs: list[tuple[int, int]]) -> tuple[int, int] | None:
        return (sum(n for n, _ in pairs), sum(of for _, of in pairs)) if pairs else None

    return CouponCard(
        id=row.id,
        code=row.code,
        kind=row.kind,
        exposure_s=row.exposure_s,
        is_repeat=row.is_repeat,
        status="read" if reading else row.status,
        print_id=row.print_id,
        print_code=row.print_code,
        temp_c=row.temp_c,
        temp_place=row.temp_place,
        duration_s=row.duration_s,
        volume_ml=row.volume_ml,
        design_id=row.design_id,
        reading_id=reading.id if reading else None,
        initials=reading.initials if reading else None,
        read_at=reading.read_at if reading else None,
        note=reading.note if reading else "",
        states=read.states,
        verdict=read.final_verdict,
        computed_verdict=verdict.verdict if verdict else None,
        under=verdict.under if verdict else [],
        over=verdict.over if verdict else [],
        growth_um=verdict.growth_um if verdict else None,
        walls=counts([(w.standing, w.of) for w in evidence.walls]) if evidence else None,
        slots=counts([(s.open, s.of) for s in evidence.slots]) if evidence else None,
        tips=counts([(t.held, t.of) for t in evidence.tips]) if evidence else None,
        faults=evidence.faults if evidence else [],
        included=bool(evidence and evidence.faults and evidence.include),
        left_out=read.left_out,
        judgement=JudgementView.model_validate(read.judgement) if read.judgement else None,
        findings=[f.message for f in read.tally.findings] if read.tally else [],
        photo_ids=read.photo_ids,
        warnings=verdict.warnings if verdict else [],
    )


def furthest(stages: list[Stage]) -> Stage:
    """The stage of a calibration is that of the arm that got furthest."""
    return max(stages, key=STAGES.index, default="range")


class Preview(View):
    """What a reading would say, while it is still being entered."""

    verdict: VerdictResult
    findings: list[str]
    window: WindowResult | None


def preview(bench: Bench, id_or_code: str, given: ReadingInput) -> Preview:
    """Verdict and window as they would be with this reading; nothing is saved."""
    db = bench.db
    row = present(store.coupon(db, id_or_code), "coupon")
    arm = present(store.arm(db, row.arm_id), "arm")
    calibration = present(store.calibration(db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(db, calibration.printer_id), "printer")
    limits = Limits.model_validate(calibration.limits)
    others = _reads(bench, [c for c in store.coupons(db, [arm.id]) if c.id != row.id and not c.gone_at], limits)
    judged = readings.judgements(db, [row.id])
    design = present(store.design(db, row.design_id), "design")
    drawn = {f.key: f for f in CouponPlan.model_validate(design.plan).features}
    counted = tally(
        row.exposure_s,
        [
            ReadFeature.model_validate(
                {**drawn[f.key].model_dump(include={"key", "kind", "side", "size_mm", "axis"}), "state": f.state,
                 "measured_mm": f.measured_mm}
            )
            for f in given.features
            if f.key in drawn
        ],
        label=row.code,
        faults=tuple(name for name in FAULTS if getattr(given, name)),
        include=bool(judged and judged[0].include),
    )  # fmt: skip
    verdict = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=limits))
    evidence = [*(r.tally.evidence for r in others if r.tally is not None), counted.evidence]
    return Preview(
        verdict=verdict,
        findings=[f.message for f in counted.findings],
        window=process_window(window_input(calibration, printer.exposure_step_s, evidence)),
    )
