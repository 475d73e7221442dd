"""Prints on the simulated printer: begun as a job, photographed, and read on request with a reader's error."""

from __future__ import annotations

import random
import time
import uuid
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from pydantic import Field

from ...core.contract import Contract
from ...core.printing.print_time import print_time
from ...core.printing.settings import Settings
from ...coupon import KINDS
from ...coupon.lettering import embossed
from ...simulate import hidden
from ...simulate.camera import photograph
from ...simulate.printed import Printed, print_coupon
from ...simulate.reader import Reader, read
from ...store import blends, shelf
from ...store.calibrate import calibrations as store
from ...store.calibrate import stages
from ...store.prints import virtual
from ...store.reading import readings
from ...store.rows import insert
from ..files.coupon_files import design_of
from ..reading import photos
from ..reading.readings import FeatureInput
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .record import PrintedInput, check_before, record_print

Progress = Callable[[float, str], None]
FRAME_S = 0.15
# With the lift suppressed resin has long settled, and nothing pulls.
SETTLED_S, STILL_MM_MIN = 60.0, 5.0


class VirtualInput(Contract):
    """A print to run on a simulated printer."""

    print_id: str = Field(max_length=40)
    temp_c: float = Field(23, ge=-20, le=80, description="Resin at start")
    speed: float = Field(240, ge=1, le=1_000_000, description="How many times faster than real time")
    outside_band: Note = Field("", description="Why a check coupon is printed outside its set's temperature band")


class VirtualOrder(VirtualInput):
    """The print as it waits in the queue, with who asked for it."""

    initials: str | None = None


class ReaderInput(Contract):
    """The reader's habits and seed."""

    caliper_sd_mm: float = Field(0.006, ge=0, le=0.2)
    caliper_bias_mm: float = Field(0, ge=-0.2, le=0.2)
    seed: int | None = Field(None, ge=0, le=1_000_000_000, description="The same seed gives the same reading")


class VirtualReading(View):
    """What a simulated reader sees; nothing is saved."""

    features: list[FeatureInput]
    thickness_mm: float | None = Field(description="Of a depth square")
    caliper_sd_mm: float


class VirtualThickness(View):
    """Caliper readings of a simulated depth square; nothing is saved."""

    thicknesses_mm: list[float]


def check(work: UnitOfWork, request: VirtualInput) -> None:
    """Refuse what cannot be printed, before it is queued."""
    row = present(store.print_row(work.db, request.print_id), "print")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    if not printer.simulated:
        raise Conflict(f"{printer.name} is no simulated printer: print {row.code} on it, then mark it as printed.")
    check_before(work, row, _conditions_noted(request))


def _conditions_noted(request: VirtualInput) -> PrintedInput:
    return PrintedInput(temp_c=request.temp_c, temp_place="resin", outside_band=request.outside_band)


def _bottle(work: UnitOfWork, row: store.PrintRow) -> str | None:
    """The bottle a simulated print takes its resin from: its calibration's, unless its vat's pours count it or too little is left."""
    arm = store.arm(work.db, row.arm_id) if row.arm_id else None
    calibration = store.calibration(work.db, arm.calibration_id) if arm else None
    bottle = shelf.bottle(work.db, calibration.bottle_id) if calibration and calibration.bottle_id else None
    if bottle is None or bottle.left_ml < row.volume_ml or blends.is_poured(work.db, row.printer_id, bottle.id):
        return None
    return bottle.id


