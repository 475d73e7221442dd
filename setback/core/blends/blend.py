"""A recipe: pours by volume and mass, price, and what to expect of the mixture before it is calibrated.

Starting values, not results: 1/Dp and ln tc mix by volume fraction (tc of one printer and temperature; else ln Ec), and so
does ln viscosity (S. Arrhenius, 1887). Dye changes exposure by an effect that must have been measured.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Notice, Problem
from .rules import Finding, PartFacts, findings

SUM_TOLERANCE = 1e-6

Fraction = Annotated[float, Field(ge=0, le=1)]


class Part(Contract):
    """One ingredient with its share of the volume and what is known of it; whatever is null is not known."""

    material: str = Field(min_length=1, max_length=120)
    fraction: Fraction
    is_dye: bool = False
    penetration_depth_mm: Annotated[float, Field(gt=0, le=10)] | None = None
    critical_exposure_s: Annotated[float, Field(gt=0, le=1000)] | None = None
    critical_dose_mj_cm2: Annotated[float, Field(gt=0, le=10_000)] | None = None
    density_g_ml: Annotated[float, Field(ge=0.5, le=5)] | None = None
    price_per_l: Annotated[float, Field(ge=0, le=1_000_000)] | None = None
    viscosity_mpa_s: Annotated[float, Field(gt=0, le=1e6)] | None = None
    family: str | None = None
    wash_class: str | None = None
    chemistry: str | None = None
    maker: str | None = None
    maker_approves: bool | None = Field(None, description="Whether its maker approves of mixing")
    ln_exposure_per_percent: Annotated[float, Field(ge=-5, le=5)] | None = Field(
        None, description="Of a dye: measured change of ln exposure for each percent"
    )


class BlendInput(Contract):
    """Ingredients of a recipe and how much is wanted, millilitres."""

    parts: list[Part] = Field(min_length=1, max_length=12)
    by: Literal["volume", "mass"] = "volume"
    batch_ml: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    part_ml: Annotated[float, Field(gt=0, le=100_000)] | None = Field(None, description="Millilitres of a typical part")


class Pour(Contract):
    """How much of one ingredient goes into the cup."""

    material: str
    volume_fraction: float
    mass_fraction: float | None
    volume_ml: float | None
    mass_g: float | None


class BlendResult(Contract):
    """What to pour, and what the mixture is expected to be."""

    penetration_depth_mm: float | None
    critical_exposure_s: float | None
    critical_dose_mj_cm2: float | None
    viscosity_mpa_s: float | None
    density_g_ml: float | None
    price_per_l: float | None
    price_per_part: float | None
    dye_factor: float | None = Field(
        description="Times the exposure, from the dyes' measured effects; None when unknown"
    )
    pours: list[Pour]
    findings: list[Finding]
    warnings: list[Notice]


def blend(inputs: BlendInput) -> BlendResult:
    """Pours, price and expectations of a recipe.

    Raises
    ------
    Problem
        When fractions do not sum to one, a material is there twice, or a mass is asked of something without a density.
    """
    _check(inputs)
    shares = volume_fractions(inputs)
    warnings: list[Notice] = []
    if inputs.by == "mass":
        warnings.append(
            Notice(code="by-mass", message="Mass fractions were converted by density; the vat counts volumes.")
        )
    base = [(p, f) for p, f in zip(inputs.parts, shares, strict=True) if not p.is_dye]
    dye = [(p, f) for p, f in zip(inputs.parts, shares, strict=True) if p.is_dye and f > 0]
    density = _mixed([(p.density_g_ml, f) for p, f in zip(inputs.parts, shares, strict=True)])
    price = _mixed([(p.price_per_l, f) for p, f in zip(inputs.parts, shares, strict=True)])
    factor = _dye_factor(dye, warnings)
    inverse = _mixed([(None if p.penetration_depth_mm is None else 1 / p.penetration_depth_mm, f) for p, f in base])
    result = BlendResult(
        penetration_depth_mm=None if inverse is None or dye else 1 / inverse,
        critical_exposure_s=_log_mixed([(p.critical_exposure_s, f) for p, f in base], factor),
        critical_dose_mj_cm2=_log_mixed([(p.critical_dose_mj_cm2, f) for p, f in base], factor),
        viscosity_mpa_s=_log_mixed([(p.viscosity_mpa_s, f) for p, f in base], 1.0),
        density_g_ml=density,
        price_per_l=price,
        price_per_part=None if price is None or inputs.part_ml is None else price * inputs.part_ml / 1000,
        dye_factor=factor,
        pours=_pours(inputs, shares, density),
        findings=findings([_facts(p, f) for p, f in zip(inputs.parts, shares, strict=True)]),
        warnings=warnings,
    )
    if result.critical_exposure_s is None and result.critical_dose_mj_cm2 is None:
        warnings.append(
            Notice(code="no-curve", message="No working curve of every part: the first exposure is an estimate.")
        )
    if len(base) > 1:
        message = "Mixing rules give where to start; every new fraction is a new material to calibrate."
        warnings.append(Notice(code="estimate", message=message))
    return result


def volume_fractions(inputs: BlendInput) -> list[float]:
    """The parts' fractions by volume."""
    if inputs.by == "volume":
        return [p.fraction for p in inputs.parts]
    volumes = [p.fraction / (p.density_g_ml or 1.0) for p in inputs.parts]
    return [v / sum(volumes) for v in volumes]


