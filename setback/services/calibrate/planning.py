"""Plan coupons: what they cost before they are made, and the prints that will make them."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import Field

from ...core.calibrate.ladder import BuiltInStripInput, LadderInput, built_in_strip, exposure_ladder
from ...core.calibrate.stages import check_thickness, floor_mm, layers_of, least_thickness_mm
from ...core.calibrate.ways import RANGE_ONLY, WAYS, WayKey
from ...core.contract import Contract, Notice, Problem, Seconds
from ...core.printing.print_time import print_time
from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step
from ...coupon import KINDS, NEWEST, Coupon, Unfit, drawn, own_coupon
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.codes import next_code, next_coupon_code
from ...store.rows import insert, update
from ...store.terms import CouponKind
from ..earlier import own_coupons
from ..files.plate_layout import Layout, lay, row_of_areas
from ..unit_of_work import Conflict, UnitOfWork, View, present

Repeats = Annotated[int, Field(ge=1, le=3)]
# Each area of a strip: one flash, and no motion but the plate's going down and up once.
MOTION_S = 40.0


class PlanInput(Contract):
    """Coupons to plan: kind, exposures and the way of printing them."""

    kind: CouponKind = "flat"
    own_coupon: str | None = Field(None, max_length=20, description="Of kind own: code of which")
    exposures_s: list[Seconds] = Field(min_length=1, max_length=30)
    thickness_mm: float | None = Field(
        None, ge=0.01, le=50, description="Whole thickness; the coupon's own when not given"
    )
    is_repeat: bool = Field(False, description="Supersedes earlier coupons at the exposure")
    way: WayKey = "separate"
    repeats: Repeats | None = Field(None, description="On a plate: how often each exposure is there")


class LadderPlan(Contract):
    """A range to cover with coupons."""

    low_s: Seconds
    high_s: Seconds
    count: int = Field(ge=1, le=20)
    spacing: Literal["geometric", "linear"] = "geometric"
    kind: CouponKind = "flat"
    thickness_mm: float | None = Field(None, ge=0.01, le=50)
    way: WayKey = "separate"
    repeats: Repeats | None = None


class CouponCost(View):
    """What one planned coupon costs: minutes and millilitres."""

    exposure_s: float
    duration_s: float | None = Field(description="None when it shares its print")
    volume_ml: float


class PlaceOnPlate(View):
    """Where one coupon lies on the plate, mm."""

    exposure_s: float
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    dose_ratio: float | None


class PlatePlan(View):
    """Where a plan lies on the plate."""

    width_mm: float
    height_mm: float
    places: list[PlaceOnPlate]
    keep_off: list[tuple[float, float, float, float]]
    fits: int
    repeats: int
    mapped: bool


class Quote(View):
    """What a plan costs, before anything is made."""

    kind: CouponKind
    way: WayKey
    tells: str
    does_not_tell: str
    coupons: list[CouponCost]
    prints: int
    duration_s: float
    volume_ml: float
    layers: int
    thickness_mm: float
    least_thickness_mm: float
    rest_before_s: float
    bottle_left_ml: float | None
    plate: PlatePlan | None
    warnings: list[Notice]


class Planned(View):
    """Codes of the planned coupons, and their prints."""

    coupons: list[str] = Field(description="Codes of the coupons planned")
    print_ids: list[str]


def design_for(
    kind: str,
    printer: shelf.Printer,
    settings: Settings,
    layer_height_um: float,
    thickness_mm: float | None,
    own_design: dict[str, Any] | None = None,
) -> Coupon:
    """The coupon as it will be printed on this printer with these settings; one of one's own from how it was described."""
    floor = floor_mm(settings, layer_height_um)
    if own_design is not None:
        check_thickness(own_design["thickness_mm"], settings, layer_height_um)
        return own_coupon(printer.pixel_um / 1000, floor, **own_design)
    if kind == "strip":
        return KINDS[kind](printer.pixel_um / 1000, 0.0)
    if thickness_mm is not None:
        check_thickness(thickness_mm, settings, layer_height_um)
        floor = min(floor, thickness_mm)
    parameters: dict[str, Any] = {"pixel_mm": printer.pixel_um / 1000, "floor_mm": floor, "thickness_mm": thickness_mm}
    if kind in NEWEST:
        parameters["design"] = NEWEST[kind]
    if kind == "grid":
        parameters["plate_mm"] = [printer.plate_x_mm, printer.plate_y_mm]
    try:
        return drawn(kind, parameters)
    except Unfit as unfit:
        raise Problem(unfit.message, {"kind": unfit.message}) from None


