"""The log: prints with what was seen on them, their reports and parts, filtered and paged."""

from __future__ import annotations

import json
import sqlite3
from typing import Any

from pydantic import Field

from ..rows import Row, first, many, marks, one
from ..terms import BandSide, Outcome, PartOutcome, PrintStatus, TempPlace


class OutsideBand(Row):
    """How a print began outside its set's temperature band, and why it went on."""

    side: BandSide
    low_c: float | None = Field(description="The coldest its set is meant for, °C")
    high_c: float | None = Field(description="The warmest its set is meant for, °C")
    exposure_pct: float | None = Field(
        None, description="By how much more or less exposure was expected to be right, %"
    )
    success: float | None = Field(None, description="Share of parts that were expected to come out whole")
    reason: str = Field(description="Why it was printed all the same")


class LoggedPrint(Row):
    """A logged print."""

    id: str
    code: str
    status: PrintStatus
    of_parts: bool = Field(description="Parts, not coupons or specimens")
    printer_id: str
    printer: str
    material_id: str | None
    material: str | None
    calibration_id: str | None
    calibration_code: str | None
    set_code: str | None
    settings_note: str
    planned_at: str
    started_at: str | None
    printed_at: str | None
    temp_c: float | None
    temp_place: TempPlace | None
    temp_end_c: float | None
    outside_band: OutsideBand | None = Field(description="What was said of it, when it began outside its band")
    volume_ml: float
    duration_s: float
    outcome: Outcome | None
    seen: str
    initials: str | None
    searched_at: str | None
    lift_suppressed: bool
    lift_back_at: str | None
    layer_height_um: float | None
    exposure_s: float | None
    tip_mm: float | None = Field(description="Support tip")
    bottle_id: str | None
    bottle: str | None
    pieces_lost: bool = Field(description="Cured pieces may lie in the vat")
    started_from: str | None = Field(description="Code of the coupon or test it was started from")
    imported: bool = Field(description="Whether a table from before had it")
    coupons: int
    specimens: int


_LOGGED = """
SELECT p.id, p.code, p.status, p.of_parts, p.printer_id, r.name AS printer, p.material_id, m.name AS material, c.id AS calibration_id,
  c.code AS calibration_code, s.code AS set_code, p.settings_note, p.planned_at, p.started_at, p.printed_at, p.temp_c, p.temp_place,
  p.temp_end_c, p.outside_band, p.volume_ml, p.duration_s, p.outcome, p.seen, t.initials, p.searched_at, p.lift_suppressed,
  p.lift_back_at, p.layer_height_um, p.exposure_s, p.tip_mm, p.bottle_id, b.code AS bottle, p.pieces_lost, p.started_from, coalesce(p.started_from LIKE 'TB-%', 0) AS imported,
  (SELECT count(*) FROM coupon k JOIN plate l ON l.id = k.plate_id WHERE l.print_id = p.id) AS coupons,
  (SELECT count(*) FROM specimen e JOIN plate l ON l.id = e.plate_id WHERE l.print_id = p.id) AS specimens
FROM print p JOIN printer r ON r.id = p.printer_id LEFT JOIN material m ON m.id = p.material_id LEFT JOIN arm a ON a.id = p.arm_id
LEFT JOIN calibration c ON c.id = a.calibration_id LEFT JOIN parameter_set s ON s.id = p.parameter_set_id
LEFT JOIN bottle b ON b.id = p.bottle_id LEFT JOIN technician t ON t.id = coalesce(p.technician_id, p.started_by)"""

WHERE = {
    "printer": "p.printer_id = :printer",
    "material": "p.material_id = :material",
    "bottle": "p.bottle_id = :bottle",
    "set_code": "p.parameter_set_id = (SELECT id FROM parameter_set WHERE code = :set_code)",
    "outcome": "p.outcome = :outcome",
    "since": "p.printed_at >= :since",
    "until": "p.printed_at < :until",
    "parts": "p.of_parts = 1",
    "failed": "p.outcome IN ('missing parts', 'failed')",
}
"""What each filter asks of a print."""


