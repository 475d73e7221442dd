"""What the evidence of a calibration says now: derived afresh from the rows, never stored."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from ...core.calibrate.sources import from_strip, on_steps
from ...core.calibrate.stages import STAGES, Stage, stage
from ...core.calibrate.ways import RANGE_ONLY, effective_exposure_s
from ...core.contract import Notice
from ...core.printing.settings import Settings
from ...core.prints.outcomes import SeenAt
from ...core.reading.evidence import Graded
from ...core.reading.seen_marks import SeenMark, SeenOnCoupon, seen_marks
from ...core.reading.tally import FeatureState, ReadFeature, tally
from ...core.window.contract import CutOffs, WindowResult
from ...core.window.lanes import CureCurve, Limits
from ...core.window.verdict import VerdictInput, VerdictResult, coupon_verdict
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.reading import readings
from ...store.terms import LookVerdict, PrintStatus, TempPlace, Verdict, Way
from ..reading.blind import BlindView, of_coupons
from ..reading.coupon_evidence import FAULTS, CouponRead, coupon_reads, window_evidence, window_of
from ..reading.gauge_studies import reader_spread_um
from ..reading.reader_corrections import correcting
from ..reading.readings import CouponPlan, JudgementView, ReadingInput
from ..unit_of_work import UnitOfWork, View, present
from .cut_offs import cut_offs
from .depth import cure_curve
from .from_prints import ArmPrints, arm_prints, prints_of_arm
from .next_steps import NextStep, next_step
from .settings_to_type import SettingLine, setting_lines

# How far beyond what looked right an arm looks, as a ratio.
BESIDE = 1.25


class CouponCard(View):
    """A coupon on the tray."""

    id: str
    code: str
    kind: str
    exposure_s: float
    effective_s: float = Field(description="What it got, in seconds at the place where coupons stand")
    way: Way
    place_mm: tuple[float, float] | None
    dose_ratio: float | None
    range_only: bool = Field(description="Shared a plate without a map: finds the range only")
    is_repeat: bool
    status: PrintStatus | Literal["read"]
    look: LookVerdict | None = Field(description="What one look said; null where nobody only looked")
    looked_by: str | None = Field(description="Initials of who looked")
    print_id: str
    print_code: str
    temp_c: float | None
    temp_place: TempPlace | None
    duration_s: float
    volume_ml: float
    design_id: str
    reading_id: str | None
    initials: str | None
    read_at: str | None
    note: str
    states: dict[str, FeatureState]
    verdict: Verdict | None
    computed_verdict: Verdict | None
    under: list[str]
    over: list[str]
    growth_um: float | None
    bloom_um: float | None = Field(description="Mean clearance lost under its bridges, µm")
    walls: tuple[int, int] | None
    slots: tuple[int, int] | None
    tips: tuple[int, int] | None
    faults: list[str]
    included: bool
    left_out: bool
    judgement: JudgementView | None
    findings: list[str]
    photo_ids: list[str]
    seen: SeenOnCoupon | None = Field(description="Vernier, taper plug or gauge piece, smallest legible code")
    blind: list[BlindView] = Field(description="Second readings asked for, with what they disagree on")
    warnings: list[Notice]


class ArmView(View):
    """One arm: its coupons, window, next step, and what it would offer."""

    id: str
    number: int
    name: str
    settings: Settings
    setting_lines: list[SettingLine] = Field(description="What to type into the slicing program, but for the exposure")
    version: int
    coupons: list[CouponCard]
    to_print: list[str]
    to_read: list[str]
    next: NextStep | None = Field(description="The one suggestion; none for a closed calibration")
    window: WindowResult | None
    window_refused: str | None
    stage: Stage
    range_only: str | None = Field(description="Why nothing can be issued on these coupons")
    seed: tuple[float, float] | None = Field(
        description="Range that a dose strip, or single looks at coupons of this arm, leave open, s"
    )
    range_s: tuple[float, float] = Field(description="Where to look first: around what looked right in earlier arms")
    range_from: str | None = Field(description="The earlier arm it comes from")
    marks: list[SeenMark]
    from_prints: ArmPrints | None = Field(None, description="Where the calibration rests on prints of parts alone")


def arms(work: UnitOfWork, calibration: store.Calibration, issued: bool) -> list[ArmView]:
    """Every arm with its coupons, verdicts, window and next coupon. Six queries, whatever the number of coupons."""
    db = work.db
    arm_rows = store.arms(db, calibration.id)
    printer = shelf.printer(db, calibration.printer_id)
    assert printer is not None
    bottle = shelf.bottle(db, calibration.bottle_id) if calibration.bottle_id else None
    rows = store.coupons(db, [arm.id for arm in arm_rows])
    reads = coupon_reads(work, rows, Limits.model_validate(calibration.limits))
    cure, sure, spread_um = cure_curve(work, calibration), cut_offs(work), reader_spread_um(work)
    blind = of_coupons(work, rows)
    views: list[ArmView] = []
    for arm in arm_rows:
        of_arm = [r for r in reads if r.row.arm_id == arm.id]
        left_ml = bottle.left_ml if bottle else None
        view = _arm(calibration, arm, printer, left_ml, of_arm, issued, cure, sure, spread_um, blind)
        if calibration.whole_share is not None:
            view = _resting_on_prints(work, calibration, arm, view, printer.exposure_step_s, issued)
        views.append(_ranged(view, views, printer.exposure_step_s))
    return views


def _resting_on_prints(
    work: UnitOfWork, calibration: store.Calibration, arm: store.Arm, view: ArmView, step_s: float, issued: bool
) -> ArmView:
    """The arm with the window that its prints of parts make, and no word of coupons."""
    of_arm = prints_of_arm(work, calibration, arm, step_s, cut_offs(work))
    prints = arm_prints(calibration, of_arm, step_s)
    failures = {side for at in (prints.success.seen if prints.success else []) for side in _sides(at)}
    return view.model_copy(
        update={
            "next": None,
            "window": of_arm.window,
            "window_refused": None,
            "stage": stage(sorted(failures), of_arm.window, issued),
            "from_prints": prints,
        }
    )


def _sides(seen: SeenAt) -> list[str]:
    """How parts at one exposure came out, in the words of verdicts."""
    return [verdict for verdict, parts in (("under", seen.under), ("ok", seen.whole), ("over", seen.over)) if parts]


def _ranged(arm: ArmView, earlier: list[ArmView], step_s: float) -> ArmView:
    """An arm changes one setting, so its range lies around what looked right before it."""
    for before in reversed(earlier):
        right = [c.effective_s for c in before.coupons if c.kind == "flat" and c.verdict == "ok" and not c.left_out]
        if right:
            around = on_steps(min(right) / BESIDE, max(right) * BESIDE, step_s)
            return arm.model_copy(update={"range_s": (around.low_s, around.high_s), "range_from": before.name})
    return arm


def _arm(
    calibration: store.Calibration,
    arm: store.Arm,
    printer: shelf.Printer,
    left_ml: float | None,
    reads: list[CouponRead],
    issued: bool,
    cure: CureCurve | None,
    sure: CutOffs,
    spread_um: float | None,
    blind: dict[str, list[BlindView]],
) -> ArmView:
    present_reads = [r for r in reads if r.row.gone_at is None]
    window, refused = window_of(calibration, printer, present_reads, cure, sure, spread_um)
    verdicts = [
        v
        for r in present_reads
        if (v := r.final_verdict) and not r.left_out and (r.in_window or (r.look and r.row.way != "strip"))
    ]
    # Areas of a strip, and coupons of which nothing more than one look is known.
    seeds = [r for r in present_reads if r.row.way == "strip" or (r.reading is None and r.look is not None)]
    seed = from_strip([(r.effective_s, r.final_verdict) for r in seeds if r.final_verdict], printer.exposure_step_s)
    by_looks = seed is not None and any(r.look is not None and r.reading is None for r in present_reads)
    look_first = (seed.low_s, seed.high_s) if seed and by_looks else (calibration.low_s, calibration.high_s)
    following = next_step(calibration, arm, printer, left_ml, present_reads, cure, sure, spread_um, look_first)
    limits = Limits.model_validate(calibration.limits)
    return ArmView(
        id=arm.id,
        number=arm.number,
        name=arm.name,
        settings=Settings.model_validate(arm.settings),
        setting_lines=setting_lines(
            Settings.model_validate(arm.settings), calibration.layer_height_um, None, printer.delay_includes_motion
        ),
        version=arm.version,
        coupons=[
            _card(r, blind.get(r.row.id, []))
            for r in sorted(present_reads, key=lambda r: (r.row.exposure_s, r.row.number))
        ],
        to_print=[r.row.code for r in present_reads if r.row.status == "planned"],
        to_read=[
            r.row.code for r in present_reads if r.row.status == "printed" and r.reading is None and r.look is None
        ],
        next=following,
        window=window,
        window_refused=refused,
        stage=stage(verdicts, window, issued),
        range_only=RANGE_ONLY if window_evidence(present_reads)[1] else None,
        seed=(seed.low_s, seed.high_s) if seed else None,
        range_s=(calibration.low_s, calibration.high_s),
        range_from=None,
        marks=seen_marks(
            [r.seen for r in present_reads if r.seen and r.in_window and not r.left_out], limits.growth_target_um
        ),
    )


def _card(read: CouponRead, blind: list[BlindView]) -> CouponCard:
    row, reading, verdict = read.row, read.reading, read.verdict
    evidence = read.tally.evidence if read.tally else None

    def counts(features: Sequence[Graded]) -> tuple[int, int] | None:
        """Sums of whole features and of how many there were; None when there are none."""
        return (sum(f.whole for f in features), sum(f.of for f in features)) if features else None

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
        status="read" if reading or read.look else row.status,
        look=read.look.verdict if read.look else None,
        looked_by=read.look.initials if read.look else None,
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
        bloom_um=verdict.bloom_um if verdict else None,
        walls=counts(evidence.walls) if evidence else None,
        slots=counts(evidence.slots) if evidence else None,
        tips=counts(evidence.tips) if evidence else None,
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


def preview(work: UnitOfWork, id_or_code: str, request: ReadingInput) -> Preview:
    """Verdict and window as they would be with this reading; nothing is saved."""
    db = work.db
    row = present(store.coupon(db, id_or_code), "coupon")
    arm = present(store.arm(db, row.arm_id), "arm")
    calibration = present(store.calibration(db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(db, calibration.printer_id), "printer")
    limits = Limits.model_validate(calibration.limits)
    others = coupon_reads(work, [c for c in store.coupons(db, [arm.id]) if c.id != row.id and not c.gone_at], limits)
    judgements = readings.judgements(db, [row.id])
    design = present(store.design(db, row.design_id), "design")
    drawn = {f.key: f for f in CouponPlan.model_validate(design.plan).features}
    bias = correcting(work, [])
    features, corrections = bias.corrected(
        work.technician_id() if request.picture_id is None else None,
        "",
        [
            ReadFeature.model_validate(
                {
                    **drawn[f.key].model_dump(include={"key", "kind", "side", "size_mm", "axis"}),
                    "state": f.state,
                    "measured_mm": f.measured_mm,
                }
            )
            for f in request.features
            if f.key in drawn
        ],
    )
    counted = tally(
        effective_exposure_s(row.exposure_s, row.dose_ratio),
        features,
        label=row.code,
        faults=tuple(name for name in FAULTS if getattr(request, name)),
        include=bool(judgements and judgements[0].include),
        temp_c=row.temp_c,
    )
    verdict = coupon_verdict(VerdictInput(coupon=counted.evidence, limits=limits))
    this = CouponRead(
        row, None, counted, judgements[0] if judgements else None, verdict, [], {}, None, None, corrections
    )
    cure, sure = cure_curve(work, calibration), cut_offs(work)
    window, _ = window_of(calibration, printer, [*others, this], cure, sure, reader_spread_um(work))
    return Preview(verdict=verdict, findings=[f.message for f in counted.findings], window=window)
