"""Recipes: what to pour, what it costs, what to expect of it, and what the rules say."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.blends.blend import BlendInput, BlendResult, Part, blend, volume_fractions
from ...core.blends.rules import Finding
from ...core.calibrate.working_curve import WorkingCurveResult
from ...core.contract import Contract, Problem
from ...store import blends as store
from ...store import shelf
from ...store.rows import insert, update
from ...store.sets import validity as living
from ..calibrate import prediction
from ..shelf.entry import Name, Note, free_name, new_material
from ..unit_of_work import Conflict, UnitOfWork, View, present

Origin = Literal["recipe", "vat", "after the fact"]


class RecipePart(Contract):
    """A material with its fraction."""

    material_id: str = Field(max_length=40)
    fraction: float = Field(ge=0, le=1)


class RecipeInput(Contract):
    """A recipe to be kept: its name, parts, and the reason where a rule forbids it."""

    name: Name
    parts: list[RecipePart] = Field(min_length=1, max_length=12)
    by: Literal["volume", "mass"] = "volume"
    note: Note = ""
    forbidden_reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)] | None = None


class RecipeAsked(Contract):
    """Parts of a recipe that is only looked at, and how much would be mixed."""

    parts: list[RecipePart] = Field(min_length=1, max_length=12)
    by: Literal["volume", "mass"] = "volume"
    batch_ml: float | None = Field(None, gt=0, le=50_000)
    part_ml: float | None = Field(None, gt=0, le=50_000)


class DyeInput(Contract):
    """A dye to be put on the shelf."""

    name: Name
    what: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
    density_g_ml: float | None = Field(None, ge=0.5, le=5)
    price_per_l: float | None = Field(None, ge=0, le=1_000_000)
    exposure_pct_per_percent: float | None = Field(
        None,
        ge=-99,
        le=10_000,
        description="More exposure for each percent of dye, percent; measured, never from memory",
    )
    basis: Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=200)] | None = None


class FirstExposure(View):
    """Where to start on a printer: an estimate, mixed from what its parts need there."""

    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    critical_exposure_s: float | None = Field(
        description="Below this nothing cures; mixed from depth squares on this printer"
    )
    basis: str


class RecipeQuote(View):
    """What a recipe gives; every number an estimate with its basis."""

    result: BlendResult
    depth_basis: str | None
    viscosity_basis: str | None
    exposures: list[FirstExposure]
    volume_fractions: list[float]


class BlendView(View):
    """A kept recipe with its findings and batches."""

    id: str
    code: str
    name: str
    basis: str
    origin: str
    note: str
    initials: str
    created_at: str
    retired_at: str | None
    parts: list[store.BlendPart]
    findings: list[Finding]
    forbidden_reason: str | None = Field(description="Why it was mixed although a rule forbids it; it stays marked")


def ingredients(work: UnitOfWork) -> list[store.Ingredient]:
    """Materials a recipe may take, by name."""
    return store.ingredients(work.db)


def add_dye(work: UnitOfWork, request: DyeInput) -> store.Ingredient:
    """Put a dye on the shelf as a material."""
    rise = request.exposure_pct_per_percent
    if (rise is None) != (request.basis is None):
        message = "Say where the effect was measured; without that it is not known."
        raise Problem(message, {"basis" if request.basis is None else "exposure_pct_per_percent": message})
    with work.write() as answer:
        material_id, _ = new_material(work, "dye", request.name)
        insert(
            work.db,
            "dye",
            material_id=material_id,
            ln_exposure_per_percent=None if rise is None else math.log1p(rise / 100),
            **request.model_dump(exclude={"name", "exposure_pct_per_percent"}),
        )
        return answer(store.ingredients(work.db, [material_id])[0])


def quote(work: UnitOfWork, request: RecipeAsked) -> RecipeQuote:
    """Pours, price, expectations and findings of a recipe, before anything is poured."""
    ingredients, result, shares = worked_out(work, request)
    resins = [
        (p.material_id, f)
        for p, f in zip(request.parts, shares, strict=True)
        if ingredients[p.material_id].kind != "dye" and f > 0
    ]
    return RecipeQuote(
        result=result,
        volume_fractions=shares,
        depth_basis="mixed from the depth squares of its parts" if result.penetration_depth_mm is not None else None,
        viscosity_basis="mixed from its parts at 25 °C" if result.viscosity_mpa_s is not None else None,
        exposures=_exposures(work, resins, result.dye_factor),
    )


def worked_out(work: UnitOfWork, request: RecipeAsked) -> tuple[dict[str, store.Ingredient], BlendResult, list[float]]:
    """What is in it, what the arithmetic says, and the fractions by volume."""
    ingredients = _ingredients(work, request.parts)
    curves = prediction.penetration_depths(work)
    blend_input = BlendInput(
        parts=[_part(ingredients[p.material_id], p.fraction, curves.get(p.material_id)) for p in request.parts],
        by=request.by,
        batch_ml=request.batch_ml,
        part_ml=request.part_ml,
    )
    return ingredients, blend(blend_input), volume_fractions(blend_input)


def _ingredients(work: UnitOfWork, parts: Sequence[RecipePart]) -> dict[str, store.Ingredient]:
    by_id = {row.id: row for row in store.ingredients(work.db, [p.material_id for p in parts])}
    problems = {
        f"parts.{i}.material_id": "Choose a resin or a dye that is on the shelf."
        for i, p in enumerate(parts)
        if p.material_id not in by_id or by_id[p.material_id].kind not in ("resin", "dye")
    }
    if problems:
        raise Problem("Some of it is not on the shelf.", problems)
    return by_id


def _part(ingredient: store.Ingredient, fraction: float, depth_mm: float | None) -> Part:
    return Part(
        material=ingredient.name,
        fraction=fraction,
        is_dye=ingredient.kind == "dye",
        penetration_depth_mm=depth_mm,
        density_g_ml=ingredient.density_g_ml,
        price_per_l=ingredient.price_per_l,
        viscosity_mpa_s=ingredient.viscosity_mpa_s,
        family=ingredient.family,
        wash_class=ingredient.wash_class,
        chemistry=ingredient.chemistry,
        maker=ingredient.maker,
        maker_approves=ingredient.may_be_mixed,
        ln_exposure_per_percent=ingredient.ln_exposure_per_percent,
    )


def _exposures(work: UnitOfWork, resins: list[tuple[str, float]], dye_factor: float | None) -> list[FirstExposure]:
    """The Board's own estimate of such a mixture, wherever one of its parts has an issued set."""
    if dye_factor is None or not resins:
        return []
    printers = {p.id: p for p in shelf.printers(work.db, False, "", 200)}
    places = sorted(
        {
            (living_set.printer_id, living_set.layer_height_um)
            for material_id, _ in resins
            for living_set in living.sets_of_material(work.db, material_id)
            if living_set.printer_id in printers
        }
    )
    squares = prediction.curves(work) if places else {}
    estimates = prediction.of_mixture(work, prediction.Parts(resins, math.log(dye_factor)), places)
    exposures = [
        FirstExposure(
            printer_id=printer_id,
            printer=printers[printer_id].name,
            layer_height_um=height,
            exposure_s=estimate.exposure_s,
            critical_exposure_s=_mixed_tc(squares, resins, printer_id, dye_factor),
            basis=estimate.basis,
        )
        for (printer_id, height), estimate in zip(places, estimates, strict=True)
    ]
    return sorted(exposures, key=lambda f: (f.printer, f.layer_height_um))


