"""Blends with their parts, batches, the ledger of vats, and series."""

from __future__ import annotations

import sqlite3
from typing import Any

from .rows import Row, many, marks, one
from .terms import Basis, Chemistry, CupFinding, LedgerKind, MaterialKind, Origin, WashClass


class Ingredient(Row):
    """A resin or a dye with what a recipe needs to know of it."""

    id: str
    name: str
    kind: MaterialKind
    family: str | None
    wash_class: WashClass | None
    chemistry: Chemistry | None
    maker: str | None
    may_be_mixed: bool | None
    density_g_ml: float | None
    price_per_l: float | None
    viscosity_mpa_s: float | None
    vat_hours: float | None
    ln_exposure_per_percent: float | None


class BlendRow(Row):
    id: str
    code: str
    name: str
    basis: Basis
    findings: list[dict[str, Any]]
    forbidden_reason: str | None
    origin: Origin
    note: str
    initials: str
    created_at: str
    retired_at: str | None


class BlendPart(Row):
    """A part of a kept recipe."""

    blend_id: str
    number: int
    part_id: str
    part: str
    fraction: float


class BatchRow(Row):
    """A batch with its recipe, pours and state."""

    id: str
    code: str
    blend_id: str
    blend: str
    volume_ml: float
    tolerance_pct: float
    planned_at: str
    initials: str
    cup_at: str | None
    cup_finding: CupFinding | None
    cup_looked_at: str | None
    poured_at: str | None
    stirred_at: str | None
    bottle_id: str | None
    bottle_code: str | None
    cancelled_at: str | None
    cancelled_reason: str | None
    note: str


class PourRow(Row):
    """One pour of a batch: bottle, planned and poured millilitres."""

    batch_id: str
    number: int
    part_id: str
    part: str
    bottle_id: str | None
    bottle_code: str | None
    lot: str | None
    planned_ml: float
    planned_g: float | None
    poured_ml: float | None


class LedgerRow(Row):
    """One line of a vat's ledger; prints are among them, with what they used."""

    id: str
    printer_id: str
    kind: LedgerKind
    at: str
    volume_ml: float
    bottle_id: str | None
    bottle_code: str | None
    material_id: str | None
    material: str | None
    lot: str | None
    to_bottle_code: str | None
    meant_id: str | None
    stated: str | None
    event_id: str | None
    note: str
    initials: str | None
    withdrawn_at: str | None
    withdrawn_reason: str | None


class SeriesRow(Row):
    """A series with its members, curves and the next fraction."""

    id: str
    code: str
    name: str
    base_id: str
    base: str
    additive_id: str
    additive: str
    brief_id: str | None
    brief: str | None
    max_fraction: float
    created_at: str


_INGREDIENT = """
SELECT m.id, m.name, m.kind, r.family, r.wash_class, r.chemistry, r.maker, r.may_be_mixed,
  coalesce(r.density_g_ml, d.density_g_ml) AS density_g_ml, coalesce(r.price_per_l, d.price_per_l) AS price_per_l,
  r.viscosity_mpa_s, r.vat_hours, d.ln_exposure_per_percent
FROM material m LEFT JOIN resin r ON r.material_id = m.id LEFT JOIN dye d ON d.material_id = m.id"""

_BLEND = """
SELECT m.id, m.code, m.name, b.basis, b.findings, b.forbidden_reason, b.origin, b.note, t.initials, b.created_at, m.retired_at
FROM blend b JOIN material m ON m.id = b.material_id JOIN technician t ON t.id = b.technician_id"""

_BATCH = """
SELECT b.id, b.code, b.blend_id, m.name AS blend, b.volume_ml, b.tolerance_pct, b.planned_at, t.initials, b.cup_at,
  b.cup_finding, b.cup_looked_at, b.poured_at, b.stirred_at, b.bottle_id, k.code AS bottle_code, b.cancelled_at,
  b.cancelled_reason, b.note
FROM batch b JOIN material m ON m.id = b.blend_id JOIN technician t ON t.id = b.technician_id
LEFT JOIN bottle k ON k.id = b.bottle_id"""

