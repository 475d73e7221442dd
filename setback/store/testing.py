"""Tests, their groups and specimens, and what was read off each."""

from __future__ import annotations

import sqlite3
from typing import Any

from pydantic import Field

from .rows import Row, first, many, marks, one
from .terms import MaterialKind, PrintStatus, TempPlace


class TestRow(Row):
    id: str
    code: str
    method: str
    brief_version_id: str | None
    setup: dict[str, Any]
    wanted: dict[str, Any]
    age_h: float | None
    note: str
    concerns: list[dict[str, Any]] | None
    concerns_reason: str | None
    initials: str
    planned_at: str
    closed_at: str | None
    closed_reason: str | None


class GroupRow(Row):
    """A group of alike specimens."""

    id: str
    test_id: str
    number: int
    material_id: str
    material: str
    material_kind: MaterialKind
    parameter_set_id: str | None
    set_code: str | None
    set_exposure_s: float | None
    layer_height_um: float | None
    printer_id: str | None
    printer: str | None
    route_id: str | None
    route: str | None
    route_version: int | None
    route_cure_min: float | None
    exposure_s: float | None
    cure_min: float | None
    condition: str
    orientation: str
    supports: str
    is_reference: bool
    price_per_l: float | None


class GroupPrint(Row):
    """One of the prints that a group's specimens come out of."""

    id: str
    group_id: str
    number: int
    code: str
    status: PrintStatus
    printed_at: str | None
    temp_c: float | None
    temp_place: TempPlace | None
    cured_at: str | None = Field(description="Washed and cured; the age of its specimens counts from then")


class SpecimenRow(Row):
    """A specimen, and the print it comes out of."""

    id: str
    code: str
    group_id: str
    test_id: str
    number: int
    turn: int
    print: int | None = Field(description="Which of its group's prints; null for what was bought in")
    place: str
    cured_at: str | None = Field(description="Its age counts from then")
    gone_at: str | None
    gone_reason: str | None


class SpecimenReading(Row):
    id: str
    specimen_id: str
    at_value: float
    read: dict[str, Any]
    note: str
    initials: str
    read_at: str
    withdrawn: bool
    supersedes_id: str | None
    reason: str | None
    superseded: bool


class ListedTest(Row):
    """A test in the list."""

    id: str
    code: str
    method: str
    brief_version_id: str | None
    planned_at: str
    closed_at: str | None
    materials: str
    specimens: int
    read: int


class Reference(Row):
    """A bought-in reference."""

    id: str
    code: str
    name: str
    what: str
    price_per_l: float | None


_TEST = """
SELECT x.id, x.code, x.method, x.brief_version_id, x.setup, x.wanted, x.age_h, x.note, x.concerns, x.concerns_reason,
  t.initials, x.planned_at, x.closed_at, x.closed_reason
FROM test x JOIN technician t ON t.id = x.technician_id"""

_GROUP = """
SELECT g.id, g.test_id, g.number, g.material_id, m.name AS material, m.kind AS material_kind, g.parameter_set_id,
  s.code AS set_code, s.exposure_s AS set_exposure_s, s.layer_height_um, g.printer_id, p.name AS printer,
  g.finish_route_version_id AS route_id, f.name AS route, v.version AS route_version, v.cure_min AS route_cure_min,
  g.exposure_s, g.cure_min, g.condition, g.orientation, g.supports, g.is_reference,
  coalesce(r.price_per_l, b.price_per_l) AS price_per_l
FROM test_group g JOIN material m ON m.id = g.material_id LEFT JOIN parameter_set s ON s.id = g.parameter_set_id
LEFT JOIN printer p ON p.id = g.printer_id LEFT JOIN finish_route_version v ON v.id = g.finish_route_version_id
LEFT JOIN finish_route f ON f.id = v.finish_route_id
LEFT JOIN resin r ON r.material_id = m.id LEFT JOIN reference_material b ON b.material_id = m.id"""

_SPECIMEN = """
SELECT s.id, s.code, s.group_id, g.test_id, s.number, s.turn, p.number AS print, s.place,
  coalesce(p.cured_at, g.cured_at) AS cured_at, s.gone_at, s.gone_reason
FROM specimen s JOIN test_group g ON g.id = s.group_id LEFT JOIN plate l ON l.id = s.plate_id
LEFT JOIN test_print p ON p.print_id = l.print_id"""