class Period(Row):
    """A stretch of time on one printer, such as the life of a film."""

    printer_id: str
    since: str
    until: str | None


def period(db: sqlite3.Connection, event_id: str) -> Period | None:
    """From an event of a printer to the next of its kind there."""
    sql = """SELECT e.printer_id, e.happened_at AS since, (SELECT min(n.happened_at) FROM event n WHERE n.printer_id = e.printer_id
        AND n.kind = e.kind AND n.withdrawn_at IS NULL AND n.happened_at > e.happened_at) AS until
      FROM event e WHERE e.id = ? AND e.printer_id IS NOT NULL AND e.withdrawn_at IS NULL"""
    return one(db, Period, sql, (event_id,))


def logged(db: sqlite3.Connection, filters: dict[str, Any], before: str, limit: int) -> list[LoggedPrint]:
    """Prints that came out, newest first, after the print ``before`` in that order. Several may have come out in one second."""
    older = " AND (p.printed_at, p.id) < (SELECT printed_at, id FROM print WHERE id = :before)" if before else ""
    sql = f"""{_LOGGED} WHERE p.status = 'printed'{_and(filters)}{older} ORDER BY p.printed_at DESC, p.id DESC LIMIT :limit"""
    return many(db, LoggedPrint, sql, {**filters, "before": before, "limit": limit})


def how_many(db: sqlite3.Connection, filters: dict[str, Any], most: int) -> int:
    """Prints that came out, by the same filters; counted to ``most`` and no further."""
    sql = f"SELECT count(*) FROM (SELECT 1 FROM print p WHERE p.status = 'printed'{_and(filters)} LIMIT :most)"
    return int(first(db, sql, {**filters, "most": most}))


def _and(filters: dict[str, Any]) -> str:
    return "".join(f" AND {WHERE[name]}" for name in filters)


def running(db: sqlite3.Connection) -> list[LoggedPrint]:
    """Prints of parts that were started and nobody reported on, oldest first."""
    sql = f"{_LOGGED} WHERE p.status = 'planned' AND p.started_at IS NOT NULL ORDER BY p.started_at, p.id"
    return many(db, LoggedPrint, sql, ())


def one_print(db: sqlite3.Connection, id_or_code: str) -> LoggedPrint | None:
    """A print, whatever became of it."""
    return one(db, LoggedPrint, f"{_LOGGED} WHERE p.id = ? OR p.code = ?", (id_or_code, id_or_code.upper()))


class DayPrint(Row):
    """A print as a mark on its day."""

    id: str
    code: str
    printer: str
    printed_at: str
    outcome: Outcome | None


def on_days(db: sqlite3.Connection, filters: dict[str, Any], since: str, until: str, most: int) -> list[DayPrint]:
    """Prints that came out between two moments, newest first."""
    sql = f"""SELECT p.id, p.code, r.name AS printer, p.printed_at, p.outcome FROM print p JOIN printer r ON r.id = p.printer_id
      WHERE p.status = 'printed' AND p.printed_at >= :from_at AND p.printed_at < :to_at{_and(filters)}
      ORDER BY p.printed_at DESC, p.id DESC LIMIT :most"""
    return many(db, DayPrint, sql, {**filters, "from_at": since, "to_at": until, "most": most})


def newest_at(db: sqlite3.Connection, filters: dict[str, Any]) -> str | None:
    """When the newest print came out."""
    newest = first(db, f"SELECT max(p.printed_at) FROM print p WHERE p.status = 'printed'{_and(filters)}", filters)
    return str(newest) if newest else None


def behind(db: sqlite3.Connection, printer_id: str, moment: str, limit: int) -> list[LoggedPrint]:
    """The next prints of a printer after a moment, in their order."""
    sql = f"""{_LOGGED} WHERE p.printer_id = ? AND p.status = 'printed' AND p.printed_at > ? ORDER BY p.printed_at, p.id LIMIT ?"""
    return many(db, LoggedPrint, sql, (printer_id, moment, limit))