_LEDGER = """
SELECT v.id, v.printer_id, v.kind, v.at, v.volume_ml, v.bottle_id, b.code AS bottle_code, b.material_id, m.name AS material,
  b.lot, o.code AS to_bottle_code, v.meant_id, v.stated, v.event_id, v.note, t.initials, v.withdrawn_at, v.withdrawn_reason
FROM vat_entry v JOIN technician t ON t.id = v.technician_id LEFT JOIN bottle b ON b.id = v.bottle_id
LEFT JOIN material m ON m.id = b.material_id LEFT JOIN bottle o ON o.id = v.to_bottle_id"""

# A print takes from the vat from its first filling on.
_PRINTS = """
SELECT p.id, p.printer_id, 'print' AS kind, p.printed_at AS at, p.volume_ml, NULL AS bottle_id, NULL AS bottle_code,
  NULL AS material_id, NULL AS material, NULL AS lot, NULL AS to_bottle_code, NULL AS meant_id, p.code AS stated,
  NULL AS event_id, p.seen AS note, t.initials, NULL AS withdrawn_at, NULL AS withdrawn_reason
FROM print p LEFT JOIN technician t ON t.id = p.technician_id"""

_SERIES = """
SELECT s.id, s.code, s.name, s.base_id, a.name AS base, s.additive_id, b.name AS additive, s.brief_id, f.name AS brief,
  s.max_fraction, s.created_at
FROM blend_series s JOIN material a ON a.id = s.base_id JOIN material b ON b.id = s.additive_id
LEFT JOIN brief f ON f.id = s.brief_id"""


def ingredients(db: sqlite3.Connection, ids: list[str] | None = None) -> list[Ingredient]:
    """Resins and dyes on the shelf, or some by id."""
    if ids is not None:
        return many(db, Ingredient, f"{_INGREDIENT} WHERE m.id IN ({marks(ids)})", ids)
    sql = f"{_INGREDIENT} WHERE m.kind IN ('resin', 'dye') AND m.retired_at IS NULL ORDER BY m.kind DESC, m.name COLLATE BY_NAME LIMIT 500"
    return many(db, Ingredient, sql)


def blends(db: sqlite3.Connection, after: str, limit: int, part_id: str | None = None) -> list[BlendRow]:
    """By name; of all, or those that hold a part."""
    sql = f"""{_BLEND} WHERE m.retired_at IS NULL AND m.name COLLATE BY_NAME > ?
      AND (? IS NULL OR m.id IN (SELECT blend_id FROM blend_part WHERE part_id = ?)) ORDER BY m.name COLLATE BY_NAME LIMIT ?"""
    return many(db, BlendRow, sql, (after, part_id, part_id, limit))


def blend(db: sqlite3.Connection, id_or_code: str) -> BlendRow | None:
    return one(db, BlendRow, f"{_BLEND} WHERE m.id = ? OR m.code = ?", (id_or_code, id_or_code))


def parts(db: sqlite3.Connection, blend_ids: list[str]) -> list[BlendPart]:
    sql = f"""SELECT p.blend_id, p.number, p.part_id, m.name AS part, p.fraction FROM blend_part p
      JOIN material m ON m.id = p.part_id WHERE p.blend_id IN ({marks(blend_ids)}) ORDER BY p.blend_id, p.number"""
    return many(db, BlendPart, sql, blend_ids)


def blends_of_two(db: sqlite3.Connection, base_id: str, additive_id: str) -> list[BlendPart]:
    """The additive's share in every blend of just these two."""
    sql = """SELECT p.blend_id, p.number, p.part_id, m.name AS part, p.fraction FROM blend_part p
      JOIN material m ON m.id = p.blend_id WHERE p.part_id = :additive AND m.retired_at IS NULL
      AND (SELECT count(*) FROM blend_part o WHERE o.blend_id = p.blend_id) = 2
      AND EXISTS (SELECT 1 FROM blend_part o WHERE o.blend_id = p.blend_id AND o.part_id = :base) ORDER BY p.fraction"""
    return many(db, BlendPart, sql, {"additive": additive_id, "base": base_id})


