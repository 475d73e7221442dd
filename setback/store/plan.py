"""Queries of the plan: prints that wait for a step, tasks of one's own, pins, ticks, printers that are down, and the newest plan."""

from __future__ import annotations

import json
import sqlite3
from statistics import median
from typing import Any

from pydantic import Field

from .calibrate.calibrations import READ
from .prints.route import ROUTE_OF_PRINT
from .rows import Row, many, marks, one

LATEST_FINISH_H = 12
"""A print that came out longer ago is taken as finished, where nobody ticked its steps."""


class PrintToDo(Row):
    """A print that is planned, runs, or waits to be finished and read."""

    code: str
    printer_id: str
    printer: str
    status: str
    way: str
    material_id: str | None
    material: str | None
    set_code: str | None
    temp_low_c: float | None
    bottle_id: str | None
    volume_ml: float
    duration_s: float
    started_at: str | None
    printed_at: str | None
    calibration_id: str | None
    calibration_code: str | None
    test_code: str | None
    age_h: float | None
    is_check: bool
    coupons: list[str] = Field(description="Codes of the coupons on it that are not read yet")
    specimens: int = Field(description="Specimens on it that are not read yet")
    method: str | None = Field(description="Of the test its specimens are for")
    coupon_sizes_mm: list[tuple[float, float]] = Field(description="Width and height of each coupon on it")
    plates: int
    layer_height_um: float | None
    settings: str | None
    exposures_s: list[float | None]
    several_exposures: bool = Field(description="Whether its printer takes several on one plate")
    pixel_um: float
    plate_x_mm: float
    plate_y_mm: float
    route_id: str | None
    wash_fluid: str | None
    lamp: str | None
    wash_min: float | None
    dry_min: float | None
    air_min: float | None
    cure_min: float | None


_ON_PRINT = "FROM plate l JOIN coupon k ON k.plate_id = l.id WHERE l.print_id = p.id AND k.gone_at IS NULL"
_COUPON_SIZES = """(SELECT json_group_array(json_array(d.plan ->> 'width_mm', d.plan ->> 'height_mm')) FROM plate l
  JOIN coupon k ON k.plate_id = l.id JOIN coupon_design d ON d.id = k.design_id WHERE l.print_id = p.id AND k.gone_at IS NULL)"""
_UNREAD_COUPONS = f"""(SELECT json_group_array(k.code) FROM (SELECT k.code FROM plate l JOIN coupon k ON k.plate_id = l.id
  WHERE l.print_id = p.id AND k.gone_at IS NULL
    AND NOT {READ} ORDER BY k.number) k)"""
_UNREAD_SPECIMENS = """(SELECT count(*) FROM plate l JOIN specimen s ON s.plate_id = l.id WHERE l.print_id = p.id AND s.gone_at IS NULL
  AND NOT EXISTS (SELECT 1 FROM specimen_reading r WHERE r.specimen_id = s.id AND r.withdrawn = 0
    AND NOT EXISTS (SELECT 1 FROM specimen_reading n WHERE n.supersedes_id = r.id)))"""