def quote(work: UnitOfWork, arm_id: str, plan: PlanInput) -> Quote:
    """Minutes and millilitres of a plan; refuses what would read something else than the normal exposure."""
    arm, calibration, printer = _place(work, arm_id)
    settings = Settings.model_validate(arm.settings)
    for i, exposure in enumerate(plan.exposures_s):
        nearest = round_to_step(exposure, printer.exposure_step_s)
        if abs(nearest - exposure) > 1e-9 or nearest <= 0:
            message = f"{printer.name} sets whole steps of {printer.exposure_step_s:g} s: {max(nearest, printer.exposure_step_s):g} s is the nearest."
            raise Problem(message, {f"exposures_s.{i}": message})
    if len(set(plan.exposures_s)) < len(plan.exposures_s):
        raise Problem("An exposure is there twice.", {"exposures_s": "Each exposure once; repeat a coupon by itself."})
    plan, left_ml = _fitting(plan, printer), _bottle_left(work, calibration)
    own_design = own_coupons.parameters_of(work, plan.own_coupon) if plan.kind == "own" else None
    if plan.way == "strip":
        return _strip(plan, printer, left_ml)
    priced = cost_of(plan, settings, calibration.layer_height_um, printer, left_ml, own_design)
    if plan.way == "separate":
        return priced
    coupon = design_for(plan.kind, printer, settings, calibration.layer_height_um, plan.thickness_mm, own_design)
    layout = lay(work, printer, coupon, plan.exposures_s, plan.repeats, store.coupons_so_far(work.db, arm.id))
    return _on_one_plate(priced, layout, coupon, printer)


def _fitting(plan: PlanInput, printer: shelf.Printer) -> PlanInput:
    """The plan with the coupon its way asks for; refused where the printer cannot do it."""
    if plan.way == "plate" and not printer.several_exposures:
        message = f"{printer.name} sets one exposure per print. Print separately."
        raise Problem(message, {"way": message})
    if plan.way == "strip" and not printer.suppresses_lift:
        message = f"{printer.name} cannot suppress its lift. Print separately."
        raise Problem(message, {"way": message})
    if plan.kind == "strip" and plan.way != "strip":
        message = "The areas of a dose strip are printed in one strip."
        raise Problem(message, {"kind": message})
    if plan.kind == "own" and plan.way != "separate":
        message = "A coupon of your own is printed from your own file, one exposure to a print."
        raise Problem(message, {"way": message})
    if plan.kind == "grid" and plan.way == "plate":
        message = "The grid fills the plate by itself: print it separately."
        raise Problem(message, {"way": message})
    return plan.model_copy(update={"kind": "strip", "thickness_mm": None}) if plan.way == "strip" else plan


def _on_one_plate(priced: Quote, layout: Layout, coupon: Coupon, printer: shelf.Printer) -> Quote:
    """The quote of a plate: one print that takes as long as its longest exposure."""
    mapped = all(spot.dose_ratio is not None for spot in layout.spots)
    warnings = [w for w in priced.warnings if w.code != "bottle-short"]
    if not mapped:
        warnings.append(Notice(code="range-only", message=RANGE_ONLY))
    volume = len(layout.spots) * coupon.volume_ml
    if priced.bottle_left_ml is not None and volume > priced.bottle_left_ml:
        warnings.append(_bottle_short(priced.bottle_left_ml, volume))
    return priced.model_copy(
        update={
            "coupons": _shared(layout, coupon),
            "prints": 1,
            "volume_ml": volume,
            "warnings": warnings,
            "duration_s": max(c.duration_s or 0.0 for c in priced.coupons),
            "plate": _plate_plan(layout, coupon, printer, mapped),
        }
    )


