"""Plan coupons: what they cost before they are made, and the prints that will make them."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Literal

from pydantic import Field

from ..core.campaign import check_thickness, floor_mm, layers_of, least_thickness_mm
from ..core.contract import Contract, Notice, Problem, Seconds
from ..core.ladder import LadderInput, exposure_ladder
from ..core.print_time import PrintTimeInput, print_time
from ..core.settings import Settings
from ..core.steps import round_to_step
from ..coupon import KINDS, Coupon
from ..store import calibrations as store
from ..store import readings, shelf
from ..store.codes import next_code, next_coupon_code
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present

CouponKind = Literal["flat", "support"]


class PlanInput(Contract):
    kind: CouponKind = "flat"
    exposures_s: list[Seconds] = Field(min_length=1, max_length=30)
    thickness_mm: float | None = Field(
        None, gt=0, le=50, description="Whole thickness; the coupon's own when not given"
    )
    is_repeat: bool = Field(False, description="Supersedes earlier coupons at the exposure")


class LadderPlan(Contract):
    low_s: Seconds
    high_s: Seconds
    count: int = Field(ge=1, le=20)
    spacing: Literal["geometric", "linear"] = "geometric"
    kind: CouponKind = "flat"
    thickness_mm: float | None = Field(None, gt=0, le=50)


class CouponCost(View):
    exposure_s: float
    duration_s: float
    volume_ml: float


class Quote(View):
    """What a plan costs, before anything is made."""

    kind: CouponKind
    tells: str
    does_not_tell: str
    coupons: list[CouponCost]
    duration_s: float
    volume_ml: float
    layers: int
    thickness_mm: float
    least_thickness_mm: float
    rest_before_s: float
    bottle_left_ml: float | None
    warnings: list[Notice]


class PrintedInput(Contract):
    temp_c: float | None = Field(None, ge=-20, le=80)
    temp_place: Literal["room", "chamber air", "resin"] | None = None


class Planned(View):
    coupons: list[str] = Field(description="Codes of the coupons planned")
    print_ids: list[str]


class PrintState(View):
    id: str
    code: str
    status: str
    printed_at: str | None
    temp_c: float | None
    temp_place: str | None


def design_for(kind: str, printer: shelf.Printer, settings: Settings, layer_height_um: float,
               thickness_mm: float | None) -> Coupon:  # fmt: skip
    """The coupon as it will be printed on this printer with these settings."""
    floor = floor_mm(settings, layer_height_um)
    if thickness_mm is not None:
        check_thickness(thickness_mm, settings, layer_height_um)
        floor = min(floor, thickness_mm)
    return KINDS[kind](printer.pixel_um / 1000, floor, thickness_mm)


def quote(bench: Bench, arm_id: str, given: PlanInput) -> Quote:
    """Minutes and millilitres of a plan; refuses what would read something else than the normal exposure."""
    arm, calibration, printer = _place(bench, arm_id)
    settings = Settings.model_validate(arm.settings)
    for i, exposure in enumerate(given.exposures_s):
        nearest = round_to_step(exposure, printer.exposure_step_s)
        if abs(nearest - exposure) > 1e-9 or nearest <= 0:
            said = f"{printer.name} sets whole steps of {printer.exposure_step_s:g} s: {max(nearest, printer.exposure_step_s):g} s is the nearest."
            raise Problem(said, {f"exposures_s.{i}": said})
    if len(set(given.exposures_s)) < len(given.exposures_s):
        raise Problem("An exposure is there twice.", {"exposures_s": "Each exposure once; repeat a coupon by itself."})
    return cost_of(given, settings, calibration.layer_height_um, printer, _bottle_left(bench, calibration))


def cost_of(given: PlanInput, settings: Settings, layer_height_um: float, printer: shelf.Printer,
            bottle_left_ml: float | None) -> Quote:  # fmt: skip
    """The arithmetic of a quote, from what is already at hand."""
    coupon = design_for(given.kind, printer, settings, layer_height_um, given.thickness_mm)
    layers = layers_of(coupon.thickness_mm, layer_height_um)
    timing = print_time(
        PrintTimeInput(
            layers=layers,
            base_layers=settings.base_layers,
            transition_layers=settings.transition_layers,
            exposure_s=given.exposures_s[0],
            exposures_s=given.exposures_s,
            base_exposure_s=settings.base_exposure_s,
            rest_before_s=settings.rest_before_s,
            rest_after_lift_s=settings.rest_after_lift_s,
            rest_after_retract_s=settings.rest_after_retract_s,
            lift_mm=settings.lift_mm,
            lift_mm_min=settings.lift_mm_min,
            retract_mm_min=settings.retract_mm_min,
            delay_includes_motion=printer.delay_includes_motion,
            volume_ml=coupon.volume_ml,
        )
    )
    warnings = list(timing.warnings)
    volume = timing.ladder_volume_ml or 0.0
    if bottle_left_ml is not None and volume > bottle_left_ml:
        said = f"The bottle holds {bottle_left_ml:g} ml; these coupons take {volume:.0f} ml."
        warnings.append(Notice(code="bottle-short", message=said))
    if coupon.width_mm > printer.plate_x_mm or coupon.height_mm > printer.plate_y_mm:
        said = f"The coupon of {coupon.width_mm:g} × {coupon.height_mm:g} mm does not fit {printer.name}'s plate."
        raise Problem(said, {"kind": said})
    return Quote(
        kind=given.kind,
        tells=coupon.tells,
        does_not_tell=coupon.does_not_tell,
        coupons=[
            CouponCost(exposure_s=c.exposure_s, duration_s=c.total_s, volume_ml=coupon.volume_ml) for c in timing.ladder
        ],
        duration_s=timing.ladder_total_s or 0.0,
        volume_ml=volume,
        layers=layers,
        thickness_mm=coupon.thickness_mm,
        least_thickness_mm=least_thickness_mm(settings, layer_height_um),
        rest_before_s=timing.rest_before_s,
        bottle_left_ml=bottle_left_ml,
        warnings=warnings,
    )


def quote_ladder(bench: Bench, arm_id: str, given: LadderPlan) -> Quote:
    """A quote for a ladder from low to high on the printer's step."""
    _, _, printer = _place(bench, arm_id)
    ladder = exposure_ladder(
        LadderInput(
            low_s=given.low_s, high_s=given.high_s, count=given.count, spacing=given.spacing,
            exposure_step_s=printer.exposure_step_s,
        )
    )  # fmt: skip
    plan = PlanInput(kind=given.kind, exposures_s=ladder.exposures_s, thickness_mm=given.thickness_mm)
    priced = quote(bench, arm_id, plan)
    return priced.model_copy(update={"warnings": [*ladder.warnings, *priced.warnings]})