def prints_to_do(db: sqlite3.Connection, since: str, limit: int) -> list[PrintToDo]:
    """Prints of open work that are planned or running, came out since a moment or wait to be read; the oldest first.

    Through the prints of open calibrations, open tests, check coupons and running prints of parts; never through the whole log.
    """
    sql = f"""WITH work AS (
      SELECT p.id FROM calibration c CROSS JOIN arm a ON a.calibration_id = c.id CROSS JOIN print p ON p.arm_id = a.id
        WHERE c.closed_at IS NULL AND p.parameter_set_id IS NULL
      UNION SELECT p.id FROM coupon k JOIN plate l ON l.id = k.plate_id JOIN print p ON p.id = l.print_id WHERE k.check_of IS NOT NULL
      UNION SELECT p.print_id FROM test_print p JOIN test_group g ON g.id = p.group_id JOIN test x ON x.id = g.test_id
        WHERE x.closed_at IS NULL
      UNION SELECT id FROM print WHERE status = 'planned' AND started_at IS NOT NULL)
    SELECT * FROM (SELECT p.code, p.printer_id, r.name AS printer, p.status, p.way, m.id AS material_id, m.name AS material, s.code AS set_code, s.temp_low_c,
      coalesce(p.bottle_id, c.bottle_id, s.bottle_id) AS bottle_id, p.volume_ml, p.duration_s, p.started_at, p.printed_at,
      CASE WHEN p.parameter_set_id IS NULL THEN c.id END AS calibration_id,
      CASE WHEN p.parameter_set_id IS NULL THEN c.code END AS calibration_code,
      x.code AS test_code, x.age_h,
      EXISTS (SELECT 1 FROM plate l JOIN coupon k ON k.plate_id = l.id WHERE l.print_id = p.id AND k.check_of IS NOT NULL) AS is_check,
      {_UNREAD_COUPONS} AS coupons, {_UNREAD_SPECIMENS} AS specimens,
      x.method, {_COUPON_SIZES} AS coupon_sizes_mm, (SELECT count(*) FROM plate l WHERE l.print_id = p.id) AS plates,
      coalesce(p.layer_height_um, s.layer_height_um, c.layer_height_um) AS layer_height_um,
      coalesce(p.settings, s.settings, a.settings) AS settings,
      CASE WHEN EXISTS (SELECT 1 {_ON_PRINT}) THEN (SELECT json_group_array(DISTINCT k.exposure_s) {_ON_PRINT})
        ELSE json_array(coalesce(g.exposure_s, p.exposure_s, s.exposure_s)) END AS exposures_s,
      r.several_exposures, r.pixel_um, r.plate_x_mm, r.plate_y_mm,
      v.id AS route_id, v.wash_fluid, v.lamp, v.dirty_bath_min + v.clean_bath_min AS wash_min, v.dry_min, v.air_min, v.cure_min,
      coalesce(p.started_at, p.planned_at) AS put_at
    FROM work w JOIN print p ON p.id = w.id JOIN printer r ON r.id = p.printer_id
    LEFT JOIN arm a ON a.id = p.arm_id LEFT JOIN calibration c ON c.id = a.calibration_id
    LEFT JOIN parameter_set s ON s.id = p.parameter_set_id
    LEFT JOIN test_print q ON q.print_id = p.id LEFT JOIN test_group g ON g.id = q.group_id LEFT JOIN test x ON x.id = g.test_id
    LEFT JOIN material m ON m.id = coalesce(p.material_id, g.material_id, s.material_id, c.material_id)
    LEFT JOIN finish_route_version v ON v.id = {ROUTE_OF_PRINT}
    WHERE p.status IN ('planned', 'printed'))
    WHERE status = 'planned' OR printed_at >= :since OR coupons <> '[]' OR specimens > 0
    ORDER BY put_at, code LIMIT :limit"""
    return many(db, PrintToDo, sql, {"since": since, "limit": limit})


class OwnTask(Row):
    """A task somebody set for themselves."""

    id: str
    code: str
    name: str
    minutes: int
    due_at: str | None
    printer_id: str | None
    note: str
    version: int
    withdrawn_at: str | None


def own_tasks(db: sqlite3.Connection) -> list[OwnTask]:
    """Those that are not done, oldest first."""
    sql = """SELECT o.* FROM own_task o WHERE o.withdrawn_at IS NULL AND NOT EXISTS (
      SELECT 1 FROM plan_tick t WHERE t.task_key = o.code || ' own' AND t.withdrawn_at IS NULL AND t.done_at IS NOT NULL)
      ORDER BY o.created_at, o.code"""
    return many(db, OwnTask, sql)


def own_task(db: sqlite3.Connection, task_id: str) -> OwnTask | None:
    """One of them."""
    return one(db, OwnTask, "SELECT * FROM own_task WHERE id = ?", (task_id,))


class Tick(Row):
    """A step that was begun or done."""

    id: str
    task_key: str
    kind: str
    name: str
    planned_min: int
    begun_at: str
    done_at: str | None
    timer_id: str | None
    initials: str


_TICK = "SELECT k.*, t.initials FROM plan_tick k JOIN technician t ON t.id = k.technician_id"


def ticks(db: sqlite3.Connection, since: str) -> list[Tick]:
    """Those that stand and were begun since a moment, oldest first."""
    sql = f"{_TICK} WHERE k.withdrawn_at IS NULL AND k.begun_at >= ? ORDER BY k.begun_at, k.rowid"
    return many(db, Tick, sql, (since,))