def run(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Print layer by layer, faster than real time; nothing is kept until the last layer is done."""
    order = VirtualOrder.model_validate(request)
    check(work, order)
    row = present(store.print_row(work.db, order.print_id), "print")
    _pace(row.duration_s, order.speed, progress)
    coupons = store.coupons_of_print(work.db, order.print_id)
    machine, material = truth(work, row.arm_id)
    seed = seed_of(order.print_id)
    pictures = []
    for number, coupon in enumerate(coupons):
        conditions = _conditions(work, coupon, machine, order.temp_c)
        printed = _made(work, coupon, machine, material, conditions, seed + number)
        lettered = embossed(printed.coupon, coupon.code, f"{coupon.exposure_s:g}s")
        pictures.append((coupon, conditions, photograph(printed, lettered, seed + number)))
    progress(1.0, "Washing, drying, curing, photographing")
    seeds = {
        "machine": asdict(machine),
        "material": asdict(material),
        "conditions": {coupon.id: asdict(conditions) for coupon, conditions, _ in pictures},
    }
    work.initials = order.initials
    with work.write():
        out_of = _bottle(work, row)
        record_print(work, order.print_id, _conditions_noted(order).model_copy(update={"bottle_id": out_of}))
        insert(
            work.db,
            "virtual_print",
            print_id=order.print_id,
            seed=seed,
            hidden=seeds,
            printed_at=work.now(),
        )
        for coupon, _, picture in pictures:
            photos.keep(work, coupon.id, picture)
    return {"print_id": order.print_id, "coupons": [coupon.code for coupon in coupons]}


def reading(work: UnitOfWork, id_or_code: str, request: ReaderInput) -> VirtualReading:
    """Read a coupon of the simulated printer as a person would, with a person's error.

    Raises
    ------
    Conflict
        When the coupon was not printed on a simulated printer.
    """
    row = present(store.coupon(work.db, id_or_code), "coupon")
    virtual_print = virtual.virtual_print(work.db, row.print_id)
    if virtual_print is None:
        raise Conflict(f"{row.code} was not printed on a simulated printer: read it yourself.")
    number = [c.id for c in store.coupons_of_print(work.db, row.print_id)].index(row.id)
    machine = hidden.Machine(**_tuples(virtual_print.hidden["machine"]))
    material = hidden.Material(**_tuples(virtual_print.hidden["material"]))
    conditions = hidden.Conditions(**_tuples(virtual_print.hidden["conditions"][row.id]))
    coupon_printed = _made(work, row, machine, material, conditions, virtual_print.seed + number)
    again = len(readings.history(work.db, row.id))
    reader = Reader(caliper_sd_mm=request.caliper_sd_mm, caliper_bias_mm=request.caliper_bias_mm)
    features = read(
        coupon_printed,
        request.seed if request.seed is not None else virtual_print.seed + 100 * (number + 1) + again,
        reader,
    )
    return VirtualReading(
        features=[FeatureInput.model_validate(asdict(s)) for s in features],
        thickness_mm=round(coupon_printed.thickness_mm, 2) if coupon_printed.thickness_mm is not None else None,
        caliper_sd_mm=request.caliper_sd_mm,
    )


THICKNESS_READINGS = 3
MOST_GREY_PX = 2
ROOM_C = 25.0
"""Of the resin under a square, where nobody said how warm the campaign is."""


def thickness(work: UnitOfWork, square_id: str) -> VirtualThickness:
    """Measure a depth square of the simulated printer at a few places, with a person's error."""
    square = present(stages.square(work.db, square_id), "square")
    row = present(store.calibration(work.db, square.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    if not printer.simulated:
        raise Conflict(f"{printer.name} is no simulated printer: measure {square.code} yourself.")
    arm = store.arms(work.db, row.id)[0]
    machine, material = truth(work, arm.id)
    conditions = hidden.Conditions(
        square.exposure_s,
        screen_hours=printer.screen_hours,
        power_pct=Settings.model_validate(arm.settings).light_power_pct,
        temp_c=resin_c(work, [one.id for one in store.arms(work.db, row.id)]),
    )
    printed = print_coupon(
        KINDS["depth"](printer.pixel_um / 1000, 0.3), machine, material, conditions, seed_of(square_id)
    )
    if not printed.thickness_mm:
        raise Conflict(f"{square.code} came out too thin to lift off: expose it longer.")
    reader, chance = Reader(), random.Random(seed_of(square_id))
    read_off = [printed.thickness_mm + chance.gauss(0, reader.caliper_sd_mm) for _ in range(THICKNESS_READINGS)]
    return VirtualThickness(thicknesses_mm=[max(round(value, 2), 0.01) for value in read_off])


def resin_c(work: UnitOfWork, arm_ids: list[str]) -> float:
    """How warm the resin was in a campaign's newest print."""
    warm = [c.temp_c for c in store.coupons(work.db, arm_ids) if c.temp_c is not None]
    return warm[-1] if warm else ROOM_C


def truth(work: UnitOfWork, arm_id: str | None) -> tuple[hidden.Machine, hidden.Material]:
    """What the printer and the material of an arm hide: their own, and the same every time."""
    arm = present(store.arm(work.db, arm_id or ""), "arm")
    calibration = present(store.calibration(work.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    resin = shelf.resin(work.db, calibration.material_id)
    plate = (printer.plate_x_mm, printer.plate_y_mm)
    machine = hidden.machine(seed_of(printer.id), printer.light_engine, printer.pixel_um, plate)
    if resin is None:
        return machine, hidden.material(seed_of(calibration.material_id), "basic", "opaque", None)
    low, high = resin.maker_low_s, resin.maker_high_s
    span = (low, high) if low is not None and high is not None else None
    return machine, hidden.material(seed_of(resin.id), resin.family, resin.opacity, span, resin.colour)


def _made(
    work: UnitOfWork,
    row: store.CouponRow,
    machine: hidden.Machine,
    material: hidden.Material,
    conditions: hidden.Conditions,
    seed: int,
) -> Printed:
    return print_coupon(design_of(work, row), machine, material, conditions, seed)


def _conditions(work: UnitOfWork, row: store.CouponRow, machine: hidden.Machine, temp_c: float) -> hidden.Conditions:
    arm = present(store.arm(work.db, row.arm_id), "arm")
    calibration = present(store.calibration(work.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    settings = Settings.model_validate(arm.settings)
    place = _middle(work, row)
    strip = row.way == "strip"
    return hidden.Conditions(
        exposure_s=row.exposure_s,
        layer_mm=calibration.layer_height_um / 1000,
        rest_s=SETTLED_S if strip else true_rest_s(settings, printer),
        lift_mm_min=STILL_MM_MIN if strip else settings.lift_mm_min,
        temp_c=temp_c,
        screen_hours=printer.screen_hours,
        power_pct=settings.light_power_pct,
        grey_px=min(settings.anti_aliasing, MOST_GREY_PX),
        base_ratio=max(settings.base_exposure_s / row.exposure_s, 1.0),
        place_mm=place,
    )


def _middle(work: UnitOfWork, row: store.CouponRow) -> tuple[float, float] | None:
    """Middle of the coupon on the plate; None where it stands in the plate's middle by itself."""
    if row.place_x_mm is None or row.place_y_mm is None:
        return None
    coupon = design_of(work, row)
    return (row.place_x_mm + coupon.width_mm / 2, row.place_y_mm + coupon.height_mm / 2)


def true_rest_s(settings: Settings, printer: shelf.Printer) -> float:
    """The rest before light that is left when the delay counts from the start of motion."""
    layers = settings.base_layers + settings.transition_layers + 1
    return print_time(settings.timing(layers, 1, printer.delay_includes_motion)).rest_before_s


def _pace(duration_s: float, speed: float, progress: Progress) -> None:
    """Let simulated time pass; the progress call stops the print when that was asked."""
    frames = max(min(int(duration_s / speed / FRAME_S), 400), 1)
    for frame in range(frames):
        done = frame / frames
        progress(0.95 * done, f"{done * duration_s / 60:.0f} of {duration_s / 60:.0f} simulated minutes")
        time.sleep(min(duration_s / speed / frames, 5.0))


def seed_of(identifier: str) -> int:
    """The seed of whatever has an identifier: the same every time."""
    return uuid.UUID(identifier).int % 2_000_000_011


def _tuples(values: dict[str, Any]) -> dict[str, Any]:
    return {name: tuple(value) if isinstance(value, list) else value for name, value in values.items()}