def plan(bench: Bench, arm_id: str, given: PlanInput) -> Planned:
    """Make one print per coupon, each with a code of its own."""
    with bench.write() as answer:
        priced = quote(bench, arm_id, given)
        arm, calibration, printer = _place(bench, arm_id)
        if calibration.closed_at is not None:
            raise Conflict(f"{calibration.code} is closed. Start a new calibration to print more.")
        if printer.retired_at is not None:
            raise Conflict(f"{printer.name} is retired: nothing can be planned on it.")
        settings = Settings.model_validate(arm.settings)
        coupon = design_for(given.kind, printer, settings, calibration.layer_height_um, given.thickness_mm)
        design_id = _design_id(bench, coupon)
        number = bench.db.execute("SELECT count(*) FROM coupon WHERE arm_id = ?", (arm_id,)).fetchone()[0]
        made = Planned(coupons=[], print_ids=[])
        for i, cost in enumerate(priced.coupons):
            print_id, plate_id = bench.new_id(), bench.new_id()
            insert(
                bench.db, "print", id=print_id, code=next_code(bench.db, "J"), printer_id=printer.id, arm_id=arm_id,
                status="planned", planned_at=bench.now(), volume_ml=cost.volume_ml, duration_s=cost.duration_s,
                technician_id=bench.technician_id(),
            )  # fmt: skip
            insert(bench.db, "plate", id=plate_id, print_id=print_id)
            code = next_coupon_code(bench.db)
            insert(
                bench.db, "coupon", id=bench.new_id(), code=code, plate_id=plate_id, arm_id=arm_id,
                design_id=design_id, exposure_s=cost.exposure_s, is_repeat=given.is_repeat, number=number + i + 1,
                created_at=bench.now(),
            )  # fmt: skip
            made.coupons.append(code)
            made.print_ids.append(print_id)
        return answer(made)


