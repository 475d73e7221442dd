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
}  # fmt: skip


def warm_start(given: WarmStartInput) -> WarmStartPlan:
    """Plan the steps, the temperatures and the cost.

    Raises
    ------
    Problem
        Without a cut-out, with a bath above 45 °C, or with floor, target and ceiling out of order.
    """
    _check(given)
    bath = water_bath(given.bath) if given.bath is not None else None
    hold_w = max(c.loss_w_per_k * (given.target_c - given.ambient_c) for c in given.chambers)
    weak = [c for c in given.chambers if _warming_s(given, c, c.start_c) is None]
    warnings = list(bath.warnings) if bath else []
    if weak:
        warnings.append(_too_weak(given, hold_w, [c.printer for c in weak]))
    if weak or (bath is not None and bath.time_to_target_s is None):
        return WarmStartPlan(
            steps=[], chambers=[], bath=bath, takes_s=0, ends_s=0, energy_kwh=0, cost=None, possible=False,
            power_needed_w=SPARE * hold_w if weak else None,
            insulate_pct=100 * (1 - given.heater_w / (SPARE * hold_w)) if weak else None, warnings=warnings,
        )  # fmt: skip
    return _laid_out(given, bath, warnings)


def _check(given: WarmStartInput) -> None:
    if not given.has_cut_out:
        said = "A heater in a chamber needs a thermal cut-out of its own. Without one nothing is planned."
        raise Problem(said, {"has_cut_out": said})
    if not given.floor_c <= given.target_c <= given.ceiling_c:
        said = "Floor, target and ceiling must follow one another: the target lies between the other two."
        raise Problem(said, {"target_c": said})
    if given.target_c <= given.ambient_c:
        said = f"The room is at {given.ambient_c:g} °C: nothing needs warming to {given.target_c:g} °C."
        raise Problem(said, {"target_c": said})


def _warming_s(given: WarmStartInput, chamber: Chamber, from_c: float) -> float | None:
    steady = given.ambient_c + given.heater_w / chamber.loss_w_per_k
    if from_c >= given.target_c:
        return 0.0 if steady >= given.target_c else None
    return reach_s(from_c, given.target_c, steady, chamber.heat_capacity_j_per_k / chamber.loss_w_per_k)


def _too_weak(given: WarmStartInput, hold_w: float, printers: list[str]) -> Notice:
    said = (
        f"{given.heater_w:g} W cannot bring {' and '.join(printers)} to {given.target_c:g} °C in a room of "
        f"{given.ambient_c:g} °C: take about {SPARE * hold_w:.0f} W, or insulate until "
        f"{100 * (1 - given.heater_w / (SPARE * hold_w)):.0f} % less heat is lost."
    )
    return Notice(code="unreachable", message=said)


def _laid_out(given: WarmStartInput, bath: WaterBathResult | None, warnings: list[Notice]) -> WarmStartPlan:
    """One chamber after the other; the bottle is warm, shaken and poured when the first one is."""
    bath_s = (bath.time_to_target_s or 0.0) if bath else 0.0
    before_pour = bath_s + (SHAKE_S if bath else 0.0)
    first_s = _warming_s(given, given.chambers[0], given.chambers[0].start_c) or 0.0
    pour_at = max(before_pour, first_s)
    steps: list[PlanStep] = []
    if bath:
        bottle_at = pour_at - SHAKE_S - bath_s
        target = given.bath.target_c if given.bath else 0
        steps.append(_step(bottle_at, "bottle", None, f"Bottle into the bath for {minutes(bath_s)}, to {target:g} °C"))
        steps.append(_step(bottle_at + bath_s, "shake", None, "Take the bottle out, dry it, shake it for a minute"))
    on_at, energy_j, plans = pour_at - first_s, 0.0, []
    for number, chamber in enumerate(given.chambers):
        if number:
            steps.append(_step(on_at - MOVE_S, "move-heater", chamber.printer, f"Move the heater to {chamber.printer}"))
        plan, spent_j, told = _one(given, chamber, on_at)
        plans.append(plan)
        steps += told
        energy_j += spent_j
        on_at = plan.off_s + MOVE_S
    warnings = warnings + _doubts(given, plans)
    steps.sort(key=lambda s: s.at_s)
    energy = energy_j / JOULES_PER_KWH
    return WarmStartPlan(
        steps=steps, chambers=plans, bath=bath, takes_s=plans[0].starts_s - steps[0].at_s,
        ends_s=max(p.off_s for p in plans), energy_kwh=energy,
        cost=energy * given.tariff_per_kwh if given.tariff_per_kwh is not None else None, possible=True,
        power_needed_w=None, insulate_pct=None, warnings=warnings,
    )  # fmt: skip


