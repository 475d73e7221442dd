"""Queries behind the life of parameter sets: events, check coupons, and what records say by themselves."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, first, many, marks, one
from ..terms import Policy, Verdict


class LivingSet(Row):
    """The newest set of a pair at a layer height, with what its life depends on."""

    id: str
    code: str
    version: int
    material_id: str
    printer_id: str
    layer_height_um: float
    calibration_id: str
    arm_id: str
    exposure_s: float
    policy: Policy
    issued_at: str
    bottle_id: str | None
    lot: str | None
    best_before: str | None
    route_version_id: str | None
    temp_low_c: float | None
    temp_high_c: float | None
    tip_proven_mm: float | None
    lower_s: float | None
    upper_s: float | None
    latitude_pct: float | None
    exposure_step_s: float
    outside_reason: str | None
    method: str | None
    """Of its window."""


class SetAtHand(Row):
    """The newest set of a pair at a layer height, by name: enough to find its card."""

    code: str
    material: str
    printer: str
    layer_height_um: float
    exposure_s: float
    exposure_step_s: float


class EventRow(Row):
    """An event, and what it does to sets."""

    id: str
    code: str
    kind: str
    printer_id: str | None
    printer: str | None
    material_id: str | None
    material: str | None
    bottle_id: str | None
    bottle: str | None
    lot: str | None
    finish_route_id: str | None
    finish_route: str | None
    happened_at: str
    screen_hours: float | None
    note: str
    initials: str
    recorded_at: str
    withdrawn_at: str | None
    withdrawn_reason: str | None


class CheckRow(Row):
    coupon_id: str
    code: str
    parameter_set_id: str
    printer_id: str
    set_code: str
    material: str
    at: str
    screen_hours: float | None
    off_pct: float | None
    verdict: Verdict | None
    passed: bool
    judged_by: str


class RuleRow(Row):
    key: str
    rule: dict[str, Any]


_SET = """
SELECT s.id, s.code, s.version, s.material_id, s.printer_id, s.layer_height_um, s.calibration_id, s.arm_id,
  s.exposure_s, s.policy, s.issued_at, s.bottle_id, b.lot, b.best_before,
  s.finish_route_version_id AS route_version_id, s.temp_low_c, s.temp_high_c, s.tip_proven_mm,
  w.lower_s, w.upper_s, w.latitude_pct, p.exposure_step_s, s.outside_reason, w.method
FROM newest_set n CROSS JOIN parameter_set s ON s.id = n.set_id
JOIN set_window w ON w.set_id = s.id JOIN printer p ON p.id = s.printer_id LEFT JOIN bottle b ON b.id = s.bottle_id"""
_EVENT = """
SELECT e.id, e.code, e.kind, e.printer_id, p.name AS printer, coalesce(e.material_id, b.material_id) AS material_id,
  m.name AS material, e.bottle_id, b.code AS bottle, b.lot, e.finish_route_id, f.name AS finish_route, e.happened_at,
  e.screen_hours, e.note, t.initials, e.recorded_at, e.withdrawn_at, e.withdrawn_reason
