"""A warm start as one plan: bottle into the bath, heater on, shake, pour, start, heater off after the base layers.

The chamber is one thermal mass (:mod:`setback.core.climate.chamber`), the bottle shares its heat with the bath
(:mod:`setback.core.climate.water_bath`). Opening the lid throws away a share of what the chamber is above the room.
Heat of the light and of the reaction comes on top and is left out: the plan errs on the cold side.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Notice, Problem
from .chamber import JOULES_PER_KWH, SPARE, Tariff, after, minutes, reach_s
from .quantities import Celsius, HeatCapacity, LossPerKelvin, Watts
from .water_bath import WaterBathInput, WaterBathResult, water_bath

SHAKE_S, POUR_S, MOVE_S = 60.0, 120.0, 60.0
LID_SHARE = 0.3
POINTS = 120

StepKind = Literal["bottle", "heater-on", "shake", "pour", "start", "move-heater", "heater-off"]


class Chamber(Contract):
    """One printer that is warmed."""

    printer: Annotated[str, Field(min_length=1, max_length=80)]
    start_c: Celsius
    loss_w_per_k: LossPerKelvin
    heat_capacity_j_per_k: HeatCapacity
    base_layers_s: float = Field(ge=0, le=100_000, description="From the start until the last base layer is done")


class WarmStartInput(Contract):
    """Chambers to be warm at the start, the heater that goes round them, and the room."""

    ambient_c: Celsius
    chambers: list[Chamber] = Field(min_length=1, max_length=6, description="In the order the heater goes round")
    heater_w: Watts
    has_cut_out: bool = Field(description="The heater has a thermal cut-out of its own")
    has_thermostat: bool = False
    target_c: Celsius = Field(25, description="Chamber air at the start")
    floor_c: Celsius = Field(22, description="Not colder than this through the base layers")
    ceiling_c: Celsius = 30
    lid_openings: int = Field(1, ge=0, le=20, description="At each printer, the pour included")
    lid_share: float = Field(LID_SHARE, ge=0, le=1, description="Of the warmth, lost at each opening")
    bath: WaterBathInput | None = Field(None, description="None when the resin is warm enough already")
    tariff_per_kwh: Tariff | None = None


class PlanStep(Contract):
    """One thing to do, seconds from the beginning, in words and with its caution."""

    at_s: float
    kind: StepKind
    printer: str | None
    words: str
    caution: str | None


class ChamberPlan(Contract):
    """How one chamber fares."""

    printer: str
    on_s: float
    off_s: float
    starts_s: float
    lowest_c: float = Field(description="Through the base layers")
    stays_above_floor: bool
    lid_loss_c: float = Field(description="Lost at one opening")
    lid_minutes: float = Field(description="Until one opening is made good")
    above_floor_after_s: float | None = Field(description="How long it stays above the floor with the heater off")
    curve_c: list[tuple[float, float]]


class WarmStartPlan(Contract):
    """Steps in order of time, with what is uncertain about them."""

    steps: list[PlanStep]
    chambers: list[ChamberPlan]
    bath: WaterBathResult | None
    takes_s: float = Field(description="From the first step to the first start")
    ends_s: float
    energy_kwh: float
    cost: float | None
    possible: bool
    power_needed_w: float | None = Field(description="When the heater is too weak")
    insulate_pct: float | None = Field(description="Or lose so much less heat")
    warnings: list[Notice]


CAUTIONS = {
    "bottle": "Warm tap water, 45 °C at most; never a microwave, stove or boiling water. Keep the cap on and out of the water.",
    "heater-on": "Clear space round the heater, no open solvent in the room, and somebody present while it runs.",
    "shake": "Gloves and eye protection: a warm bottle is under a little pressure.",
    "pour": "Gloves, eye protection, ventilation. Close the lid again at once.",
    "move-heater": "It is hot: let it cool in the open for a moment, and keep solvent away.",
}


def warm_start(inputs: WarmStartInput) -> WarmStartPlan:
    """Plan the steps, the temperatures and the cost.

    Raises
    ------
    Problem
        Without a cut-out, with a bath above 45 °C, or with floor, target and ceiling out of order.
    """
    _check(inputs)
    bath = water_bath(inputs.bath) if inputs.bath is not None else None
    hold_w = max(c.loss_w_per_k * (inputs.target_c - inputs.ambient_c) for c in inputs.chambers)
    weak = [c for c in inputs.chambers if _warming_s(inputs, c, c.start_c) is None]
    warnings = list(bath.warnings) if bath else []
    if weak:
        warnings.append(_too_weak(inputs, hold_w, [c.printer for c in weak]))
    if weak or (bath is not None and bath.time_to_target_s is None):
        return WarmStartPlan(
            steps=[],
            chambers=[],
            bath=bath,
            takes_s=0,
            ends_s=0,
            energy_kwh=0,
            cost=None,
            possible=False,
            power_needed_w=SPARE * hold_w if weak else None,
            insulate_pct=100 * (1 - inputs.heater_w / (SPARE * hold_w)) if weak else None,
            warnings=warnings,
        )
    return _laid_out(inputs, bath, warnings)


def _check(inputs: WarmStartInput) -> None:
    if not inputs.has_cut_out:
        message = "A heater in a chamber needs a thermal cut-out of its own. Without one nothing is planned."
        raise Problem(message, {"has_cut_out": message})
    if not inputs.floor_c <= inputs.target_c <= inputs.ceiling_c:
        message = "Floor, target and ceiling must follow one another: the target lies between the other two."
        raise Problem(message, {"target_c": message})
    if inputs.target_c <= inputs.ambient_c:
        message = f"The room is at {inputs.ambient_c:g} °C: nothing needs warming to {inputs.target_c:g} °C."
        raise Problem(message, {"target_c": message})


def _warming_s(inputs: WarmStartInput, chamber: Chamber, from_c: float) -> float | None:
    steady = inputs.ambient_c + inputs.heater_w / chamber.loss_w_per_k
    if from_c >= inputs.target_c:
        return 0.0 if steady >= inputs.target_c else None
    return reach_s(from_c, inputs.target_c, steady, chamber.heat_capacity_j_per_k / chamber.loss_w_per_k)


def _too_weak(inputs: WarmStartInput, hold_w: float, printers: list[str]) -> Notice:
    message = (
        f"{inputs.heater_w:g} W cannot bring {' and '.join(printers)} to {inputs.target_c:g} °C in a room of "
        f"{inputs.ambient_c:g} °C: take about {SPARE * hold_w:.0f} W, or insulate until "
        f"{100 * (1 - inputs.heater_w / (SPARE * hold_w)):.0f} % less heat is lost."
    )
    return Notice(code="unreachable", message=message)


def _laid_out(inputs: WarmStartInput, bath: WaterBathResult | None, warnings: list[Notice]) -> WarmStartPlan:
    """One chamber after the other; the bottle is warm, shaken and poured when the first one is."""
    bath_s = (bath.time_to_target_s or 0.0) if bath else 0.0
    before_pour = bath_s + (SHAKE_S if bath else 0.0)
    first_s = _warming_s(inputs, inputs.chambers[0], inputs.chambers[0].start_c) or 0.0
    pour_at = max(before_pour, first_s)
    steps: list[PlanStep] = []
    if bath:
        bottle_at = pour_at - SHAKE_S - bath_s
        target = inputs.bath.target_c if inputs.bath else 0
        steps.append(_step(bottle_at, "bottle", None, f"Bottle into the bath for {minutes(bath_s)}, to {target:g} °C"))
        steps.append(_step(bottle_at + bath_s, "shake", None, "Take the bottle out, dry it, shake it for a minute"))
    on_at, energy_j, plans = pour_at - first_s, 0.0, []
    for number, chamber in enumerate(inputs.chambers):
        if number:
            steps.append(_step(on_at - MOVE_S, "move-heater", chamber.printer, f"Move the heater to {chamber.printer}"))
        plan, spent_j, notices = _one(inputs, chamber, on_at)
        plans.append(plan)
        steps += notices
        energy_j += spent_j
        on_at = plan.off_s + MOVE_S
    warnings = warnings + _doubts(inputs, plans)
    steps.sort(key=lambda s: s.at_s)
    energy = energy_j / JOULES_PER_KWH
    return WarmStartPlan(
        steps=steps,
        chambers=plans,
        bath=bath,
        takes_s=plans[0].starts_s - steps[0].at_s,
        ends_s=max(p.off_s for p in plans),
        energy_kwh=energy,
        cost=energy * inputs.tariff_per_kwh if inputs.tariff_per_kwh is not None else None,
        possible=True,
        power_needed_w=None,
        insulate_pct=None,
        warnings=warnings,
    )


def _one(inputs: WarmStartInput, chamber: Chamber, on_at: float) -> tuple[ChamberPlan, float, list[PlanStep]]:
    """Warm, open the lid and pour, make the loss good, start, hold through the base layers, switch off."""
    tau = chamber.heat_capacity_j_per_k / chamber.loss_w_per_k
    steady = inputs.ambient_c + inputs.heater_w / chamber.loss_w_per_k
    warm_s = _warming_s(inputs, chamber, chamber.start_c) or 0.0
    lost = inputs.lid_share * (inputs.target_c - inputs.ambient_c)
    again_s = _warming_s(inputs, chamber, inputs.target_c - lost) or 0.0
    openings = max(inputs.lid_openings, 1)
    pour_at = on_at + warm_s
    starts = pour_at + POUR_S + again_s
    # Openings after the pour come, at worst, during the base layers.
    lowest = inputs.target_c - lost if openings > 1 else inputs.target_c
    off_at = starts + chamber.base_layers_s
    curve = [
        (on_at + warm_s * i / POINTS, after(chamber.start_c, steady, tau, warm_s * i / POINTS)) for i in range(POINTS)
    ]
    curve += [(pour_at, inputs.target_c), (pour_at + POUR_S, inputs.target_c - lost)]
    curve += [
        (pour_at + POUR_S + again_s * i / 20, after(inputs.target_c - lost, steady, tau, again_s * i / 20))
        for i in range(1, 20)
    ]
    curve += [(starts, inputs.target_c), (off_at, inputs.target_c)]
    curve += [
        (off_at + tau * i / 20, after(inputs.target_c, inputs.ambient_c, tau, tau * i / 20)) for i in range(1, 21)
    ]
    hold_w = chamber.loss_w_per_k * (inputs.target_c - inputs.ambient_c)
    spent = inputs.heater_w * (warm_s + openings * again_s) + hold_w * (POUR_S + chamber.base_layers_s)
    plan = ChamberPlan(
        printer=chamber.printer,
        on_s=on_at,
        off_s=off_at,
        starts_s=starts,
        lowest_c=lowest,
        stays_above_floor=lowest >= inputs.floor_c,
        lid_loss_c=lost,
        lid_minutes=again_s / 60,
        above_floor_after_s=reach_s(inputs.target_c, inputs.floor_c, inputs.ambient_c, tau),
        curve_c=curve,
    )
    name = chamber.printer
    steps = [
        _step(on_at, "heater-on", name, f"Heater on at {name}; {minutes(warm_s)} to {inputs.target_c:g} °C"),
        _step(pour_at, "pour", name, f"Pour into {name}, lid shut again"),
        _step(starts, "start", name, f"Start {name}: the chamber is back at {inputs.target_c:g} °C"),
        _step(off_at, "heater-off", name, f"Base layers of {name} are done: heater off"),
    ]
    return plan, spent, steps


def _doubts(inputs: WarmStartInput, plans: list[ChamberPlan]) -> list[Notice]:
    notices = []
    for chamber, plan in zip(inputs.chambers, plans, strict=True):
        steady = inputs.ambient_c + inputs.heater_w / chamber.loss_w_per_k
        if not inputs.has_thermostat and steady > inputs.ceiling_c:
            tau = chamber.heat_capacity_j_per_k / chamber.loss_w_per_k
            over = reach_s(chamber.start_c, inputs.ceiling_c, steady, tau) or 0.0
            message = (
                f"{plan.printer}: without a thermostat the heater would end at {steady:.0f} °C. Left on it passes "
                f"{inputs.ceiling_c:g} °C after {minutes(over)}: switch it off and on by hand to hold {inputs.target_c:g} °C."
            )
            notices.append(Notice(code="overshoot", message=message))
        if not plan.stays_above_floor:
            message = (
                f"{plan.printer}: opening the lid again costs {plan.lid_loss_c:.0f} °C, down to {plan.lowest_c:.0f} °C, "
                f"and {plan.lid_minutes:.0f} min to make good. Keep it shut through the base layers."
            )
            notices.append(Notice(code="below-floor", message=message))
    return notices


def _step(at_s: float, kind: StepKind, printer: str | None, words: str) -> PlanStep:
    return PlanStep(at_s=at_s, kind=kind, printer=printer, words=words, caution=CAUTIONS.get(kind))
