"""Calibrations: open, look at, change the limits, start an arm, close."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...core.calibrate.sources import SourceKey
from ...core.calibrate.stages import Stage
from ...core.climate.temperature_effect import TemperatureEffectResult
from ...core.contract import Contract, Problem, Seconds
from ...core.printing.plausible import check_layer_height, check_range
from ...core.printing.settings import SettingField, Settings, difference, setting_fields
from ...core.window.lanes import LANES, Limits
from ...core.window.remedies import thicker_um
from ...store import blends, shelf
from ...store.calibrate import calibrations as store
from ...store.calibrate import stages
from ...store.codes import next_code
from ...store.prints import prints, virtual
from ...store.rows import count_of, insert, update
from ...store.sets import parameter_sets
from ...store.terms import Policy
from ..both_versions import same_version
from ..climate.effect import effect
from ..reading.readings import CouponPlan, Reason
from ..shelf.entry import Name, Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from . import assessment
from .assessment import ArmView
from .planning import design_for
from .prediction import to_keep

WholeShare = Annotated[float, Field(gt=0.5, lt=1)]


class CalibrationInput(Contract):
    """What is to be calibrated: material, printer, layer height, limits, settings."""

    material_id: str
    printer_id: str
    bottle_id: str | None = None
    finish_route_id: str | None = None
    layer_height_um: float = Field(gt=0, le=1_000_000)
    source: SourceKey = "maker"
    low_s: Seconds
    high_s: Seconds
    limits: Limits
    guard_band_pct: Annotated[float, Field(ge=0, le=50)] = 5
    settings: Settings
    note: Note = ""
    whole_share: WholeShare | None = Field(
        None,
        description="Share of parts that should come out whole, to rest on prints of parts alone; null to rest on coupons",
    )


class LimitsInput(Contract):
    """What the parts ask for, with the version that is edited."""

    version: int
    limits: Limits
    guard_band_pct: Annotated[float, Field(ge=0, le=50)] = 5
    whole_share: WholeShare | None = Field(
        None, description="Of a calibration that rests on prints of parts; as before when not given"
    )


class NotesInput(Contract):
    """Notes and finish route, with the version that is edited."""

    version: int
    bottle_id: str | None = None
    finish_route_id: str | None = None
    note: Note = ""


class ArmInput(Contract):
    """Name and settings of an arm."""

    name: Name
    settings: Settings


class ArmChange(ArmInput):
    """Name and settings of an arm, with the version that is edited."""

    version: int


class CloseInput(Contract):
    """Why a calibration ends without a set."""

    version: int
    reason: Reason


class SetSummary(View):
    """An issued set of a calibration."""

    id: str
    code: str
    version: int
    exposure_s: float
    policy: Policy
    reason: str
    issued_at: str


class LimitFieldView(View):
    """How one limit is asked for."""

    key: str = Field(description="Field of the limits")
    label: str
    unit: str
    kind: Literal["number", "share", "size"] = Field(
        description="A number, a share that is typed in percent, or a size that the coupon has"
    )
    hint: str
    empty: float | None = Field(description="What it means to leave it empty; null: nothing is asked for")
    sizes_mm: list[float] | None = Field(description="Of a size: those that this printer's pixels draw, mm")


class Series(View):
    """Sizes a coupon offers, for choosing limits, and how limits are asked for."""

    walls_mm: list[float]
    slots_mm: list[float]
    tips_mm: list[float]
    fields: list[LimitFieldView] = Field(description="Fields of the limits, lane by lane")


class GuessKept(View):
    """The first estimate as it was when the calibration was opened."""

    exposure_s: float
    low_s: float
    high_s: float
    basis: str


class CalibrationView(View):
    """A calibration with all of its arms."""

    id: str
    code: str
    material_id: str
    material: str
    printer_id: str
    printer: str
    exposure_step_s: float
    several_exposures: bool
    simulated: bool = Field(description="The printer is a virtual one: the app can print and photograph by itself")
    delay_includes_motion: bool
    bottle_id: str | None
    bottle: str | None
    bottle_left_ml: float | None
    bottle_poured: bool = Field(
        description="Pours out of the bottle into this printer's vat are recorded: prints are not taken off it again"
    )
    finish_route_id: str | None
    finish_route: str | None
    layer_height_um: float
    source: str
    low_s: float
    high_s: float
    limits: Limits
    guard_band_pct: float
    whole_share: float | None = Field(
        description="Share of parts that should come out whole, where it rests on prints of parts alone"
    )
    note: str
    initials: str | None
    version: int
    opened_at: str
    closed_at: str | None
    closed_reason: str | None
    stage: Stage
    arms: list[ArmView]
    plans: dict[str, CouponPlan] = Field(description="Drawing per design id")
    series: Series
    setting_fields: list[SettingField] = Field(description="How settings are named on this printer")
    thicker_um: float = Field(description="The thicker layer worth trying when light goes too deep")
    sets: list[SetSummary]
    temp_low_c: float | None = Field(description="Coldest and warmest temperature noted with the coupons")
    temp_high_c: float | None
    spent_s: float
    spent_ml: float
    temperature: TemperatureEffectResult | None = Field(description="Of this material, once sets tell it")
    guess: GuessKept | None = Field(description="What was predicted when the campaign began")
    stages_done: list[str] = Field(description="Of depth, first-layer and confirm, which have a result")
    under_way: dict[str, str] = Field(description="Jobs that print on a simulated printer, by print id")


def listed(work: UnitOfWork, before: str, limit: int) -> list[store.CalibrationListed]:
    """Calibrations before a code, newest first."""
    return store.listed(work.db, before, limit)


def how_many(work: UnitOfWork) -> int:
    """All calibrations of the lab."""
    return count_of(work.db, "calibration")


def calibration(work: UnitOfWork, calibration_id: str) -> CalibrationView:
    """A calibration with everything its evidence says now."""
    db = work.db
    row = present(store.calibration(db, calibration_id), "calibration")
    printer = present(shelf.printer(db, row.printer_id), "printer")
    bottle = shelf.bottle(db, row.bottle_id) if row.bottle_id else None
    route = shelf.finish_route_version(db, row.finish_route_version_id) if row.finish_route_version_id else None
    sets = parameter_sets.of_calibration(db, row.id)
    arms = assessment.arms(work, row, bool(sets))
    coupons = [c for arm in arms for c in arm.coupons]
    designs = store.designs(db, sorted({c.design_id for c in coupons}))
    temps = [c.temp_c for c in coupons if c.temp_c is not None]
    # Coupons of one plate share one print.
    spent = {c.print_id: (c.duration_s, c.volume_ml) for c in coupons if c.status != "planned"}
    return CalibrationView(
        **{name: getattr(row, name) for name in _OWN},
        exposure_step_s=printer.exposure_step_s,
        several_exposures=printer.several_exposures,
        simulated=printer.simulated,
        delay_includes_motion=printer.delay_includes_motion,
        bottle=f"{bottle.code}, lot {bottle.lot}" if bottle else None,
        bottle_left_ml=bottle.left_ml if bottle else None,
        bottle_poured=bottle is not None and blends.is_poured(db, row.printer_id, bottle.id),
        finish_route_id=route.id if route else None,
        finish_route=f"{route.name}, version {route.version}" if route else None,
        limits=Limits.model_validate(row.limits),
        stage=assessment.furthest([arm.stage for arm in arms]),
        arms=arms,
        plans={d.id: CouponPlan.model_validate(d.plan) for d in designs},
        series=series(printer, row.layer_height_um),
        setting_fields=setting_fields(printer.delay_includes_motion, printer.light_power_adjustable),
        thicker_um=thicker_um(row.layer_height_um),
        sets=[SetSummary.model_validate(s) for s in sets],
        temp_low_c=min(temps, default=None),
        temp_high_c=max(temps, default=None),
        spent_s=sum(duration for duration, _ in spent.values()),
        spent_ml=sum(volume for _, volume in spent.values()),
        temperature=effect(work, row.material_id).result,
        guess=GuessKept.model_validate(row.guess) if row.guess else None,
        stages_done=stages.done(db, row.id),
        under_way=virtual.under_way(db) if printer.simulated else {},
    )


_OWN = (
    "id",
    "code",
    "material_id",
    "material",
    "printer_id",
    "printer",
    "bottle_id",
    "layer_height_um",
    "source",
    "low_s",
    "high_s",
    "guard_band_pct",
    "whole_share",
    "note",
    "initials",
    "version",
    "opened_at",
    "closed_at",
    "closed_reason",
)


def series(printer: shelf.Printer, layer_height_um: float) -> Series:
    """Sizes on the coupons as this printer's pixels draw them."""
    settings = Settings()
    features = [
        f for kind in ("flat", "support") for f in design_for(kind, printer, settings, layer_height_um, None).features
    ]

    def sizes(kind: str) -> list[float]:
        """Sizes that the pixels allow for one kind of feature, mm."""
        return sorted({f.size_mm for f in features if f.kind == kind})

    fields = [
        LimitFieldView(**vars(field), sizes_mm=sizes(field.feature) if field.feature else None)
        for lane in LANES.values()
        for field in lane.fields
    ]
    return Series(walls_mm=sizes("wall"), slots_mm=sizes("slot"), tips_mm=sizes("tip"), fields=fields)


