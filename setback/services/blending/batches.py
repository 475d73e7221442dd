"""Batches: one mixing from named bottles; a cup trial first, then the pours, then a stir."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...store import blends as store
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, Conflict, View, present
from ..shelf.entry import Note
from ..timers import end_at, resume_at
from .recipes import RecipeAsked, RecipePart, worked_out

STIR_MIN = 5
CUP_HOURS = 12
Reason = Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=300)]


class BatchInput(Contract):
    volume_ml: float = Field(gt=0, le=20_000)
    tolerance_pct: float = Field(1.0, gt=0, le=20, description="How far a fraction may be off, percentage points")
    bottles: dict[str, str] = Field(default_factory=dict, description="Bottle of each part, by material")
    note: Note = ""


class CupInput(Contract):
    finding: Literal["fine", "separated", "gelled"]


class PouredBatchInput(Contract):
    poured_ml: list[Annotated[float, Field(ge=0, le=50_000)]] | None = Field(
        None, description="As planned when not given"
    )


class BatchReason(Contract):
    reason: Reason


class PourLine(View):
    number: int
    part_id: str
    part: str
    bottle_code: str | None
    lot: str | None
    planned_ml: float
    planned_g: float | None
    total_g: float | None = Field(description="What the scale shows after it, from an empty cup")
    poured_ml: float | None
    planned_fraction: float
    real_fraction: float | None
    off: bool = Field(description="Further from the recipe than the tolerance")


class BatchView(View):
    id: str
    code: str
    blend_id: str
    blend: str
    volume_ml: float
    tolerance_pct: float
    planned_at: str
    initials: str
    cup_at: str | None
    cup_finding: str | None
    cup_looked_at: str | None
    cup_hours: float
    cup_stood_h: float | None = Field(description="How long it really stood before somebody looked")
    poured_at: str | None
    stirred_at: str | None
    stir_min: float
    bottle_id: str | None
    bottle_code: str | None
    cancelled_at: str | None
    cancelled_reason: str | None
    note: str
    pours: list[PourLine]
    next: Literal["cup", "look", "pour", "stir", "done", "off"]


def batches(bench: Bench, blend_id: str | None = None) -> list[BatchView]:
    return _views(bench, store.batches(bench.db, blend_id, 100))


def batch(bench: Bench, id_or_code: str) -> BatchView:
    return _views(bench, [present(store.batch(bench.db, id_or_code), "batch")])[0]


def plan(bench: Bench, blend_id: str, given: BatchInput) -> BatchView:
    """Pours in ml and g, the largest first, from bottles that hold enough."""
    with bench.write() as answer:
        blend = present(store.blend(bench.db, blend_id), "blend")
        if blend.retired_at is not None:
            raise Conflict(f"{blend.name} is retired.")
        parts = sorted(store.parts(bench.db, [blend.id]), key=lambda p: -p.fraction)
        asked = [RecipePart(material_id=p.part_id, fraction=p.fraction) for p in parts]
        pours = worked_out(bench, RecipeAsked(parts=asked, batch_ml=given.volume_ml))[1].pours
        chosen = _bottles(bench, parts, given)
        batch_id = bench.new_id()
        insert(
            bench.db, "batch", id=batch_id, code=next_code(bench.db, "M"), blend_id=blend.id, volume_ml=given.volume_ml,
            tolerance_pct=given.tolerance_pct, planned_at=bench.now(), technician_id=bench.technician().id, note=given.note,
        )  # fmt: skip
        for number, (part, pour) in enumerate(zip(parts, pours, strict=True), 1):
            insert(
                bench.db, "batch_pour", batch_id=batch_id, number=number, part_id=part.part_id,
                bottle_id=chosen.get(part.part_id), planned_ml=part.fraction * given.volume_ml, planned_g=pour.mass_g,
            )  # fmt: skip
        return answer(batch(bench, batch_id))


def _bottles(bench: Bench, parts: list[store.PartRow], given: BatchInput) -> dict[str, str]:
    """The bottle of each resin: as chosen, or the one opened that holds enough. Dyes come from where they stand."""
    chosen: dict[str, str] = {}
    wrong: dict[str, str] = {}
    kinds = {row.id: row.kind for row in store.ingredients(bench.db, [p.part_id for p in parts])}
    for part in parts:
        needed = part.fraction * given.volume_ml
        held = shelf.bottles(bench.db, False, part.part_id, "", 100)
        wanted = given.bottles.get(part.part_id)
        bottle = (
            next((b for b in held if b.id == wanted), None)
            if wanted
            else next((b for b in held if b.left_ml >= needed), None)
        )
        place = f"bottles.{part.part_id}"
        if bottle is not None and bottle.left_ml >= needed:
            chosen[part.part_id] = bottle.id
        elif bottle is not None:
            wrong[place] = f"{bottle.code} holds {bottle.left_ml:.0f} ml; {needed:.0f} ml of {part.part} are needed."
        elif kinds[part.part_id] != "dye" or wanted:
            most = max((b.left_ml for b in held), default=0.0)
            wrong[place] = (
                f"No bottle of {part.part} holds {needed:.0f} ml; the fullest has {most:.0f} ml."
                if held
                else f"No bottle of {part.part} is on the shelf, or it is retired."
            )
    if wrong:
        raise Problem("The bottles do not suffice.", wrong)
    return chosen


def cup(bench: Bench, batch_id: str) -> BatchView:
    """A cup trial is standing: look at it after some hours."""
    with bench.write() as answer:
        held = _open(bench, batch_id)
        update(bench.db, "batch", held.id, cup_at=bench.now())
        return answer(batch(bench, held.id))


def look(bench: Bench, batch_id: str, given: CupInput) -> BatchView:
    with bench.write() as answer:
        held = _open(bench, batch_id)
        if held.cup_at is None:
            raise Conflict("No cup trial is standing yet.")
        update(bench.db, "batch", held.id, cup_finding=given.finding, cup_looked_at=bench.now())
        end_at(bench, _place(held), bench.now())
        return answer(batch(bench, held.id))


def pour(bench: Bench, batch_id: str, given: PouredBatchInput) -> BatchView:
    """What was really poured: bottles go down, and the batch is a bottle of its own."""
    with bench.write() as answer:
        held = _open(bench, batch_id)
        if held.cup_finding in ("separated", "gelled"):
            raise Conflict(f"The cup trial {held.cup_finding}: this batch is not poured.")
        rows = store.pours(bench.db, [held.id])
        poured = given.poured_ml or [row.planned_ml for row in rows]
        if len(poured) != len(rows):
            raise Problem("A volume for each pour.", {"poured_ml": f"Give {len(rows)} volumes."})
        wrong: dict[str, str] = {}
        for i, (row, volume) in enumerate(zip(rows, poured, strict=True)):
            bottle = shelf.bottle(bench.db, row.bottle_id) if row.bottle_id else None
            if bottle is not None and bottle.retired_at is not None:
                wrong[f"poured_ml.{i}"] = f"{bottle.code} is retired."
            elif bottle is not None and bottle.left_ml < volume - 1e-6:
                wrong[f"poured_ml.{i}"] = f"{bottle.code} holds {bottle.left_ml:.0f} ml."
        total = sum(poured)
        if total <= 0:
            wrong["poured_ml"] = "Nothing was poured."
        if wrong:
            raise Problem("It cannot have been poured like this.", wrong)
        for row, volume in zip(rows, poured, strict=True):
            bench.db.execute(
                "UPDATE batch_pour SET poured_ml = ? WHERE batch_id = ? AND number = ?", (volume, held.id, row.number)
            )
            if row.bottle_id:
                bench.db.execute(
                    "UPDATE bottle SET left_ml = left_ml - ?, version = version + 1 WHERE id = ?",
                    (volume, row.bottle_id),
                )
        bottle_id = bench.new_id()
        insert(
            bench.db, "bottle", id=bottle_id, code=next_code(bench.db, "B"), material_id=held.blend_id, lot=held.code,
            opened_on=bench.now()[:10], volume_ml=total, left_ml=total, created_at=bench.now(),
        )  # fmt: skip
        update(bench.db, "batch", held.id, poured_at=bench.now(), bottle_id=bottle_id)
        return answer(batch(bench, held.id))


def stirred(bench: Bench, batch_id: str) -> BatchView:
    with bench.write() as answer:
        held = present(store.batch(bench.db, batch_id), "batch")
        if held.poured_at is None:
            raise Conflict(f"{held.code} is not poured yet.")
        update(bench.db, "batch", held.id, stirred_at=bench.now())
        end_at(bench, _place(held), bench.now())
        return answer(batch(bench, held.id))


def cancel(bench: Bench, batch_id: str, given: BatchReason) -> BatchView:
    with bench.write() as answer:
        held = _open(bench, batch_id)
        now = bench.now()
        update(bench.db, "batch", held.id, cancelled_at=now, cancelled_reason=given.reason)
        end_at(bench, _place(held), now)
        return answer(batch(bench, held.id))


def reinstate(bench: Bench, batch_id: str) -> BatchView:
    with bench.write() as answer:
        held = present(store.batch(bench.db, batch_id), "batch")
        if held.cancelled_at is not None:
            resume_at(bench, _place(held), held.cancelled_at)
        update(bench.db, "batch", held.id, cancelled_at=None, cancelled_reason=None)
        return answer(batch(bench, held.id))


def _place(row: store.BatchRow) -> str:
    """Its page, to which its timers belong."""
    return f"/blend/batches/{row.code}"


def _stood_h(row: store.BatchRow) -> float | None:
    if row.cup_at is None or row.cup_looked_at is None:
        return None
    began, looked = (datetime.fromisoformat(at.replace("Z", "+00:00")) for at in (row.cup_at, row.cup_looked_at))
    return (looked - began).total_seconds() / 3600


def _open(bench: Bench, batch_id: str) -> store.BatchRow:
    held = present(store.batch(bench.db, batch_id), "batch")
    if held.cancelled_at is not None:
        raise Conflict(f"{held.code} is given up ({held.cancelled_reason}).")
    if held.poured_at is not None:
        raise Conflict(f"{held.code} is poured already.")
    return held


def _views(bench: Bench, rows: list[store.BatchRow]) -> list[BatchView]:
    pours: dict[str, list[store.PourRow]] = defaultdict(list)
    for row in store.pours(bench.db, [r.id for r in rows]):
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


def _lines(row: store.BatchRow, pours: list[store.PourRow]) -> list[PourLine]:
    planned = sum(p.planned_ml for p in pours)
    poured = sum(p.poured_ml or 0 for p in pours)
    lines, total = [], 0.0
    weighed = all(p.planned_g is not None for p in pours)
    for one in pours:
        total += one.planned_g or 0.0
        fraction, real = (
            one.planned_ml / planned,
            one.poured_ml / poured if one.poured_ml is not None and poured else None,
        )
        lines.append(
            PourLine(
                **{k: getattr(one, k) for k in ("number", "part_id", "part", "bottle_code", "lot", "planned_ml", "planned_g", "poured_ml")},
                total_g=total if weighed else None, planned_fraction=fraction, real_fraction=real,
                off=real is not None and abs(real - fraction) * 100 > row.tolerance_pct,
            )
        )  # fmt: skip
    return lines
