"""Prints on the simulated printer: begun as a job, photographed, and read on request with a reader's error."""

from __future__ import annotations

import random
import time
import uuid
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from pydantic import Field

from ..core.contract import Contract
from ..core.print_time import print_time
from ..core.settings import Settings
from ..coupon import KINDS
from ..coupon.lettering import embossed
from ..simulate import hidden
from ..simulate.camera import photograph
from ..simulate.printed import Printed, print_coupon
from ..simulate.reader import Reader, read
from ..store import calibrations as store
from ..store import readings, shelf, stages, virtual
from ..store.rows import insert
from . import photos
from .bench import Bench, Conflict, View, present
from .climate.gate import pass_gate
from .coupon_files import design_of
from .gates import check_gates
from .printing import PrintedInput, mark_printed
from .readings import FeatureInput
from .shelf.entry import Note

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


def check(bench: Bench, given: VirtualInput) -> None:
    """Refuse what cannot be printed, before it is queued."""
    row = present(store.print_row(bench.db, given.print_id), "print")
    printer = present(shelf.printer(bench.db, row.printer_id), "printer")
    if not printer.simulated:
        raise Conflict(f"{printer.name} is no simulated printer: print {row.code} on it, then mark it as printed.")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: nothing can be printed on it.")
    if row.status != "planned":
        raise Conflict(f"{row.code} is {row.status} already.")
    check_gates(bench, printer.id, row.lift_suppressed)
    pass_gate(bench, store.set_behind(bench.db, given.print_id), given.temp_c, given.outside_band)


def run(bench: Bench, progress: Progress, given: dict[str, Any]) -> dict[str, Any]:
    """Print layer by layer, faster than real time; nothing is kept until the last layer is done."""
    asked = VirtualOrder.model_validate(given)
    check(bench, asked)
    row = present(store.print_row(bench.db, asked.print_id), "print")
    _pace(row.duration_s, asked.speed, progress)
    coupons = store.coupons_of_print(bench.db, asked.print_id)
    machine, material = truth(bench, row.arm_id)
    seed = _seed(asked.print_id)
    pictures = []
    for number, coupon in enumerate(coupons):
        conditions = _conditions(bench, coupon, machine, asked.temp_c)
        made = _made(bench, coupon, machine, material, conditions, seed + number)
        lettered = embossed(made.coupon, coupon.code, f"{coupon.exposure_s:g}s")
        pictures.append((coupon, conditions, photograph(made, lettered, seed + number)))
    progress(1.0, "Washing, drying, curing, photographing")
    held = {
        "machine": asdict(machine), "material": asdict(material),
        "conditions": {coupon.id: asdict(conditions) for coupon, conditions, _ in pictures},
    }  # fmt: skip
    bench.initials = asked.initials
    with bench.write():
        mark_printed(
            bench,
            asked.print_id,
            PrintedInput(temp_c=asked.temp_c, temp_place="resin", outside_band=asked.outside_band),
        )
        insert(
            bench.db, "virtual_print", print_id=asked.print_id, seed=seed, hidden=held, printed_at=bench.now(),
        )  # fmt: skip
        for coupon, _, picture in pictures:
            photos.keep(bench, coupon.id, picture)
    return {"print_id": asked.print_id, "coupons": [coupon.code for coupon in coupons]}


def reading(bench: Bench, id_or_code: str, given: ReaderInput) -> VirtualReading:
    """Read a coupon of the simulated printer as a person would, with a person's error.

    Raises
    ------
    Conflict
        When the coupon was not printed on a simulated printer.
    """
    row = present(store.coupon(bench.db, id_or_code), "coupon")
    held = virtual.virtual_print(bench.db, row.print_id)
    if held is None:
        raise Conflict(f"{row.code} was not printed on a simulated printer: read it yourself.")
    number = [c.id for c in store.coupons_of_print(bench.db, row.print_id)].index(row.id)
    machine = hidden.Machine(**_tuples(held.hidden["machine"]))
    material = hidden.Material(**_tuples(held.hidden["material"]))
    conditions = hidden.Conditions(**_tuples(held.hidden["conditions"][row.id]))
    made = _made(bench, row, machine, material, conditions, held.seed + number)
    again = len(readings.history(bench.db, row.id))
    reader = Reader(caliper_sd_mm=given.caliper_sd_mm, caliper_bias_mm=given.caliper_bias_mm)
    seen = read(made, given.seed if given.seed is not None else held.seed + 100 * (number + 1) + again, reader)
    return VirtualReading(
        features=[FeatureInput.model_validate(asdict(s)) for s in seen],
        thickness_mm=round(made.thickness_mm, 2) if made.thickness_mm is not None else None,
        caliper_sd_mm=given.caliper_sd_mm,
    )


