"""Light, cure and peel: the equations of the virtual printer. Their sources stand in docs/virtual-printer.md."""

from __future__ import annotations

import math
from collections.abc import Callable

from .hidden import Conditions, Machine, Material

KELVIN = 273.15
WARMTH_PER_C = 0.025
CLOUDING, DIMMING = 0.5, 0.06
"""What a film that clings twice as hard adds to the blur, as a share, and takes from the light, in ln."""
SUCTION_MM2 = 400.0
"""Closed area that doubles the pull."""


def viscosity(material: Material, temp_c: float) -> float:
    """Relative to a thin basic resin at 25 °C; ln viscosity is straight in 1/(T − T₀), T₀ the temperature at which nothing flows."""
    usual = 25 + KELVIN
    slope = material.viscosity_k * ((usual - material.glassy_k) / usual) ** 2
    # So near to T₀ it is glass.
    warm = max(temp_c + KELVIN - material.glassy_k, 20.0)
    return material.viscosity * math.exp(slope * (1 / warm - 1 / (usual - material.glassy_k)))


def unrest(machine: Machine, material: Material, conditions: Conditions) -> float:
    """What is left of motion and excess resin when light comes: 1 without a rest, 0 long after; slower when thick."""
    return math.exp(-conditions.rest_s / (machine.settle_s * viscosity(material, conditions.temp_c)))


def blur_mm(machine: Machine, material: Material, conditions: Conditions) -> float:
    """Standard deviation of the light's edge before it scatters: optics, and resin still moving."""
    clear = machine.optics_mm * (1 + CLOUDING * film_age(machine, conditions))
    return math.hypot(clear, machine.moving_mm * unrest(machine, material, conditions))


def film_age(machine: Machine, conditions: Conditions) -> float:
    """How far the film has aged: 0 when new, 1 when it clings twice as hard."""
    return conditions.film_prints / machine.film_prints


def film_mm(machine: Machine, material: Material, conditions: Conditions) -> float:
    """Thickness of the layer that light must get through: as set, and what has not yet flowed out."""
    return conditions.layer_mm + machine.excess_mm * unrest(machine, material, conditions)


def critical_s(material: Material, temp_c: float) -> float:
    """Time of full light below which nothing cures; warm resin needs less."""
    return material.critical_s * math.exp(-WARMTH_PER_C * (temp_c - 25))


def light(machine: Machine, conditions: Conditions) -> float:
    """Light at the coupon's place now, relative: engine, power, age, and place on the plate."""
    return (
        machine.light
        * conditions.power_pct
        / 100
        * math.exp(-conditions.screen_hours / machine.fade_hours)
        * math.exp(-DIMMING * film_age(machine, conditions))
        * evenness(machine, conditions.place_mm)
    )


def evenness(machine: Machine, place_mm: tuple[float, float] | None) -> float:
    """Light at a place of the plate relative to its middle: falls with the square of the distance."""
    if place_mm is None:
        return 1.0
    half_x, half_y = machine.plate_mm[0] / 2, machine.plate_mm[1] / 2
    away = ((place_mm[0] - half_x) ** 2 + (place_mm[1] - half_y) ** 2) / (half_x**2 + half_y**2)
    return 1 - machine.falloff * away


def later_light(material: Material, layer_mm: float, later_layers: float) -> float:
    """How much more than one flash a layer gets, by the light of later layers that comes through."""
    q = math.exp(-layer_mm / material.penetration_mm)
    return 1 + material.memory * q * (1 - math.pow(q, later_layers)) / (1 - q)


def overcure_mm(
    machine: Machine, material: Material, conditions: Conditions, share: float, later_layers: float, at: float = 1.0
) -> float:
    """Cure depth beyond the layer where ``share`` of full light falls (Jacobs); below 0 nothing solid is there."""
    dose = (
        conditions.exposure_s
        * light(machine, conditions)
        * share
        * at
        * later_light(material, conditions.layer_mm, later_layers)
    )
    depth = cure_depth_mm(material, math.log(max(dose, 1e-12) / critical_s(material, conditions.temp_c)))
    return depth - film_mm(machine, material, conditions)


def cure_depth_mm(material: Material, ln_dose: float) -> float:
    """Depth that a dose cures, by its logarithm over the critical one; bleaching lets later light go further."""
    if ln_dose <= 0:
        return material.penetration_mm * ln_dose
    return material.penetration_mm * ln_dose * (1 + material.bleaching * ln_dose)


def ln_dose_for(material: Material, depth_mm: float) -> float:
    """The logarithm of the dose that cures to a depth: the other way round."""
    e_folds = depth_mm / material.penetration_mm
    if not material.bleaching or e_folds <= 0:
        return e_folds
    return (math.sqrt(1 + 4 * material.bleaching * e_folds) - 1) / (2 * material.bleaching)


def needed_share(machine: Machine, material: Material, conditions: Conditions, later_layers: float) -> float:
    """Share of full light at which the layer is just cured through: where a blurred edge comes to lie."""
    dose = conditions.exposure_s * light(machine, conditions) * later_light(material, conditions.layer_mm, later_layers)
    return share_for(machine, material, conditions, dose, 0.0)


def firm_share(machine: Machine, material: Material, conditions: Conditions, later_layers: float) -> float:
    """Share of full light at which a wall or a bar survives the peel and the wash."""
    dose = conditions.exposure_s * light(machine, conditions) * later_light(material, conditions.layer_mm, later_layers)
    beyond = material.bind_mm * math.sqrt(peel_force(machine, material, conditions))
    return share_for(machine, material, conditions, dose, beyond)


def share_for(machine: Machine, material: Material, conditions: Conditions, dose: float, beyond_mm: float) -> float:
    """Share of a dose that cures through the layer and so much beyond."""
    depth = film_mm(machine, material, conditions) + beyond_mm
    return critical_s(material, conditions.temp_c) * math.exp(ln_dose_for(material, depth)) / dose


def peel_force(machine: Machine, material: Material, conditions: Conditions, area_ratio: float = 1.0) -> float:
    """Pull of the film relative to a thin resin at 60 mm/min on a new film: grows with viscosity, speed, area, the film's age, and the
    suction of hollows that close on it."""
    flow = math.pow(viscosity(material, conditions.temp_c), 0.6) * math.pow(conditions.lift_mm_min / 60, 0.4)
    suction = 1 + conditions.cup_mm2 / SUCTION_MM2
    return flow * math.sqrt(area_ratio) * suction * (1 + film_age(machine, conditions))


def foot_mm(material: Material, conditions: Conditions) -> float:
    """How far the foot flares beyond the edge above it, where the first layers got more light; 0 where they did not."""
    return material.scatter_mm * math.log(max(conditions.base_ratio, 1.0)) / 2


def solved(rising: Callable[[float], float], low: float, high: float) -> float:
    """Where a rising function of exposure passes 0, by halving on a log scale."""
    for _ in range(60):
        middle = math.sqrt(low * high)
        low, high = (middle, high) if rising(middle) < 0 else (low, middle)
    return math.sqrt(low * high)