def _check(inputs: BlendInput) -> None:
    problems: dict[str, str] = {}
    total = math.fsum(p.fraction for p in inputs.parts)
    if abs(total - 1) > SUM_TOLERANCE:
        problems["parts"] = f"Fractions sum to {100 * total:.4g} %, not to 100 %."
    names = [p.material for p in inputs.parts]
    for i, part in enumerate(inputs.parts):
        if part.material in names[:i]:
            problems[f"parts.{i}.material"] = f"{part.material} is there twice."
        if inputs.by == "mass" and part.density_g_ml is None:
            problems[f"parts.{i}.density_g_ml"] = (
                f"By mass needs the density of {part.material}; go by volume without it."
            )
    if problems:
        raise Problem("This is no recipe yet.", problems)


def _mixed(values: list[tuple[float | None, float]]) -> float | None:
    values_known = [(v, f) for v, f in values if f > 0]
    if any(v is None for v, _ in values_known) or not values_known:
        return None
    return math.fsum(v * f for v, f in values_known if v is not None) / math.fsum(f for _, f in values_known)


def _log_mixed(values: list[tuple[float | None, float]], factor: float | None) -> float | None:
    mixed = _mixed([(None if v is None else math.log(v), f) for v, f in values])
    return None if mixed is None or factor is None else math.exp(mixed) * factor


def _dye_factor(dye: list[tuple[Part, float]], warnings: list[Notice]) -> float | None:
    unknown = [p.material for p, _ in dye if p.ln_exposure_per_percent is None]
    if unknown:
        message = f"{', '.join(unknown)}: no measured effect on exposure, so it cannot be predicted. Calibrate from depth squares."
        warnings.append(Notice(code="dye-unknown", message=message))
        return None
    return math.exp(math.fsum(100 * f * (p.ln_exposure_per_percent or 0.0) for p, f in dye))


def _pours(inputs: BlendInput, shares: list[float], density: float | None) -> list[Pour]:
    """In the order given: the largest first is what people pour, and the caller orders them."""
    pours = []
    for part, share in zip(inputs.parts, shares, strict=True):
        volume = None if inputs.batch_ml is None else share * inputs.batch_ml
        mass = None if volume is None or part.density_g_ml is None else volume * part.density_g_ml
        by_mass = None if density is None or part.density_g_ml is None else share * part.density_g_ml / density
        pours.append(
            Pour(material=part.material, volume_fraction=share, mass_fraction=by_mass, volume_ml=volume, mass_g=mass)
        )
    return pours


def _facts(part: Part, fraction: float) -> PartFacts:
    return PartFacts(
        name=part.material,
        fraction=fraction,
        is_dye=part.is_dye,
        family=part.family,
        wash_class=part.wash_class,
        chemistry=part.chemistry,
        maker=part.maker,
        maker_approves=part.maker_approves,
    )
