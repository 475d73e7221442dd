"""The journal of all evidence: what was entered, in its order, each entry bound to the one before by its hash.

Every connection notes which records its statements touch, whatever wrote them. At the end of each transaction their contents are hashed
and added to the journal, and the last entry is signed with the lab's key. What is changed past the application stands in no entry;
what is cut off at the end is missed by whoever kept an earlier head, which certificates, cards and backups carry.

A record is a row with what belongs to it: a reading with its features. Samples of probes are recorded by the hour, once
the hour is over.
"""

from __future__ import annotations

import hashlib
import json
import re
import sqlite3
from collections.abc import Callable, Iterable, Iterator
from datetime import UTC
from itertools import groupby
from typing import Any, NamedTuple

from . import lab_key
from .rows import Row, insert_many, many, one
from .touched import Recorded

NO_EVIDENCE = frozenset(
    {
        "journal",
        # Work and answers of this machine.
        "job",
        "request",
        "probe_file",
        "instrument",
        "put_off",
        "setting",
        "timer",
        "code_counter",
        # Made from the records, and made again when they change.
        "probe_step",
        "guess",
        "check_result",
        "set_window",
        "newest_set",
        # How the simulated printer stands: it is no evidence.
        "virtual_print",
        # Coupons that nobody printed.
        "practice_round",
        "practice_coupon",
        # Who is signed in where: accounts themselves are in the journal.
        "device",
        "device_pin",
        "sign_in",
    }
)
PARTS = {
    "reading_feature": ("reading", "reading_id"),
    "picture_mark": ("picture_reading", "picture_reading_id"),
    "gauge_turn": ("gauge_study", "study_id"),
    "batch_pour": ("batch", "batch_id"),
    "blend_part": ("blend", "blend_id"),
    "guide_step": ("guide_run", "run_id"),
}
"""Tables whose rows belong to a record of another one, and the column that says to which."""
SAMPLES, HOUR_S = "probe_sample", 3600
GENESIS = bytes(32)

Tables = dict[str, list[str]]
"""Tables of evidence with the columns of their keys."""
_KNOWN: dict[int, Tables] = {}
"""By schema: asking costs more than the writing of a record."""


class Entry(Row):
    """One line of the journal."""

    seq: int
    at: str
    clock_at: str | None
    by: str
    kind: str
    record: str
    change: str
    content: bytes | None
    hash: bytes
    key_id: str | None
    signature: bytes | None


class Head(NamedTuple):
    """The newest entry: its number and the beginning of its hash, short enough to be printed."""

    seq: int
    mark: str

    def __str__(self) -> str:
        return f"{self.seq}:{self.mark}"


_HEAD = re.compile(r"(\d{1,15}):([0-9a-f]{16})")


def read_head(text: str) -> Head | None:
    """A head as it is printed; None where it is none."""
    parts = _HEAD.fullmatch(text.strip().lower())
    return Head(int(parts[1]), parts[2]) if parts else None


class Change(NamedTuple):
    """What an entry says: a record of a kind, how it changed, and the hash of what it holds now."""

    kind: str
    record: str
    change: str
    content: bytes | None


def watch(db: Recorded) -> None:
    """Have a connection note every record its statements touch, so that :func:`seal` finds it."""
    db.create_function("note_record", 2, db.note)
    db.before_writing = lambda table: _note_rows_of(db, table)


def _note_rows_of(db: Recorded, table: str) -> None:
    """Triggers of this connection alone: whatever else opens the file has none."""
    keys = _tables(db).get(table) if _is_there(db) else None
    if keys is None:
        return
    kind, key = _owner(table, keys)
    for event, row in (("INSERT", "NEW"), ("UPDATE", "NEW"), ("DELETE", "OLD")):
        record = " || '|' || ".join(part.format(row=row) for part in key)
        db.execute(
            f"CREATE TEMP TRIGGER IF NOT EXISTS note_{table}_{event.lower()} AFTER {event} ON main.{table} "
            f"BEGIN SELECT note_record('{kind}', {record}); END"
        )


def evidence(db: sqlite3.Connection) -> list[str]:
    """Names of all tables of evidence."""
    return list(_tables(db))


def _tables(db: sqlite3.Connection) -> Tables:
    """Every table of evidence with the columns of its key."""
    return _tables_of(int(db.execute("PRAGMA user_version").fetchone()[0]), db)


