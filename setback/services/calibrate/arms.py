"""Arms side by side: what changing one setting moved."""

from __future__ import annotations

from pydantic import Field

from ...core.calibrate.compare_arms import ArmInput, CompareArmsInput, CompareArmsResult, compare_arms
from ...core.calibrate.rests import exposures_to_try, rests_to_try
from ...core.contract import Contract, Problem, Seconds
from ...core.printing.print_time import Rest, print_time
from ...core.printing.settings import Settings, difference
from ...core.printing.steps import round_to_step
from ...core.window.lanes import Limits
from ...store import shelf
from ...store.calibrate import calibrations as store
from ..reading.coupon_evidence import arms_evidence, window_input
from ..reading.gauge_studies import reader_spread_um
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .calibrations import add_arm
from .cut_offs import cut_offs
from .planning import PlanInput, Planned, cost_of, put_plan
from .windows import window_for


class Differs(View):
    """A setting in which arms differ, with the value of each."""

    arm: str
    settings: list[str] = Field(description="Settings that differ from the first arm")


class RestSet(View):
    """Arms that would find the shortest rest that works, and what they cost."""

    arm_id: str
    rests_s: list[float]
    exposures_s: list[float]
    duration_s: float
    volume_ml: float
    why: str


class RestsInput(Contract):
    """The rests to try."""

    arm_id: str = Field(max_length=40, description="The arm whose other settings are kept")
    rests_s: list[Rest] = Field(min_length=1, max_length=5)
    exposures_s: list[Seconds] = Field(min_length=2, max_length=6)


class ComparisonView(View):
    """Arms side by side, and what their setting does."""

    result: CompareArmsResult | None
    refused: str | None = Field(description="Why there is nothing to compare yet")
    differs: list[Differs]
    rests: RestSet | None = Field(description="None once arms with other rests are there")


def comparison(work: UnitOfWork, calibration_id: str) -> ComparisonView:
    """Every arm that was read, against the first."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    arms = store.arms(work.db, calibration_id)
    first = Settings.model_validate(arms[0].settings)
    inputs, differs, rests = [], [], _rest_set(work, row, printer, arms)
    by_arm = arms_evidence(work, row, [arm.id for arm in arms])
    for arm in arms:
        settings = Settings.model_validate(arm.settings)
        evidence, range_only = by_arm[arm.id]
        if arm is not arms[0]:
            differs.append(Differs(arm=arm.name, settings=difference(first, settings)))
        if evidence and not range_only:
            exposure = sorted(e.exposure_s for e in evidence)[len(evidence) // 2]
            inputs.append(
                ArmInput(
                    name=arm.name,
                    coupons=evidence,
                    rest_s=settings.rest_before_s,
                    seconds_per_layer=_layer_s(settings, printer, exposure),
                )
            )
    if len(inputs) < 2:
        refused = "Two arms with readings can be compared."
        return ComparisonView(result=None, refused=refused, differs=differs, rests=rests)
    limits = Limits.model_validate(row.limits)
    result = compare_arms(CompareArmsInput(arms=inputs, limits=limits, exposure_step_s=printer.exposure_step_s))
    return ComparisonView(result=result, refused=None, differs=differs, rests=rests)


def _rest_set(
    work: UnitOfWork, row: store.Calibration, printer: shelf.Printer, arms: list[store.Arm]
) -> RestSet | None:
    """The guided set, while no arm differs in its rest."""
    all_settings = [Settings.model_validate(arm.settings) for arm in arms]
    if row.closed_at is not None or len({s.rest_before_s for s in all_settings}) > 1:
        return None
    settings, arm = all_settings[0], arms[0]
    motion = 60 * settings.lift_mm * (1 / settings.lift_mm_min + 1 / settings.retract_mm_min)
    rests = rests_to_try(settings.rest_before_s, motion, printer.delay_includes_motion)
    reads, _ = arms_evidence(work, row, [arm.id])[arm.id]
    inputs = (
        window_input(row, printer.exposure_step_s, reads, None, cut_offs(work), reader_spread_um(work))
        if reads
        else None
    )
    window = window_for(inputs) if inputs else None
    step = printer.exposure_step_s
    to_try = exposures_to_try(window, row.low_s, row.high_s)
    exposures = sorted({max(round_to_step(t, step), step) for t in to_try})
    if not rests or len(exposures) < 2:
        return None
    plan = PlanInput(exposures_s=exposures)
    costs = [
        cost_of(plan, settings.model_copy(update={"rest_before_s": r}), row.layer_height_um, printer, None)
        for r in rests
    ]
    return RestSet(
        arm_id=arm.id,
        rests_s=rests,
        exposures_s=exposures,
        duration_s=sum(c.duration_s for c in costs),
        volume_ml=sum(c.volume_ml for c in costs),
        why="Machine and resin settle before the light comes. Each of these arms changes the rest alone; the shortest "
        "whose window is not shown worse than the best is enough, and every second more is paid on every layer.",
    )


def start_rests(work: UnitOfWork, calibration_id: str, request: RestsInput) -> Planned:
    """Start one arm per rest and plan the same exposures in each."""
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        arm = present(store.arm(work.db, request.arm_id), "arm")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        if arm.calibration_id != row.id:
            message = "This arm belongs to another calibration."
            raise Problem(message, {"arm_id": message})
        settings = Settings.model_validate(arm.settings)
        arms = store.arms(work.db, calibration_id)
        rests = {Settings.model_validate(a.settings).rest_before_s for a in arms}
        double = [r for i, r in enumerate(request.rests_s) if r in rests or r in request.rests_s[:i]]
        if double:
            message = f"There is an arm with {double[0]:g} s of rest already."
            raise Problem(message, {"rests_s": message})
        all_planned = Planned(coupons=[], print_ids=[])
        for number, rest in enumerate(request.rests_s, len(arms) + 1):
            changed = settings.model_copy(update={"rest_before_s": rest})
            arm_id = add_arm(work, calibration_id, number, f"rest {rest:g} s", changed)
            planned = put_plan(work, arm_id, PlanInput(exposures_s=request.exposures_s))
            all_planned.coupons += planned.coupons
            all_planned.print_ids += planned.print_ids
        return answer(all_planned)


def _layer_s(settings: Settings, printer: shelf.Printer, exposure_s: float) -> float:
    """Seconds of one normal layer, motion and rests included."""
    normal = settings.model_copy(update={"base_layers": 0, "transition_layers": 0})
    return print_time(normal.timing(1, exposure_s, printer.delay_includes_motion)).total_s