def _strip(plan: PlanInput, printer: shelf.Printer, left_ml: float | None) -> Quote:
    """The quote of a dose strip: one layer, as long as its longest flash."""
    coupon = KINDS["strip"](printer.pixel_um / 1000, 0.0)
    layout = row_of_areas(printer, coupon, plan.exposures_s)
    return Quote(
        kind="strip",
        way="strip",
        tells=coupon.tells,
        does_not_tell=coupon.does_not_tell,
        coupons=_shared(layout, coupon),
        prints=1,
        duration_s=max(plan.exposures_s) + MOTION_S,
        volume_ml=len(layout.spots) * coupon.volume_ml,
        layers=1,
        thickness_mm=coupon.thickness_mm,
        least_thickness_mm=0.0,
        rest_before_s=0.0,
        bottle_left_ml=left_ml,
        plate=_plate_plan(layout, coupon, printer, False),
        warnings=[Notice(code="seeds-only", message=WAYS["strip"].limit)],
    )


def _shared(layout: Layout, coupon: Coupon) -> list[CouponCost]:
    return [
        CouponCost(exposure_s=spot.exposure_s, duration_s=None, volume_ml=coupon.volume_ml) for spot in layout.spots
    ]


def _plate_plan(layout: Layout, coupon: Coupon, printer: shelf.Printer, mapped: bool) -> PlatePlan:
    size = {"width_mm": coupon.width_mm, "height_mm": coupon.height_mm}
    return PlatePlan(
        width_mm=printer.plate_x_mm,
        height_mm=printer.plate_y_mm,
        keep_off=layout.keep_off,
        fits=layout.fits,
        repeats=layout.repeats,
        mapped=mapped,
        places=[
            PlaceOnPlate(exposure_s=s.exposure_s, x_mm=s.x_mm, y_mm=s.y_mm, dose_ratio=s.dose_ratio, **size)
            for s in layout.spots
        ],
    )


def cost_of(
    plan: PlanInput,
    settings: Settings,
    layer_height_um: float,
    printer: shelf.Printer,
    bottle_left_ml: float | None,
    own_design: dict[str, Any] | None = None,
) -> Quote:
    """The arithmetic of a quote for separate prints, from what is already at hand."""
    coupon = design_for(plan.kind, printer, settings, layer_height_um, plan.thickness_mm, own_design)
    layers = layers_of(coupon.thickness_mm, layer_height_um)
    timing = print_time(
        settings.timing(
            layers,
            plan.exposures_s[0],
            printer.delay_includes_motion,
            exposures_s=plan.exposures_s,
            volume_ml=coupon.volume_ml,
        )
    )
    warnings = list(timing.warnings)
    volume = timing.ladder_volume_ml or 0.0
    if bottle_left_ml is not None and volume > bottle_left_ml:
        warnings.append(_bottle_short(bottle_left_ml, volume))
    if coupon.width_mm > printer.plate_x_mm or coupon.height_mm > printer.plate_y_mm:
        message = f"The coupon of {coupon.width_mm:g} × {coupon.height_mm:g} mm does not fit {printer.name}'s plate."
        raise Problem(message, {"kind": message})
    return Quote(
        kind=plan.kind,
        way=plan.way,
        tells=coupon.tells,
        does_not_tell=coupon.does_not_tell,
        coupons=[
            CouponCost(exposure_s=c.exposure_s, duration_s=c.total_s, volume_ml=coupon.volume_ml) for c in timing.ladder
        ],
        prints=len(timing.ladder),
        duration_s=timing.ladder_total_s or 0.0,
        volume_ml=volume,
        layers=layers,
        thickness_mm=coupon.thickness_mm,
        least_thickness_mm=least_thickness_mm(settings, layer_height_um),
        rest_before_s=timing.rest_before_s,
        bottle_left_ml=bottle_left_ml,
        plate=None,
        warnings=warnings,
    )


def _bottle_short(left_ml: float, volume_ml: float) -> Notice:
    message = f"The bottle holds {left_ml:g} ml; these coupons take {volume_ml:.0f} ml."
    return Notice(code="bottle-short", message=message)


