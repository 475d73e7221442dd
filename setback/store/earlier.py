"""Queries of what was brought along: settings in use that nothing here shows, and the tables they came from."""

from __future__ import annotations

import sqlite3
from typing import Any

from pydantic import Field

from .rows import Row, many, marks, one
from .terms import SettingsSource


class ProvisionalSet(Row):
    """Settings in use, not shown; the newest version."""

    id: str
    code: str
    version: int
    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    settings: dict[str, Any]
    stated: list[str] = Field(description="Names of the settings that were stated; the others are the usual ones")
    tip_mm: float | None
    finish_route_version_id: str | None
    source: SettingsSource
    source_note: str
    in_use_since: str | None
    note: str
    earlier_table_id: str | None
    table_code: str | None
    table_row: int | None
    initials: str
    entered_at: str
    withdrawn_at: str | None
    withdrawn_reason: str | None


_NEWEST = "NOT EXISTS (SELECT 1 FROM provisional_set n WHERE n.code = u.code AND n.version > u.version)"
_SET = f"""SELECT u.*, m.name AS material, p.name AS printer, t.initials, e.code AS table_code
  FROM provisional_set u JOIN material m ON m.id = u.material_id JOIN printer p ON p.id = u.printer_id
  JOIN technician t ON t.id = u.technician_id LEFT JOIN earlier_table e ON e.id = u.earlier_table_id
  WHERE {_NEWEST}"""


def provisional(db: sqlite3.Connection, code: str) -> ProvisionalSet | None:
    """The newest version of settings in use, by their code."""
    return one(db, ProvisionalSet, f"{_SET} AND u.code = ?", (code,))


def provisional_sets(db: sqlite3.Connection, before: str, limit: int) -> list[ProvisionalSet]:
    """Those that stand, entered last first."""
    sql = f"{_SET} AND u.withdrawn_at IS NULL AND (? = '' OR u.code < ?) ORDER BY u.code DESC LIMIT ?"
    return many(db, ProvisionalSet, sql, (before, before, limit))


def provisional_count(db: sqlite3.Connection) -> int:
    """How many stand."""
    sql = f"SELECT count(*) FROM provisional_set u WHERE {_NEWEST} AND u.withdrawn_at IS NULL"
    return int(db.execute(sql).fetchone()[0])


def provisional_at(db: sqlite3.Connection, layer_height_um: float, material_ids: list[str]) -> list[ProvisionalSet]:
    """Those of some materials at one layer height, the newest last."""
    sql = f"""{_SET} AND u.withdrawn_at IS NULL AND u.layer_height_um = ? AND u.material_id IN ({marks(material_ids)})
      ORDER BY u.entered_at, u.code"""
    return many(db, ProvisionalSet, sql, [layer_height_um, *material_ids])


def provisional_of(
    db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float
) -> list[ProvisionalSet]:
    """Those of a pair at a layer height, the newest first."""
    sql = f"""{_SET} AND u.withdrawn_at IS NULL AND u.material_id = ? AND u.printer_id = ? AND u.layer_height_um = ?
      ORDER BY u.entered_at DESC, u.code DESC"""
    return many(db, ProvisionalSet, sql, (material_id, printer_id, layer_height_um))


def provisional_heights(db: sqlite3.Connection) -> list[float]:
    """Layer heights that settings in use are for."""
    sql = f"SELECT DISTINCT layer_height_um FROM provisional_set u WHERE {_NEWEST} AND u.withdrawn_at IS NULL ORDER BY layer_height_um"
    return [float(row[0]) for row in db.execute(sql)]


class ProvisionalVersion(Row):
    """One version of settings in use."""

    version: int
    exposure_s: float
    entered_at: str
    initials: str


def provisional_versions(db: sqlite3.Connection, code: str) -> list[ProvisionalVersion]:
    """All of them, the newest first."""
    sql = """SELECT u.version, u.exposure_s, u.entered_at, t.initials FROM provisional_set u
      JOIN technician t ON t.id = u.technician_id WHERE u.code = ? ORDER BY u.version DESC"""
    return many(db, ProvisionalVersion, sql, (code,))


class CalibratedSince(Row):
    """The newest issued set of a pair at a layer height."""

    code: str
    exposure_s: float
    issued_at: str
    lower_s: float | None
    upper_s: float | None


def calibrated_since(
    db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float
) -> CalibratedSince | None:
    """What was issued for a pair at a layer height."""
    sql = """SELECT code, exposure_s, issued_at, lower_s, upper_s
      FROM parameter_set JOIN set_window ON set_id = id WHERE material_id = ? AND printer_id = ? AND layer_height_um = ? ORDER BY version DESC LIMIT 1"""
    return one(db, CalibratedSince, sql, (material_id, printer_id, layer_height_um))


def calibrated_triples(db: sqlite3.Connection) -> set[tuple[str, str, float]]:
    """Material, printer and layer height of everything that was issued."""
    sql = "SELECT DISTINCT material_id, printer_id, layer_height_um FROM parameter_set"
    return {(str(row[0]), str(row[1]), float(row[2])) for row in db.execute(sql)}


