"""Heaters, what chambers answered to them, the flow of resins, warm starts, and what prints tell of temperature."""

from __future__ import annotations

import sqlite3
from typing import Any, Literal

from pydantic import Field

from ..rows import Row, first, many, one
from ..terms import FlowUnit


class Heater(Row):
    """A heater on the shelf."""

    id: str
    code: str
    name: str
    watts: float
    cut_out: bool
    thermostat: bool
    version: int
    retired_at: str | None


class FitRow(Row):
    """What a chamber is, with the heater and the probe it was found by."""

    id: str
    code: str
    printer_id: str
    printer: str
    heater_id: str
    heater: str
    probe: int
    from_s: int
    to_s: int
    ambient_c: float
    loss_w_per_k: float
    heat_capacity_j_per_k: float
    result: dict[str, Any]
    initials: str | None
    at: str


class FlowReading(Row):
    """One reading of flow."""

    id: str
    material_id: str
    temp_c: float
    value: float
    unit: FlowUnit
    initials: str | None
    at: str


class WarmStartRow(Row):
    id: str
    code: str
    asked: dict[str, Any]
    plan: dict[str, Any]
    initials: str | None
    at: str
    begun_at: str | None


class PrintsAtRow(Row):
    """Prints of parts of one material that began at one whole degree."""

    temp_c: float
    ok: int
    made: int


class ExposureFound(Row):
    """A set at the middle of its band, or a check coupon at its own temperature with how far its dose seemed off."""

    printer: str
    layer_height_um: float
    kind: Literal["set", "check"]
    code: str
    temp_c: float
    exposure_s: float
    off_pct: float


class PrintedMaterial(Row):
    """A material that was printed at known temperatures."""

    material_id: str
    name: str
    prints: int


class KnownMaterial(Row):
    """A material with what is known of its climate."""

    id: str
    name: str
    flow_readings: int
    temperatures: int = Field(description="Different bands of its issued sets")


_HEATER = "SELECT id, code, name, watts, cut_out, thermostat, version, retired_at FROM heater"


def materials(db: sqlite3.Connection) -> list[KnownMaterial]:
    """Materials that can be printed, with how much is known of their climate."""
    sql = """SELECT m.id, m.name, coalesce(f.readings, 0) AS flow_readings, coalesce(s.temperatures, 0) AS temperatures
      FROM material m
      LEFT JOIN (SELECT material_id, count(*) AS readings FROM flow_reading WHERE withdrawn_at IS NULL
        GROUP BY material_id) f ON f.material_id = m.id
      LEFT JOIN (SELECT material_id, count(DISTINCT temp_low_c + temp_high_c) AS temperatures FROM parameter_set
        GROUP BY material_id) s ON s.material_id = m.id
      WHERE m.retired_at IS NULL AND m.kind IN ('resin', 'blend') ORDER BY m.name LIMIT 500"""
    return many(db, KnownMaterial, sql)


def heaters(db: sqlite3.Connection) -> list[Heater]:
    return many(db, Heater, f"{_HEATER} WHERE retired_at IS NULL ORDER BY name LIMIT 200")


def heater(db: sqlite3.Connection, heater_id: str) -> Heater | None:
    return one(db, Heater, f"{_HEATER} WHERE id = ?", (heater_id,))


_FIT = """SELECT f.*, r.name AS printer, h.name AS heater, t.initials FROM chamber_fit f
  JOIN printer r ON r.id = f.printer_id JOIN heater h ON h.id = f.heater_id
  LEFT JOIN technician t ON t.id = f.technician_id"""
_FIT_FIELDS = """SELECT id, code, printer_id, printer, heater_id, heater, probe, from_s, to_s, ambient_c, loss_w_per_k,
  heat_capacity_j_per_k, result, initials, at FROM"""


def fits(db: sqlite3.Connection) -> list[FitRow]:
    """The newest of each printer that is not withdrawn."""
    sql = f"""{_FIT_FIELDS} ({_FIT} WHERE f.withdrawn_at IS NULL AND f.at = (SELECT max(at) FROM chamber_fit n
      WHERE n.printer_id = f.printer_id AND n.withdrawn_at IS NULL)) GROUP BY printer_id ORDER BY printer"""
    return many(db, FitRow, sql)


def fit(db: sqlite3.Connection, fit_id: str) -> FitRow | None:
    return one(db, FitRow, f"{_FIT_FIELDS} ({_FIT} WHERE f.id = ?)", (fit_id,))


def flows(db: sqlite3.Connection, material_id: str) -> list[FlowReading]:
    sql = """SELECT f.id, f.material_id, f.temp_c, f.value, f.unit, t.initials, f.at FROM flow_reading f
      LEFT JOIN technician t ON t.id = f.technician_id WHERE f.material_id = ? AND f.withdrawn_at IS NULL
      ORDER BY f.temp_c, f.at LIMIT 500"""
    return many(db, FlowReading, sql, (material_id,))


