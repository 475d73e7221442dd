"""Every table of the schema, read and filled again: what leaves a lab and comes back."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import Field

from ..rows import Row

# What is only of this machine, or is made again: a row that is there already stays as it is.
OWN = frozenset({"setting", "timer", "guess", "probe_step", "check_result", "code_counter"})
TRAVELS = frozenset(
    {
        "arm",
        "base_try",
        "batch",
        "batch_pour",
        "blend",
        "blend_part",
        "blend_series",
        "blind_reading",
        "borrowed_set",
        "bottle",
        "brief",
        "brief_version",
        "calibration",
        "chamber_fit",
        "check_result",
        "claim",
        "code_counter",
        "confirmation",
        "coupon",
        "coupon_design",
        "coupon_look",
        "defect",
        "depth_reading",
        "depth_square",
        "dye",
        "earlier_pour",
        "earlier_result",
        "earlier_table",
        "event",
        "finish_route",
        "finish_route_version",
        "flow_reading",
        "gauge_reading",
        "gauge_study",
        "gauge_turn",
        "guess",
        "guide_run",
        "guide_step",
        "heater",
        "judgement",
        "material",
        "opinion",
        "own_coupon",
        "parameter_set",
        "photo",
        "picture_camera",
        "picture_mark",
        "picture_reading",
        "plate",
        "plate_map",
        "preparation",
        "print",
        "print_part",
        "print_report",
        "printer",
        "probe",
        "probe_sample",
        "provisional_set",
        "question",
        "probe_step",
        "qualification",
        "reader_correction",
        "reading",
        "reading_feature",
        "reference_material",
        "resin",
        "setting",
        "specimen",
        "specimen_reading",
        "technician",
        "test",
        "test_group",
        "test_print",
        "timer",
        "trace",
        "trace_answer",
        "trace_cause",
        "validity_rule",
        "vat_entry",
        "own_task",
        "job_due",
        "plan_tick",
        "printer_down",
        "wash_bath",
        "wash_bath_filling",
        "virtual_print",
        "warm_start",
    }
)
"""Every table that goes from one lab to another; no other one does."""
# Work in the queue, files laid beside the database, answers to repeated requests, the journal and its keys: they never leave
# their machine. A bundle that brings them could make another machine read, delete or do something, so it is refused whole.
STAYS = frozenset(
    {
        "account",
        "device",
        "device_pin",
        "instrument",
        "sign_in",
        "practice_coupon",
        "practice_round",
        "put_off",
        "plan_pin",
        "day_plan",
        "calendar_feed",
        "idempotency",
        "request",
        "job",
        "probe_file",
        "journal",
        "lab_key",
        # The database makes them of each set that comes in.
        "set_window",
        "newest_set",
    }
)
LAB_SETTINGS = frozenset({"cut_offs"})
"""Settings that are the lab's; all others are of the machine, and stay on it."""
SQLITE_TYPES = {"TEXT": (str,), "INTEGER": (int,), "REAL": (int, float), "BLOB": (bytes,)}
CHUNK = 5000
# What is part of a material, by the column that says so.
OF_A_MATERIAL = (
    ("resin", "material_id"),
    ("dye", "material_id"),
    ("reference_material", "material_id"),
    ("blend", "material_id"),
    ("blend_part", "blend_id"),
    ("flow_reading", "material_id"),
)


class DoesNotFit(Exception):
    """A row breaks a rule of the schema."""


@dataclass(frozen=True)
class Column:
    name: str
    kind: str
    needed: bool
    key: bool


class TableStanding(Row):
    """How the rows of one table stand to those that are there."""

    table: str
    new: int
    same: int
    conflicting: int
    examples: list[str] = Field(description="Codes or names of some that conflict")


def tables(db: sqlite3.Connection) -> list[str]:
    """The tables of a lab that go with it, by name."""
    sql = "SELECT name FROM main.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
    return [str(row[0]) for row in db.execute(sql) if row[0] in TRAVELS]


def columns(db: sqlite3.Connection, table: str) -> list[Column]:
    rows = db.execute(f"PRAGMA main.table_info({table})").fetchall()
    return [Column(str(r[1]), str(r[2]), bool(r[3]) or bool(r[5]), bool(r[5])) for r in rows]


