"""What a virtual printer hides: the truth of a machine, of a material, and of the conditions of one print."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace
from typing import Literal

Spread = Literal["exponential", "gaussian", "heavy"]


@dataclass(frozen=True)
class Machine:
    """One printer's light and mechanics. Lengths are mm, times s; ``light`` is relative to a new mono screen."""

    pixel_mm: float = 0.035
    plate_mm: tuple[float, float] = (153.0, 87.0)
    light: float = 1.0
    optics_mm: float = 0.018
    """Blur of the light itself, beyond the pixel's own square."""
    fade_hours: float = 9000.0
    """Hours in which light falls to 1/e."""
    falloff: float = 0.10
    """Share of light missing at the corners of the plate."""
    tilt: float = 0.0
    """Light at the right edge of a coupon more than at its left, as a share."""
    moving_mm: float = 0.045
    """Smear of resin and machine that have not come to rest at all."""
    settle_s: float = 0.8
    """Time in which that motion, and the excess of resin under the plate, fall to 1/e at 25 °C."""
    excess_mm: float = 0.010
    """How much thicker than set a layer is when light comes at once."""
    dose_sd: float = 0.008
    """Standard deviation of ln light from one print to the next."""
    film_prints: float = 4000.0
    """Prints in which a film clings and clouds as much again as when it was new."""


@dataclass(frozen=True)
class Material:
    """One resin's response to light. ``critical_s`` is for full light of a machine of ``light`` 1 at 25 °C."""

    critical_s: float
    penetration_mm: float = 0.13
    scatter_mm: float = 0.050
    """Distance in which scattered light beside an edge falls to 1/e."""
    memory: float = 0.25
    """Share of the light of later layers that still adds up; oxygen coming back undoes the rest."""
    viscosity: float = 1.0
    """At 25 °C, relative to a thin basic resin."""
    viscosity_k: float = 4500.0
    """Slope of ln viscosity on 1/T at 25 °C, kelvin."""
    glassy_k: float = 0.0
    """Temperature at which it would not flow at all, kelvin: the higher, the faster it thickens in the cold."""
    bleaching: float = 0.0
    """How much deeper each e-fold of dose reaches than the one before, as a share: cured resin lets light through."""
    spread: Spread = "exponential"
    """How scattered light falls off beside an edge."""
    bind_mm: float = 0.05
    """Cure beyond the layer a wall needs to survive the peel of a thin resin at 60 mm/min."""
    drain_mm: float = 0.22
    """Narrowest slit a thin resin leaves while it is washed."""
    peel: float = 0.66
    """Strength a tip needs at that peel, relative to a 0.43 mm tip cured 0.1 mm beyond its layer."""
    shrinkage: float = 0.002
    tint: tuple[int, int, int] = (120, 124, 132)
    clarity: float = 0.0


@dataclass(frozen=True)
class Conditions:
    """Everything about one print that a person could have set or measured."""

    exposure_s: float
    layer_mm: float = 0.05
    rest_s: float = 1.0
    lift_mm_min: float = 60.0
    temp_c: float = 25.0
    screen_hours: float = 0.0
    power_pct: float = 100.0
    film_prints: int = 0
    """That the film has made."""
    base_ratio: float = 1.0
    """Exposure of the first layers over that of the others."""
    cup_mm2: float = 0.0
    """Area of hollows on the plate that close on the film and are pulled off it by suction."""
    grey_px: int = 0
    """Pixels over which the mask's edges fade, as anti-aliasing draws them."""
    place_mm: tuple[float, float] | None = None
    """Centre of the coupon from the plate's corner; the plate's centre when None."""


OPACITY = {"opaque": (0.115, 0.050, 0.0), "tinted": (0.17, 0.055, 0.35), "clear": (0.27, 0.062, 0.75)}
THICK = {"flexible": (1.7, 1.2), "rigid": (2.2, 1.5), "ABS-like": (1.2, 1.05), "tough": (1.4, 1.1)}
SPREADS: tuple[Spread, ...] = ("exponential", "exponential", "gaussian", "heavy")
ENGINE_LIGHT = {"mono screen": 1.0, "colour screen": 0.3, "projector": 1.2, "laser": 1.2}


def machine(seed: int, light_engine: str, pixel_um: float, plate_mm: tuple[float, float]) -> Machine:
    """A machine of its own for a seed: brighter or dimmer, more or less even, quicker or slower to settle."""
    chance = random.Random(f"machine {seed}")
    return Machine(
        pixel_mm=pixel_um / 1000,
        plate_mm=plate_mm,
        light=ENGINE_LIGHT[light_engine] * math.exp(chance.gauss(0, 0.12)),
        optics_mm=chance.uniform(0.012, 0.022),
        fade_hours=chance.uniform(7000, 11000),
        falloff=chance.uniform(0.05, 0.15),
        moving_mm=chance.uniform(0.035, 0.055),
        settle_s=chance.uniform(0.6, 1.0),
        excess_mm=chance.uniform(0.007, 0.012),
        dose_sd=chance.uniform(0.008, 0.025),
        film_prints=chance.uniform(2500, 6000),
    )


def tint(colour: str, chance: random.Random) -> tuple[int, int, int]:
    """What a colour's words look like on a photo; a muted grey of its own when they say nothing."""
    from PIL import ImageColor

    words = colour.lower().split()
    for name in ("".join(words), *reversed(words)):
        if name in ImageColor.colormap:
            red, green, blue = ImageColor.getrgb(name)[:3]
            return (_shown(red), _shown(green), _shown(blue))
    grey = chance.randint(80, 180)
    return (grey + chance.randint(-12, 12), grey + chance.randint(-12, 12), grey + chance.randint(-12, 12))


def _shown(value: int) -> int:
    """Neither black nor white: a photo of resin keeps room for light and shadow."""
    return round(45 + value * 160 / 255)


def material(seed: int, family: str, opacity: str, range_s: tuple[float, float] | None, colour: str = "") -> Material:
    """A material of its own for a seed. A maker's range holds for an ordinary machine, and not always its middle."""
    chance = random.Random(f"material {seed}")
    penetration, scatter, clarity = OPACITY[opacity]
    viscosity, peel = THICK.get(family, (1.0, 1.0))
    penetration *= math.exp(chance.gauss(0, 0.06))
    middle = math.sqrt(range_s[0] * range_s[1]) if range_s else 2.5
    made = Material(
        critical_s=1.0,
        penetration_mm=penetration,
        scatter_mm=scatter * math.exp(chance.gauss(0, 0.06)),
        memory=chance.uniform(0.15, 0.3),
        viscosity=viscosity * math.exp(chance.gauss(0, 0.1)),
        peel=0.66 * peel,
        shrinkage=chance.uniform(0.001, 0.004),
        tint=tint(colour, chance),
        clarity=clarity,
    )
    q = math.exp(-0.05 / penetration)
    later = 1 + made.memory * q / (1 - q)
    # At about the middle of the range the half-lit edge of a 50 µm layer is just cured.
    made = replace(made, critical_s=middle * math.exp(chance.gauss(0, 0.15)) * q * later / 2)
    return replace(
        made,
        bleaching=chance.uniform(0.0, 0.05),
        glassy_k=chance.uniform(120, 200),
        spread=chance.choice(SPREADS),
    )