def _tables_of(schema: int, db: sqlite3.Connection) -> Tables:
    if schema in _KNOWN:
        return _KNOWN[schema]
    rows = db.execute(
        """SELECT t.name, c.name FROM main.sqlite_master t JOIN pragma_table_info(t.name) c ON c.pk > 0
           WHERE t.type = 'table' AND t.name NOT LIKE 'sqlite_%' ORDER BY t.name, c.pk"""
    )
    tables: Tables = {}
    for table, column in rows:
        if table not in NO_EVIDENCE:
            tables.setdefault(table, []).append(column)
    _KNOWN[schema] = tables
    return tables


def _owner(table: str, keys: list[str]) -> tuple[str, list[str]]:
    """The kind of record a row belongs to, and how its key is said from the row."""
    if table == SAMPLES:
        return table, ["{row}.probe", f"({{row}}.at_s / {HOUR_S})"]
    if table in PARTS:
        owner, column = PARTS[table]
        return owner, [f"{{row}}.{column}"]
    return table, [f"{{row}}.{key}" for key in keys]


def seal(db: Recorded) -> None:
    """Add what this transaction touched to the journal and sign it; called before it is committed."""
    if not db.noted:
        return
    signer, tables = lab_key.signer(db), _tables(db)
    records = _over(db, db.noted)
    changes = []
    if _last(db) is None:
        there = contents(db, tables)
        changes = [
            Change(kind, record, "found", is_now) for kind, record, is_now in there if (kind, record) not in records
        ]
    for kind, record in sorted(records):
        content, newest = content_of(db, tables, kind, record), _newest(db, kind, record)
        if content != (newest.content if newest else None):
            changes.append(Change(kind, record, "written" if content else "removed", content))
    db.noted.clear()
    _append(db, changes, signer)


def has_begun(db: sqlite3.Connection) -> bool:
    """Whether there is a journal with an entry."""
    return _is_there(db) and _last(db) is not None


def _is_there(db: sqlite3.Connection) -> bool:
    return db.execute("SELECT 1 FROM sqlite_master WHERE name = 'journal'").fetchone() is not None


def begin(db: Recorded) -> None:
    """Take all there is into a journal that has no entry yet, as *found*: it vouches for that from now on only.

    In one that has, the key of this machine is entered where it is new.
    """
    if _last(db) is not None:
        if lab_key.known_signer(db) is None:
            _enter(db, lambda tables: [])
    else:
        _enter(
            db,
            lambda tables: [Change(kind, record, "found", content) for kind, record, content in contents(db, tables)],
        )


def take_over(db: Recorded, among: Iterable[tuple[str, str]]) -> None:
    """Enter records that a newer version of the application writes in another form, as *migrated*."""

    def changes(tables: Tables) -> list[Change]:
        """Each as it stands now."""
        now = [(kind, record, content_of(db, tables, kind, record)) for kind, record in sorted(among)]
        return [Change(kind, record, "migrated" if content else "removed", content) for kind, record, content in now]

    _enter(db, changes)


def _enter(db: Recorded, changes: Callable[[Tables], list[Change]]) -> None:
    db.execute("BEGIN IMMEDIATE")
    try:
        signer, tables = lab_key.signer(db), _tables(db)
        new_entries = changes(tables)
        keys = db.noted - {(change.kind, change.record) for change in new_entries}
        keys_added = [
            Change(kind, record, "written", content_of(db, tables, kind, record)) for kind, record in sorted(keys)
        ]
        _append(db, [*keys_added, *new_entries], signer)
    except BaseException:
        db.execute("ROLLBACK")
        raise
    finally:
        db.noted.clear()
    db.execute("COMMIT")


def _over(db: Recorded, noted: set[tuple[str, str]]) -> set[tuple[str, str]]:
    """Records as they are; of samples only hours that are over, and the one before the hour that runs."""
    records = {(kind, record) for kind, record in noted if kind != SAMPLES}
    hours = [tuple(int(part) for part in record.split("|")) for kind, record in noted if kind == SAMPLES]
    for probe in {probe for probe, _ in hours}:
        running = running_hour(db, probe)
        own = {hour for number, hour in hours if number == probe}
        records |= {(SAMPLES, f"{probe}|{hour}") for hour in own if running is None or hour < running}
        if running in own:
            sql = "SELECT max(at_s) FROM probe_sample WHERE probe = ? AND at_s < ?"
            last = db.execute(sql, (probe, running * HOUR_S)).fetchone()[0]
            if last is not None and _newest(db, SAMPLES, f"{probe}|{last // HOUR_S}") is None:
                records.add((SAMPLES, f"{probe}|{last // HOUR_S}"))
    return records