def references(db: sqlite3.Connection, table: str) -> dict[str, str]:
    """Tables that columns refer to."""
    return {str(row[3]): str(row[2]) for row in db.execute(f"PRAGMA main.foreign_key_list({table})")}


def count(db: sqlite3.Connection, table: str) -> int:
    return int(db.execute(f"SELECT count(*) FROM main.{table}").fetchone()[0])


def rows(db: sqlite3.Connection, table: str) -> Iterator[dict[str, Any]]:
    """All rows of a table, by its key."""
    key = ", ".join(c.name for c in columns(db, table) if c.key)
    for row in db.execute(f"SELECT * FROM main.{table} ORDER BY {key}"):
        if table != "setting" or row["name"] in LAB_SETTINGS:
            yield dict(row)


def part(db: sqlite3.Connection, table: str, row_id: str) -> dict[str, list[dict[str, Any]]]:
    """One row with everything it refers to, and what belongs to a material: rows by table."""
    rows_found: dict[tuple[str, tuple[Any, ...]], dict[str, Any]] = {}
    to_follow: list[tuple[str, str, Any]] = [(table, "id", row_id)]
    while to_follow:
        name, column, value = to_follow.pop()
        for foreign_row in db.execute(f"SELECT * FROM main.{name} WHERE {column} = ?", (value,)).fetchall():
            row = dict(foreign_row)
            key = (name, tuple(row[c.name] for c in columns(db, name) if c.key))
            if key in rows_found:
                continue
            rows_found[key] = row
            for _, _, other, own_column, foreign_column, *_ in db.execute(
                f"PRAGMA main.foreign_key_list({name})"
            ).fetchall():
                if row[own_column] is not None:
                    to_follow.append((other, foreign_column or "id", row[own_column]))
            if name == "material":
                to_follow += [(child, by, row["id"]) for child, by in OF_A_MATERIAL]
    tables: dict[str, list[dict[str, Any]]] = {}
    for (name, _), row in sorted(rows_found.items(), key=lambda item: (item[0][0], str(item[0][1]))):
        tables.setdefault(name, []).append(row)
    return tables


def schema_version(db: sqlite3.Connection) -> int:
    return int(db.execute("PRAGMA main.user_version").fetchone()[0])


def stage(db: sqlite3.Connection, table: str, request: Iterable[Mapping[str, Any]]) -> int:
    """Put rows into a place of this connection alone; how many.

    Raises
    ------
    KeyError
        When a row lacks a column, or has one too many.
    DoesNotFit
        When a value is of another type than its column.
    """
    kinds = {c.name: SQLITE_TYPES[c.kind] for c in columns(db, table)}
    names = list(kinds)
    db.execute(f"DROP TABLE IF EXISTS temp.incoming_{table}")
    db.execute(f"CREATE TEMP TABLE incoming_{table} AS SELECT * FROM main.{table} WHERE false")
    sql = f"INSERT INTO temp.incoming_{table} ({', '.join(names)}) VALUES ({', '.join('?' * len(names))})"
    chunk: list[tuple[Any, ...]] = []
    total = 0
    for row in request:
        if set(row) != set(names):
            odd = sorted(set(row) ^ set(names))[0]
            raise KeyError(odd)
        for name, value in row.items():
            if value is not None and (not isinstance(value, kinds[name]) or isinstance(value, bool)):
                raise DoesNotFit(f"{name} of {table} holds a value of another kind")
        if table == "setting" and row["name"] not in LAB_SETTINGS:
            continue
        chunk.append(tuple(row[name] for name in names))
        total += 1
        if len(chunk) == CHUNK:
            db.executemany(sql, chunk)
            chunk = []
    db.executemany(sql, chunk)
    return total


