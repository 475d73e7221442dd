"""Warm starts: planned from what is known of room, chamber, heater and bottle; kept, and begun as timers."""

from __future__ import annotations

from datetime import timedelta

from pydantic import Field

from ...core.climate.chamber import Tariff
from ...core.climate.warm_start import Chamber, WarmStartInput, WarmStartPlan, warm_start
from ...core.climate.water_bath import WaterBathInput
from ...core.contract import Contract
from ...core.printing.print_time import print_time
from ...core.printing.settings import Settings
from ...store import shelf
from ...store.climate import warm_starts as store
from ...store.codes import next_code
from ...store.rows import insert, update
from ...store.sets import parameter_sets
from ..lab.timers import end_at
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
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
    """A printer to be warm at the start."""

    printer_id: str = Field(max_length=40)
    set_code: str | None = Field(None, max_length=20, description="Says how long the base layers take")


class WarmStartAsked(Contract):
    """Printers to be warm, the heater that goes round, and when."""

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
    """A plan that was not begun."""

    plan: WarmStartPlan
    ambient_c: float
    heater: str
    base_layers_s: list[float]


class WarmStartView(View):
    """A begun warm start with its steps."""

    id: str
    code: str
    asked: WarmStartInput
    plan: WarmStartPlan
    initials: str | None
    at: str
    begun_at: str | None


def quote(work: UnitOfWork, request: WarmStartAsked) -> WarmStartQuote:
    """The plan as it would be; nothing is kept."""
    start_input, heater = _asked(work, request)
    return WarmStartQuote(
        plan=warm_start(start_input),
        ambient_c=start_input.ambient_c,
        heater=heater,
        base_layers_s=[c.base_layers_s for c in start_input.chambers],
    )


def begin(work: UnitOfWork, request: WarmStartAsked) -> WarmStartView:
    """Keep a plan and begin it now: every step becomes a timer.

    Raises
    ------
    Conflict
        When the plan cannot reach what is wanted.
    """
    with work.write() as answer:
        start_input, _ = _asked(work, request)
        plan = warm_start(start_input)
        if not plan.possible:
            raise Conflict(plan.warnings[-1].message)
        warm_id, code, now = work.new_id(), next_code(work.db, "W"), work.clock()
        insert(
            work.db,
            "warm_start",
            id=warm_id,
            code=code,
            asked=start_input.model_dump(),
            plan=plan.model_dump(),
            technician_id=work.technician_id(),
            at=iso(now),
            begun_at=iso(now),
        )
        for step in plan.steps:
            if step.at_s < 1:
                continue
            insert(
                work.db,
                "timer",
                id=work.new_id(),
                name=step.words[:80],
                seconds=step.at_s,
                started_at=iso(now),
                due_at=iso(now + timedelta(seconds=step.at_s)),
                place=f"/climate/warm-start/{code}",
                technician_id=work.technician_id(),
            )
        return answer(one(work, warm_id))


def stop(work: UnitOfWork, warm_id: str) -> WarmStartView:
    """Take a begun plan back: its timers end, and nothing is heated by it any more."""
    with work.write() as answer:
        row = present(store.warm_start(work.db, warm_id), "warm start")
        if row.begun_at is None:
            raise Conflict(f"{row.code} does not run.")
        update(work.db, "warm_start", row.id, begun_at=None)
        end_at(work, f"/climate/warm-start/{row.code}", work.now())
        return answer(one(work, row.id))


def one(work: UnitOfWork, id_or_code: str) -> WarmStartView:
    """One warm start by its id or code."""
    return WarmStartView.model_validate(present(store.warm_start(work.db, id_or_code), "warm start"))


def past(work: UnitOfWork) -> list[WarmStartView]:
    """Warm starts, newest first."""
    return [WarmStartView.model_validate(row) for row in store.warm_starts(work.db, PAST)]


def _asked(work: UnitOfWork, request: WarmStartAsked) -> tuple[WarmStartInput, str]:
    heater = present(store.heater(work.db, request.heater_id), "heater")
    room = probes.room_now(work).room
    ambient = request.ambient_c if request.ambient_c is not None else room.temp_c if room else None
    if ambient is None:
        raise Conflict("No probe says how warm the room is: type it.", {"ambient_c": "Type how warm the room is."})
    start_input = WarmStartInput(
        ambient_c=ambient,
        chambers=[_chamber(work, chamber, ambient) for chamber in request.printers],
        heater_w=heater.watts,
        has_cut_out=heater.cut_out,
        has_thermostat=heater.thermostat,
        target_c=request.target_c,
        floor_c=request.floor_c,
        ceiling_c=request.ceiling_c,
        lid_openings=request.lid_openings,
        bath=_bath(work, request.bath),
        tariff_per_kwh=request.tariff_per_kwh,
    )
    return start_input, heater.name


def _chamber(work: UnitOfWork, request: PrinterAsked, ambient_c: float) -> Chamber:
    fit = chambers.of_printer(work, request.printer_id)
    now = probes.how_warm(work, request.printer_id)
    start = now.temp_c if now is not None and now.place == "chamber air" else ambient_c
    base_s = USUAL_BASE_S
    if request.set_code:
        set_row = present(parameter_sets.parameter_set(work.db, request.set_code), "set")
        settings = Settings.model_validate(set_row.settings)
        printer = present(shelf.printer(work.db, request.printer_id), "printer")
        layers = max(settings.base_layers, 1)
        base = settings.model_copy(update={"base_layers": layers, "transition_layers": 0})
        base_s = print_time(base.timing(layers, set_row.exposure_s, printer.delay_includes_motion)).total_s
    return Chamber(
        printer=fit.printer,
        start_c=start,
        loss_w_per_k=fit.loss_w_per_k,
        heat_capacity_j_per_k=fit.heat_capacity_j_per_k,
        base_layers_s=base_s,
    )


def _bath(work: UnitOfWork, request: BathAsked | None) -> WaterBathInput | None:
    if request is None:
        return None
    resin = None
    if request.bottle_id is not None:
        bottle = present(shelf.bottle(work.db, request.bottle_id), "bottle")
        resin = shelf.resin(work.db, bottle.material_id)
    density = (resin.density_g_ml if resin else None) or USUAL_DENSITY_G_ML
    heat = (resin.heat_capacity_j_g_k if resin else None) or USUAL_HEAT_J_G_K
    return WaterBathInput(
        bath_ml=request.bath_ml,
        bath_c=request.bath_c,
        resin_g=request.resin_ml * density,
        resin_c=request.resin_c,
        resin_heat_capacity_j_g_k=heat,
        target_c=request.target_c,
    )