_WARM = """SELECT w.id, w.code, w.asked, w.plan, t.initials, w.at, w.begun_at FROM warm_start w
  LEFT JOIN technician t ON t.id = w.technician_id"""


def warm_start(db: sqlite3.Connection, id_or_code: str) -> WarmStartRow | None:
    return one(db, WarmStartRow, f"{_WARM} WHERE w.id = ? OR w.code = ?", (id_or_code, id_or_code))


def warm_starts(db: sqlite3.Connection, limit: int) -> list[WarmStartRow]:
    """Newest first."""
    return many(db, WarmStartRow, f"{_WARM} ORDER BY w.at DESC, w.rowid DESC LIMIT ?", (limit,))


def begun_since(db: sqlite3.Connection, since: str) -> list[WarmStartRow]:
    """Those that may still warm a chamber."""
    return many(db, WarmStartRow, f"{_WARM} WHERE w.begun_at >= ? ORDER BY w.begun_at LIMIT 50", (since,))


# On trial settings another exposure may have failed, not the temperature: those prints are weighed in what prints tell.
_OF_MATERIAL = """FROM print p WHERE p.material_id = ? AND p.status = 'printed' AND p.outcome IS NOT NULL
  AND p.temp_c IS NOT NULL AND p.parameter_set_id IS NOT NULL"""


def prints_by_temperature(db: sqlite3.Connection, material_id: str) -> list[PrintsAtRow]:
    """Prints with a set by the resin's temperature at their start, in whole degrees."""
    sql = f"""SELECT round(p.temp_c) AS temp_c, sum(p.outcome = 'whole') AS ok, count(*) AS made
      {_OF_MATERIAL} AND p.temp_place = 'resin' GROUP BY round(p.temp_c) ORDER BY temp_c"""
    return many(db, PrintsAtRow, sql, (material_id,))


def prints_elsewhere(db: sqlite3.Connection, material_id: str) -> int:
    """Prints with a set whose temperature was not that of the resin."""
    return int(db.execute(f"SELECT count(*) {_OF_MATERIAL} AND p.temp_place <> 'resin'", (material_id,)).fetchone()[0])


def printed_materials(db: sqlite3.Connection) -> list[PrintedMaterial]:
    """Materials with prints of their sets, the most printed first."""
    sql = """SELECT m.id AS material_id, m.name, p.prints FROM (SELECT material_id, count(*) AS prints FROM print
        WHERE status = 'printed' AND outcome IS NOT NULL AND material_id IS NOT NULL AND parameter_set_id IS NOT NULL GROUP BY material_id) p
      JOIN material m ON m.id = p.material_id ORDER BY p.prints DESC, m.name LIMIT 200"""
    return many(db, PrintedMaterial, sql)


def exposures_found(db: sqlite3.Connection, material_id: str) -> list[ExposureFound]:
    """What is known of one printer, layer height and policy of a material: of all groups, the one known at the most temperatures.

    Every version ever issued counts: the same pair at several temperatures tells the effect. Two policies choose two
    exposures at one temperature: mixed, their choice would pass for an effect of temperature.
    """
    sql = """
WITH found AS MATERIALIZED (
  SELECT printer_id, layer_height_um, policy, 'set' AS kind, code, (temp_low_c + temp_high_c) / 2 AS temp_c, exposure_s,
    0.0 AS off_pct, issued_at AS at
  FROM parameter_set WHERE material_id = :material AND temp_low_c IS NOT NULL AND temp_high_c IS NOT NULL
  UNION ALL SELECT s.printer_id, s.layer_height_um, s.policy, 'check', k.code, p.temp_c, s.exposure_s, c.off_pct, c.at
  FROM parameter_set s JOIN check_result c ON c.parameter_set_id = s.id
    JOIN coupon k ON k.id = c.coupon_id JOIN plate l ON l.id = k.plate_id JOIN print p ON p.id = l.print_id
  WHERE s.material_id = :material AND c.off_pct IS NOT NULL AND p.temp_c IS NOT NULL),
best AS MATERIALIZED (
  SELECT printer_id, layer_height_um, policy FROM found GROUP BY printer_id, layer_height_um, policy HAVING sum(kind = 'set') > 0
  ORDER BY count(DISTINCT temp_c) DESC, count(*) DESC, min(at), printer_id, layer_height_um, policy LIMIT 1)
SELECT r.name AS printer, f.layer_height_um, f.kind, f.code, f.temp_c, f.exposure_s, f.off_pct
FROM found f JOIN best USING (printer_id, layer_height_um, policy) JOIN printer r ON r.id = f.printer_id
ORDER BY f.kind DESC, f.at, f.code LIMIT 500"""
    return many(db, ExposureFound, sql, {"material": material_id})


def flow_material(db: sqlite3.Connection, reading_id: str) -> str | None:
    """The material that a reading of flow is of."""
    material_id = first(db, "SELECT material_id FROM flow_reading WHERE id = ?", (reading_id,))
    return None if material_id is None else str(material_id)
