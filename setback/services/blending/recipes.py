"""Recipes: what to pour, what it costs, what to expect of it, and what the rules say."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.blends.blend import BlendInput, BlendResult, Part, blend, volume_fractions
from ...core.blends.rules import Finding
from ...core.contract import Contract, Problem
from ...core.steps import round_to_step
from ...core.working_curve import WorkingCurveResult
from ...store import blends as store
from ...store import shelf
from ...store import validity as living
from ...store.codes import next_code
from ...store.rows import insert, update
from .. import prediction
from ..bench import Bench, Conflict, View, present
from ..shelf.entry import Name, Note, free_name

Origin = Literal["recipe", "vat", "after the fact"]


class RecipePart(Contract):
    material_id: str = Field(max_length=40)
    fraction: float = Field(ge=0, le=1)


class RecipeInput(Contract):
    name: Name
    parts: list[RecipePart] = Field(min_length=1, max_length=12)
    by: Literal["volume", "mass"] = "volume"
    note: Note = ""
    forbidden_reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)] | None = None


class RecipeAsked(Contract):
    parts: list[RecipePart] = Field(min_length=1, max_length=12)
    by: Literal["volume", "mass"] = "volume"
    batch_ml: float | None = Field(None, gt=0, le=50_000)
    part_ml: float | None = Field(None, gt=0, le=50_000)


class DyeInput(Contract):
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


class IngredientView(View):
    id: str
    name: str
    kind: str
    family: str | None
    wash_class: str | None
    chemistry: str | None
    density_g_ml: float | None
    price_per_l: float | None
    viscosity_mpa_s: float | None
    ln_exposure_per_percent: float | None


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


class BlendPart(View):
    part_id: str
    part: str
    fraction: float


class BlendView(View):
    id: str
    code: str
    name: str
    basis: str
    origin: str
    note: str
    initials: str
    created_at: str
    retired_at: str | None
    parts: list[BlendPart]
    findings: list[Finding]
    forbidden_reason: str | None = Field(description="Why it was mixed although a rule forbids it; it stays marked")


def ingredients(bench: Bench) -> list[IngredientView]:
    return [IngredientView.model_validate(row) for row in store.ingredients(bench.db)]


def add_dye(bench: Bench, given: DyeInput) -> IngredientView:
    rise = given.exposure_pct_per_percent
    if (rise is None) != (given.basis is None):
        said = "Say where the effect was measured; without that it is not known."
        raise Problem(said, {"basis" if given.basis is None else "exposure_pct_per_percent": said})
    with bench.write() as answer:
        free_name(bench, "material", given.name, None)
        material_id = bench.new_id()
        insert(
            bench.db, "material", id=material_id, code=next_code(bench.db, "R"), kind="dye", name=given.name,
            created_at=bench.now(),
        )  # fmt: skip
        insert(
            bench.db, "dye", material_id=material_id,
            ln_exposure_per_percent=None if rise is None else math.log1p(rise / 100),
            **given.model_dump(exclude={"name", "exposure_pct_per_percent"}),
        )  # fmt: skip
        return answer(IngredientView.model_validate(store.ingredients(bench.db, [material_id])[0]))


def quote(bench: Bench, given: RecipeAsked) -> RecipeQuote:
    """Pours, price, expectations and findings of a recipe, before anything is poured."""
    held, result, shares = worked_out(bench, given)
    resins = [
        (p.material_id, f)
        for p, f in zip(given.parts, shares, strict=True)
        if held[p.material_id].kind != "dye" and f > 0
    ]
    return RecipeQuote(
        result=result, volume_fractions=shares,
        depth_basis="mixed from the depth squares of its parts" if result.penetration_depth_mm is not None else None,
        viscosity_basis="mixed from its parts at 25 °C" if result.viscosity_mpa_s is not None else None,
        exposures=_exposures(bench, resins, result.dye_factor),
    )  # fmt: skip


def worked_out(bench: Bench, given: RecipeAsked) -> tuple[dict[str, store.Ingredient], BlendResult, list[float]]:
    """What is in it, what the arithmetic says, and the fractions by volume."""
    held = _ingredients(bench, given.parts)
    curves = prediction.penetration_depths(bench)
    asked = BlendInput(
        parts=[_part(held[p.material_id], p.fraction, curves.get(p.material_id)) for p in given.parts], by=given.by,
        batch_ml=given.batch_ml, part_ml=given.part_ml,
    )  # fmt: skip
    return held, blend(asked), volume_fractions(asked)


def _ingredients(bench: Bench, parts: Sequence[RecipePart]) -> dict[str, store.Ingredient]:
    held = {row.id: row for row in store.ingredients(bench.db, [p.material_id for p in parts])}
    wrong = {
        f"parts.{i}.material_id": "Choose a resin or a dye that is on the shelf."
        for i, p in enumerate(parts)
        if p.material_id not in held or held[p.material_id].kind not in ("resin", "dye")
    }
    if wrong:
        raise Problem("Some of it is not on the shelf.", wrong)
    return held


def _part(held: store.Ingredient, fraction: float, depth_mm: float | None) -> Part:
    return Part(
        material=held.name, fraction=fraction, is_dye=held.kind == "dye", penetration_depth_mm=depth_mm,
        density_g_ml=held.density_g_ml, price_per_l=held.price_per_l, viscosity_mpa_s=held.viscosity_mpa_s,
        family=held.family, wash_class=held.wash_class, chemistry=held.chemistry, maker=held.maker,
        maker_approves=held.may_be_mixed, ln_exposure_per_percent=held.ln_exposure_per_percent,
    )  # fmt: skip


def _exposures(bench: Bench, resins: list[tuple[str, float]], dye_factor: float | None) -> list[FirstExposure]:
    """ln exposure mixes by volume, from issued sets, or guesses where there is no set, printer by printer."""
    if dye_factor is None:
        return []
    total = math.fsum(f for _, f in resins)
    known: dict[tuple[str, float], dict[str, tuple[float, str]]] = defaultdict(dict)
    for material_id, _ in resins:
        for held in living.sets_of_material(bench.db, material_id):
            known[held.printer_id, held.layer_height_um][material_id] = (held.exposure_s, held.code)
    for height in sorted({height for _, height in known}):
        for (material_id, printer_id), row in prediction.for_board(bench, height, [m for m, _ in resins]).items():
            known[printer_id, height].setdefault(material_id, (row.exposure_s, "a guess"))
    squares = prediction.curves(bench)
    printers = {p.id: p for p in shelf.printers(bench.db, False, "", 200)}
    found = []
    for (printer_id, height), parts in known.items():
        printer = printers.get(printer_id)
        if printer is None or any(m not in parts for m, _ in resins):
            continue
        if all(source == "a guess" for _, source in parts.values()):
            continue
        seconds = math.exp(math.fsum(f * math.log(parts[m][0]) for m, f in resins) / total) * dye_factor
        found.append(
            FirstExposure(
                printer_id=printer_id, printer=printer.name, layer_height_um=height,
                exposure_s=max(round_to_step(seconds, printer.exposure_step_s), printer.exposure_step_s),
                critical_exposure_s=_mixed_tc(squares, resins, printer_id, dye_factor),
                basis="mixed from " + " and ".join(source for _, source in parts.values()),
            )
        )  # fmt: skip
    return sorted(found, key=lambda f: (f.printer, f.layer_height_um))


def _mixed_tc(
    squares: dict[tuple[str, str], WorkingCurveResult], resins: list[tuple[str, float]], printer_id: str, factor: float
) -> float | None:
    """ln tc by volume fraction, where every part has squares on this printer."""
    held = [(squares.get((m, printer_id)), f) for m, f in resins]
    if any(curve is None for curve, _ in held):
        return None
    total = math.fsum(f for _, f in held)
    return factor * math.exp(math.fsum(f * math.log(c.critical_exposure_s) for c, f in held if c is not None) / total)


def add(bench: Bench, given: RecipeInput) -> BlendView:
    """A new material from a recipe; one that a rule forbids needs a reason and stays marked."""
    with bench.write() as answer:
        return answer(blend_view(bench, put(bench, given, "recipe")))


def put(bench: Bench, given: RecipeInput, origin: Origin) -> str:
    """The write of :func:`add`, for whoever has a transaction open."""
    _, result, shares = worked_out(bench, RecipeAsked(parts=given.parts, by=given.by))
    forbidden = [f for f in result.findings if f.severity == "forbid"]
    if forbidden and not given.forbidden_reason:
        said = "Say why it is mixed all the same; it stays marked."
        raise Conflict(" ".join(f.message for f in forbidden), {"forbidden_reason": said})
    if sum(f > 0 for f in shares) < 2:
        said = "A blend has two parts at least."
        raise Problem(said, {"parts": said})
    free_name(bench, "material", given.name, None)
    material_id = bench.new_id()
    insert(
        bench.db, "material", id=material_id, code=next_code(bench.db, "R"), kind="blend", name=given.name,
        created_at=bench.now(),
    )  # fmt: skip
    insert(
        bench.db, "blend", material_id=material_id, basis=given.by, findings=[f.model_dump() for f in result.findings],
        forbidden_reason=given.forbidden_reason if forbidden else None, origin=origin, note=given.note,
        technician_id=bench.technician().id, created_at=bench.now(),
    )  # fmt: skip
    kept = [(p.material_id, f) for p, f in zip(given.parts, shares, strict=True) if f > 0]
    for number, (part_id, fraction) in enumerate(kept, 1):
        insert(bench.db, "blend_part", blend_id=material_id, number=number, part_id=part_id, fraction=fraction)
    return material_id


def blends(bench: Bench, after: str, limit: int, part_id: str | None = None) -> list[BlendView]:
    rows = store.blends(bench.db, after, limit, part_id)
    return _views(bench, rows)


def blend_view(bench: Bench, id_or_code: str) -> BlendView:
    return _views(bench, [present(store.blend(bench.db, id_or_code), "blend")])[0]


def _views(bench: Bench, rows: list[store.BlendRow]) -> list[BlendView]:
    parts: dict[str, list[BlendPart]] = defaultdict(list)
    for part in store.parts(bench.db, [row.id for row in rows]):
        parts[part.blend_id].append(BlendPart.model_validate(part))
    return [BlendView.model_validate({**row.__dict__, "parts": parts[row.id]}) for row in rows]


def retire(bench: Bench, blend_id: str, back: bool = False) -> BlendView:
    with bench.write() as answer:
        held = present(store.blend(bench.db, blend_id), "blend")
        if back:
            free_name(bench, "material", held.name, held.id)
        update(bench.db, "material", held.id, retired_at=None if back else bench.now())
        return answer(blend_view(bench, held.id))