class Report(Row):
    """How a print came out, as somebody reported it."""

    id: str
    print_id: str
    number: int
    finished_at: str
    outcome: Outcome
    symptoms: list[str]
    seen: str
    pieces_lost: bool
    volume_ml: float
    duration_s: float
    temp_end_c: float | None
    dry_min: float | None = Field(description="Minutes it dried; null when nobody noted them")
    cure_min: float | None = Field(description="Minutes it was cured; null when nobody noted them")
    reason: str = Field(description="Why it supersedes the one before")
    initials: str | None
    recorded_at: str
    withdrawn_at: str | None
    withdrawn_reason: str | None


_REPORT = """SELECT q.id, q.print_id, q.number, q.finished_at, q.outcome, q.symptoms, q.seen, q.pieces_lost, q.volume_ml, q.duration_s,
  q.temp_end_c, q.dry_min, q.cure_min, q.reason, t.initials, q.recorded_at, q.withdrawn_at, q.withdrawn_reason
FROM print_report q LEFT JOIN technician t ON t.id = q.technician_id"""


def reports(db: sqlite3.Connection, print_id: str) -> list[Report]:
    """All reports on a print, the newest first."""
    return many(db, Report, f"{_REPORT} WHERE q.print_id = ? ORDER BY q.number DESC", (print_id,))


class Part(Row):
    """Parts of one kind in a print, as planned or as they were counted."""

    id: str
    print_id: str
    report_id: str | None
    name: str
    place: str
    outcome: PartOutcome
    printed: int
    whole: int | None
    under: int
    over: int
    x_mm: float | None
    y_mm: float | None


def newest_parts(db: sqlite3.Connection, print_ids: list[str]) -> list[Part]:
    """The parts of each print: of its newest report, as planned where there is none."""
    sql = f"""SELECT q.* FROM print_part q WHERE q.print_id IN ({marks(print_ids)})
      AND q.report_id IS (SELECT id FROM print_report e WHERE e.print_id = q.print_id ORDER BY e.number DESC LIMIT 1)
      ORDER BY q.rowid"""
    return many(db, Part, sql, print_ids)


def planned_parts(db: sqlite3.Connection, print_id: str) -> list[Part]:
    """The parts as they were planned."""
    return many(
        db, Part, "SELECT * FROM print_part WHERE print_id = ? AND report_id IS NULL ORDER BY rowid", (print_id,)
    )


class Overlapping(Row):
    """Another print on the same printer at the same time."""

    code: str
    started_at: str
    finished_at: str | None


def overlapping(
    db: sqlite3.Connection, printer_id: str, started_at: str, finished_at: str | None, but: str
) -> Overlapping | None:
    """A print of parts that ran on a printer between two moments; without the second, one that still runs there."""
    sql = """SELECT code, started_at, printed_at AS finished_at FROM print WHERE printer_id = :printer AND id <> :but
      AND started_at IS NOT NULL AND status <> 'cancelled'
      AND ((printed_at IS NULL AND (:finished IS NULL OR started_at < :finished))
        OR (printed_at > :started AND (:finished IS NULL OR started_at < :finished)))
      ORDER BY started_at LIMIT 1"""
    params = {"printer": printer_id, "but": but, "started": started_at, "finished": finished_at}
    return one(db, Overlapping, sql, params)


def remember_material(db: sqlite3.Connection, print_id: str) -> None:
    """Note on a print what it is printed with: of its set, campaign or test."""
    db.execute(
        """UPDATE print SET material_id = coalesce(material_id,
            (SELECT s.material_id FROM parameter_set s WHERE s.id = print.parameter_set_id),
            (SELECT c.material_id FROM arm a JOIN calibration c ON c.id = a.calibration_id WHERE a.id = print.arm_id),
            (SELECT g.material_id FROM plate l JOIN specimen e ON e.plate_id = l.id JOIN test_group g ON g.id = e.group_id
              WHERE l.print_id = print.id LIMIT 1))
          WHERE id = ?""",
        (print_id,),
    )