def _mixed_tc(
    squares: dict[tuple[str, str], WorkingCurveResult], resins: list[tuple[str, float]], printer_id: str, factor: float
) -> float | None:
    """ln tc by volume fraction, where every part has squares on this printer."""
    curves = [(squares.get((m, printer_id)), f) for m, f in resins]
    if any(curve is None for curve, _ in curves):
        return None
    total = math.fsum(f for _, f in curves)
    return factor * math.exp(math.fsum(f * math.log(c.critical_exposure_s) for c, f in curves if c is not None) / total)


def add(work: UnitOfWork, request: RecipeInput) -> BlendView:
    """A new material from a recipe; one that a rule forbids needs a reason and stays marked."""
    with work.write() as answer:
        return answer(blend_view(work, put(work, request, "recipe")))


def put(work: UnitOfWork, request: RecipeInput, origin: Origin) -> str:
    """The write of :func:`add`, for whoever has a transaction open."""
    _, result, shares = worked_out(work, RecipeAsked(parts=request.parts, by=request.by))
    forbidden = [f for f in result.findings if f.severity == "forbid"]
    if forbidden and not request.forbidden_reason:
        message = "Say why it is mixed all the same; it stays marked."
        raise Conflict(" ".join(f.message for f in forbidden), {"forbidden_reason": message})
    if sum(f > 0 for f in shares) < 2:
        message = "A blend has two parts at least."
        raise Problem(message, {"parts": message})
    material_id, _ = new_material(work, "blend", request.name)
    insert(
        work.db,
        "blend",
        material_id=material_id,
        basis=request.by,
        findings=[f.model_dump() for f in result.findings],
        forbidden_reason=request.forbidden_reason if forbidden else None,
        origin=origin,
        note=request.note,
        technician_id=work.technician().id,
        created_at=work.now(),
    )
    parts = [(p.material_id, f) for p, f in zip(request.parts, shares, strict=True) if f > 0]
    for number, (part_id, fraction) in enumerate(parts, 1):
        insert(work.db, "blend_part", blend_id=material_id, number=number, part_id=part_id, fraction=fraction)
    return material_id


def blends(work: UnitOfWork, after: str, limit: int, part_id: str | None = None) -> list[BlendView]:
    """Recipes by name, after a name; those with one part where it is asked for."""
    rows = store.blends(work.db, after, limit, part_id)
    return _views(work, rows)


def blend_view(work: UnitOfWork, id_or_code: str) -> BlendView:
    """One recipe by its id or code."""
    return _views(work, [present(store.blend(work.db, id_or_code), "blend")])[0]


def _views(work: UnitOfWork, rows: list[store.BlendRow]) -> list[BlendView]:
    parts: dict[str, list[store.BlendPart]] = defaultdict(list)
    for part in store.parts(work.db, [row.id for row in rows]):
        parts[part.blend_id].append(part)
    return [BlendView.model_validate({**row.__dict__, "parts": parts[row.id]}) for row in rows]


def retire(work: UnitOfWork, blend_id: str, back: bool = False) -> BlendView:
    """Take a recipe out of the lists, or bring it back."""
    with work.write() as answer:
        stored = present(store.blend(work.db, blend_id), "blend")
        if back:
            free_name(work, "material", stored.name, stored.id)
        update(work.db, "material", stored.id, retired_at=None if back else work.now())
        return answer(blend_view(work, stored.id))