_PRINT = """
SELECT j.id, p.group_id, p.number, j.code, j.status, j.printed_at, j.temp_c, j.temp_place, p.cured_at
FROM test_print p JOIN print j ON j.id = p.print_id"""

_READING = """
SELECT r.id, r.specimen_id, r.at_value, r.read, r.note, t.initials, r.read_at, r.withdrawn, r.supersedes_id, r.reason,
  EXISTS (SELECT 1 FROM specimen_reading n WHERE n.supersedes_id = r.id) AS superseded
FROM specimen_reading r JOIN technician t ON t.id = r.technician_id"""


def tests(db: sqlite3.Connection, before: str, limit: int) -> list[ListedTest]:
    """Newest first, with how far each has come."""
    sql = """
    SELECT x.id, x.code, x.method, x.brief_version_id, x.planned_at, x.closed_at,
      (SELECT coalesce(group_concat(name, ', '), '') FROM (SELECT DISTINCT m.name FROM test_group g
        JOIN material m ON m.id = g.material_id WHERE g.test_id = x.id ORDER BY g.number)) AS materials,
      (SELECT count(*) FROM specimen s JOIN test_group g ON g.id = s.group_id
        WHERE g.test_id = x.id AND s.gone_at IS NULL) AS specimens,
      (SELECT count(DISTINCT s.id) FROM specimen s JOIN test_group g ON g.id = s.group_id
        JOIN specimen_reading r ON r.specimen_id = s.id WHERE g.test_id = x.id AND s.gone_at IS NULL AND r.withdrawn = 0
        AND NOT EXISTS (SELECT 1 FROM specimen_reading n WHERE n.supersedes_id = r.id)) AS read
    FROM test x WHERE ? = '' OR x.planned_at < ? ORDER BY x.planned_at DESC, x.id LIMIT ?"""
    return many(db, ListedTest, sql, (before, before, limit))


def test(db: sqlite3.Connection, id_or_code: str) -> TestRow | None:
    return one(db, TestRow, f"{_TEST} WHERE x.id = ? OR x.code = ?", (id_or_code, id_or_code))


def tests_of_method(db: sqlite3.Connection, method: str, limit: int) -> list[TestRow]:
    return many(db, TestRow, f"{_TEST} WHERE x.method = ? ORDER BY x.planned_at DESC LIMIT ?", (method, limit))


def tests_of_materials(db: sqlite3.Connection, material_ids: list[str], limit: int) -> list[TestRow]:
    sql = f"""{_TEST} WHERE x.id IN (SELECT test_id FROM test_group WHERE material_id IN ({marks(material_ids)}))
      ORDER BY x.planned_at DESC LIMIT ?"""
    return many(db, TestRow, sql, [*material_ids, limit])


def newest_tests(db: sqlite3.Connection, limit: int) -> list[TestRow]:
    return many(db, TestRow, f"{_TEST} ORDER BY x.planned_at DESC, x.id LIMIT ?", (limit,))


def groups(db: sqlite3.Connection, test_ids: list[str]) -> list[GroupRow]:
    sql = f"{_GROUP} WHERE g.test_id IN ({marks(test_ids)}) ORDER BY g.test_id, g.number"
    return many(db, GroupRow, sql, test_ids)


def group(db: sqlite3.Connection, group_id: str) -> GroupRow | None:
    return one(db, GroupRow, f"{_GROUP} WHERE g.id = ?", (group_id,))


def prints(db: sqlite3.Connection, test_ids: list[str]) -> list[GroupPrint]:
    """Prints of tests, by group and number."""
    sql = f"""{_PRINT} JOIN test_group g ON g.id = p.group_id WHERE g.test_id IN ({marks(test_ids)})
      ORDER BY p.group_id, p.number"""
    return many(db, GroupPrint, sql, test_ids)


def group_print(db: sqlite3.Connection, print_id: str) -> GroupPrint | None:
    return one(db, GroupPrint, f"{_PRINT} WHERE j.id = ?", (print_id,))


def note_cure(db: sqlite3.Connection, print_id: str, at: str | None) -> None:
    """When the specimens of a print were cured; None takes it back."""
    db.execute("UPDATE test_print SET cured_at = ? WHERE print_id = ?", (at, print_id))


