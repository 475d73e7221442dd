"""Queries over what stands on the shelf: resins, bottles, printers, finish routes, technicians."""

from __future__ import annotations

import sqlite3
from typing import Any

from .rows import Row, first, many, marks, one
from .terms import Chemistry, LightEngine, MaterialKind, Opacity, SupportsOff, WashClass


class Technician(Row):
    """Somebody who works here."""

    id: str
    initials: str
    created_at: str
    retired_at: str | None


class Material(Row):
    id: str
    code: str
    kind: MaterialKind
    name: str
    version: int
    created_at: str
    retired_at: str | None


class Resin(Row):
    """A resin on the shelf."""

    id: str
    code: str
    name: str
    version: int
    created_at: str
    retired_at: str | None
    maker: str
    line: str | None
    colour: str
    family: str
    opacity: Opacity
    wash_class: WashClass
    chemistry: Chemistry
    maker_low_s: float | None
    maker_high_s: float | None
    maker_temp_low_c: float | None
    maker_temp_high_c: float | None
    density_g_ml: float | None
    price_per_l: float | None
    heat_capacity_j_g_k: float | None
    viscosity_mpa_s: float | None
    vat_hours: float | None
    may_be_mixed: bool | None
    safety_sheet_url: str | None
    bottles: int
    left_ml: float


class Bottle(Row):
    """A bottle on the shelf."""

    id: str
    code: str
    material_id: str
    material: str
    lot: str
    received_on: str | None
    opened_on: str | None
    best_before: str | None
    volume_ml: float
    left_ml: float
    last_shaken_at: str | None
    version: int
    created_at: str
    retired_at: str | None


class Printer(Row):
    """A printer in this lab."""

    id: str
    code: str
    name: str
    light_engine: LightEngine
    light_power_adjustable: bool
    pixel_um: float
    plate_x_mm: float
    plate_y_mm: float
    vat_capacity_ml: float
    fill_line_ml: float
    exposure_step_s: float
    screen_hours: float
    several_exposures: bool
    suppresses_lift: bool
    delay_includes_motion: bool
    simulated: bool
    note: str
    version: int
    created_at: str
    retired_at: str | None


class FinishRoute(Row):
    """A finish route in its newest version."""

    id: str
    code: str
    name: str
    created_at: str
    retired_at: str | None
    version: int
    version_id: str
    wash_fluid: str
    wash_method: str
    dirty_bath_min: float
    clean_bath_min: float
    dry_min: float
    air_min: float
    lamp: str
    cure_min: float
    cure_temp_c: float | None
    supports_off: SupportsOff
    uses: int


_RESIN = """
SELECT m.id, m.code, m.name, m.version, m.created_at, m.retired_at, r.maker, r.line, r.colour, r.family, r.opacity,
  r.wash_class, r.chemistry, r.maker_low_s, r.maker_high_s, r.maker_temp_low_c, r.maker_temp_high_c, r.density_g_ml,
  r.price_per_l, r.heat_capacity_j_g_k, r.viscosity_mpa_s, r.vat_hours, r.may_be_mixed, r.safety_sheet_url,
  (SELECT count(*) FROM bottle b WHERE b.material_id = m.id AND b.retired_at IS NULL) AS bottles,
  (SELECT coalesce(sum(left_ml), 0.0) FROM bottle b WHERE b.material_id = m.id AND b.retired_at IS NULL) AS left_ml
FROM material m JOIN resin r ON r.material_id = m.id"""
_BOTTLE = "SELECT b.*, m.name AS material FROM bottle b JOIN material m ON m.id = b.material_id"
_ROUTE = """
SELECT f.id, f.code, f.name, f.created_at, f.retired_at, v.version, v.id AS version_id, v.wash_fluid, v.wash_method,
  v.dirty_bath_min, v.clean_bath_min, v.dry_min, v.air_min, v.lamp, v.cure_min, v.cure_temp_c, v.supports_off,
  (SELECT count(*) FROM calibration c WHERE c.finish_route_version_id = v.id) AS uses
FROM finish_route f JOIN finish_route_version v ON v.finish_route_id = f.id"""
_NEWEST = "v.version = (SELECT max(version) FROM finish_route_version w WHERE w.finish_route_id = f.id)"


