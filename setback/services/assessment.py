"""What the evidence of a calibration says now: derived afresh from the rows, never stored."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from ..core.campaign import STAGES, Stage, stage
from ..core.contract import Notice, Problem
from ..core.evidence import CouponEvidence, Limits
from ..core.lanes import CureCurve
from ..core.next_exposure import JudgedCoupon, NextExposureInput, NextExposureResult, next_exposure
from ..core.seen_marks import SeenMark, SeenOnCoupon, seen_marks, seen_on
from ..core.settings import Settings
from ..core.sources import from_strip
from ..core.steps import round_to_step, steps_between
from ..core.tally import ReadFeature, Tally, tally
from ..core.verdict import VerdictInput, VerdictResult, coupon_verdict
from ..core.ways import RANGE_ONLY, effective_exposure_s
from ..core.window import process_window
from ..core.window_contract import WindowInput, WindowResult
from ..store import calibrations as store
from ..store import readings, shelf
from .bench import Bench, View, present
from .blind import BlindView, of_coupons
from .depth import cure_curve
from .planning import PlanInput, Quote, cost_of
from .readings import CouponPlan, JudgementView, ReadingInput

# Predictions for every step come in one response, so that arrow keys need no request.
MOST_STEPS = 600
FAULTS = ("damaged", "unwashed", "uncured")
# Which failures a kind of coupon can show, of those that close in on an exposure.
SHOWS: dict[str, Literal["both", "under", "over"]] = {"flat": "both", "support": "under", "z-bridge": "over"}


class CouponCard(View):
    """A coupon on the tray."""

    id: str
    code: str
    kind: str
    exposure_s: float
    effective_s: float = Field(description="What it got, in seconds at the place where coupons stand")
    way: str
    place_mm: tuple[float, float] | None
    dose_ratio: float | None
    range_only: bool = Field(description="Shared a plate without a map: finds the range only")
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
    seen: SeenOnCoupon | None = Field(description="Vernier, gauge piece, smallest legible code")
    blind: list[BlindView] = Field(description="Second readings asked for, with what they disagree on")
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
    range_only: str | None = Field(description="Why nothing can be issued on these coupons")
    seed: tuple[float, float] | None = Field(description="Range a dose strip of this arm leaves open, s")
    marks: list[SeenMark]


@dataclass(frozen=True)
class _Read:
    row: store.CouponRow
    reading: readings.Reading | None
    tally: Tally | None
    judgement: readings.Judgement | None
    verdict: VerdictResult | None
    photo_ids: list[str]
    states: dict[str, str]
    seen: SeenOnCoupon | None

    @property
    def effective_s(self) -> float:
        return effective_exposure_s(self.row.exposure_s, self.row.dose_ratio)

    @property
    def range_only(self) -> bool:
        return self.row.way == "plate" and self.row.dose_ratio is None

    @property
    def in_window(self) -> bool:
        """A strip only seeds, and a grid tells of its plate."""
        return self.tally is not None and self.row.kind not in ("strip", "grid")

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
    cure = cure_curve(bench, calibration)
    blind = of_coupons(bench, rows)
    views = []
    for arm in arm_rows:
        own = [r for r in reads if r.row.arm_id == arm.id]
        views.append(_arm(calibration, arm, printer, bottle.left_ml if bottle else None, own, issued, cure, blind))
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
        photos.setdefault(photo.coupon_id or "", []).append(photo.id)
    reads = []
    for row in rows:
        reading, judgement = current.get(row.id), judged.get(row.id)
        counted, verdict, states, also = None, None, {}, None
        if reading is not None:
            seen = features.get(reading.id, [])
            read_off, light = [_read_feature(f) for f in seen], effective_exposure_s(row.exposure_s, row.dose_ratio)
            also = seen_on(light, row.code, read_off)
            counted = tally(
                light,
                read_off,
                label=row.code,
                faults=tuple(f for f in FAULTS if getattr(reading, f)),
                include=bool(judgement and judgement.include),
            )
            verdict = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=limits))
            states = {f.feature_key: f.state for f in seen if f.state}
        reads.append(_Read(row, reading, counted, judgement, verdict, photos.get(row.id, []), states, also))
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
    issued: bool, cure: CureCurve | None, blind: dict[str, list[BlindView]],
) -> ArmView:  # fmt: skip
    here = [r for r in reads if r.row.gone_at is None]
    window, refused = _window(calibration, printer, here, cure)
    steps = _next_steps(calibration, arm, printer, left_ml, here)
    verdicts = [v for r in here if (v := r.final_verdict) and not r.left_out and r.in_window]
    open_steps = [s.advice for s in steps if s.advice.action != "done"]
    following = open_steps[0] if open_steps else steps[0].advice if steps else None
    exposures = {r.effective_s for r in here if r.in_window and not r.left_out}
    seed = from_strip(
        [(r.row.exposure_s, r.final_verdict) for r in here if r.row.way == "strip" and r.final_verdict],
        printer.exposure_step_s,
    )
    limits = Limits.model_validate(calibration.limits)
    return ArmView(
        id=arm.id,
        number=arm.number,
        name=arm.name,
        settings=Settings.model_validate(arm.settings),
        coupons=[
            _card(r, blind.get(r.row.id, [])) for r in sorted(here, key=lambda r: (r.row.exposure_s, r.row.number))
        ],
        to_print=[r.row.code for r in here if r.row.status == "planned"],
        to_read=[r.row.code for r in here if r.row.status == "printed" and r.reading is None],
        next=steps,
        window=window,
        window_refused=refused,
        stage=stage(verdicts, following, window, len(exposures), issued),
        range_only=RANGE_ONLY if window_evidence(here)[1] else None,
        seed=(seed.low_s, seed.high_s) if seed else None,
        marks=seen_marks([r.seen for r in here if r.seen and r.in_window and not r.left_out], limits.growth_target_um),
    )


def window_evidence(reads: list[_Read]) -> tuple[list[CouponEvidence], bool]:
    """What makes the window, and whether it only finds the range.

    Coupons that shared a plate without a map step back as soon as others stand at two exposures.
    """
    counted = [r for r in reads if r.in_window]
    sure = [r for r in counted if not r.range_only]
    if len({r.effective_s for r in sure if not r.left_out}) >= 2 or len(sure) == len(counted):
        return [r.tally.evidence for r in sure if r.tally is not None], False
    return [r.tally.evidence for r in counted if r.tally is not None], True


def window_input(
    calibration: store.Calibration, step_s: float, evidence: list[CouponEvidence], cure: CureCurve | None
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
        cure=cure,
        exposures_s=steps_between(low, high, step_s)[::stride],
    )


def _window(
    calibration: store.Calibration, printer: shelf.Printer, reads: list[_Read], cure: CureCurve | None
) -> tuple[WindowResult | None, str | None]:
    evidence, range_only = window_evidence(reads)
    if not evidence:
        return None, None
    try:
        made = process_window(window_input(calibration, printer.exposure_step_s, evidence, cure))
        if range_only:
            mixed = Notice(code="range-only", message=RANGE_ONLY)
            made = made.model_copy(update={"provisional": True, "warnings": [mixed, *made.warnings]})
        return made, None
    except Problem as problem:
        return None, problem.message


def arms_evidence(
    bench: Bench, calibration: store.Calibration, arm_ids: list[str]
) -> dict[str, tuple[list[CouponEvidence], bool]]:
    """Evidence of each arm, and whether it only finds the range."""
    reads = _reads(bench, store.coupons(bench.db, arm_ids), Limits.model_validate(calibration.limits))
    here = [r for r in reads if r.row.gone_at is None]
    return {arm_id: window_evidence([r for r in here if r.row.arm_id == arm_id]) for arm_id in arm_ids}


def _next_steps(
    calibration: store.Calibration, arm: store.Arm, printer: shelf.Printer, left_ml: float | None, reads: list[_Read]
) -> list[NextStep]:
    """One answer per kind of coupon: kinds show different failures, so they must not contradict each other."""
    own = [r for r in reads if r.row.kind in SHOWS]
    kinds = list(dict.fromkeys(["flat", *(r.row.kind for r in own)]))
    if all(r.row.kind == "support" for r in own) and own:
        kinds = ["support"]
    settings = Settings.model_validate(arm.settings)
    steps = []
    for kind in kinds:
        judged = [
            JudgedCoupon.model_validate(
                {
                    # On the printer's step, so that a repeat printed alone stands for it.
                    "exposure_s": max(round_to_step(r.effective_s, printer.exposure_step_s), printer.exposure_step_s),
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
                high_s=calibration.high_s, shows=SHOWS[kind],
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


def _card(read: _Read, blind: list[BlindView]) -> CouponCard:
    row, reading, verdict = read.row, read.reading, read.verdict
    evidence = read.tally.evidence if read.tally else None

    def counts(pairs: list[tuple[int, int]]) -> tuple[int, int] | None:
        return (sum(n for n, _ in pairs), sum(of for _, of in pairs)) if pairs else None

    return CouponCard(
        id=row.id,
        code=row.code,
        kind=row.kind,
        exposure_s=row.exposure_s,
        effective_s=read.effective_s,
        way=row.way,
        place_mm=None if row.place_x_mm is None or row.place_y_mm is None else (row.place_x_mm, row.place_y_mm),
        dose_ratio=row.dose_ratio,
        range_only=read.range_only,
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
        seen=read.seen,
        blind=blind,
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
        effective_exposure_s(row.exposure_s, row.dose_ratio),
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
    this = _Read(row, None, counted, judged[0] if judged else None, verdict, [], {}, None)
    window, _ = _window(calibration, printer, [*others, this], cure_curve(bench, calibration))
    return Preview(verdict=verdict, findings=[f.message for f in counted.findings], window=window)
