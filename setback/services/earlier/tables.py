"""Tables from before: opened or pasted, matched on screen, checked row by row, and taken in with their file kept."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import PurePath
from typing import Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import Field, ValidationError

from ...core.contract import Contract, Problem
from ...core.earlier.columns import CellProblem, ColumnMatch, DateOrder, RowRead, likeliest, matched, rows_of
from ...core.earlier.kinds import KINDS
from ...core.earlier.table import OPEN_SHEET, Table, table_of
from ...store import earlier as store
from ...store.codes import next_code
from ...store.rows import insert, update
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
from . import rows_taken
from .rows_taken import Names, Taken

LARGEST_BYTES = 8_000_000
KEPT_UNTAKEN = timedelta(days=2)
SHOWN_ROWS, SHOWN_PROBLEMS = 12, 60
KindKey = Literal["settings", "results", "prints", "pours", "temperatures"]


class PastedInput(Contract):
    """A table pasted as text."""

    name: str = Field("pasted table", min_length=1, max_length=200)
    text: str = Field(min_length=1, max_length=LARGEST_BYTES)


class FieldView(View):
    """Something a table of a kind may tell."""

    key: str
    label: str
    units: list[str]
    needed: bool
    is_date: bool


class KindView(View):
    """A kind of table, with what it may tell and the columns that seem to tell it."""

    key: str
    title: str
    each: str
    fields: list[FieldView]
    matches: list[ColumnMatch]


class TableView(View):
    """A table that was opened: its columns, its first rows, and how each kind would read it."""

    code: str
    name: str
    columns: list[str]
    rows: list[list[str]] = Field(description="The first of them")
    row_count: int
    first_row: int
    kinds: list[KindView]
    likeliest: str = Field(description="Key of the kind that its columns speak for")
    taken_before: str | None = Field(description="Code of a table with the same content that was taken in already")


class MatchInput(Contract):
    """How a table is to be read."""

    kind: KindKey
    matches: list[ColumnMatch] = Field(max_length=60)
    names: dict[str, dict[str, str]] = Field(
        {},
        max_length=10,
        description="Ids of what names in cells mean, by field and name; an empty one leaves its rows out",
    )
    fill: dict[str, str] = Field(
        {}, max_length=20, description="What stands for a field that no column tells, by field"
    )
    date_order: DateOrder | None = None
    time_zone: str = Field("UTC", max_length=60, description="Of times without one, such as Europe/London")


class TakeInput(MatchInput):
    """The same, and whether rows that cannot be read are left out."""

    leave_out_bad: bool = Field(False, description="Take the rows that can be read although others cannot")


class UnknownName(View):
    """A name in a cell that nothing on the shelf has."""

    field: str
    name: str
    rows: int


class RowPreview(View):
    """A row as it would be kept, in words."""

    row: int
    words: str


class CheckedTable(View):
    """What would be taken, and what cannot be."""

    good: int = Field(description="Rows that can be taken")
    bad: int = Field(description="Rows that cannot")
    left_out: int = Field(description="Rows left out on purpose, by their names")
    problems: list[CellProblem] = Field(description="The first of them, with their row and column")
    unknown_names: list[UnknownName]
    choices: dict[str, list[rows_taken.NamedThing]] = Field(description="What unknown names may mean, by field")
    preview: list[RowPreview]


def receive(work: UnitOfWork, name: str, content: bytes) -> TableView:
    """Keep a table and look into it; nothing is taken in yet.

    Raises
    ------
    Problem
        When it is empty, too large, or no table.
    """
    if not content.strip():
        message = "There is nothing in it."
        raise Problem(message, {"file": message})
    if len(content) > LARGEST_BYTES:
        message = f"It has more than {LARGEST_BYTES // 1_000_000} MB: save the sheet that matters alone."
        raise Problem(message, {"file": message})
    table = _opened(content)
    with work.write() as answer:
        store.forget_untaken(work.db, iso(work.clock() - KEPT_UNTAKEN))
        code = next_code(work.db, "TB")
        insert(
            work.db,
            "earlier_table",
            id=work.new_id(),
            code=code,
            name=PurePath(name.replace("\\", "/")).name[:200] or "table",
            content=content,
            sha256=hashlib.sha256(content).hexdigest(),
            technician_id=work.technician().id,
            received_at=work.now(),
        )
        return answer(_view(work, code, table))


def view(work: UnitOfWork, code: str) -> TableView:
    """A table that was opened."""
    row = present(store.earlier_table(work.db, code), "table")
    return _view(work, code, _opened(store.content_of(work.db, row.id)))


def check(work: UnitOfWork, code: str, request: MatchInput) -> CheckedTable:
    """What would come of it: rows that can be taken, and each that cannot with its place. Nothing is kept."""
    _, read, names = _read(work, code, request)
    good, bad, left_out, problems = _sorted_out(work, request, read, names)
    return CheckedTable(
        good=len(good),
        bad=bad,
        left_out=left_out,
        problems=problems[:SHOWN_PROBLEMS],
        unknown_names=_unknown(request, read, names),
        choices=rows_taken.choices(work, request.kind),
        preview=[RowPreview(row=row.row, words=words) for row, words, _ in good[:SHOWN_ROWS]],
    )


def take(work: UnitOfWork, code: str, request: TakeInput) -> store.EarlierTable:
    """Take the rows in, all at once, with the table as their source.

    Raises
    ------
    Conflict
        When rows cannot be read and nobody said to leave them out, or the table was taken already.
    """
    with work.write() as answer:
        table, read, names = _read(work, code, request)
        if table.taken_at is not None:
            raise Conflict(f"{table.code} was taken in already.")
        good, bad, left_out, problems = _sorted_out(work, request, read, names)
        if bad and not request.leave_out_bad:
            first = problems[0]
            message = f"{bad} row{'s' if bad > 1 else ''} cannot be read, the first is row {first.row}, {first.column}: {first.message}"
            raise Conflict(message, {"leave_out_bad": message})
        if not good:
            message = "No row of it can be taken."
            raise Problem(message, {"matches": message})
        for row, _, keep in good:
            keep((table.id, row.row))
        matching = request.model_dump(exclude={"kind", "leave_out_bad"})
        update(
            work.db,
            "earlier_table",
            table.id,
            kind=request.kind,
            matching=matching,
            rows_taken=len(good),
            rows_left=bad + left_out,
            taken_at=work.now(),
        )
        return answer(present(store.earlier_table(work.db, code), "table"))


def taken(work: UnitOfWork, limit: int = 100) -> list[store.EarlierTable]:
    """Tables that were taken in, the newest first."""
    return store.earlier_tables(work.db, limit)


def content(work: UnitOfWork, code: str) -> tuple[str, bytes]:
    """A table as it came, with a name for the file."""
    row = present(store.earlier_table(work.db, code), "table")
    found = store.content_of(work.db, row.id)
    return f"{row.code}.{'xlsx' if found[:2] == OPEN_SHEET else 'csv'}", found


def _opened(content: bytes) -> Table:
    """Text is read here; a spreadsheet is unpacked in a child with limits."""
    if content[:2] == OPEN_SHEET:
        return Table.model_validate(apart.run(_table_apart, content, field="file"))
    return table_of(content)


def _table_apart(content: bytes) -> dict[str, Any]:
    return table_of(content).model_dump()


def _view(work: UnitOfWork, code: str, table: Table) -> TableView:
    row = present(store.earlier_table(work.db, code), "table")
    kinds = [KINDS[key] for key in rows_taken.TAKES]
    same = store.same_content(work.db, row.id)
    return TableView(
        code=row.code,
        name=row.name,
        columns=table.columns,
        rows=table.rows[:SHOWN_ROWS],
        row_count=sum(any(cells) for cells in table.rows),
        first_row=table.first_row,
        kinds=[
            KindView(
                key=kind.key,
                title=kind.title,
                each=kind.each,
                fields=[
                    FieldView(
                        key=table_field.key,
                        label=table_field.label,
                        units=list(table_field.units),
                        needed=table_field.needed,
                        is_date=table_field.kind == "date",
                    )
                    for table_field in kind.fields
                ],
                matches=matched(table, kind),
            )
            for kind in kinds
        ],
        likeliest=likeliest(table, kinds).key,
        taken_before=same.code if same else None,
    )


def _read(work: UnitOfWork, code: str, request: MatchInput) -> tuple[store.EarlierTable, list[RowRead], Names]:
    row = present(store.earlier_table(work.db, code), "table")
    kind = KINDS[request.kind]
    read = rows_of(_opened(store.content_of(work.db, row.id)), kind, request.matches, request.date_order, request.fill)
    _in_utc(read, [table_field.key for table_field in kind.fields if table_field.kind == "date"], request.time_zone)
    return row, read, rows_taken.known_names(work, request.kind, request.names)


def _in_utc(read: list[RowRead], keys: list[str], time_zone: str) -> None:
    """Times of the clock on the wall as moments."""
    try:
        zone = ZoneInfo(time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        message = f"“{time_zone}” is no time zone: give a name such as Europe/London."
        raise Problem(message, {"time_zone": message}) from None
    for row in read:
        for key in keys:
            value = row.values.get(key)
            if isinstance(value, str) and "T" in value:
                row.values[key] = iso(datetime.fromisoformat(value).replace(tzinfo=zone))


Good = list[tuple[RowRead, str, Callable[[tuple[str, int]], None]]]


def _sorted_out(
    work: UnitOfWork, request: MatchInput, read: list[RowRead], names: Names
) -> tuple[Good, int, int, list[CellProblem]]:
    """Rows that can be kept with how; how many cannot, how many are left out; and what is wrong, by row."""
    columns = {match.field: match.column for match in request.matches}
    good: Good = []
    problems: list[CellProblem] = []
    bad, left_out = 0, 0
    seen: Counter[str] = Counter()
    for row in read:
        if rows_taken.is_left_out(row, names):
            left_out += 1
            continue
        problems_of_row = list(row.problems)
        prepared: Taken | None = None
        if not problems_of_row:
            try:
                prepared = rows_taken.TAKES[request.kind](work, row.values, names)
            except Problem as problem:
                problems_of_row = [
                    CellProblem(row=row.row, column=columns.get(name, name), message=message)
                    for name, message in (problem.fields or {"": problem.message}).items()
                ]
            except ValidationError as error:
                problems_of_row = [
                    CellProblem(
                        row=row.row,
                        column=columns.get(str(error_of_field["loc"][-1]), str(error_of_field["loc"][-1])),
                        message=error_of_field["msg"],
                    )
                    for error_of_field in error.errors()
                ]
        if prepared is not None:
            seen[prepared.words] += 1
            if seen[prepared.words] > 1 and not prepared.may_repeat:
                message = "The same stands in an earlier row."
                problems_of_row = [CellProblem(row=row.row, column=request.matches[0].column, message=message)]
        if problems_of_row or prepared is None:
            bad += 1
            problems += problems_of_row
        else:
            good.append((row, prepared.words, prepared.keep))
    return good, bad, left_out, problems


def _unknown(request: MatchInput, read: list[RowRead], names: Names) -> list[UnknownName]:
    counts: Counter[tuple[str, str]] = Counter()
    for row in read:
        for key in names:
            name = row.values.get(key)
            if isinstance(name, str) and name.strip().lower() not in names[key]:
                counts[key, name.strip()] += 1
    return [UnknownName(field=key, name=name, rows=rows) for (key, name), rows in counts.most_common()]