def _live(column: str, retired: bool) -> str:
    return f"{column} IS NOT NULL" if retired else f"{column} IS NULL"


def technicians(db: sqlite3.Connection) -> list[Technician]:
    return many(db, Technician, "SELECT * FROM technician ORDER BY initials")


def technician_by_initials(db: sqlite3.Connection, initials: str) -> Technician | None:
    return one(db, Technician, "SELECT * FROM technician WHERE initials = ?", (initials.upper(),))


def material(db: sqlite3.Connection, material_id: str) -> Material | None:
    return one(db, Material, "SELECT * FROM material WHERE id = ?", (material_id,))


def materials(db: sqlite3.Connection, limit: int = 200) -> list[Material]:
    sql = "SELECT * FROM material WHERE retired_at IS NULL ORDER BY name COLLATE BY_NAME LIMIT ?"
    return many(db, Material, sql, (limit,))


class BoardMaterial(Row):
    """A material as the Board lists it."""

    id: str
    name: str
    kind: MaterialKind
    family: str | None
    opacity: Opacity | None
    colour: str | None


def board_rows(db: sqlite3.Connection, after: str, limit: int, family: str | None) -> list[BoardMaterial]:
    """Materials in the order of their names, from the one after ``after`` on."""
    sql = """
SELECT m.id, m.name, m.kind, r.family, r.opacity, r.colour FROM material m LEFT JOIN resin r ON r.material_id = m.id
WHERE m.retired_at IS NULL AND m.kind <> 'reference' AND m.name COLLATE BY_NAME > ? AND (? IS NULL OR r.family = ?)
ORDER BY m.name COLLATE BY_NAME LIMIT ?"""
    return many(db, BoardMaterial, sql, (after, family, family, limit))


def families(db: sqlite3.Connection) -> list[str]:
    """Families that are on the shelf."""
    sql = "SELECT DISTINCT r.family FROM resin r JOIN material m ON m.id = r.material_id WHERE m.retired_at IS NULL ORDER BY 1"
    return [str(row[0]) for row in db.execute(sql)]


def resins(db: sqlite3.Connection, retired: bool, after: str, limit: int) -> list[Resin]:
    sql = f"{_RESIN} WHERE {_live('m.retired_at', retired)} AND m.name COLLATE NOCASE > ? ORDER BY m.name COLLATE NOCASE LIMIT ?"
    return many(db, Resin, sql, (after, limit))


def resin(db: sqlite3.Connection, material_id: str) -> Resin | None:
    return one(db, Resin, f"{_RESIN} WHERE m.id = ?", (material_id,))


def resins_by_id(db: sqlite3.Connection, ids: list[str]) -> list[Resin]:
    return many(db, Resin, f"{_RESIN} WHERE m.id IN ({marks(ids)})", ids)


def bottles(db: sqlite3.Connection, retired: bool, material_id: str | None, after: str, limit: int) -> list[Bottle]:
    where = f"{_live('b.retired_at', retired)} AND b.code > ?"
    values: list[object] = [after]
    if material_id is not None:
        where += " AND b.material_id = ?"
        values.append(material_id)
    return many(db, Bottle, f"{_BOTTLE} WHERE {where} ORDER BY b.code LIMIT ?", (*values, limit))


def bottle(db: sqlite3.Connection, bottle_id: str) -> Bottle | None:
    return one(db, Bottle, f"{_BOTTLE} WHERE b.id = ?", (bottle_id,))


def bottle_by_code(db: sqlite3.Connection, code: str) -> Bottle | None:
    """A bottle by the code on its label, in capitals or not."""
    return one(db, Bottle, f"{_BOTTLE} WHERE b.code = ?", (code.upper(),))


def printers(db: sqlite3.Connection, retired: bool, after: str, limit: int) -> list[Printer]:
    sql = (
        f"SELECT * FROM printer WHERE {_live('retired_at', retired)} AND name COLLATE NOCASE > ? "
        "ORDER BY name COLLATE NOCASE LIMIT ?"
    )
    return many(db, Printer, sql, (after, limit))