def tick(db: sqlite3.Connection, task_key: str) -> Tick | None:
    """The tick that stands for a task."""
    return one(db, Tick, f"{_TICK} WHERE k.task_key = ? AND k.withdrawn_at IS NULL", (task_key,))


def tick_by_id(db: sqlite3.Connection, tick_id: str) -> Tick | None:
    """One tick that stands."""
    return one(db, Tick, f"{_TICK} WHERE k.id = ? AND k.withdrawn_at IS NULL", (tick_id,))


# A print is done when it is marked as printed; everything else when it is ticked.
_DONE = "CASE k.kind WHEN 'print' THEN p.printed_at ELSE k.done_at END"
_MINUTES = f"(julianday({_DONE}) - julianday(k.begun_at)) * 1440"


def print_ratios(db: sqlite3.Connection, newest: int, fewest: int, most: float) -> dict[str, float]:
    """Real print time over the planned one, by printer: the median of its newest prints that were begun by a tick and came out.

    Longer ones than ``most`` times their plan were fetched late, and say nothing.
    """
    sql = f"""SELECT printer_id, took / planned_min FROM (SELECT p.printer_id, k.planned_min, {_MINUTES} AS took,
        row_number() OVER (PARTITION BY p.printer_id ORDER BY k.begun_at DESC) AS n
      FROM plan_tick k JOIN print p ON p.code = substr(k.task_key, 1, length(k.task_key) - length(' print'))
      WHERE k.kind = 'print' AND k.withdrawn_at IS NULL AND k.planned_min > 0 AND p.printed_at > k.begun_at)
      WHERE n <= ? AND took <= ? * planned_min"""
    ratios: dict[str, list[float]] = {}
    for printer_id, ratio in db.execute(sql, (newest, most)):
        ratios.setdefault(str(printer_id), []).append(float(ratio))
    return {printer_id: median(rows) for printer_id, rows in ratios.items() if len(rows) >= fewest}


class TookMinutes(Row):
    """What one kind of step really took, against its plan."""

    kind: str
    count: int
    planned_min: float
    took_min: float


def took(db: sqlite3.Connection, newest: int) -> list[TookMinutes]:
    """Mean minutes of the newest done ticks of each kind."""
    sql = f"""SELECT kind, count(*) AS count, avg(planned_min) AS planned_min, avg(took_min) AS took_min
      FROM (SELECT k.kind, k.planned_min, {_MINUTES} AS took_min, row_number() OVER (PARTITION BY k.kind ORDER BY k.begun_at DESC) AS n
        FROM plan_tick k LEFT JOIN print p ON k.kind = 'print' AND p.code = substr(k.task_key, 1, length(k.task_key) - length(' print'))
        WHERE k.withdrawn_at IS NULL AND {_DONE} > k.begun_at) WHERE n <= ? GROUP BY kind ORDER BY kind"""
    return many(db, TookMinutes, sql, (newest,))


def pins(db: sqlite3.Connection) -> dict[str, str]:
    """When pinned tasks begin."""
    return {
        str(row[0]): str(row[1]) for row in db.execute("SELECT task_key, starts_at FROM plan_pin ORDER BY task_key")
    }


def put_pin(db: sqlite3.Connection, task_key: str, starts_at: str, technician_id: str | None, now: str) -> None:
    """Pin a task, or move its pin."""
    db.execute(
        """INSERT INTO plan_pin (task_key, starts_at, technician_id, pinned_at) VALUES (?, ?, ?, ?)
        ON CONFLICT (task_key) DO UPDATE SET starts_at = excluded.starts_at, technician_id = excluded.technician_id,
          pinned_at = excluded.pinned_at""",
        (task_key, starts_at, technician_id, now),
    )


def drop_pins(db: sqlite3.Connection, task_keys: list[str]) -> None:
    """Let tasks be planned freely again."""
    db.executemany("DELETE FROM plan_pin WHERE task_key = ?", [(key,) for key in task_keys])


def due_of_jobs(db: sqlite3.Connection) -> dict[str, str]:
    """When jobs are needed by."""
    return {str(row[0]): str(row[1]) for row in db.execute("SELECT job, due_at FROM job_due ORDER BY job")}