def printer_series(work: UnitOfWork, printer_id: str) -> Series:
    """Sizes that one printer's pixels allow."""
    return series(present(shelf.printer(work.db, printer_id), "printer"), 50)


def open_calibration(work: UnitOfWork, request: CalibrationInput) -> CalibrationView:
    """Start a calibration with its first arm.

    Raises
    ------
    Problem
        Naming the field when the layer height looks like a slip, the range is impossible, or a thing on
        the shelf is not there.
    """
    check_layer_height(request.layer_height_um)
    check_range(request.low_s, request.high_s)
    with work.write() as answer:
        db = work.db
        material = shelf.material(db, request.material_id)
        printer = shelf.printer(db, request.printer_id)
        fields: dict[str, str] = {}
        if material is None or material.retired_at:
            fields["material_id"] = "Choose a material that is on the shelf."
        if printer is None or printer.retired_at:
            fields["printer_id"] = "Choose a printer that is on the shelf."
        route = _bottle_and_route(work, request.material_id, request.bottle_id, request.finish_route_id, fields)
        if fields:
            raise Problem("The calibration cannot start like this.", fields)
        assert printer is not None
        if request.low_s < printer.exposure_step_s:
            message = f"{printer.name} sets {printer.exposure_step_s:g} s at least."
            raise Problem(message, {"low_s": message})
        calibration_id = work.new_id()
        insert(
            db,
            "calibration",
            id=calibration_id,
            code=next_code(db, "C"),
            material_id=request.material_id,
            printer_id=request.printer_id,
            bottle_id=request.bottle_id,
            finish_route_version_id=route.version_id if route else None,
            layer_height_um=request.layer_height_um,
            source=request.source,
            low_s=request.low_s,
            high_s=request.high_s,
            limits=request.limits.model_dump(),
            guard_band_pct=request.guard_band_pct,
            whole_share=request.whole_share,
            note=request.note,
            technician_id=work.technician_id(),
            opened_at=work.now(),
            guess=to_keep(work, request.material_id, request.printer_id, request.layer_height_um),
        )
        add_arm(work, calibration_id, 1, "Arm 1", request.settings)
        return answer(calibration(work, calibration_id))