def printed(bench: Bench, print_id: str, given: PrintedInput) -> PrintState:
    """Note that a print came out, and how warm it was and where that was measured."""
    if (given.temp_c is None) != (given.temp_place is None):
        said = "Say where the temperature was measured." if given.temp_place is None else "Give the temperature."
        raise Problem(said, {"temp_place" if given.temp_place is None else "temp_c": said})
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "planned":
            raise Conflict(f"{row.code} is {row.status} already.")
        update(
            bench.db, "print", print_id, status="printed", printed_at=bench.now(), temp_c=given.temp_c,
            temp_place=given.temp_place, technician_id=bench.technician_id() or row.technician_id,
        )  # fmt: skip
        return answer(_state(bench, print_id))


def unprinted(bench: Bench, print_id: str) -> PrintState:
    """Undo :func:`printed`, while nothing was read."""
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "printed":
            raise Conflict(f"{row.code} is {row.status}.")
        _nothing_read(bench, print_id)
        update(bench.db, "print", print_id, status="planned", printed_at=None, temp_c=None, temp_place=None)
        return answer(_state(bench, print_id))


def cancel(bench: Bench, print_id: str) -> PrintState:
    """Take back a planned print; its coupon code is not used again."""
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "planned":
            raise Conflict(f"{row.code} is {row.status}: only a planned print can be taken back.")
        update(bench.db, "print", print_id, status="cancelled")
        return answer(_state(bench, print_id))


def reinstate(bench: Bench, print_id: str) -> PrintState:
    """Undo :func:`cancel`."""
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "cancelled":
            raise Conflict(f"{row.code} is {row.status}.")
        update(bench.db, "print", print_id, status="planned")
        return answer(_state(bench, print_id))


def _state(bench: Bench, print_id: str) -> PrintState:
    return PrintState.model_validate(store.print_row(bench.db, print_id))


def _nothing_read(bench: Bench, print_id: str) -> None:
    coupon_ids = [coupon.id for coupon in store.coupons_of_print(bench.db, print_id)]
    if readings.current(bench.db, coupon_ids):
        raise Conflict("Its coupon is read already: withdraw the reading first.")


def _place(bench: Bench, arm_id: str) -> tuple[store.Arm, store.Calibration, shelf.Printer]:
    arm = present(store.arm(bench.db, arm_id), "arm")
    calibration = present(store.calibration(bench.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, calibration.printer_id), "printer")
    return arm, calibration, printer


def _bottle_left(bench: Bench, calibration: store.Calibration) -> float | None:
    bottle = shelf.bottle(bench.db, calibration.bottle_id) if calibration.bottle_id else None
    return bottle.left_ml if bottle else None


def _design_id(bench: Bench, coupon: Coupon) -> str:
    parameters = json.dumps(coupon.parameters, sort_keys=True, separators=(",", ":"))
    held = store.design_like(bench.db, coupon.kind, parameters)
    if held is not None:
        return held.id
    design_id = bench.new_id()
    insert(
        bench.db, "coupon_design", id=design_id, kind=coupon.kind, parameters=parameters,
        plan=json.dumps(asdict(coupon), separators=(",", ":")),
    )  # fmt: skip
    return design_id
