"""Check coupons: one at the issued exposure renews a set or lapses it; together they are a printer's control chart."""

from __future__ import annotations

from pydantic import Field

from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step
from ...core.statistics.control_chart import ControlChartResult
from ...core.status.validity import Validity
from ...store import shelf
from ...store.calibrate import calibrations
from ...store.codes import next_code, next_coupon_code
from ...store.rows import insert
from ...store.sets import parameter_sets
from ...store.sets import validity as store
from ...store.terms import Verdict
from ..calibrate.planning import CouponCost, PlanInput, cost_of, design_for, design_id
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .validity import LEAST_CHECKS, chart, states, window_pct

# A short ladder around the old value, wide enough to see which way it went.
RE_RANGE = (0.78, 1.0, 1.28)


class CheckResultView(View):
    """What one check coupon says of its set."""

    coupon: str
    set_code: str
    material: str
    at: str
    screen_hours: float | None
    off_pct: float | None = Field(description="How far the dose seems off, percent")
    verdict: Verdict | None
    passed: bool
    judged_by: str = Field(description="What it was judged by: criteria, the dose, or the technician")


class ReRange(View):
    """A short ladder around the old exposure."""

    material_id: str
    printer_id: str
    layer_height_um: float
    low_s: float
    high_s: float
    exposures_s: list[float]


class SetLife(View):
    """Whether a set still holds, why not, and what one check coupon would cost."""

    set_code: str
    newest: bool
    validity: Validity
    checks: list[CheckResultView]
    waiting: list[str] = Field(description="Check coupons printed or planned and not read")
    cost: CouponCost
    re_range: ReRange


class PlannedCheck(View):
    """The coupon that was planned as a check."""

    coupon: str
    print_id: str
    calibration_id: str


class ChartView(View):
    """A printer's control chart, in percent of dose."""

    printer_id: str
    printer: str
    checks: list[CheckResultView]
    chart: ControlChartResult | None
    window_of: str | None = Field(description="The set whose window is drawn: the tightest with check coupons")
    lower_pct: float | None
    upper_pct: float | None
    enough: int = Field(description="Check coupons from which on there is a chart")


def life(work: UnitOfWork, id_or_code: str) -> SetLife:
    """The life of one set: events, checks, and why it stands as it does."""
    row = present(parameter_sets.parameter_set(work.db, id_or_code), "parameter set")
    living_set = store.living_set(work.db, row.id)
    checks = store.checks_of_sets(work.db, [row.id])
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    settings = Settings.model_validate(row.settings)
    priced = cost_of(PlanInput(exposures_s=[row.exposure_s]), settings, row.layer_height_um, printer, None)
    step = printer.exposure_step_s
    exposures = sorted({max(round_to_step(k * row.exposure_s, step), step) for k in RE_RANGE})
    return SetLife(
        set_code=row.code,
        newest=living_set is not None,
        validity=states(work, [living_set])[living_set.id]
        if living_set
        else Validity(state="lapsed", causes=[], renewed_at=None, by_check=False),
        checks=[_check(c) for c in checks],
        waiting=calibrations.unread_checks(work.db, row.id),
        cost=priced.coupons[0],
        re_range=ReRange(
            material_id=row.material_id,
            printer_id=row.printer_id,
            layer_height_um=row.layer_height_um,
            low_s=exposures[0],
            high_s=exposures[-1],
            exposures_s=exposures,
        ),
    )


def plan(work: UnitOfWork, id_or_code: str) -> PlannedCheck:
    """Plan one flat coupon at the issued exposure, with the set's own settings.

    Raises
    ------
    Conflict
        When a later version is issued, the printer is retired, or one is already planned.
    """
    with work.write() as answer:
        row = present(parameter_sets.parameter_set(work.db, id_or_code), "parameter set")
        if store.living_set(work.db, row.id) is None:
            raise Conflict(f"A later version of {row.code} is issued: check that one.")
        printer = present(shelf.printer(work.db, row.printer_id), "printer")
        if printer.retired_at is not None:
            raise Conflict(f"{printer.name} is retired: nothing can be planned on it.")
        waiting = calibrations.unread_checks(work.db, row.id)
        if waiting:
            raise Conflict(f"Check coupon {waiting[0]} of {row.code} is already planned.")
        settings = Settings.model_validate(row.settings)
        request = PlanInput(exposures_s=[row.exposure_s])
        cost = cost_of(request, settings, row.layer_height_um, printer, None).coupons[0]
        coupon = design_for("flat", printer, settings, row.layer_height_um, None)
        print_id, plate_id, code = work.new_id(), work.new_id(), next_coupon_code(work.db)
        insert(
            work.db,
            "print",
            id=print_id,
            code=next_code(work.db, "J"),
            printer_id=printer.id,
            arm_id=row.arm_id,
            status="planned",
            planned_at=work.now(),
            volume_ml=cost.volume_ml,
            duration_s=cost.duration_s or 0.0,
            technician_id=work.technician_id(),
            parameter_set_id=row.id,
        )
        insert(work.db, "plate", id=plate_id, print_id=print_id)
        number = calibrations.coupons_so_far(work.db, row.arm_id)
        insert(
            work.db,
            "coupon",
            id=work.new_id(),
            code=code,
            plate_id=plate_id,
            arm_id=row.arm_id,
            design_id=design_id(work, coupon),
            exposure_s=row.exposure_s,
            number=number + 1,
            created_at=work.now(),
            check_of=row.id,
        )
        return answer(PlannedCheck(coupon=code, print_id=print_id, calibration_id=row.calibration_id))


def printer_chart(work: UnitOfWork, printer_id: str) -> ChartView:
    """Check coupons of a printer over time."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    checks = store.checks_of_printer(work.db, printer_id)
    checked = {c.parameter_set_id for c in checks}
    chartable = [s for s in store.sets_of_printer(work.db, printer_id) if s.id in checked and s.lower_s and s.upper_s]
    tightest = min(chartable, key=lambda s: (s.upper_s or 1) / (s.lower_s or 1), default=None)
    ends = window_pct(tightest) if tightest is not None else None
    lower, upper = ends if ends is not None else (None, None)
    return ChartView(
        printer_id=printer.id,
        printer=printer.name,
        checks=[_check(c) for c in checks],
        chart=chart(checks, tightest),
        window_of=tightest.code if tightest else None,
        lower_pct=lower,
        upper_pct=upper,
        enough=LEAST_CHECKS,
    )


def _check(row: store.CheckRow) -> CheckResultView:
    return CheckResultView(
        coupon=row.code,
        set_code=row.set_code,
        material=row.material,
        at=row.at,
        screen_hours=row.screen_hours,
        off_pct=row.off_pct,
        verdict=row.verdict,
        passed=row.passed,
        judged_by=row.judged_by,
    )