def quote_ladder(work: UnitOfWork, arm_id: str, request: LadderPlan) -> Quote:
    """A quote for a ladder from low to high on the printer's step."""
    _, _, printer = _place(work, arm_id)
    ladder = exposure_ladder(
        LadderInput(
            low_s=request.low_s,
            high_s=request.high_s,
            count=request.count,
            spacing=request.spacing,
            exposure_step_s=printer.exposure_step_s,
        )
    )
    plan = PlanInput(
        kind=request.kind,
        exposures_s=ladder.exposures_s,
        thickness_mm=request.thickness_mm,
        way=request.way,
        repeats=request.repeats,
    )
    priced = quote(work, arm_id, plan)
    return priced.model_copy(update={"warnings": [*ladder.warnings, *priced.warnings]})


def plan(work: UnitOfWork, arm_id: str, request: PlanInput) -> Planned:
    """Make the prints of a plan, each coupon with a code of its own: one print per coupon, or one for all."""
    with work.write() as answer:
        return answer(put_plan(work, arm_id, request))


def put_plan(work: UnitOfWork, arm_id: str, plan: PlanInput) -> Planned:
    """The write of :func:`plan`, for whoever has a transaction open."""
    priced = quote(work, arm_id, plan)
    arm, calibration, printer = _place(work, arm_id)
    if calibration.closed_at is not None:
        raise Conflict(f"{calibration.code} is closed. Start a new calibration to print more.")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: nothing can be planned on it.")
    settings = Settings.model_validate(arm.settings)
    own_design = own_coupons.parameters_of(work, plan.own_coupon) if priced.kind == "own" else None
    coupon = design_for(priced.kind, printer, settings, calibration.layer_height_um, plan.thickness_mm, own_design)
    drawing_id = design_id(work, coupon)
    number = store.coupons_so_far(work.db, arm_id)
    planned = Planned(coupons=[], print_ids=[])
    shared = _new_print(work, arm, printer, priced, priced.duration_s, priced.volume_ml) if priced.plate else None
    spots: list[PlaceOnPlate | None] = [*priced.plate.places] if priced.plate else [None] * len(priced.coupons)
    for i, (cost, spot) in enumerate(zip(priced.coupons, spots, strict=True)):
        print_id, plate_id = shared or _new_print(work, arm, printer, priced, cost.duration_s or 0.0, cost.volume_ml)
        place = None if spot is None else (spot.x_mm, spot.y_mm)
        code = _put_coupon(
            work,
            plate_id,
            arm_id,
            drawing_id,
            cost.exposure_s,
            number + i + 1,
            plan.is_repeat,
            place,
            spot.dose_ratio if spot else None,
        )
        planned.coupons.append(code)
        if print_id not in planned.print_ids:
            planned.print_ids.append(print_id)
    return planned


def _put_coupon(
    work: UnitOfWork,
    plate_id: str,
    arm_id: str,
    drawing_id: str,
    exposure_s: float,
    number: int,
    is_repeat: bool = False,
    place_mm: tuple[float, float] | None = None,
    dose_ratio: float | None = None,
) -> str:
    """A coupon on a plate; the code it got."""
    code = next_coupon_code(work.db)
    insert(
        work.db,
        "coupon",
        id=work.new_id(),
        code=code,
        plate_id=plate_id,
        arm_id=arm_id,
        design_id=drawing_id,
        exposure_s=exposure_s,
        is_repeat=is_repeat,
        number=number,
        created_at=work.now(),
        place_x_mm=place_mm[0] if place_mm else None,
        place_y_mm=place_mm[1] if place_mm else None,
        dose_ratio=dose_ratio,
    )
    return code


def _new_print(
    work: UnitOfWork, arm: store.Arm, printer: shelf.Printer, priced: Quote, duration_s: float, volume_ml: float
) -> tuple[str, str]:
    """A planned print with its plate."""
    print_id, plate_id = work.new_id(), work.new_id()
    insert(
        work.db,
        "print",
        id=print_id,
        code=next_code(work.db, "J"),
        printer_id=printer.id,
        arm_id=arm.id,
        status="planned",
        planned_at=work.now(),
        volume_ml=volume_ml,
        duration_s=duration_s,
        technician_id=work.technician_id(),
        way=priced.way,
        lift_suppressed=priced.way == "strip",
    )
    insert(work.db, "plate", id=plate_id, print_id=print_id)
    return print_id, plate_id