def compare(db: sqlite3.Connection, table: str) -> TableStanding:
    """Hold staged rows against those that are there: by key, and by everything else that must be unique."""
    table_columns = columns(db, table)
    key = " AND ".join(f"m.{c.name} = i.{c.name}" for c in table_columns if c.key)
    # The key first and with =, so that the index finds the one row there can be.
    same = " AND ".join([key, *(f"m.{c.name} IS i.{c.name}" for c in table_columns if not c.key)])
    incoming = int(db.execute(f"SELECT count(*) FROM temp.incoming_{table}").fetchone()[0])
    alike = _count(db, f"temp.incoming_{table} i WHERE EXISTS (SELECT 1 FROM main.{table} m WHERE {same})")
    known_count = _count(db, f"temp.incoming_{table} i WHERE EXISTS (SELECT 1 FROM main.{table} m WHERE {key})")
    if table in OWN:
        return TableStanding(table=table, new=incoming - known_count, same=known_count, conflicting=0, examples=[])
    clashing = f"""(EXISTS (SELECT 1 FROM main.{table} m WHERE {key}) AND NOT EXISTS (SELECT 1 FROM main.{table} m WHERE {same}))
      {"".join(f" OR EXISTS (SELECT 1 FROM main.{table} m WHERE {clash} AND NOT ({key}))" for clash in _uniques(db, table))}"""
    bad = _count(db, f"temp.incoming_{table} i WHERE {clashing}")
    label_column = next(
        (c.name for c in table_columns if c.name in ("code", "name", "initials")),
        next(c.name for c in table_columns if c.key),
    )
    sql = f"SELECT i.{label_column} FROM temp.incoming_{table} i WHERE {clashing} LIMIT 5"
    examples = [str(row[0]) for row in db.execute(sql)]
    return TableStanding(table=table, new=incoming - alike - bad, same=alike, conflicting=bad, examples=examples)


def keep(db: sqlite3.Connection, table: str) -> int:
    """Take over staged rows that are not there yet, in whoever's transaction; how many."""
    table_columns = columns(db, table)
    names = ", ".join(c.name for c in table_columns)
    key = " AND ".join(f"m.{c.name} = i.{c.name}" for c in table_columns if c.key)
    before = db.total_changes
    db.execute(
        f"""INSERT INTO main.{table} ({names}) SELECT {names} FROM temp.incoming_{table} i
            WHERE NOT EXISTS (SELECT 1 FROM main.{table} m WHERE {key})"""
    )
    added = db.total_changes - before
    if table == "code_counter":
        # A code that was given out anywhere is never given out again.
        db.execute(
            """UPDATE code_counter SET last = max(last, (SELECT i.last FROM temp.incoming_code_counter i
               WHERE i.prefix = code_counter.prefix)) WHERE prefix IN (SELECT prefix FROM temp.incoming_code_counter)"""
        )
    return added


def keep_all(db: sqlite3.Connection, names: Iterable[str]) -> None:
    """Take over the staged rows of tables, in whatever order they refer to each other.

    Raises
    ------
    DoesNotFit
        When a row breaks a rule of the schema.
    """
    db.execute("PRAGMA defer_foreign_keys = ON")
    try:
        for name in names:
            keep(db, name)
    except sqlite3.IntegrityError as error:
        raise DoesNotFit(str(error)) from None


def id_and_code(db: sqlite3.Connection, table: str, id_or_code: str) -> tuple[str, str] | None:
    """Which row an id or a code means."""
    row = db.execute(f"SELECT id, code FROM {table} WHERE id = ? OR code = ?", (id_or_code, id_or_code)).fetchone()
    return None if row is None else (str(row[0]), str(row[1]))


def forget(db: sqlite3.Connection, table: str) -> None:
    db.execute(f"DROP TABLE IF EXISTS temp.incoming_{table}")


def astray(db: sqlite3.Connection) -> str | None:
    """A table with a row that refers to nothing."""
    row = db.execute("PRAGMA main.foreign_key_check").fetchone()
    return None if row is None else str(row[0])


def _uniques(db: sqlite3.Connection, table: str) -> list[str]:
    """Conditions under which a staged row meets one that is there in something that must be unique."""
    uniques = []
    for _, name, unique, origin, partial in db.execute(f"PRAGMA main.index_list({table})").fetchall():
        if unique and origin != "pk" and not partial:
            parts = [row[2] for row in db.execute(f"PRAGMA main.index_info({name})") if row[2]]
            uniques.append(" AND ".join(f"m.{part} = i.{part}" for part in parts))
    return uniques


def _count(db: sqlite3.Connection, rest: str) -> int:
    return int(db.execute(f"SELECT count(*) FROM {rest}").fetchone()[0])