def running_hour(db: sqlite3.Connection, probe: int) -> int | None:
    """The newest hour of a probe, which is not recorded yet."""
    last = db.execute("SELECT max(at_s) FROM probe_sample WHERE probe = ?", (probe,)).fetchone()[0]
    return None if last is None else int(last) // HOUR_S


def _newest(db: sqlite3.Connection, kind: str, record: str) -> Entry | None:
    return one(
        db, Entry, "SELECT * FROM journal WHERE kind = ? AND record = ? ORDER BY seq DESC LIMIT 1", (kind, record)
    )


def _last(db: sqlite3.Connection) -> Entry | None:
    return one(db, Entry, "SELECT * FROM journal ORDER BY seq DESC LIMIT 1")


def newest_moment(db: sqlite3.Connection) -> str:
    """When the newest entry was made, ISO 8601; empty while there is none."""
    return str(db.execute("SELECT coalesce(max(at), '') FROM journal").fetchone()[0])


def head(db: sqlite3.Connection) -> Head:
    """The newest entry, as it is printed."""
    last = _last(db)
    return head_of(last) if last else Head(0, "")


def head_of(entry: Entry) -> Head:
    """An entry as it is printed."""
    return Head(entry.seq, entry.hash.hex()[:16])


def entry(db: sqlite3.Connection, seq: int) -> Entry | None:
    """One entry by its number."""
    return one(db, Entry, "SELECT * FROM journal WHERE seq = ?", (seq,))


def _append(db: Recorded, changes: list[Change], signer: lab_key.Signer | None) -> None:
    """Add entries behind the last one; the last of them is signed."""
    if not changes:
        return
    last = _last(db)
    now = db.moment().astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    is_back = last is not None and now < last.at
    at, seq, previous = (
        (last.at if last and is_back else now),
        (last.seq if last else 0),
        (last.hash if last else GENESIS),
    )
    rows = []
    for change in changes:
        seq += 1
        fields = {
            "seq": seq,
            "at": at,
            "clock_at": now if is_back else None,
            "by": db.initials or "",
            **change._asdict(),
        }
        previous = _hash(previous, fields)
        rows.append({**fields, "hash": previous, "key_id": None, "signature": None})
    if signer is not None:
        rows[-1] |= {"key_id": signer.id, "signature": signer.sign(previous)}
    insert_many(db, "journal", rows)


def _hash(previous: bytes, fields: dict[str, Any]) -> bytes:
    content = fields["content"]
    line = [previous.hex(), *(fields[name] for name in ("seq", "at", "clock_at", "by", "kind", "record", "change"))]
    return hashlib.sha256(json.dumps([*line, content.hex() if content else None]).encode()).digest()


def entries(db: sqlite3.Connection, after: int, limit: int) -> list[Entry]:
    """Entries in their order, behind a number."""
    return many(db, Entry, "SELECT * FROM journal WHERE seq > ? ORDER BY seq LIMIT ?", (after, limit))


def follows(entry: Entry, previous: bytes) -> bool:
    """Whether an entry is what was added behind the one whose hash is given."""
    return entry.hash == _hash(previous, entry.model_dump())


def content_of(db: sqlite3.Connection, tables: Tables, kind: str, record: str) -> bytes | None:
    """The hash of a record as it stands; None where there is none."""
    if kind == SAMPLES:
        probe, hour = (int(part) for part in record.split("|"))
        sql = f"{_SAMPLE_ROWS} WHERE probe = ? AND at_s >= ? AND at_s < ? ORDER BY at_s, number"
        samples = db.execute(sql, (probe, hour * HOUR_S, (hour + 1) * HOUR_S)).fetchall()
        return _of_samples(samples) if samples else None
    keys = tables[kind]
    where = " AND ".join(f"{key} = ?" for key in keys)
    values = [record] if len(keys) == 1 else record.split("|")
    row = db.execute(f"SELECT * FROM {kind} WHERE {where}", values).fetchone()
    if row is None:
        return None
    parts = []
    for table, (owner, column) in PARTS.items():
        if owner == kind:
            order = ", ".join(tables[table])
            parts += db.execute(f"SELECT * FROM {table} WHERE {column} = ? ORDER BY {order}", (record,)).fetchall()
    return _of_rows([row, *parts])