def _place(work: UnitOfWork, arm_id: str) -> tuple[store.Arm, store.Calibration, shelf.Printer]:
    arm = present(store.arm(work.db, arm_id), "arm")
    calibration = present(store.calibration(work.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    return arm, calibration, printer


def _bottle_left(work: UnitOfWork, calibration: store.Calibration) -> float | None:
    bottle = shelf.bottle(work.db, calibration.bottle_id) if calibration.bottle_id else None
    return bottle.left_ml if bottle else None


def design_id(work: UnitOfWork, coupon: Coupon) -> str:
    """The drawing of a coupon: held once, shared by all made from the same parameters."""
    parameters = json.dumps(coupon.parameters, sort_keys=True, separators=(",", ":"))
    stored_id = store.design_like(work.db, coupon.kind, parameters)
    if stored_id is not None:
        return stored_id.id
    made_id = work.new_id()
    insert(
        work.db,
        "coupon_design",
        id=made_id,
        kind=coupon.kind,
        parameters=parameters,
        plan=json.dumps(coupon, default=vars, separators=(",", ":")),
    )
    return made_id


class BuiltInStrip(BuiltInStripInput):
    """A strip that the printer itself exposed, and which of one's own coupons is read on each column where any is."""

    own_coupon: str | None = Field(
        None, max_length=20, description="Code of what is counted on a column; by one look without"
    )


def plan_built_in_strip(work: UnitOfWork, arm_id: str, request: BuiltInStrip) -> Planned:
    """Keep the columns of a printer's built-in strip as coupons of one print: they only seed a range.

    Raises
    ------
    Problem
        Naming the columns, multiplier or step that cannot be.
    """
    exposures = built_in_strip(BuiltInStripInput.model_validate(request.model_dump(exclude={"own_coupon"})))
    with work.write() as answer:
        arm, calibration, printer = _place(work, arm_id)
        if calibration.closed_at is not None:
            raise Conflict(f"{calibration.code} is closed. Start a new calibration to print more.")
        pixel_mm = printer.pixel_um / 1000
        if request.own_coupon:
            own_design = own_coupons.parameters_of(work, request.own_coupon)
            coupon = own_coupon(pixel_mm, 0.0, **own_design)
        else:
            coupon = KINDS["strip"](pixel_mm, 0.0)
        volume = coupon.volume_ml
        priced = _built_in_quote(coupon, exposures, volume, _bottle_left(work, calibration))
        print_id, plate_id = _new_print(work, arm, printer, priced, priced.duration_s, priced.volume_ml)
        # The printer does it by itself: no lift was suppressed by hand, so none is to be put back.
        update(work.db, "print", print_id, lift_suppressed=False)
        drawing_id, number = design_id(work, coupon), store.coupons_so_far(work.db, arm_id)
        planned = Planned(coupons=[], print_ids=[print_id])
        for at, exposure in enumerate(exposures, 1):
            code = _put_coupon(work, plate_id, arm_id, drawing_id, exposure, number + at)
            planned.coupons.append(code)
        return answer(planned)


def _built_in_quote(coupon: Coupon, exposures: list[float], volume_ml: float, left_ml: float | None) -> Quote:
    return Quote(
        kind="own" if coupon.kind == "own" else "strip",
        way="strip",
        tells=coupon.tells,
        does_not_tell=coupon.does_not_tell,
        coupons=[CouponCost(exposure_s=exposure, duration_s=None, volume_ml=volume_ml) for exposure in exposures],
        prints=1,
        duration_s=sum(exposures),
        volume_ml=volume_ml * len(exposures),
        layers=1,
        thickness_mm=coupon.thickness_mm,
        least_thickness_mm=0.0,
        rest_before_s=0.0,
        bottle_left_ml=left_ml,
        plate=None,
        warnings=[Notice(code="seeds-only", message=WAYS["strip"].limit)],
    )