class EarlierTable(Row):
    """A table as it was opened or pasted, without what stands in it."""

    id: str
    code: str
    name: str
    initials: str | None
    received_at: str
    kind: str | None
    rows_taken: int | None
    rows_left: int | None
    taken_at: str | None
    withdrawn_at: str | None


_TABLE = """SELECT e.id, e.code, e.name, t.initials, e.received_at, e.kind, e.rows_taken, e.rows_left, e.taken_at, e.withdrawn_at
  FROM earlier_table e LEFT JOIN technician t ON t.id = e.technician_id"""


def earlier_table(db: sqlite3.Connection, code: str) -> EarlierTable | None:
    """One table, by its code."""
    return one(db, EarlierTable, f"{_TABLE} WHERE e.code = ?", (code,))


def earlier_tables(db: sqlite3.Connection, limit: int) -> list[EarlierTable]:
    """Tables from which something was taken, the newest first."""
    sql = f"{_TABLE} WHERE e.taken_at IS NOT NULL ORDER BY e.received_at DESC, e.code DESC LIMIT ?"
    return many(db, EarlierTable, sql, (limit,))


def content_of(db: sqlite3.Connection, table_id: str) -> bytes:
    """The table as it came."""
    return bytes(db.execute("SELECT content FROM earlier_table WHERE id = ?", (table_id,)).fetchone()[0])


def same_content(db: sqlite3.Connection, table_id: str) -> EarlierTable | None:
    """Another table with the same content from which something was taken."""
    sql = f"""{_TABLE} WHERE e.sha256 = (SELECT sha256 FROM earlier_table WHERE id = :id) AND e.id <> :id AND e.taken_at IS NOT NULL"""
    return one(db, EarlierTable, sql, {"id": table_id})


def forget_untaken(db: sqlite3.Connection, before: str) -> None:
    """Tables that were opened before a moment and never taken."""
    db.execute("DELETE FROM earlier_table WHERE taken_at IS NULL AND received_at < ?", (before,))


class Named(Row):
    """Something on the shelf."""

    id: str
    name: str


def named(db: sqlite3.Connection, table: str) -> list[Named]:
    """What a name may mean, in the order of the alphabet."""
    sql = f"{_NAMED[table]} ORDER BY name COLLATE NOCASE"
    return many(db, Named, sql)


# What names in tables may mean: things by their name, bottles by their code or lot.
_NAMED = {
    "material": "SELECT id, name FROM material WHERE retired_at IS NULL",
    "printer": "SELECT id, name FROM printer WHERE retired_at IS NULL",
    "probe": "SELECT id, name FROM probe WHERE retired_at IS NULL",
    "bottle": "SELECT id, code AS name FROM bottle",
}
_ALSO_NAMED = {"bottle": "SELECT lower(trim(lot)), min(id) FROM bottle WHERE lot <> '' GROUP BY 1 HAVING count(*) = 1"}


def ids_by_name(db: sqlite3.Connection, table: str) -> dict[str, str]:
    """Ids of what a name may mean, by name in small letters; a lot counts where one bottle alone has it."""
    also = {str(row[0]): str(row[1]) for row in db.execute(_ALSO_NAMED[table])} if table in _ALSO_NAMED else {}
    return also | {str(row[1]).strip().lower(): str(row[0]) for row in db.execute(_NAMED[table])}


class EarlierResult(Row):
    """A result of a test from before."""

    property: str
    value: float
    n: int
    sd: float | None
    measured_on: str | None
    table_code: str


def earlier_results(db: sqlite3.Connection, material_id: str) -> list[EarlierResult]:
    """Those of a material, in the order of their tables."""
    sql = """SELECT r.property, r.value, r.n, r.sd, r.measured_on, e.code AS table_code FROM earlier_result r
      JOIN earlier_table e ON e.id = r.earlier_table_id WHERE r.material_id = ? AND r.withdrawn_at IS NULL
      ORDER BY r.property, e.code, r.table_row"""
    return many(db, EarlierResult, sql, (material_id,))


def code_of_table(db: sqlite3.Connection, table_id: str) -> str:
    """Code of a table, by its id."""
    return str(db.execute("SELECT code FROM earlier_table WHERE id = ?", (table_id,)).fetchone()[0])


class EarlierPour(Row):
    """Resin poured out of a bottle before."""

    volume_ml: float
    poured_at: str
    printer: str | None
    note: str
    table_code: str


def earlier_pours(db: sqlite3.Connection, bottle_id: str) -> list[EarlierPour]:
    """Those of a bottle, the oldest first."""
    sql = """SELECT p.volume_ml, p.poured_at, r.name AS printer, p.note, e.code AS table_code FROM earlier_pour p
      JOIN earlier_table e ON e.id = p.earlier_table_id LEFT JOIN printer r ON r.id = p.printer_id
      WHERE p.bottle_id = ? AND p.withdrawn_at IS NULL ORDER BY p.poured_at, p.table_row"""
    return many(db, EarlierPour, sql, (bottle_id,))