def hours_known_since(db: sqlite3.Connection, printer_id: str, moment: str) -> bool:
    """Whether the hours of a printer's screen were read off, or began anew, after a moment."""
    sql = """SELECT 1 FROM event WHERE printer_id = ? AND screen_hours IS NOT NULL AND withdrawn_at IS NULL AND happened_at > ? LIMIT 1"""
    return first(db, sql, (printer_id, moment)) is not None


def add_screen_hours(db: sqlite3.Connection, printer_id: str, hours: float) -> None:
    """More light has passed a screen; less where a print is taken back."""
    db.execute("UPDATE printer SET screen_hours = max(0, screen_hours + ?) WHERE id = ?", (hours, printer_id))


class Wear(Row):
    """What was printed since a part of the printer was renewed."""

    kind: str
    event_id: str
    since: str
    prints: int
    litres: float


def wear(db: sqlite3.Connection, printer_id: str, kinds: list[str]) -> list[Wear]:
    """Prints and litres since the newest event of each kind."""
    sql = f"""SELECT e.kind, e.id AS event_id, e.happened_at AS since,
        (SELECT count(*) FROM print p WHERE p.printer_id = e.printer_id AND p.status = 'printed' AND p.printed_at > e.happened_at) AS prints,
        (SELECT coalesce(sum(p.volume_ml), 0) / 1000.0 FROM print p WHERE p.printer_id = e.printer_id AND p.status = 'printed'
          AND p.printed_at > e.happened_at) AS litres
      FROM event e WHERE e.printer_id = ? AND e.kind IN ({marks(kinds)}) AND e.withdrawn_at IS NULL
        AND e.happened_at = (SELECT max(n.happened_at) FROM event n WHERE n.printer_id = e.printer_id AND n.kind = e.kind
          AND n.withdrawn_at IS NULL)
      GROUP BY e.kind ORDER BY e.kind"""
    return many(db, Wear, sql, [printer_id, *kinds])


class PrintPhoto(Row):
    """A photo of a print."""

    id: str
    width_px: int
    height_px: int
    taken_at: str


def photos(db: sqlite3.Connection, print_id: str) -> list[PrintPhoto]:
    """Photos of a print, in the order they were taken."""
    sql = "SELECT id, width_px, height_px, taken_at FROM photo WHERE print_id = ? AND retired_at IS NULL ORDER BY taken_at, rowid"
    return many(db, PrintPhoto, sql, (print_id,))


def print_with_photo(db: sqlite3.Connection, sha256: str) -> str | None:
    """The code of a print that has this picture already."""
    sql = """SELECT p.code FROM photo f JOIN print p ON p.id = f.print_id WHERE f.sha256 = ? AND f.retired_at IS NULL LIMIT 1"""
    code = first(db, sql, (sha256,))
    return None if code is None else str(code)


class Evidence(Row):
    """Parts of one kind in a print as evidence of exposure."""

    code: str
    exposure_s: float
    temp_c: float | None
    settings: dict[str, Any] | None
    set_settings: dict[str, Any] | None
    tip_mm: float | None
    place: str
    x_mm: float | None
    y_mm: float | None
    printed: int
    whole: int | None
    under: int
    over: int
    imported: bool