def contents(db: sqlite3.Connection, tables: Tables | None = None) -> Iterator[tuple[str, str, bytes]]:
    """Every record of evidence with the hash of what it holds, table by table, read once from end to end."""
    tables = tables or _tables(db)
    for kind, keys in tables.items():
        if kind == SAMPLES:
            yield from _hours(db)
        elif kind not in PARTS:
            owned = [
                _Parts(db, table, column, tables[table]) for table, (owner, column) in PARTS.items() if owner == kind
            ]
            for row in db.execute(f"SELECT * FROM {kind} ORDER BY {', '.join(keys)}"):
                record = "|".join(str(row[key]) for key in keys)
                yield kind, record, _of_rows([row, *(part for parts in owned for part in parts.of(record))])


def differences(db: sqlite3.Connection) -> Iterator[tuple[str, str, str]]:
    """Records that are not what the journal has: *changed*, *added* or *removed* past it."""
    entered = {
        (kind, record): content
        for kind, record, content in db.execute("SELECT kind, record, content FROM journal ORDER BY seq")
    }
    for kind, record, content in contents(db):
        if (kind, record) not in entered:
            yield kind, record, "added"
        elif entered[kind, record] != content:
            # One that was taken out and is there again was added past the journal too.
            yield kind, record, "changed" if entered[kind, record] else "added"
        entered.pop((kind, record), None)
    for (kind, record), content in entered.items():
        if content is not None and not _runs(db, kind, record):
            yield kind, record, "removed"


def _runs(db: sqlite3.Connection, kind: str, record: str) -> bool:
    """Whether it is an hour of samples that is the newest of its probe."""
    if kind != SAMPLES:
        return False
    probe, hour = record.split("|")
    return running_hour(db, int(probe)) == int(hour)


class _Parts:
    """Rows that belong to records of another table, read beside it in the same order."""

    def __init__(self, db: sqlite3.Connection, table: str, column: str, keys: list[str]) -> None:
        order = ", ".join([column, *(key for key in keys if key != column)])
        rows = db.execute(f"SELECT * FROM {table} ORDER BY {order}")
        self._groups = ((str(owner), list(group)) for owner, group in groupby(rows, key=lambda row: row[column]))
        self._next = next(self._groups, None)

    def of(self, record: str) -> list[sqlite3.Row]:
        """Those of one record."""
        while self._next is not None and self._next[0] < record:
            self._next = next(self._groups, None)
        if self._next is None or self._next[0] != record:
            return []
        rows = self._next[1]
        self._next = next(self._groups, None)
        return rows


_SAMPLE_ROWS = "SELECT probe, at_s, number, temp_c, humidity_pct FROM probe_sample"


def _hours(db: sqlite3.Connection) -> Iterator[tuple[str, str, bytes]]:
    rows = db.execute(f"{_SAMPLE_ROWS} ORDER BY probe, at_s, number")
    for probe, of_probe in groupby(rows, key=lambda row: int(row[0])):
        running = running_hour(db, probe)
        for hour, samples in groupby(of_probe, key=lambda row: int(row[1]) // HOUR_S):
            if hour != running:
                yield SAMPLES, f"{probe}|{hour}", _of_samples(list(samples))


def _of_samples(samples: list[sqlite3.Row]) -> bytes:
    return hashlib.sha256("\n".join(f"{s[1]} {s[2]} {s[3]} {s[4]}" for s in samples).encode()).digest()


def _of_rows(rows: list[sqlite3.Row]) -> bytes:
    """What the rows hold; a column without a value counts as none, so that a new one changes no older record."""
    return hashlib.sha256(json.dumps([_plain(row) for row in rows]).encode()).digest()


def _plain(row: sqlite3.Row) -> dict[str, Any]:
    return {
        name: hashlib.sha256(row[name]).hexdigest() if isinstance(row[name], bytes) else row[name]
        for name in sorted(row.keys())
        if row[name] is not None
    }


def count_found(db: sqlite3.Connection) -> int:
    """How many records were there when the journal began."""
    sql = "SELECT count(*) FROM journal WHERE change = 'found' AND kind <> 'lab_key'"
    return int(db.execute(sql).fetchone()[0])


def clock_set_back(db: sqlite3.Connection) -> Entry | None:
    """The newest entry at which the clock showed an earlier time than at the one before."""
    return one(db, Entry, "SELECT * FROM journal WHERE clock_at IS NOT NULL ORDER BY seq DESC LIMIT 1")
