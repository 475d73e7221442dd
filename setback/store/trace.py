"""Queries over traces: what was seen, answered and found; and what the record says around a print."""

from __future__ import annotations

import sqlite3

from .rows import Row, first, many, one


class TraceRow(Row):
    """Why a print failed, as it is being found out."""

    id: str
    code: str
    print_id: str | None
    symptoms: list[str]
    opened_at: str
    initials: str | None
    version: int


class AnswerRow(Row):
    """An answer of a check."""

    id: str
    check_key: str
    answer: str
    answered_at: str
    initials: str | None


class CauseRow(Row):
    """The cause that was found."""

    id: str
    trace_id: str
    cause_key: str
    note: str
    confirmed_at: str
    initials: str


class ListedTrace(Row):
    """A trace in a list."""

    code: str
    print_code: str | None
    material: str | None
    printer: str | None
    opened_at: str
    symptoms: list[str]
    cause_key: str | None


_TRACE = "SELECT x.*, t.initials FROM trace x LEFT JOIN technician t ON t.id = x.technician_id"


def trace(db: sqlite3.Connection, id_or_code: str) -> TraceRow | None:
    """A trace by its id or its code."""
    return one(db, TraceRow, f"{_TRACE} WHERE x.id = ? OR x.code = ?", (id_or_code, id_or_code.upper()))


def of_print(db: sqlite3.Connection, print_id: str) -> TraceRow | None:
    """The trace of a print, once one was begun."""
    return one(db, TraceRow, f"{_TRACE} WHERE x.print_id = ?", (print_id,))


def listed(db: sqlite3.Connection, limit: int) -> list[ListedTrace]:
    """Traces, newest first."""
    sql = """SELECT x.code, p.code AS print_code, m.name AS material, r.name AS printer, x.opened_at, x.symptoms, c.cause_key
      FROM trace x LEFT JOIN print p ON p.id = x.print_id LEFT JOIN material m ON m.id = p.material_id
      LEFT JOIN printer r ON r.id = p.printer_id LEFT JOIN trace_cause c ON c.trace_id = x.id AND c.withdrawn_at IS NULL
      ORDER BY x.opened_at DESC, x.id DESC LIMIT ?"""
    return many(db, ListedTrace, sql, (limit,))


def answers(db: sqlite3.Connection, trace_id: str) -> list[AnswerRow]:
    """Answers that were not taken back, oldest first."""
    sql = """SELECT a.id, a.check_key, a.answer, a.answered_at, t.initials FROM trace_answer a
      LEFT JOIN technician t ON t.id = a.technician_id WHERE a.trace_id = ? AND a.withdrawn_at IS NULL ORDER BY a.answered_at, a.rowid"""
    return many(db, AnswerRow, sql, (trace_id,))


def cause(db: sqlite3.Connection, trace_id: str) -> CauseRow | None:
    """The cause that stands."""
    sql = """SELECT c.*, t.initials FROM trace_cause c JOIN technician t ON t.id = c.technician_id
      WHERE c.trace_id = ? AND c.withdrawn_at IS NULL"""
    return one(db, CauseRow, sql, (trace_id,))


def confirmed(db: sqlite3.Connection, but: str | None) -> dict[str, int]:
    """How often each cause was found in this shop; not in one trace, which is not its own witness."""
    sql = """SELECT cause_key, count(*) FROM trace_cause WHERE withdrawn_at IS NULL AND trace_id IS NOT ? GROUP BY cause_key
      ORDER BY count(*) DESC, cause_key"""
    return {str(key): int(count) for key, count in db.execute(sql, (but,))}


class Around(Row):
    """What the record says around the start of a print on its printer."""

    screen_hours: float | None
    set_id: str | None


def around(db: sqlite3.Connection, print_id: str) -> Around | None:
    """Hours and set of a print."""
    return one(db, Around, "SELECT screen_hours, parameter_set_id AS set_id FROM print WHERE id = ?", (print_id,))


_EARLIER = (
    "printer_id = :printer AND status = 'printed' AND of_parts = 1 AND outcome IS NOT NULL AND printed_at < :before"
)


def outcomes_before(
    db: sqlite3.Connection,
    printer_id: str,
    material_id: str | None,
    layer_height_um: float | None,
    exposure_s: float | None,
    before: str,
    limit: int,
) -> list[str]:
    """Outcomes of the newest prints with the same material, layer height and exposure before a moment, newest first."""
    sql = f"""SELECT outcome FROM print WHERE {_EARLIER} AND material_id IS :material AND layer_height_um IS :layer
      AND exposure_s IS :exposure ORDER BY printed_at DESC LIMIT :limit"""
    params = {
        "printer": printer_id,
        "material": material_id,
        "layer": layer_height_um,
        "exposure": exposure_s,
        "before": before,
        "limit": limit,
    }
    return [str(outcome) for (outcome,) in db.execute(sql, params)]


def was_whole(db: sqlite3.Connection, printer_id: str, name: str, before: str) -> bool:
    """Whether a part of this name came out whole on this printer before."""
    sql = """SELECT EXISTS (SELECT 1 FROM print_part q JOIN print p ON p.id = q.print_id WHERE p.printer_id = ? AND q.name = ?
      AND p.printed_at < ? AND p.status = 'printed' AND q.whole = q.printed)"""
    return bool(first(db, sql, (printer_id, name, before)))


def print_before(db: sqlite3.Connection, printer_id: str, before: str) -> tuple[str, bool, bool] | None:
    """Code of the last print of parts before a moment, whether it may have left pieces, and whether the vat was searched for them."""
    sql = f"""SELECT code, outcome <> 'whole' AND pieces_lost = 1, searched_at IS NOT NULL FROM print WHERE {_EARLIER}
      ORDER BY printed_at DESC LIMIT 1"""
    row = db.execute(sql, {"printer": printer_id, "before": before}).fetchone()
    return None if row is None else (str(row[0]), bool(row[1]), bool(row[2]))


def since_event(db: sqlite3.Connection, printer_id: str, kind: str, before: str) -> tuple[str, int, int] | None:
    """When an event of a kind last happened before a moment; prints since, and those of parts that came out whole."""
    at = first(
        db,
        """SELECT max(happened_at) FROM event WHERE printer_id = ? AND kind = ? AND withdrawn_at IS NULL AND happened_at < ?""",
        (printer_id, kind, before),
    )
    if at is None:
        return None
    sql = """SELECT count(*), coalesce(sum(outcome = 'whole'), 0) FROM print WHERE printer_id = ? AND status = 'printed'
      AND printed_at > ? AND printed_at < ?"""
    prints, whole = db.execute(sql, (printer_id, at, before)).fetchone()
    return str(at), int(prints), int(whole)


def light_of_set(db: sqlite3.Connection, set_id: str, before: str) -> tuple[str, float] | None:
    """The newest check coupon of a set before a moment with its light against the issue, percent."""
    sql = """SELECT k.code, c.off_pct FROM check_result c JOIN coupon k ON k.id = c.coupon_id
      WHERE c.parameter_set_id = ? AND c.off_pct IS NOT NULL AND c.at < ? ORDER BY c.at DESC LIMIT 1"""
    row = db.execute(sql, (set_id, before)).fetchone()
    return None if row is None else (str(row[0]), float(row[1]))


def newest_set(db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float) -> str | None:
    """The newest set of a pair at a layer height."""
    sql = """SELECT id FROM parameter_set WHERE material_id = ? AND printer_id = ? AND layer_height_um = ? ORDER BY version DESC LIMIT 1"""
    found = first(db, sql, (material_id, printer_id, layer_height_um))
    return None if found is None else str(found)