def put_due(db: sqlite3.Connection, job: str, due_at: str | None, technician_id: str | None, now: str) -> None:
    """Say when a job is needed by, or that it is not."""
    if due_at is None:
        db.execute("DELETE FROM job_due WHERE job = ?", (job,))
        return
    db.execute(
        """INSERT INTO job_due (job, due_at, technician_id, set_at) VALUES (?, ?, ?, ?)
        ON CONFLICT (job) DO UPDATE SET due_at = excluded.due_at, technician_id = excluded.technician_id, set_at = excluded.set_at""",
        (job, due_at, technician_id, now),
    )


class PrinterDown(Row):
    """A printer that cannot be used."""

    id: str
    printer_id: str
    printer: str
    from_at: str
    until_at: str | None
    reason: str


def printers_down(db: sqlite3.Connection) -> list[PrinterDown]:
    """Printers that are down and were not said to be back."""
    sql = """SELECT d.id, d.printer_id, p.name AS printer, d.from_at, d.until_at, d.reason FROM printer_down d
      JOIN printer p ON p.id = d.printer_id WHERE d.ended_at IS NULL ORDER BY p.name"""
    return many(db, PrinterDown, sql)


class StoredPlan(Row):
    """The newest plan."""

    id: str
    begins_at: str
    made_at: str
    made_from: str = Field(description="Seal of what it was made from")
    tasks: list[dict[str, Any]]
    result: dict[str, Any]


def newest_plan(db: sqlite3.Connection) -> StoredPlan | None:
    """The plan that stands."""
    return one(db, StoredPlan, "SELECT * FROM day_plan ORDER BY made_at DESC, rowid DESC LIMIT 1")


def put_plan(db: sqlite3.Connection, plan: StoredPlan, technician_id: str | None) -> None:
    """Keep a plan in place of the one before."""
    db.execute("DELETE FROM day_plan")
    db.execute(
        "INSERT INTO day_plan (id, begins_at, made_at, made_from, tasks, result, technician_id) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (
            plan.id,
            plan.begins_at,
            plan.made_at,
            plan.made_from,
            json.dumps(plan.tasks),
            json.dumps(plan.result),
            technician_id,
        ),
    )


class Feed(Row):
    """A calendar that may be read by its address."""

    id: str
    created_at: str
    initials: str


def feeds(db: sqlite3.Connection) -> list[Feed]:
    """Addresses that were not revoked."""
    sql = """SELECT f.id, f.created_at, t.initials FROM calendar_feed f JOIN technician t ON t.id = f.technician_id
      WHERE f.revoked_at IS NULL ORDER BY f.created_at"""
    return many(db, Feed, sql)


def is_feed(db: sqlite3.Connection, token_hash: str) -> bool:
    """Whether an address still stands."""
    sql = "SELECT 1 FROM calendar_feed WHERE token_hash = ? AND revoked_at IS NULL"
    return db.execute(sql, (token_hash,)).fetchone() is not None


def prints_on_film(db: sqlite3.Connection, printer_ids: list[str]) -> dict[str, int]:
    """Prints since the film of each printer was replaced; since ever where that was never noted."""
    sql = f"""SELECT r.id, (SELECT count(*) FROM print p WHERE p.printer_id = r.id AND p.status = 'printed' AND p.printed_at > coalesce(
        (SELECT max(e.happened_at) FROM event e WHERE e.printer_id = r.id AND e.kind = 'film-replaced' AND e.withdrawn_at IS NULL), ''))
      FROM printer r WHERE r.id IN ({marks(printer_ids)})"""
    return {str(row[0]): int(row[1]) for row in db.execute(sql, printer_ids)}


def reading_gaps_min(db: sqlite3.Connection, longest_min: float, newest: int) -> list[float]:
    """Minutes between two coupons one person read after each other, the newest first; longer pauses are none."""
    sql = """SELECT gap FROM (SELECT (julianday(read_at) - julianday(lag(read_at) OVER (PARTITION BY technician_id ORDER BY read_at))) * 1440
        AS gap, read_at FROM (SELECT technician_id, read_at FROM reading WHERE withdrawn = 0 ORDER BY read_at DESC LIMIT :newest))
      WHERE gap > 0.5 AND gap <= :longest ORDER BY read_at DESC"""
    return [float(row[0]) for row in db.execute(sql, {"newest": newest, "longest": longest_min})]