def _one(given: WarmStartInput, chamber: Chamber, on_at: float) -> tuple[ChamberPlan, float, list[PlanStep]]:
    """Warm, open the lid and pour, make the loss good, start, hold through the base layers, switch off."""
    tau = chamber.heat_capacity_j_per_k / chamber.loss_w_per_k
    steady = given.ambient_c + given.heater_w / chamber.loss_w_per_k
    warm_s = _warming_s(given, chamber, chamber.start_c) or 0.0
    lost = given.lid_share * (given.target_c - given.ambient_c)
    again_s = _warming_s(given, chamber, given.target_c - lost) or 0.0
    openings = max(given.lid_openings, 1)
    pour_at = on_at + warm_s
    starts = pour_at + POUR_S + again_s
    # Openings after the pour come, at worst, during the base layers.
    lowest = given.target_c - lost if openings > 1 else given.target_c
    off_at = starts + chamber.base_layers_s
    curve = [
        (on_at + warm_s * i / POINTS, after(chamber.start_c, steady, tau, warm_s * i / POINTS)) for i in range(POINTS)
    ]
    curve += [(pour_at, given.target_c), (pour_at + POUR_S, given.target_c - lost)]
    curve += [
        (pour_at + POUR_S + again_s * i / 20, after(given.target_c - lost, steady, tau, again_s * i / 20))
        for i in range(1, 20)
    ]
    curve += [(starts, given.target_c), (off_at, given.target_c)]
    curve += [(off_at + tau * i / 20, after(given.target_c, given.ambient_c, tau, tau * i / 20)) for i in range(1, 21)]
    hold_w = chamber.loss_w_per_k * (given.target_c - given.ambient_c)
    spent = given.heater_w * (warm_s + openings * again_s) + hold_w * (POUR_S + chamber.base_layers_s)
    plan = ChamberPlan(
        printer=chamber.printer, on_s=on_at, off_s=off_at, starts_s=starts, lowest_c=lowest,
        stays_above_floor=lowest >= given.floor_c, lid_loss_c=lost, lid_minutes=again_s / 60,
        above_floor_after_s=reach_s(given.target_c, given.floor_c, given.ambient_c, tau), curve_c=curve,
    )  # fmt: skip
    name = chamber.printer
    steps = [
        _step(on_at, "heater-on", name, f"Heater on at {name}; {minutes(warm_s)} to {given.target_c:g} °C"),
        _step(pour_at, "pour", name, f"Pour into {name}, lid shut again"),
        _step(starts, "start", name, f"Start {name}: the chamber is back at {given.target_c:g} °C"),
        _step(off_at, "heater-off", name, f"Base layers of {name} are done: heater off"),
    ]
    return plan, spent, steps


def _doubts(given: WarmStartInput, plans: list[ChamberPlan]) -> list[Notice]:
    told = []
    for chamber, plan in zip(given.chambers, plans, strict=True):
        steady = given.ambient_c + given.heater_w / chamber.loss_w_per_k
        if not given.has_thermostat and steady > given.ceiling_c:
            tau = chamber.heat_capacity_j_per_k / chamber.loss_w_per_k
            over = reach_s(chamber.start_c, given.ceiling_c, steady, tau) or 0.0
            said = (
                f"{plan.printer}: without a thermostat the heater would end at {steady:.0f} °C. Left on it passes "
                f"{given.ceiling_c:g} °C after {minutes(over)}: switch it off and on by hand to hold {given.target_c:g} °C."
            )
            told.append(Notice(code="overshoot", message=said))
        if not plan.stays_above_floor:
            said = (
                f"{plan.printer}: opening the lid again costs {plan.lid_loss_c:.0f} °C, down to {plan.lowest_c:.0f} °C, "
                f"and {plan.lid_minutes:.0f} min to make good. Keep it shut through the base layers."
            )
            told.append(Notice(code="below-floor", message=said))
    return told


def _step(at_s: float, kind: StepKind, printer: str | None, words: str) -> PlanStep:
    return PlanStep(at_s=at_s, kind=kind, printer=printer, words=words, caution=CAUTIONS.get(kind))