def materials_by_id(db: sqlite3.Connection, ids: list[str]) -> list[Material]:
    return many(db, Material, f"SELECT * FROM material WHERE id IN ({marks(ids)})", ids)


def material_names(db: sqlite3.Connection, ids: list[str]) -> dict[str, str]:
    sql = f"SELECT id, name FROM material WHERE id IN ({marks(ids)})"
    return {str(row[0]): str(row[1]) for row in db.execute(sql, ids)}


def printers_by_id(db: sqlite3.Connection, ids: list[str]) -> list[Printer]:
    return many(db, Printer, f"SELECT * FROM printer WHERE id IN ({marks(ids)})", ids)


def printer(db: sqlite3.Connection, printer_id: str) -> Printer | None:
    return one(db, Printer, "SELECT * FROM printer WHERE id = ?", (printer_id,))


def finish_routes(db: sqlite3.Connection, retired: bool, after: str, limit: int) -> list[FinishRoute]:
    sql = (
        f"{_ROUTE} WHERE {_NEWEST} AND {_live('f.retired_at', retired)} AND f.name COLLATE NOCASE > ? "
        "ORDER BY f.name COLLATE NOCASE LIMIT ?"
    )
    return many(db, FinishRoute, sql, (after, limit))


def finish_route(db: sqlite3.Connection, route_id: str) -> FinishRoute | None:
    return one(db, FinishRoute, f"{_ROUTE} WHERE {_NEWEST} AND f.id = ?", (route_id,))


def finish_route_version(db: sqlite3.Connection, version_id: str) -> FinishRoute | None:
    return one(db, FinishRoute, f"{_ROUTE} WHERE v.id = ?", (version_id,))


def cure_minutes(db: sqlite3.Connection, version_ids: list[str]) -> dict[str, float]:
    """Minutes of cure of finish routes, by version."""
    sql = f"SELECT id, cure_min FROM finish_route_version WHERE id IN ({marks(version_ids)}) AND cure_min IS NOT NULL"
    return {str(row[0]): float(row[1]) for row in db.execute(sql, version_ids)}


def prices(db: sqlite3.Connection, material_ids: list[str]) -> dict[str, float | None]:
    """Price of a litre: a resin's own, a blend's by its parts; None where one of them has none."""
    sql = f"""SELECT m.id, coalesce(r.price_per_l, (SELECT CASE WHEN count(*) = count(coalesce(q.price_per_l, d.price_per_l))
          THEN sum(p.fraction * coalesce(q.price_per_l, d.price_per_l)) END
        FROM blend_part p LEFT JOIN resin q ON q.material_id = p.part_id LEFT JOIN dye d ON d.material_id = p.part_id
        WHERE p.blend_id = m.id)) FROM material m LEFT JOIN resin r ON r.material_id = m.id
      WHERE m.id IN ({marks(material_ids)})"""
    return {str(row[0]): row[1] for row in db.execute(sql, material_ids)}


def route_names(db: sqlite3.Connection, version_ids: list[str]) -> dict[str, str]:
    """Names of finish routes, by version."""
    sql = f"""SELECT v.id, f.name FROM finish_route_version v JOIN finish_route f ON f.id = v.finish_route_id
      WHERE v.id IN ({marks(version_ids)})"""
    return {str(row[0]): str(row[1]) for row in db.execute(sql, version_ids)}


def screen_hours(db: sqlite3.Connection, printer_ids: list[str]) -> dict[str, float]:
    """Screen hours now, by printer."""
    sql = f"SELECT id, screen_hours FROM printer WHERE id IN ({marks(printer_ids)})"
    return {str(row[0]): float(row[1]) for row in db.execute(sql, printer_ids)}


def name_of(db: sqlite3.Connection, table: str, column: str, row_id: str) -> str | None:
    """What a thing on the shelf is called."""
    name = first(db, f"SELECT {column} FROM {table} WHERE id = ?", (row_id,))
    return None if name is None else str(name)


def id_of_name(db: sqlite3.Connection, table: str, name: str) -> str | None:
    """Which thing on the shelf has a name, in capitals or not."""
    row_id = first(db, f"SELECT id FROM {table} WHERE name = ? COLLATE NOCASE AND retired_at IS NULL", (name,))
    return None if row_id is None else str(row_id)