def batches(db: sqlite3.Connection, blend_id: str | None, limit: int) -> list[BatchRow]:
    sql = f"{_BATCH} WHERE ? IS NULL OR b.blend_id = ? ORDER BY b.planned_at DESC LIMIT ?"
    return many(db, BatchRow, sql, (blend_id, blend_id, limit))


def batch(db: sqlite3.Connection, id_or_code: str) -> BatchRow | None:
    return one(db, BatchRow, f"{_BATCH} WHERE b.id = ? OR b.code = ?", (id_or_code, id_or_code))


def pours(db: sqlite3.Connection, batch_ids: list[str]) -> list[PourRow]:
    sql = f"""SELECT p.batch_id, p.number, p.part_id, m.name AS part, p.bottle_id, k.code AS bottle_code, k.lot, p.planned_ml,
      p.planned_g, p.poured_ml FROM batch_pour p JOIN material m ON m.id = p.part_id LEFT JOIN bottle k ON k.id = p.bottle_id
      WHERE p.batch_id IN ({marks(batch_ids)}) ORDER BY p.batch_id, p.number"""
    return many(db, PourRow, sql, batch_ids)


def is_poured(db: sqlite3.Connection, printer_id: str, bottle_id: str) -> bool:
    """Whether a pour out of a bottle into a printer's vat is recorded."""
    sql = "SELECT 1 FROM vat_entry WHERE bottle_id = ? AND printer_id = ? AND withdrawn_at IS NULL LIMIT 1"
    return db.execute(sql, (bottle_id, printer_id)).fetchone() is not None


def pours_of_bottles(db: sqlite3.Connection, bottle_ids: list[str]) -> dict[str, list[PourRow]]:
    """What the batches in these bottles were poured from, by bottle."""
    by_bottle = {
        str(row[1]): str(row[0])
        for row in db.execute(f"SELECT id, bottle_id FROM batch WHERE bottle_id IN ({marks(bottle_ids)})", bottle_ids)
    }
    by_batch: dict[str, list[PourRow]] = {}
    for pour in pours(db, list(by_bottle.values())):
        by_batch.setdefault(pour.batch_id, []).append(pour)
    return {bottle: by_batch.get(batch_id, []) for bottle, batch_id in by_bottle.items()}


def ledger(db: sqlite3.Connection, printer_ids: list[str]) -> list[LedgerRow]:
    """Entries and prints of these vats in the order of time, withdrawn entries too."""
    rows = many(db, LedgerRow, f"{_LEDGER} WHERE v.printer_id IN ({marks(printer_ids)})", printer_ids)
    first: dict[str, str] = {}
    for row in rows:
        if row.withdrawn_at is None and row.kind in ("fill", "pour", "feed"):
            first[row.printer_id] = min(row.at, first.get(row.printer_id, row.at))
    for printer_id, at in first.items():
        sql = f"{_PRINTS} WHERE p.printer_id = ? AND p.status = 'printed' AND p.volume_ml > 0 AND p.printed_at >= ?"
        rows += many(db, LedgerRow, sql, (printer_id, at))
    return sorted(rows, key=lambda row: (row.at, row.id))


def entry(db: sqlite3.Connection, entry_id: str) -> LedgerRow | None:
    return one(db, LedgerRow, f"{_LEDGER} WHERE v.id = ?", (entry_id,))


def series(db: sqlite3.Connection, limit: int) -> list[SeriesRow]:
    return many(db, SeriesRow, f"{_SERIES} WHERE s.retired_at IS NULL ORDER BY s.created_at DESC LIMIT ?", (limit,))


def one_series(db: sqlite3.Connection, id_or_code: str) -> SeriesRow | None:
    return one(db, SeriesRow, f"{_SERIES} WHERE s.id = ? OR s.code = ?", (id_or_code, id_or_code))


def note_poured(db: sqlite3.Connection, batch_id: str, number: int, poured_ml: float) -> None:
    """How much of one part a batch really got."""
    db.execute("UPDATE batch_pour SET poured_ml = ? WHERE batch_id = ? AND number = ?", (poured_ml, batch_id, number))
