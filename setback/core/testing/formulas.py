"""From a force and a measured section to a stress, a modulus, a stiffness or an absorbed energy.

Sources: beam formulas of elementary strength of materials (Gere and Goodno, Mechanics of Materials, ch. 5 and 9), as
used by the ISO 178 bend test; the pendulum's energy balance and the sharing out of windage by the angle swung after
ISO 13802.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field
from scipy.constants import g as standard_gravity

from ..contract import Contract, Millimetres, Notice, OneOf, Problem

Force = Annotated[float, Field(gt=0, le=1e6)]
Degrees = Annotated[float, Field(ge=0, le=180)]

LEAST_ENERGY, MOST_ENERGY = 0.10, 0.80
SLENDER_CANTILEVER, SLENDER_SPAN = 8.0, 15.0
SMALL_DEFLECTION = 0.10


class StrengthInput(Contract):
    """A measured force, deflection or angle with the section it acted on."""

    method: Annotated[str, OneOf(lambda: FORMULAS)]
    force_n: Force | None = None
    force_kgf: Force | None = None
    load_n: Force | None = None
    load_kgf: Force | None = None
    arm_mm: Millimetres | None = Field(None, description="From the clamp to the load")
    span_mm: Millimetres | None = Field(None, description="Between the two supports")
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = Field(None, description="In the direction of bending")
    thickness_mm: Millimetres | None = None
    legs: int | None = Field(None, ge=1, le=2, description="A closed loop has two")
    deflection_mm: Millimetres | None = None
    slope_n_mm: Annotated[float, Field(gt=0, le=1e7)] | None = Field(
        None, description="Newtons per millimetre at first"
    )
    pendulum_kg: Annotated[float, Field(gt=0, le=1000)] | None = None
    radius_m: Annotated[float, Field(gt=0, le=10)] | None = Field(None, description="Axis to the centre of mass")
    release_deg: Annotated[float, Field(gt=0, le=180)] | None = Field(None, description="From hanging straight down")
    rise_deg: Degrees | None = Field(None, description="Reached after the specimen broke")
    free_rise_deg: Degrees | None = Field(None, description="Reached without a specimen")
    net_depth_mm: Millimetres | None = Field(None, description="Under the notch")


class StrengthResult(Contract):
    """Stress, modulus, stiffness or absorbed energy; null where the readings do not give it."""

    force_n: float | None = None
    stress_mpa: float | None = None
    modulus_mpa: float | None = None
    stiffness_n_mm: float | None = None
    absorbed_j: float | None = None
    loss_j: float | None = Field(None, description="Windage and bearing over the angle swung")
    share_of_energy: float | None = Field(None, description="Of the hammer's energy")
    per_area_kj_m2: float | None = None
    per_width_j_m: float | None = None
    warnings: list[Notice]


def strength(inputs: StrengthInput) -> StrengthResult:
    """One specimen's result from what was measured on it.

    Units are in the keys; forces are in N or kgf (× 9.80665), angles in degrees from hanging straight down.

    Raises
    ------
    Problem
        When a quantity of the method is missing, one of another method is given, a force is given twice, or the
        hammer rises higher than it does freely.
    """
    _check(inputs)
    return FORMULAS[inputs.method].work(inputs)


def _check(inputs: StrengthInput) -> None:
    needed, allowed = FORMULAS[inputs.method].needs, FORMULAS[inputs.method].may_have
    problems: dict[str, str] = {}
    for name in needed:
        keys = _keys(name)
        present = [k for k in keys if getattr(inputs, k) is not None]
        if not present:
            problems[keys[0]] = (
                f"The {inputs.method} test needs this." if len(keys) == 1 else "Give the force, in N or in kgf."
            )
        elif len(present) > 1:
            problems[keys[1]] = "Give the force once: in N or in kgf, not both."
    allowed_keys = {"method", *allowed, *(key for name in needed for key in _keys(name))}
    for name in StrengthInput.model_fields:
        if name not in allowed_keys and getattr(inputs, name) is not None:
            problems[name] = f"The {inputs.method} test does not use this."
    if problems:
        raise Problem("The specimen cannot be worked out from these numbers.", problems)


def _keys(name: str) -> tuple[str, ...]:
    return (f"{name}_n", f"{name}_kgf") if name in ("force", "load") else (name,)


def newtons(n: float | None, kgf: float | None) -> float:
    """A force in N, from whichever was given."""
    return n if n is not None else standard_gravity * (kgf or 0.0)


def _of(inputs: StrengthInput, name: str) -> float:
    return float(getattr(inputs, name))


def _slender(ratio: float, least_ratio: float) -> list[Notice]:
    if ratio >= least_ratio:
        return []
    message = (
        f"The bar is only {ratio:.1f} heights long; under {least_ratio:.0f} shear takes part and the numbers read low."
    )
    return [Notice(code="stubby", message=message)]


def _cantilever(inputs: StrengthInput) -> StrengthResult:
    force = newtons(inputs.force_n, inputs.force_kgf)
    arm, b, h = (_of(inputs, k) for k in ("arm_mm", "width_mm", "height_mm"))
    warnings, modulus = _slender(arm / h, SLENDER_CANTILEVER), None
    if inputs.deflection_mm is not None:
        modulus = 4 * force * arm**3 / (b * h**3 * inputs.deflection_mm)
        if inputs.deflection_mm > SMALL_DEFLECTION * arm:
            message = "The bar bent by more than a tenth of its arm: the modulus is that of a bent bar, not of a straight one."
            warnings.append(Notice(code="large-deflection", message=message))
    return StrengthResult(
        force_n=force, stress_mpa=6 * force * arm / (b * h**2), modulus_mpa=modulus, warnings=warnings
    )


def _three_point(inputs: StrengthInput) -> StrengthResult:
    force = newtons(inputs.force_n, inputs.force_kgf)
    span, b, h = (_of(inputs, k) for k in ("span_mm", "width_mm", "height_mm"))
    slope = inputs.slope_n_mm
    return StrengthResult(
        force_n=force,
        stress_mpa=3 * force * span / (2 * b * h**2),
        modulus_mpa=None if slope is None else span**3 * slope / (4 * b * h**3),
        warnings=_slender(span / h, SLENDER_SPAN),
    )


def _tensile(inputs: StrengthInput) -> StrengthResult:
    force = newtons(inputs.force_n, inputs.force_kgf)
    area = (inputs.legs or 1) * _of(inputs, "width_mm") * _of(inputs, "thickness_mm")
    return StrengthResult(force_n=force, stress_mpa=force / area, warnings=[])


def _stiffness(inputs: StrengthInput) -> StrengthResult:
    force = newtons(inputs.load_n, inputs.load_kgf)
    return StrengthResult(force_n=force, stiffness_n_mm=force / _of(inputs, "deflection_mm"), warnings=[])


def _pendulum(inputs: StrengthInput) -> StrengthResult:
    release, rise, free = (_of(inputs, k) for k in ("release_deg", "rise_deg", "free_rise_deg"))
    if free > release:
        raise Problem(
            "The hammer cannot rise higher than it was let go from.", {"free_rise_deg": f"At most {release:g}°."}
        )
    if rise > free:
        message = f"A specimen takes energy away: at most the free rise, {free:g}°. Were the two swapped?"
        raise Problem("The hammer rose higher with a specimen than without one.", {"rise_deg": message})
    scale = _of(inputs, "pendulum_kg") * standard_gravity * _of(inputs, "radius_m")
    cos = {
        name: math.cos(math.radians(angle)) for name, angle in (("release", release), ("rise", rise), ("free", free))
    }
    loss = scale * (cos["free"] - cos["release"]) * (release + rise) / (release + free)
    absorbed = max(scale * (cos["rise"] - cos["release"]) - loss, 0.0)
    share = absorbed / (scale * (1 - cos["release"]))
    warnings = []
    if not LEAST_ENERGY <= share <= MOST_ENERGY:
        hammer = "a lighter hammer" if share < LEAST_ENERGY else "a heavier hammer"
        message = f"The specimen took {100 * share:.0f} % of the hammer's energy; between 10 and 80 % can be trusted: use {hammer}."
        warnings.append(Notice(code="energy-range", message=message))
    width, depth = _of(inputs, "width_mm"), _of(inputs, "net_depth_mm")
    return StrengthResult(
        absorbed_j=absorbed,
        loss_j=loss,
        share_of_energy=share,
        per_area_kj_m2=1000 * absorbed / (width * depth),
        per_width_j_m=1000 * absorbed / width,
        warnings=warnings,
    )


@dataclass(frozen=True)
class Formula:
    """A formula: what it needs, what it may be given besides, and how it works. A force is given once, in N or in kgf."""

    needs: tuple[str, ...]
    work: Callable[[StrengthInput], StrengthResult]
    may_have: tuple[str, ...] = ()


FORMULAS: dict[str, Formula] = {
    "cantilever-bend": Formula(("force", "arm_mm", "width_mm", "height_mm"), _cantilever, ("deflection_mm",)),
    "three-point-bend": Formula(("force", "span_mm", "width_mm", "height_mm"), _three_point, ("slope_n_mm",)),
    "tensile": Formula(("force", "width_mm", "thickness_mm"), _tensile, ("legs",)),
    "stiffness": Formula(("load", "deflection_mm"), _stiffness),
    "pendulum-impact": Formula(
        ("pendulum_kg", "radius_m", "release_deg", "rise_deg", "free_rise_deg", "width_mm", "net_depth_mm"), _pendulum
    ),
}
"""To add one, enter it here with its function; what it measures that no other does is a field of :class:`StrengthInput`."""