THICKNESS_READINGS = 3


def thickness(bench: Bench, square_id: str) -> VirtualThickness:
    """Measure a depth square of the simulated printer at a few places, with a person's error."""
    square = present(stages.square(bench.db, square_id), "square")
    row = present(store.calibration(bench.db, square.calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, row.printer_id), "printer")
    if not printer.simulated:
        raise Conflict(f"{printer.name} is no simulated printer: measure {square.code} yourself.")
    machine, material = truth(bench, store.arms(bench.db, row.id)[0].id)
    given = hidden.Conditions(square.exposure_s, screen_hours=printer.screen_hours)
    made = print_coupon(KINDS["depth"](printer.pixel_um / 1000, 0.3), machine, material, given, _seed(square_id))
    if not made.thickness_mm:
        raise Conflict(f"{square.code} came out too thin to lift off: expose it longer.")
    reader, chance = Reader(), random.Random(_seed(square_id))
    read_off = [made.thickness_mm + chance.gauss(0, reader.caliper_sd_mm) for _ in range(THICKNESS_READINGS)]
    return VirtualThickness(thicknesses_mm=[max(round(value, 2), 0.01) for value in read_off])


def truth(bench: Bench, arm_id: str | None) -> tuple[hidden.Machine, hidden.Material]:
    """What the printer and the material of an arm hide: their own, and the same every time."""
    arm = present(store.arm(bench.db, arm_id or ""), "arm")
    calibration = present(store.calibration(bench.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, calibration.printer_id), "printer")
    resin = shelf.resin(bench.db, calibration.material_id)
    plate = (printer.plate_x_mm, printer.plate_y_mm)
    machine = hidden.machine(_seed(printer.id), printer.light_engine, printer.pixel_um, plate)
    if resin is None:
        return machine, hidden.material(_seed(calibration.material_id), "basic", "opaque", None)
    low, high = resin.maker_low_s, resin.maker_high_s
    span = (low, high) if low is not None and high is not None else None
    return machine, hidden.material(_seed(resin.id), resin.family, resin.opacity, span, resin.colour)


def _made(
    bench: Bench, row: store.CouponRow, machine: hidden.Machine, material: hidden.Material,
    conditions: hidden.Conditions, seed: int,
) -> Printed:  # fmt: skip
    return print_coupon(design_of(bench, row), machine, material, conditions, seed)


def _conditions(bench: Bench, row: store.CouponRow, machine: hidden.Machine, temp_c: float) -> hidden.Conditions:
    arm = present(store.arm(bench.db, row.arm_id), "arm")
    calibration = present(store.calibration(bench.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, calibration.printer_id), "printer")
    settings = Settings.model_validate(arm.settings)
    place = _middle(bench, row)
    strip = row.way == "strip"
    return hidden.Conditions(
        exposure_s=row.exposure_s, layer_mm=calibration.layer_height_um / 1000,
        rest_s=SETTLED_S if strip else true_rest_s(settings, printer),
        lift_mm_min=STILL_MM_MIN if strip else settings.lift_mm_min, temp_c=temp_c,
        screen_hours=printer.screen_hours, power_pct=settings.light_power_pct,
        place_mm=place,
    )  # fmt: skip


def _middle(bench: Bench, row: store.CouponRow) -> tuple[float, float] | None:
    """Middle of the coupon on the plate; None where it stands in the plate's middle by itself."""
    if row.place_x_mm is None or row.place_y_mm is None:
        return None
    coupon = design_of(bench, row)
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


def _seed(identifier: str) -> int:
    return uuid.UUID(identifier).int % 2_000_000_011


def _tuples(held: dict[str, Any]) -> dict[str, Any]:
    return {name: tuple(value) if isinstance(value, list) else value for name, value in held.items()}
