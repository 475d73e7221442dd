"""Batches: one mixing from named bottles; a cup trial first, then the pours, then a stir."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...store import blends as store
from ...store import shelf
from ...store.blends import BlendPart
from ...store.codes import next_code
from ...store.rows import insert, update
from ..lab.timers import end_at, resume_at
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, present
from .recipes import RecipeAsked, RecipePart, worked_out

STIR_MIN = 5
CUP_HOURS = 12
Reason = Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=300)]


class BatchInput(Contract):
    """How much of a recipe to mix, and from which bottles."""

    volume_ml: float = Field(gt=0, le=20_000)
    tolerance_pct: float = Field(1.0, gt=0, le=20, description="How far a fraction may be off, percentage points")
    bottles: dict[str, str] = Field(default_factory=dict, description="Bottle of each part, by material")
    note: Note = ""


class CupInput(Contract):
    """What the cup trial showed."""

    finding: Literal["fine", "separated", "gelled"]


class PouredBatchInput(Contract):
    """Millilitres that were poured, where they differ from the plan."""

    poured_ml: list[Annotated[float, Field(ge=0, le=50_000)]] | None = Field(
        None, description="As planned when not given"
    )
    poured_g: list[Annotated[float, Field(ge=0, le=100_000)]] | None = Field(
        None, description="As the scale showed, where every part has a density; instead of millilitres"
    )


class BatchReason(Contract):
    """Why a batch is abandoned."""

    reason: Reason


class PourLine(store.PourRow):
    """One pour of a batch: bottle, planned and poured millilitres."""

    total_g: float | None = Field(description="What the scale shows after it, from an empty cup")
    planned_fraction: float
    real_fraction: float | None
    off: bool = Field(description="Further from the recipe than the tolerance")


class BatchView(store.BatchRow):
    """A batch with its recipe, pours and state."""

    cup_hours: float
    cup_stood_h: float | None = Field(description="How long it really stood before somebody looked")
    stir_min: float
    pours: list[PourLine]
    next: Literal["cup", "look", "pour", "stir", "done", "off"]


def batches(work: UnitOfWork, blend_id: str | None = None) -> list[BatchView]:
    """Batches of one recipe, or of all, newest first."""
    return _views(work, store.batches(work.db, blend_id, 100))


def batch(work: UnitOfWork, id_or_code: str) -> BatchView:
    """One batch by its id or code."""
    return _views(work, [present(store.batch(work.db, id_or_code), "batch")])[0]


def plan(work: UnitOfWork, blend_id: str, request: BatchInput) -> BatchView:
    """Pours in ml and g, the largest first, from bottles that hold enough."""
    with work.write() as answer:
        blend = present(store.blend(work.db, blend_id), "blend")
        if blend.retired_at is not None:
            raise Conflict(f"{blend.name} is retired.")
        parts = sorted(store.parts(work.db, [blend.id]), key=lambda p: -p.fraction)
        recipe_parts = [RecipePart(material_id=p.part_id, fraction=p.fraction) for p in parts]
        pours = worked_out(work, RecipeAsked(parts=recipe_parts, batch_ml=request.volume_ml))[1].pours
        chosen = _bottles(work, parts, request)
        batch_id = work.new_id()
        insert(
            work.db,
            "batch",
            id=batch_id,
            code=next_code(work.db, "M"),
            blend_id=blend.id,
            volume_ml=request.volume_ml,
            tolerance_pct=request.tolerance_pct,
            planned_at=work.now(),
            technician_id=work.technician().id,
            note=request.note,
        )
        for number, (part, pour) in enumerate(zip(parts, pours, strict=True), 1):
            insert(
                work.db,
                "batch_pour",
                batch_id=batch_id,
                number=number,
                part_id=part.part_id,
                bottle_id=chosen.get(part.part_id),
                planned_ml=part.fraction * request.volume_ml,
                planned_g=pour.mass_g,
            )
        return answer(batch(work, batch_id))


def _bottles(work: UnitOfWork, parts: list[BlendPart], request: BatchInput) -> dict[str, str]:
    """The bottle of each resin: as chosen, or the one opened that holds enough. Dyes come from where they stand."""
    chosen: dict[str, str] = {}
    problems: dict[str, str] = {}
    kinds = {row.id: row.kind for row in store.ingredients(work.db, [p.part_id for p in parts])}
    for part in parts:
        needed = part.fraction * request.volume_ml
        on_shelf = shelf.bottles(work.db, False, part.part_id, "", 100)
        chosen_id = request.bottles.get(part.part_id)
        bottle = (
            next((b for b in on_shelf if b.id == chosen_id), None)
            if chosen_id
            else next((b for b in on_shelf if b.left_ml >= needed), None)
        )
        place = f"bottles.{part.part_id}"
        if bottle is not None and bottle.left_ml >= needed:
            chosen[part.part_id] = bottle.id
        elif bottle is not None:
            problems[place] = f"{bottle.code} holds {bottle.left_ml:.0f} ml; {needed:.0f} ml of {part.part} are needed."
        elif kinds[part.part_id] != "dye" or chosen_id:
            most = max((b.left_ml for b in on_shelf), default=0.0)
            problems[place] = (
                f"No bottle of {part.part} holds {needed:.0f} ml; the fullest has {most:.0f} ml."
                if on_shelf
                else f"No bottle of {part.part} is on the shelf, or it is retired."
            )
    if problems:
        raise Problem("There is not enough in the bottles.", problems)
    return chosen


def cup(work: UnitOfWork, batch_id: str) -> BatchView:
    """A cup trial is standing: look at it after some hours."""
    with work.write() as answer:
        batch_row = _open(work, batch_id)
        update(work.db, "batch", batch_row.id, cup_at=work.now())
        return answer(batch(work, batch_row.id))


def look(work: UnitOfWork, batch_id: str, request: CupInput) -> BatchView:
    """Keep what the cup trial showed."""
    with work.write() as answer:
        batch_row = _open(work, batch_id)
        if batch_row.cup_at is None:
            raise Conflict("No cup trial is standing yet.")
        update(work.db, "batch", batch_row.id, cup_finding=request.finding, cup_looked_at=work.now())
        end_at(work, _place(batch_row), work.now())
        return answer(batch(work, batch_row.id))


def pour(work: UnitOfWork, batch_id: str, request: PouredBatchInput) -> BatchView:
    """What was really poured: bottles go down, and the batch is a bottle of its own."""
    with work.write() as answer:
        batch_row = _open(work, batch_id)
        if batch_row.cup_finding in ("separated", "gelled"):
            raise Conflict(f"The cup trial {batch_row.cup_finding}: this batch is not poured.")
        rows = store.pours(work.db, [batch_row.id])
        poured = _volumes(request, rows)
        if len(poured) != len(rows):
            raise Problem("A volume for each pour.", {"poured_ml": f"Give {len(rows)} volumes."})
        problems: dict[str, str] = {}
        for i, (row, volume) in enumerate(zip(rows, poured, strict=True)):
            bottle = shelf.bottle(work.db, row.bottle_id) if row.bottle_id else None
            if bottle is not None and bottle.retired_at is not None:
                problems[f"poured_ml.{i}"] = f"{bottle.code} is retired."
            elif bottle is not None and bottle.left_ml < volume - 1e-6:
                problems[f"poured_ml.{i}"] = f"{bottle.code} holds {bottle.left_ml:.0f} ml."
        total = sum(poured)
        if total <= 0:
            problems["poured_ml"] = "Nothing was poured."
        if problems:
            raise Problem("It cannot have been poured like this.", problems)
        for row, volume in zip(rows, poured, strict=True):
            store.note_poured(work.db, batch_row.id, row.number, volume)
            if row.bottle_id:
                shelf.draw_from_bottle(work.db, row.bottle_id, volume)
        bottle_id = work.new_id()
        insert(
            work.db,
            "bottle",
            id=bottle_id,
            code=next_code(work.db, "B"),
            material_id=batch_row.blend_id,
            lot=batch_row.code,
            opened_on=work.now()[:10],
            volume_ml=total,
            left_ml=total,
            created_at=work.now(),
        )
        update(work.db, "batch", batch_row.id, poured_at=work.now(), bottle_id=bottle_id)
        return answer(batch(work, batch_row.id))


def stirred(work: UnitOfWork, batch_id: str) -> BatchView:
    """Note that the batch was stirred now."""
    with work.write() as answer:
        batch_row = present(store.batch(work.db, batch_id), "batch")
        if batch_row.poured_at is None:
            raise Conflict(f"{batch_row.code} is not poured yet.")
        update(work.db, "batch", batch_row.id, stirred_at=work.now())
        end_at(work, _place(batch_row), work.now())
        return answer(batch(work, batch_row.id))


def cancel(work: UnitOfWork, batch_id: str, request: BatchReason) -> BatchView:
    """Abandon a batch that was not poured, with a reason."""
    with work.write() as answer:
        batch_row = _open(work, batch_id)
        now = work.now()
        update(work.db, "batch", batch_row.id, cancelled_at=now, cancelled_reason=request.reason)
        end_at(work, _place(batch_row), now)
        return answer(batch(work, batch_row.id))


def reinstate(work: UnitOfWork, batch_id: str) -> BatchView:
    """Resume a batch that was abandoned."""
    with work.write() as answer:
        batch_row = present(store.batch(work.db, batch_id), "batch")
        if batch_row.cancelled_at is not None:
            resume_at(work, _place(batch_row), batch_row.cancelled_at)
        update(work.db, "batch", batch_row.id, cancelled_at=None, cancelled_reason=None)
        return answer(batch(work, batch_row.id))


def _place(row: store.BatchRow) -> str:
    """Its page, to which its timers belong."""
    return f"/blend/batches/{row.code}"


def _stood_h(row: store.BatchRow) -> float | None:
    if row.cup_at is None or row.cup_looked_at is None:
        return None
    began, looked = (datetime.fromisoformat(at.replace("Z", "+00:00")) for at in (row.cup_at, row.cup_looked_at))
    return (looked - began).total_seconds() / 3600


def _open(work: UnitOfWork, batch_id: str) -> store.BatchRow:
    batch_row = present(store.batch(work.db, batch_id), "batch")
    if batch_row.cancelled_at is not None:
        raise Conflict(f"{batch_row.code} is abandoned ({batch_row.cancelled_reason}).")
    if batch_row.poured_at is not None:
        raise Conflict(f"{batch_row.code} is poured already.")
    return batch_row


def _views(work: UnitOfWork, rows: list[store.BatchRow]) -> list[BatchView]:
    pours: dict[str, list[store.PourRow]] = defaultdict(list)
    for row in store.pours(work.db, [r.id for r in rows]):
        pours[row.batch_id].append(row)
    return [
        BatchView.model_validate(
            {
                **row.__dict__,
                "pours": _lines(row, pours[row.id]),
                "next": _next(row),
                "cup_hours": CUP_HOURS,
                "cup_stood_h": _stood_h(row),
                "stir_min": STIR_MIN,
            }
        )
        for row in rows
    ]


def _next(row: store.BatchRow) -> str:
    if row.cancelled_at is not None or row.cup_finding in ("separated", "gelled"):
        return "off"
    if row.poured_at is not None:
        return "done" if row.stirred_at is not None else "stir"
    if row.cup_at is None:
        return "cup"
    return "look" if row.cup_finding is None else "pour"


def _volumes(request: PouredBatchInput, rows: list[store.PourRow]) -> list[float]:
    """What was poured of each, ml; grams by the density the plan was weighed with."""
    if request.poured_g is None:
        return request.poured_ml or [row.planned_ml for row in rows]
    if len(request.poured_g) != len(rows):
        raise Problem("A mass for each pour.", {"poured_g": f"Give {len(rows)} masses."})
    volumes = []
    for i, (row, mass_g) in enumerate(zip(rows, request.poured_g, strict=True)):
        if not row.planned_g:
            message = f"{row.part} has no density: give millilitres."
            raise Problem(message, {f"poured_g.{i}": message})
        volumes.append(mass_g * row.planned_ml / row.planned_g)
    return volumes


def _lines(row: store.BatchRow, pours: list[store.PourRow]) -> list[PourLine]:
    planned = sum(p.planned_ml for p in pours)
    poured = sum(p.poured_ml or 0 for p in pours)
    lines, total = [], 0.0
    weighed = all(p.planned_g is not None for p in pours)
    for pour_row in pours:
        total += pour_row.planned_g or 0.0
        fraction, real = (
            pour_row.planned_ml / planned,
            pour_row.poured_ml / poured if pour_row.poured_ml is not None and poured else None,
        )
        lines.append(
            PourLine(
                **vars(pour_row),
                total_g=total if weighed else None,
                planned_fraction=fraction,
                real_fraction=real,
                off=real is not None and abs(real - fraction) * 100 > row.tolerance_pct,
            )
        )
    return lines