FROM event e LEFT JOIN printer p ON p.id = e.printer_id LEFT JOIN bottle b ON b.id = e.bottle_id
LEFT JOIN material m ON m.id = coalesce(e.material_id, b.material_id)
LEFT JOIN finish_route f ON f.id = e.finish_route_id JOIN technician t ON t.id = e.technician_id"""


def sets_at_hand(db: sqlite3.Connection, most: int) -> list[SetAtHand]:
    """Newest sets at every layer height, by material and printer."""
    sql = """SELECT s.code, m.name AS material, p.name AS printer, s.layer_height_um, s.exposure_s, p.exposure_step_s
      FROM newest_set n CROSS JOIN parameter_set s ON s.id = n.set_id
      CROSS JOIN material m ON m.id = s.material_id CROSS JOIN printer p ON p.id = s.printer_id
      WHERE m.retired_at IS NULL AND p.retired_at IS NULL
      ORDER BY m.name, p.name, s.layer_height_um LIMIT ?"""
    return many(db, SetAtHand, sql, (most,))


def sets_at(db: sqlite3.Connection, layer_height_um: float, material_ids: list[str]) -> list[LivingSet]:
    """Newest sets of some materials at one layer height."""
    sql = f"{_SET} WHERE n.layer_height_um = ? AND n.material_id IN ({marks(material_ids)})"
    return many(db, LivingSet, sql, [layer_height_um, *material_ids])


def sets_of_material(db: sqlite3.Connection, material_id: str) -> list[LivingSet]:
    return many(db, LivingSet, f"{_SET} WHERE n.material_id = ? ORDER BY s.layer_height_um", (material_id,))


def sets_of_printer(db: sqlite3.Connection, printer_id: str) -> list[LivingSet]:
    return many(db, LivingSet, f"{_SET} WHERE n.printer_id = ? ORDER BY s.issued_at DESC", (printer_id,))


def living_set(db: sqlite3.Connection, id_or_code: str) -> LivingSet | None:
    sql = f"{_SET} WHERE n.set_id = (SELECT id FROM parameter_set WHERE id = ? OR code = ?)"
    return one(db, LivingSet, sql, (id_or_code, id_or_code.upper()))


def by_ids(db: sqlite3.Connection, set_ids: list[str]) -> dict[str, LivingSet]:
    """Those of these sets that are the newest of their pair."""
    rows = many(db, LivingSet, f"{_SET} WHERE n.set_id IN ({marks(set_ids)})", set_ids)
    return {row.id: row for row in rows}


def all_sets(db: sqlite3.Connection, limit: int) -> list[LivingSet]:
    return many(db, LivingSet, f"{_SET} ORDER BY s.issued_at DESC LIMIT ?", (limit,))


def events(db: sqlite3.Connection, printer_ids: list[str], material_ids: list[str], since: str) -> list[EventRow]:
    """Standing events that concern some printers, or some materials by themselves or by their bottles."""
    sql = f"""{_EVENT} WHERE e.withdrawn_at IS NULL AND e.happened_at >= ? AND (e.printer_id IN ({marks(printer_ids)})
  OR (e.printer_id IS NULL AND (e.material_id IN ({marks(material_ids)}) OR b.material_id IN ({marks(material_ids)}))))
ORDER BY e.happened_at DESC"""
    return many(db, EventRow, sql, [since, *printer_ids, *material_ids, *material_ids])


def events_of_printer(db: sqlite3.Connection, printer_id: str, limit: int) -> list[EventRow]:
    """Newest first, withdrawn ones included."""
    return many(
        db, EventRow, f"{_EVENT} WHERE e.printer_id = ? ORDER BY e.happened_at DESC LIMIT ?", (printer_id, limit)
    )


def events_of_material(db: sqlite3.Connection, material_id: str, limit: int) -> list[EventRow]:
    sql = f"{_EVENT} WHERE coalesce(e.material_id, b.material_id) = ? ORDER BY e.happened_at DESC LIMIT ?"
    return many(db, EventRow, sql, (material_id, limit))


def event(db: sqlite3.Connection, event_id: str) -> EventRow | None:
    return one(db, EventRow, f"{_EVENT} WHERE e.id = ?", (event_id,))


def newest_hours(db: sqlite3.Connection, printer_id: str, before: str) -> tuple[str, float] | None:
    """Kind and screen hours of the last standing event of a printer that noted its hours."""
    row = db.execute(
        """SELECT kind, screen_hours FROM event WHERE printer_id = ? AND screen_hours IS NOT NULL
           AND withdrawn_at IS NULL AND happened_at <= ? ORDER BY happened_at DESC, rowid DESC LIMIT 1""",
        (printer_id, before),
    ).fetchone()
    return (str(row[0]), float(row[1])) if row else None


def own_rules(db: sqlite3.Connection) -> list[RuleRow]:
    return many(db, RuleRow, "SELECT key, rule FROM validity_rule ORDER BY key")


_CHECK = """
SELECT r.coupon_id, k.code, r.parameter_set_id, r.printer_id, s.code AS set_code, m.name AS material, r.at,
  r.screen_hours, r.off_pct, r.verdict, r.passed, r.judged_by
