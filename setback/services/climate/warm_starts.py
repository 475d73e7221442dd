"""Warm starts: planned from what is known of room, chamber, heater and bottle; kept, and begun as timers."""

from __future__ import annotations

from datetime import timedelta

from pydantic import Field

from ...core.climate.chamber import Tariff
from ...core.climate.warm_start import Chamber, WarmStartInput, WarmStartPlan, warm_start
from ...core.climate.water_bath import WaterBathInput
from ...core.contract import Contract
from ...core.print_time import print_time
from ...core.settings import Settings
from ...store import climate as store
from ...store import parameter_sets, shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, Conflict, View, iso, present
from ..timers import end_at
from . import chambers, probes

USUAL_BASE_S = 600.0
USUAL_HEAT_J_G_K, USUAL_DENSITY_G_ML = 1.8, 1.1
PAST = 20


class BathAsked(Contract):
    """The bottle and the water."""

    bottle_id: str | None = Field(None, max_length=40)
    resin_ml: float = Field(gt=0, le=50_000)
    resin_c: float = Field(ge=-20, le=60)
    bath_ml: float = Field(gt=0, le=200_000)
    bath_c: float = Field(ge=0, le=100)
    target_c: float = Field(ge=0, le=60)


class PrinterAsked(Contract):
    printer_id: str = Field(max_length=40)
    set_code: str | None = Field(None, max_length=20, description="Says how long the base layers take")


class WarmStartAsked(Contract):
    printers: list[PrinterAsked] = Field(min_length=1, max_length=6, description="In the order the heater goes round")
    heater_id: str = Field(max_length=40)
    ambient_c: float | None = Field(None, ge=-40, le=60, description="The room; from its probe when not given")
    target_c: float = Field(25, ge=-20, le=60)
    floor_c: float = Field(22, ge=-20, le=60)
    ceiling_c: float = Field(30, ge=-20, le=80)
    lid_openings: int = Field(1, ge=0, le=20)
    bath: BathAsked | None = None
    tariff_per_kwh: Tariff | None = None


class WarmStartQuote(View):
    plan: WarmStartPlan
    ambient_c: float
    heater: str
    base_layers_s: list[float]


class WarmStartView(View):
    id: str
    code: str
    asked: WarmStartInput
    plan: WarmStartPlan
    initials: str | None
    at: str
    begun_at: str | None


def quote(bench: Bench, given: WarmStartAsked) -> WarmStartQuote:
    """The plan as it would be; nothing is kept."""
    asked, heater = _asked(bench, given)
    return WarmStartQuote(
        plan=warm_start(asked), ambient_c=asked.ambient_c, heater=heater,
        base_layers_s=[c.base_layers_s for c in asked.chambers],
    )  # fmt: skip


def begin(bench: Bench, given: WarmStartAsked) -> WarmStartView:
    """Keep a plan and begin it now: every step becomes a timer.

    Raises
    ------
    Conflict
        When the plan cannot reach what is wanted.
    """
    with bench.write() as answer:
        asked, _ = _asked(bench, given)
        plan = warm_start(asked)
        if not plan.possible:
            raise Conflict(plan.warnings[-1].message)
        warm_id, code, now = bench.new_id(), next_code(bench.db, "W"), bench.clock()
        insert(
            bench.db, "warm_start", id=warm_id, code=code, asked=asked.model_dump(), plan=plan.model_dump(),
            technician_id=bench.technician_id(), at=iso(now), begun_at=iso(now),
        )  # fmt: skip
        for step in plan.steps:
            if step.at_s < 1:
                continue
            insert(
                bench.db, "timer", id=bench.new_id(), name=step.words[:80], seconds=step.at_s, started_at=iso(now),
                due_at=iso(now + timedelta(seconds=step.at_s)), place=f"/climate/warm-start/{code}",
                technician_id=bench.technician_id(),
            )  # fmt: skip
        return answer(one(bench, warm_id))


def stop(bench: Bench, warm_id: str) -> WarmStartView:
    """Take a begun plan back: its timers end, and nothing is heated by it any more."""
    with bench.write() as answer:
        row = present(store.warm_start(bench.db, warm_id), "warm start")
        if row.begun_at is None:
            raise Conflict(f"{row.code} does not run.")
        update(bench.db, "warm_start", row.id, begun_at=None)
        end_at(bench, f"/climate/warm-start/{row.code}", bench.now())
        return answer(one(bench, row.id))


def one(bench: Bench, id_or_code: str) -> WarmStartView:
    return WarmStartView.model_validate(present(store.warm_start(bench.db, id_or_code), "warm start"))


def past(bench: Bench) -> list[WarmStartView]:
    return [WarmStartView.model_validate(row) for row in store.warm_starts(bench.db, PAST)]


def _asked(bench: Bench, given: WarmStartAsked) -> tuple[WarmStartInput, str]:
    heater = present(store.heater(bench.db, given.heater_id), "heater")
    room = probes.room_now(bench).room
    ambient = given.ambient_c if given.ambient_c is not None else room.temp_c if room else None
    if ambient is None:
        raise Conflict("No probe says how warm the room is: type it.", {"ambient_c": "Type how warm the room is."})
    asked = WarmStartInput(
        ambient_c=ambient, chambers=[_chamber(bench, one, ambient) for one in given.printers], heater_w=heater.watts,
        has_cut_out=heater.cut_out, has_thermostat=heater.thermostat, target_c=given.target_c, floor_c=given.floor_c,
        ceiling_c=given.ceiling_c, lid_openings=given.lid_openings, bath=_bath(bench, given.bath),
        tariff_per_kwh=given.tariff_per_kwh,
    )  # fmt: skip
    return asked, heater.name


def _chamber(bench: Bench, given: PrinterAsked, ambient_c: float) -> Chamber:
    fit = chambers.of_printer(bench, given.printer_id)
    now = probes.how_warm(bench, given.printer_id)
    start = now.temp_c if now is not None and now.place == "chamber air" else ambient_c
    base_s = USUAL_BASE_S
    if given.set_code:
        held = present(parameter_sets.parameter_set(bench.db, given.set_code), "set")
        settings = Settings.model_validate(held.settings)
        printer = present(shelf.printer(bench.db, given.printer_id), "printer")
        layers = max(settings.base_layers, 1)
        base = settings.model_copy(update={"base_layers": layers, "transition_layers": 0})
        base_s = print_time(base.timing(layers, held.exposure_s, printer.delay_includes_motion)).total_s
    return Chamber(
        printer=fit.printer, start_c=start, loss_w_per_k=fit.loss_w_per_k,
        heat_capacity_j_per_k=fit.heat_capacity_j_per_k, base_layers_s=base_s,
    )  # fmt: skip


def _bath(bench: Bench, given: BathAsked | None) -> WaterBathInput | None:
    if given is None:
        return None
    resin = None
    if given.bottle_id is not None:
        bottle = present(shelf.bottle(bench.db, given.bottle_id), "bottle")
        resin = shelf.resin(bench.db, bottle.material_id)
    density = (resin.density_g_ml if resin else None) or USUAL_DENSITY_G_ML
    heat = (resin.heat_capacity_j_g_k if resin else None) or USUAL_HEAT_J_G_K
    return WaterBathInput(
        bath_ml=given.bath_ml, bath_c=given.bath_c, resin_g=given.resin_ml * density, resin_c=given.resin_c,
        resin_heat_capacity_j_g_k=heat, target_c=given.target_c,
    )  # fmt: skip