def evidence(
    db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float | None, limit: int
) -> list[Evidence]:
    """Parts of the newest prints of a material on a printer, newest print first; of one layer height where it is given."""
    sql = """SELECT p.code, p.exposure_s, p.temp_c, p.settings, s.settings AS set_settings, p.tip_mm, q.place, q.x_mm, q.y_mm,
        q.printed, q.whole, q.under, q.over, coalesce(p.started_from LIKE 'TB-%', 0) AS imported
      FROM (SELECT * FROM print WHERE material_id = :material AND printer_id = :printer AND status = 'printed' AND of_parts = 1
          AND exposure_s IS NOT NULL AND (:layer IS NULL OR layer_height_um = :layer)
        ORDER BY printed_at DESC, id DESC LIMIT :limit) p
      JOIN print_part q ON q.print_id = p.id
        AND q.report_id = (SELECT id FROM print_report e WHERE e.print_id = p.id ORDER BY e.number DESC LIMIT 1)
      LEFT JOIN parameter_set s ON s.id = p.parameter_set_id ORDER BY p.printed_at DESC, p.id DESC, q.rowid"""
    params = {"material": material_id, "printer": printer_id, "layer": layer_height_um, "limit": limit}
    return many(db, Evidence, sql, params)


class Fed(Row):
    """What a print took out of its bottle, and the light it added to its screen."""

    taken_ml: float | None
    light_s: float | None


def what_it_fed(db: sqlite3.Connection, print_id: str) -> Fed:
    """What is given back when a print is taken back."""
    return one(db, Fed, "SELECT taken_ml, light_s FROM print WHERE id = ?", (print_id,)) or Fed(
        taken_ml=None, light_s=None
    )


def settings_of(db: sqlite3.Connection, print_id: str) -> dict[str, Any] | None:
    """The trial settings of a print, but for exposure and layer height."""
    settings = first(db, "SELECT settings FROM print WHERE id = ?", (print_id,))
    return None if settings is None else json.loads(settings)


class PrintedPair(Row):
    """A material on a printer at a layer height, of which parts were printed."""

    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    prints: int
    exposures: int = Field(description="How many exposures they were printed at")


class Month(Row):
    """Prints of parts of one month."""

    month: str
    prints: int
    whole: int


_REPORTED = "p.status = 'printed' AND p.of_parts = 1 AND p.outcome IS NOT NULL"


def months(db: sqlite3.Connection, filters: dict[str, Any], since: str) -> list[Month]:
    """Months in which parts were printed, from a moment on, oldest first."""
    sql = f"""SELECT substr(p.printed_at, 1, 7) AS month, count(*) AS prints, sum(p.outcome = 'whole') AS whole
      FROM print p WHERE {_REPORTED} AND p.printed_at >= :from_at{_and(filters)} GROUP BY month ORDER BY month"""
    return many(db, Month, sql, {**filters, "from_at": since})


def newest_outcomes(db: sqlite3.Connection, filters: dict[str, Any], limit: int) -> list[str]:
    """Outcomes of the newest prints of parts, newest first."""
    sql = f"SELECT p.outcome FROM print p WHERE {_REPORTED}{_and(filters)} ORDER BY p.printed_at DESC, p.id DESC LIMIT :limit"
    return [str(outcome) for (outcome,) in db.execute(sql, {**filters, "limit": limit})]


def printed_pairs(db: sqlite3.Connection, limit: int) -> list[PrintedPair]:
    """Pairs of which parts were printed at a known exposure: those with several exposures first, then those with most prints."""
    sql = """SELECT p.material_id, m.name AS material, p.printer_id, r.name AS printer, p.layer_height_um, p.prints, p.exposures
      FROM (SELECT material_id, printer_id, layer_height_um, count(*) AS prints, count(DISTINCT exposure_s) AS exposures FROM print
          WHERE of_parts = 1 AND status = 'printed' AND material_id IS NOT NULL AND layer_height_um IS NOT NULL AND exposure_s IS NOT NULL
          GROUP BY material_id, printer_id, layer_height_um) p
      JOIN material m ON m.id = p.material_id JOIN printer r ON r.id = p.printer_id ORDER BY p.exposures > 1 DESC, p.prints DESC, material LIMIT ?"""
    return many(db, PrintedPair, sql, (limit,))
