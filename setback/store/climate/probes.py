"""Probes, their samples, and the samples summed up in steps so that a year is drawn as fast as a day."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from typing import Any

from ..rows import Row, many, marks, one
from ..terms import Outcome, TempPlace

# Seconds. Each width holds a whole number of the one before; a screen shows at most some 1,500 steps.
WIDTHS_S = (1800, 7200, 28_800, 86_400, 345_600)

Sample = tuple[int, float, float | None]
# Second, how many samples, lowest, mean and highest °C.
StepRow = tuple[int, int, float, float, float]


def add_samples(db: sqlite3.Connection, probe: int, samples: Iterable[Sample]) -> int:
    """Keep samples (second, °C, % humidity) but those that are there already, of the same second and values. How many were new."""
    before = db.total_changes
    db.executemany(
        f"""INSERT INTO probe_sample (probe, at_s, number, temp_c, humidity_pct)
            SELECT :probe, :at_s, {_NEXT_NUMBER}, :temp_c, :humidity_pct WHERE NOT EXISTS (SELECT 1 FROM probe_sample
            WHERE probe = :probe AND at_s = :at_s AND temp_c = :temp_c AND humidity_pct IS :humidity_pct)""",
        ({"probe": probe, "at_s": at_s, "temp_c": temp_c, "humidity_pct": pct} for at_s, temp_c, pct in samples),
    )
    return db.total_changes - before


_NEXT_NUMBER = "1 + coalesce((SELECT max(number) FROM probe_sample WHERE probe = :probe AND at_s = :at_s), 0)"


def add_sample(db: sqlite3.Connection, probe: int, at_s: int, temp_c: float, humidity_pct: float | None) -> None:
    """Keep one that was taken now, also where the second has one already."""
    db.execute(
        f"""INSERT INTO probe_sample (probe, at_s, number, temp_c, humidity_pct)
            VALUES (:probe, :at_s, {_NEXT_NUMBER}, :temp_c, :humidity_pct)""",
        {"probe": probe, "at_s": at_s, "temp_c": temp_c, "humidity_pct": humidity_pct},
    )


def remove_samples(db: sqlite3.Connection, probe: int) -> None:
    """Take out all samples of a probe and what they were summed up to."""
    db.execute("DELETE FROM probe_sample WHERE probe = ?", (probe,))
    db.execute("DELETE FROM probe_step WHERE probe = ?", (probe,))


def sum_up(db: sqlite3.Connection, probe: int, first_s: int, last_s: int) -> None:
    """Make the steps again that hold any sample from ``first_s`` to ``last_s``."""
    narrower: int | None = None
    for width in WIDTHS_S:
        low, high = first_s - first_s % width, last_s - last_s % width + width
        span = {"probe": probe, "width": width, "low": low, "high": high, "narrower": narrower}
        db.execute(
            "DELETE FROM probe_step WHERE probe = :probe AND width_s = :width AND at_s >= :low AND at_s < :high", span
        )
        source = (
            """SELECT at_s, 1 AS samples, temp_c AS low_c, temp_c AS mean_c, temp_c AS high_c FROM probe_sample
               WHERE probe = :probe AND at_s >= :low AND at_s < :high"""
            if narrower is None
            else """SELECT at_s, samples, low_c, mean_c, high_c FROM probe_step
               WHERE probe = :probe AND width_s = :narrower AND at_s >= :low AND at_s < :high"""
        )
        db.execute(
            f"""INSERT INTO probe_step (probe, width_s, at_s, samples, low_c, mean_c, high_c)
                SELECT :probe, :width, at_s - at_s % :width AS step, sum(samples), min(low_c),
                       sum(mean_c * samples) / sum(samples), max(high_c)
                FROM ({source}) GROUP BY step""",
            span,
        )
        narrower = width


class ProbeRow(Row):
    """A probe with its newest sample."""

    number: int
    id: str
    code: str
    name: str
    place: TempPlace
    printer_id: str | None
    printer: str | None
    driver: str
    note: str
    version: int
    created_at: str
    retired_at: str | None


class Latest(Row):
    """The newest sample of a probe."""

    probe: int
    at_s: int
    temp_c: float
    humidity_pct: float | None


class FileRow(Row):
    id: str
    name: str
    path: str
    bytes: int
    seen: dict[str, Any]
    at: str
    imported_at: str | None


class PrintMark(Row):
    """A print as it stands on the trace."""

    id: str
    code: str
    printer: str
    material: str | None
    at: str
    temp_c: float | None
    temp_place: TempPlace | None
    outcome: Outcome | None
    kind: str
    link: str


_PROBE = """SELECT p.number, p.id, p.code, p.name, p.place, p.printer_id, r.name AS printer, p.driver, p.note, p.version,
  p.created_at, p.retired_at FROM probe p LEFT JOIN printer r ON r.id = p.printer_id"""


def probes(db: sqlite3.Connection, retired: bool = False) -> list[ProbeRow]:
    """All probes: those in the room first, then by printer and name."""
    sql = f"""{_PROBE} WHERE (p.retired_at IS NOT NULL) = ?
      ORDER BY p.place <> 'room', r.name, p.place, p.name LIMIT 500"""
    return many(db, ProbeRow, sql, (retired,))


def probe(db: sqlite3.Connection, probe_id: str) -> ProbeRow | None:
    return one(db, ProbeRow, f"{_PROBE} WHERE p.id = ?", (probe_id,))


def latest(db: sqlite3.Connection, numbers: list[int]) -> dict[int, Latest]:
    """The newest sample of each probe that has any; one look into the index for each."""
    if not numbers:
        return {}
    sql = f"""SELECT s.probe, s.at_s, s.temp_c, s.humidity_pct FROM probe p JOIN probe_sample s ON s.probe = p.number
      AND (s.at_s, s.number) = (SELECT at_s, number FROM probe_sample WHERE probe = p.number
        ORDER BY at_s DESC, number DESC LIMIT 1) WHERE p.number IN ({marks(numbers)})"""
    return {row.probe: row for row in many(db, Latest, sql, numbers)}


def span(db: sqlite3.Connection, probe: int) -> tuple[int, int] | None:
    """First and last second there is a sample for."""
    first = db.execute("SELECT min(at_s) FROM probe_sample WHERE probe = ?", (probe,)).fetchone()[0]
    last = db.execute("SELECT max(at_s) FROM probe_sample WHERE probe = ?", (probe,)).fetchone()[0]
    return None if first is None else (int(first), int(last))


def steps(db: sqlite3.Connection, probe: int, width_s: int, from_s: int, to_s: int) -> list[StepRow]:
    """Summed-up steps of one width."""
    sql = """SELECT at_s, samples, low_c, mean_c, high_c FROM probe_step
      WHERE probe = ? AND width_s = ? AND at_s >= ? AND at_s < ? ORDER BY at_s"""
    return db.execute(sql, (probe, width_s, from_s, to_s)).fetchall()


def samples(db: sqlite3.Connection, probe: int, from_s: int, to_s: int) -> list[StepRow]:
    """Single samples, as steps that hold one each."""
    sql = "SELECT at_s, temp_c FROM probe_sample WHERE probe = ? AND at_s >= ? AND at_s < ? ORDER BY at_s"
    return [(at, 1, temp, temp, temp) for at, temp in db.execute(sql, (probe, from_s, to_s))]


def near(db: sqlite3.Connection, probe: int, at_s: int, within_s: int) -> float | None:
    """The sample nearest to a moment, when one is near enough."""
    sql = """SELECT temp_c, abs(at_s - :at) AS off FROM (
        SELECT * FROM (SELECT at_s, temp_c FROM probe_sample WHERE probe = :probe AND at_s <= :at ORDER BY at_s DESC LIMIT 1)
        UNION ALL
        SELECT * FROM (SELECT at_s, temp_c FROM probe_sample WHERE probe = :probe AND at_s > :at ORDER BY at_s LIMIT 1)
      ) ORDER BY off LIMIT 1"""
    row = db.execute(sql, {"probe": probe, "at": at_s}).fetchone()
    return None if row is None or row[1] > within_s else float(row[0])


def marks_between(
    db: sqlite3.Connection, from_iso: str, to_iso: str, printer_id: str | None, limit: int
) -> list[PrintMark]:
    """Prints, coupons and tests in a stretch of time, newest first; of one printer when the probe is at one."""
    sql = """SELECT p.id, p.code, r.name AS printer, coalesce(m.name, n.name) AS material, p.printed_at AS at, p.temp_c,
        p.temp_place, p.outcome, CASE WHEN c.id IS NOT NULL THEN 'coupons' WHEN g.id IS NOT NULL THEN 'test' ELSE 'print' END AS kind,
        CASE WHEN c.id IS NOT NULL THEN '/calibrate/' || c.id WHEN g.id IS NOT NULL THEN '/test/tests/' || x.code ELSE '/log' END AS link
      FROM print p JOIN printer r ON r.id = p.printer_id LEFT JOIN arm a ON a.id = p.arm_id
      LEFT JOIN calibration c ON c.id = a.calibration_id LEFT JOIN material m ON m.id = c.material_id
      LEFT JOIN parameter_set s ON s.id = p.parameter_set_id LEFT JOIN material n ON n.id = s.material_id
      LEFT JOIN test_print o ON o.print_id = p.id LEFT JOIN test_group g ON g.id = o.group_id LEFT JOIN test x ON x.id = g.test_id
      WHERE p.printed_at >= ? AND p.printed_at < ? AND (? IS NULL OR p.printer_id = ?)
      ORDER BY p.printed_at DESC, p.id DESC LIMIT ?"""
    return many(db, PrintMark, sql, (from_iso, to_iso, printer_id, printer_id, limit))


_FILE = "SELECT id, name, path, bytes, seen, at, imported_at FROM probe_file"


def file(db: sqlite3.Connection, file_id: str) -> FileRow | None:
    return one(db, FileRow, f"{_FILE} WHERE id = ?", (file_id,))


def files_known(db: sqlite3.Connection) -> set[str]:
    """Names of files that wait to be imported."""
    return {
        str(row[0]).rsplit("/", 1)[-1] for row in db.execute("SELECT path FROM probe_file WHERE imported_at IS NULL")
    }


def old_files(db: sqlite3.Connection, before: str) -> list[FileRow]:
    """Files that were never imported and are older than a time."""
    return many(db, FileRow, f"{_FILE} WHERE imported_at IS NULL AND at < ? LIMIT 100", (before,))


def stage(db: sqlite3.Connection) -> None:
    """An empty place for samples of an import, seen by this connection alone and gone with it."""
    db.execute("DROP TABLE IF EXISTS temp.staged")
    db.execute(
        "CREATE TEMP TABLE staged (at_s INTEGER, number INTEGER, temp_c REAL NOT NULL, humidity_pct REAL, PRIMARY KEY (at_s, number))"
    )


def add_staged(db: sqlite3.Connection, samples: list[Sample]) -> int:
    """Put samples there; how many were new."""
    before = db.total_changes
    db.execute("BEGIN")
    db.executemany(
        """INSERT INTO staged SELECT ?1, 1 + coalesce((SELECT max(number) FROM staged WHERE at_s = ?1), 0), ?2, ?3
           WHERE NOT EXISTS (SELECT 1 FROM staged WHERE at_s = ?1 AND temp_c = ?2 AND humidity_pct IS ?3)""",
        samples,
    )
    db.execute("COMMIT")
    return db.total_changes - before


def staged_seconds(db: sqlite3.Connection) -> list[int]:
    return [int(row[0]) for row in db.execute("SELECT DISTINCT at_s FROM staged ORDER BY at_s")]


def keep_staged(db: sqlite3.Connection, probe: int) -> int:
    """Take over what was staged and sum it up, in whoever's transaction; how many samples were new."""
    ends = db.execute("SELECT min(at_s), max(at_s) FROM staged").fetchone()
    if ends[0] is None:
        return 0
    before = db.total_changes
    db.execute(
        """INSERT INTO probe_sample (probe, at_s, number, temp_c, humidity_pct)
           SELECT :probe, s.at_s, s.number + coalesce((SELECT max(number) FROM probe_sample
             WHERE probe = :probe AND at_s = s.at_s), 0), s.temp_c, s.humidity_pct FROM staged s
           WHERE NOT EXISTS (SELECT 1 FROM probe_sample p WHERE p.probe = :probe AND p.at_s = s.at_s
             AND p.temp_c = s.temp_c AND p.humidity_pct IS s.humidity_pct)
           ORDER BY s.at_s, s.number""",
        {"probe": probe},
    )
    new = db.total_changes - before
    sum_up(db, probe, int(ends[0]), int(ends[1]))
    return new


def forget_staged(db: sqlite3.Connection) -> None:
    db.execute("DROP TABLE IF EXISTS temp.staged")