class BottleToMind(Row):
    """A bottle with something in it that is past its best, or soon."""

    code: str
    material: str
    lot: str
    best_before: str | None
    left_ml: float


def bottles_to_mind(db: sqlite3.Connection, until: str, limit: int) -> list[BottleToMind]:
    """Bottles that are best before a day, those past it first."""
    sql = """SELECT b.code, m.name AS material, b.lot, b.best_before, b.left_ml FROM bottle b
      JOIN material m ON m.id = b.material_id
      WHERE b.retired_at IS NULL AND b.left_ml > 0 AND b.best_before <= ? ORDER BY b.best_before LIMIT ?"""
    return many(db, BottleToMind, sql, (until, limit))


class LowStock(Row):
    """A material of which little is left."""

    id: str
    name: str
    left_ml: float


def low_stock(db: sqlite3.Connection, below_ml: float, limit: int) -> list[LowStock]:
    """Resins with an issued set and at least one bottle of which less is left than so many ml, the emptiest first."""
    sql = """SELECT m.id, m.name, sum(CASE WHEN b.retired_at IS NULL THEN b.left_ml ELSE 0 END) AS left_ml
      FROM material m JOIN bottle b ON b.material_id = m.id
      WHERE m.retired_at IS NULL AND m.kind = 'resin'
        AND EXISTS (SELECT 1 FROM parameter_set s WHERE s.material_id = m.id)
      GROUP BY m.id HAVING sum(CASE WHEN b.retired_at IS NULL THEN b.left_ml ELSE 0 END) < ? ORDER BY 3 LIMIT ?"""
    return many(db, LowStock, sql, (below_ml, limit))


def draw_from_bottle(db: sqlite3.Connection, bottle_id: str, volume_ml: float) -> None:
    """Less is left in a bottle, down to nothing."""
    sql = "UPDATE bottle SET left_ml = max(0, left_ml - ?), version = version + 1 WHERE id = ?"
    db.execute(sql, (volume_ml, bottle_id))


def pour_into_bottle(db: sqlite3.Connection, bottle_id: str, volume_ml: float) -> None:
    """More is left in a bottle, up to what it holds."""
    sql = "UPDATE bottle SET left_ml = min(volume_ml, left_ml + ?), version = version + 1 WHERE id = ?"
    db.execute(sql, (volume_ml, bottle_id))


def initials(db: sqlite3.Connection, technician_id: str) -> str:
    """Initials of a technician."""
    return str(first(db, "SELECT initials FROM technician WHERE id = ?", (technician_id,)))


def price(db: sqlite3.Connection, material_id: str) -> float | None:
    """Price per litre of a resin or a bought-in reference."""
    sql = """SELECT coalesce(r.price_per_l, b.price_per_l) FROM material m LEFT JOIN resin r ON r.material_id = m.id
      LEFT JOIN reference_material b ON b.material_id = m.id WHERE m.id = ?"""
    per_l = first(db, sql, (material_id,))
    return None if per_l is None else float(per_l)


def change_resin(db: sqlite3.Connection, material_id: str, columns: dict[str, Any]) -> None:
    """Change what is particular to a resin; its name is the material's."""
    names = ", ".join(f"{name} = ?" for name in columns)
    db.execute(f"UPDATE resin SET {names} WHERE material_id = ?", [*columns.values(), material_id])


def bottles_of(db: sqlite3.Connection, material_ids: list[str]) -> list[Bottle]:
    """Bottles of materials that stand on the shelf."""
    sql = f"{_BOTTLE} WHERE b.retired_at IS NULL AND b.material_id IN ({marks(material_ids)}) ORDER BY b.code"
    return many(db, Bottle, sql, material_ids)


def vat_hours(db: sqlite3.Connection, material_ids: list[str]) -> dict[str, float]:
    """Hours a resin may be in a vat, of those whose maker limits them."""
    sql = f"SELECT material_id, vat_hours FROM resin WHERE vat_hours IS NOT NULL AND material_id IN ({marks(material_ids)})"
    return {str(row[0]): float(row[1]) for row in db.execute(sql, material_ids)}