def change_limits(work: UnitOfWork, calibration_id: str, request: LimitsInput) -> CalibrationView:
    """Change what the parts need; the window follows."""
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        same_version(row, request.version, row.code, request)
        update(
            work.db,
            "calibration",
            calibration_id,
            limits=request.limits.model_dump(),
            guard_band_pct=request.guard_band_pct,
            whole_share=None if row.whole_share is None else request.whole_share or row.whole_share,
            version=row.version + 1,
        )
        return answer(calibration(work, calibration_id))


def change_notes(work: UnitOfWork, calibration_id: str, request: NotesInput) -> CalibrationView:
    """Correct what is noted about a calibration: its bottle, its finish route, its note.

    Raises
    ------
    Conflict
        When a set was issued on it: evidence that is signed keeps what was noted then.
    """
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        same_version(row, request.version, row.code, request)
        route_id = row.finish_route_version_id
        route_version = shelf.finish_route_version(work.db, route_id) if route_id else None
        moved = request.bottle_id != row.bottle_id or request.finish_route_id != (
            route_version.id if route_version else None
        )
        if moved and parameter_sets.of_calibration(work.db, row.id):
            raise Conflict(f"A set is issued on {row.code}: its bottle and finish route stay as they were.")
        fields: dict[str, str] = {}
        if moved:
            route = _bottle_and_route(work, row.material_id, request.bottle_id, request.finish_route_id, fields)
            route_id = route.version_id if route else None
        if fields:
            raise Problem("This cannot be noted.", fields)
        update(
            work.db,
            "calibration",
            calibration_id,
            bottle_id=request.bottle_id,
            finish_route_version_id=route_id,
            note=request.note,
            version=row.version + 1,
        )
        return answer(calibration(work, calibration_id))