def specimens(db: sqlite3.Connection, test_ids: list[str]) -> list[SpecimenRow]:
    """In the order they are broken."""
    return many(db, SpecimenRow, f"{_SPECIMEN} WHERE g.test_id IN ({marks(test_ids)}) ORDER BY s.turn", test_ids)


def specimen(db: sqlite3.Connection, id_or_code: str) -> SpecimenRow | None:
    return one(db, SpecimenRow, f"{_SPECIMEN} WHERE s.id = ? OR s.code = ?", (id_or_code, id_or_code))


def readings(db: sqlite3.Connection, test_ids: list[str]) -> list[SpecimenReading]:
    """All readings, superseded and withdrawn ones too, in the order they were made."""
    sql = f"""{_READING} WHERE r.specimen_id IN (SELECT s.id FROM specimen s JOIN test_group g ON g.id = s.group_id
      WHERE g.test_id IN ({marks(test_ids)})) ORDER BY r.read_at, r.rowid"""
    return many(db, SpecimenReading, sql, test_ids)


def reading(db: sqlite3.Connection, reading_id: str) -> SpecimenReading | None:
    return one(db, SpecimenReading, f"{_READING} WHERE r.id = ?", (reading_id,))


class AtTheBench(Row):
    """An open test with specimens that wait."""

    code: str
    method: str
    materials: str
    ready: int
    to_print: int


def at_the_bench(db: sqlite3.Connection, limit: int) -> list[AtTheBench]:
    """Open tests, newest first, with how many specimens can be read now and how many plates are to be printed."""
    sql = """
    SELECT x.code, x.method, x.materials, x.ready, x.to_print FROM (
      SELECT x.code, x.method, x.planned_at,
        (SELECT group_concat(name, ', ') FROM (SELECT DISTINCT m.name FROM test_group g JOIN material m ON m.id = g.material_id
          WHERE g.test_id = x.id ORDER BY g.number)) AS materials,
        (SELECT count(*) FROM specimen s JOIN test_group g ON g.id = s.group_id LEFT JOIN plate l ON l.id = s.plate_id
          LEFT JOIN test_print p ON p.print_id = l.print_id WHERE g.test_id = x.id AND s.gone_at IS NULL
          AND (p.id IS NULL OR p.cured_at IS NOT NULL) AND NOT EXISTS (SELECT 1 FROM specimen_reading r
            WHERE r.specimen_id = s.id AND r.withdrawn = 0
            AND NOT EXISTS (SELECT 1 FROM specimen_reading n WHERE n.supersedes_id = r.id))) AS ready,
        (SELECT count(*) FROM test_group g JOIN test_print p ON p.group_id = g.id JOIN print j ON j.id = p.print_id
          WHERE g.test_id = x.id AND j.status = 'planned') AS to_print
      FROM test x WHERE x.closed_at IS NULL ORDER BY x.planned_at DESC LIMIT ?) x
    WHERE x.ready > 0 OR x.to_print > 0 ORDER BY x.planned_at DESC"""
    return many(db, AtTheBench, sql, (limit,))


def references(db: sqlite3.Connection, limit: int) -> list[Reference]:
    sql = """SELECT m.id, m.code, m.name, b.what, b.price_per_l FROM material m
      JOIN reference_material b ON b.material_id = m.id WHERE m.retired_at IS NULL ORDER BY m.name COLLATE BY_NAME LIMIT ?"""
    return many(db, Reference, sql, (limit,))


def move_prints(db: sqlite3.Connection, test_id: str, before: str, after: str) -> None:
    """Prints of a test that are in one state go to another."""
    sql = """UPDATE print SET status = ? WHERE status = ? AND id IN
      (SELECT p.print_id FROM test_print p JOIN test_group g ON g.id = p.group_id WHERE g.test_id = ?)"""
    db.execute(sql, (after, before, test_id))


def read_off_print(db: sqlite3.Connection, print_id: str) -> bool:
    """Whether a reading of any specimen of a print counts."""
    sql = """SELECT 1 FROM plate l JOIN specimen s ON s.plate_id = l.id JOIN specimen_reading r ON r.specimen_id = s.id
      WHERE l.print_id = ? AND r.withdrawn = 0
        AND NOT EXISTS (SELECT 1 FROM specimen_reading n WHERE n.supersedes_id = r.id) LIMIT 1"""
    return first(db, sql, (print_id,)) is not None
