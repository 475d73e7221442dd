"""Light, cure and peel: the equations of the virtual printer. Their sources stand in docs/virtual-printer.md."""

from __future__ import annotations

import math
from collections.abc import Callable

from .hidden import Conditions, Machine, Material

KELVIN = 273.15
WARMTH_PER_C = 0.025


def viscosity(material: Material, temp_c: float) -> float:
    """Relative to a thin basic resin at 25 °C; ln viscosity is straight in 1/T."""
    return material.viscosity * math.exp(material.viscosity_k * (1 / (temp_c + KELVIN) - 1 / (25 + KELVIN)))


def unrest(machine: Machine, material: Material, conditions: Conditions) -> float:
    """What is left of motion and excess resin when light comes: 1 without a rest, 0 long after; slower when thick."""
    return math.exp(-conditions.rest_s / (machine.settle_s * viscosity(material, conditions.temp_c)))


def blur_mm(machine: Machine, material: Material, conditions: Conditions) -> float:
    """Standard deviation of the light's edge before it scatters: optics, and resin still moving."""
    return math.hypot(machine.optics_mm, machine.moving_mm * unrest(machine, material, conditions))


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
    depth = material.penetration_mm * math.log(max(dose, 1e-12) / critical_s(material, conditions.temp_c))
    return depth - film_mm(machine, material, conditions)


def needed_share(machine: Machine, material: Material, conditions: Conditions, later_layers: float) -> float:
    """Share of full light at which the layer is just cured through: where a blurred edge comes to lie."""
    dose = conditions.exposure_s * light(machine, conditions) * later_light(material, conditions.layer_mm, later_layers)
    need = critical_s(material, conditions.temp_c) * math.exp(
        film_mm(machine, material, conditions) / material.penetration_mm
    )
    return need / dose


def peel_force(material: Material, conditions: Conditions, area_ratio: float = 1.0) -> float:
    """Pull of the film relative to a thin resin at 60 mm/min: grows with viscosity, speed and area."""
    return (
        math.pow(viscosity(material, conditions.temp_c), 0.6)
        * math.pow(conditions.lift_mm_min / 60, 0.4)
        * math.sqrt(area_ratio)
    )


def bloom_mm(machine: Machine, material: Material, conditions: Conditions, later_layers: float) -> float:
    """How far a bridge grows downwards, away from the light: depth of all its layers' light, less its own layer."""
    return max(overcure_mm(machine, material, conditions, 1.0, later_layers), 0.0)


def solved(rising: Callable[[float], float], low: float, high: float) -> float:
    """Where a rising function of exposure passes 0, by halving on a log scale."""
    for _ in range(60):
        middle = math.sqrt(low * high)
        low, high = (middle, high) if rising(middle) < 0 else (low, middle)
    return math.sqrt(low * high)