def _bottle_and_route(
    work: UnitOfWork, material_id: str, bottle_id: str | None, route_id: str | None, fields: dict[str, str]
) -> shelf.FinishRoute | None:
    """Check both against the shelf, noting what is wrong in ``fields``; the route's newest version."""
    bottle = shelf.bottle(work.db, bottle_id) if bottle_id else None
    if bottle_id and (bottle is None or bottle.retired_at or bottle.material_id != material_id):
        fields["bottle_id"] = "Choose a bottle of this material that is on the shelf."
    route = shelf.finish_route(work.db, route_id) if route_id else None
    if route_id and (route is None or route.retired_at):
        fields["finish_route_id"] = "Choose a finish route that is on the shelf."
    return route


def start_arm(work: UnitOfWork, calibration_id: str, request: ArmInput) -> CalibrationView:
    """Start an arm: its coupons share a window among themselves only."""
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        arms = store.arms(work.db, calibration_id)
        for arm in arms:
            if not difference(Settings.model_validate(arm.settings), request.settings):
                message = f"Arm “{arm.name}” has these very settings. Change one thing."
                raise Problem(message, {"settings": message})
        add_arm(work, calibration_id, len(arms) + 1, request.name, request.settings)
        return answer(calibration(work, calibration_id))


def change_settings(work: UnitOfWork, arm_id: str, request: ArmChange) -> CalibrationView:
    """Correct the settings or the name of an arm, while nothing of it is printed.

    Raises
    ------
    Conflict
        When a coupon of the arm is printed: its settings are evidence now, and other ones make another arm.
    """
    with work.write() as answer:
        arm = present(store.arm(work.db, arm_id), "arm")
        row = present(store.calibration(work.db, arm.calibration_id), "calibration")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        same_version(arm, request.version, f"“{arm.name}”", request)
        changed = difference(Settings.model_validate(arm.settings), request.settings)
        if changed and any(c.status == "printed" for c in store.coupons(work.db, [arm_id])):
            raise Conflict(f"Coupons of “{arm.name}” are printed with its settings. Start another arm for other ones.")
        settings = request.settings.model_dump()
        update(work.db, "arm", arm_id, name=request.name, settings=settings, version=arm.version + 1)
        return answer(calibration(work, row.id))


def close(work: UnitOfWork, calibration_id: str, request: CloseInput) -> CalibrationView:
    """Close a calibration, with the reason; nothing is printed for it any more."""
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        same_version(row, request.version, row.code, request)
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed already.")
        lift = next((gate for gate in prints.gates(work.db, row.printer_id) if gate.kind == "lift"), None)
        if lift is not None:
            message = (
                f"{lift.code} was printed with the lift suppressed: switch the lift back on, then close {row.code}."
            )
            raise Conflict(message, {"lift": message})
        update(
            work.db,
            "calibration",
            calibration_id,
            closed_at=work.now(),
            closed_reason=request.reason,
            version=row.version + 1,
        )
        return answer(calibration(work, calibration_id))


def reopen(work: UnitOfWork, calibration_id: str) -> CalibrationView:
    """Open a closed calibration again."""
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        if row.closed_at is None:
            raise Conflict(f"{row.code} is open.")
        update(work.db, "calibration", calibration_id, closed_at=None, closed_reason=None, version=row.version + 1)
        return answer(calibration(work, calibration_id))


def add_arm(work: UnitOfWork, calibration_id: str, number: int, name: str, settings: Settings) -> str:
    """Add an arm inside whoever's transaction; its id."""
    arm_id = work.new_id()
    insert(
        work.db,
        "arm",
        id=arm_id,
        calibration_id=calibration_id,
        number=number,
        name=name,
        settings=settings.model_dump(),
        created_at=work.now(),
    )
    return arm_id