FROM check_result r JOIN coupon k ON k.id = r.coupon_id JOIN parameter_set s ON s.id = r.parameter_set_id
JOIN material m ON m.id = s.material_id"""


def checks_of_sets(db: sqlite3.Connection, set_ids: list[str]) -> list[CheckRow]:
    return many(db, CheckRow, f"{_CHECK} WHERE r.parameter_set_id IN ({marks(set_ids)}) ORDER BY r.at", set_ids)


def checks_of_printer(db: sqlite3.Connection, printer_id: str) -> list[CheckRow]:
    return many(db, CheckRow, f"{_CHECK} WHERE r.printer_id = ? ORDER BY r.at", (printer_id,))


def checks_of_printers(db: sqlite3.Connection, printer_ids: list[str]) -> list[CheckRow]:
    return many(db, CheckRow, f"{_CHECK} WHERE r.printer_id IN ({marks(printer_ids)}) ORDER BY r.at", printer_ids)


def newer_routes(db: sqlite3.Connection, version_ids: list[str]) -> dict[str, str]:
    """When the route of a version was changed after it, by version id."""
    sql = f"""
SELECT v.id, min(n.created_at) FROM finish_route_version v
JOIN finish_route_version n ON n.finish_route_id = v.finish_route_id AND n.version > v.version
WHERE v.id IN ({marks(version_ids)}) GROUP BY v.id"""
    return {str(row[0]): str(row[1]) for row in db.execute(sql, version_ids)}


def hours_at(db: sqlite3.Connection, arm_ids: list[str]) -> dict[str, float]:
    """Screen hours when an arm's coupons were printed, by arm."""
    sql = f"""SELECT arm_id, max(screen_hours) FROM print WHERE arm_id IN ({marks(arm_ids)}) AND screen_hours IS NOT NULL
  AND status = 'printed' GROUP BY arm_id"""
    return {str(row[0]): float(row[1]) for row in db.execute(sql, arm_ids)}


class UseOfSet(Row):
    """Prints logged with a set since it was issued or last renewed: litres, and the last one outside the set's temperature band."""

    set_id: str
    litres: float
    outside_at: str | None
    outside_c: float | None


_SINCE = "p.parameter_set_id = h.id AND p.status = 'printed' AND p.printed_at > h.since"


def uses(db: sqlite3.Connection, set_ids: list[str]) -> list[UseOfSet]:
    """One row per set that was printed with."""
    sql = f"""
WITH held AS MATERIALIZED (
  SELECT s.id, s.temp_low_c, s.temp_high_c, coalesce(
    (SELECT max(r.at) FROM check_result r WHERE r.parameter_set_id = s.id AND r.passed = 1), '') AS since
  FROM parameter_set s WHERE s.id IN ({marks(set_ids)}))
SELECT h.id AS set_id, (SELECT sum(p.volume_ml) / 1000 FROM print p WHERE {_SINCE}) AS litres, o.printed_at AS outside_at,
  o.temp_c AS outside_c
FROM held h LEFT JOIN print o ON o.rowid = (SELECT p.rowid FROM print p WHERE {_SINCE}
  AND (p.temp_c < h.temp_low_c OR p.temp_c > h.temp_high_c) ORDER BY p.printed_at DESC LIMIT 1)
WHERE litres IS NOT NULL"""
    return many(db, UseOfSet, sql, set_ids)


def read_windows_again(db: sqlite3.Connection) -> None:
    """The windows of all issued sets, read off their results once more."""
    db.execute("DELETE FROM set_window")
    db.execute("""INSERT INTO set_window SELECT id, CAST(result ->> '$.window.lower_s' AS REAL),
      CAST(result ->> '$.window.upper_s' AS REAL), CAST(result ->> '$.window.latitude_pct' AS REAL), CAST(result ->> '$.method' AS TEXT)
      FROM parameter_set""")


def find_newest_again(db: sqlite3.Connection) -> None:
    """The newest set of each pair, found among all that were issued once more."""
    db.execute("DELETE FROM newest_set")
    db.execute("""INSERT INTO newest_set SELECT layer_height_um, material_id, printer_id, id, max(version) FROM parameter_set
      GROUP BY 1, 2, 3""")


def is_on_record(db: sqlite3.Connection, kind: str) -> bool:
    """Whether any event of a kind was ever recorded."""
    return first(db, "SELECT 1 FROM event WHERE kind = ?", (kind,)) is not None
