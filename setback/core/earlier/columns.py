"""Columns of a foreign table matched with what Setback asks for, and its cells read with their units.

A kind of table is one entry of :data:`~setback.core.earlier.kinds.KINDS`: its fields with the words they are recognised by, their
units and what is plausible. Nothing is guessed in silence: a guess is shown, and what cannot be read is told with its row and column.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal

from pydantic import Field

from ..contract import Contract, Problem
from .table import Table

DateOrder = Literal["ymd", "dmy", "mdy"]
_NUMBER = re.compile(r"^([-+]?(?:\d+(?:[.,]\d+)?|[.,]\d+)(?:e[-+]?\d+)?)\s*(.*)$", re.I)
_DATE = re.compile(r"^(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4})(?:[T ]+(\d{1,2}):(\d{2})(?::\d{2})?)?$")
_YEAR = re.compile(r"^((?:19|20)\d{2})(?:[-/.](\d{1,2}))?$")


@dataclass(frozen=True)
class TableField:
    """One thing a table may tell, and how its column is recognised and read."""

    key: str
    label: str
    words: str
    """A pattern that a column's name matches, in small letters."""
    kind: Literal["number", "name", "choice", "date", "text"] = "number"
    units: Mapping[str, float] = field(default_factory=dict)
    """What each unit is in the field's own, which comes first."""
    low: float = -math.inf
    high: float = math.inf
    needed: bool = False
    whole: bool = False
    choices: Mapping[str, str] = field(default_factory=dict)
    """Of a choice: words that stand in tables, and what they mean."""


@dataclass(frozen=True)
class TableKind:
    """What the rows of a table are."""

    key: str
    title: str
    each: str
    """What one row is, in words."""
    fields: tuple[TableField, ...]

    def field(self, key: str) -> TableField | None:
        """One of its fields."""
        return next((row for row in self.fields if row.key == key), None)


class ColumnMatch(Contract):
    """A column that tells a field."""

    field: str = Field(max_length=60)
    column: str = Field(max_length=600)
    unit: str = Field("", max_length=20, description="Of numbers without a unit of their own")


class CellProblem(Contract):
    """What cannot be read, and where it stands."""

    row: int = Field(description="Row of the table, as its program counts them")
    column: str
    message: str


Value = float | str | None


@dataclass(frozen=True)
class RowRead:
    """A row with its values by field, in the fields' own units, and what is wrong with it."""

    row: int
    values: dict[str, Value]
    problems: list[CellProblem]


def matched(table: Table, kind: TableKind) -> list[ColumnMatch]:
    """The likeliest column of each field, by its name, with the unit that most of its cells suit."""
    rows: list[ColumnMatch] = []
    for table_field in kind.fields:
        free = [name for name in table.columns if name not in {row.column for row in rows}]
        called_so = [name for name in free if re.search(table_field.words, name.lower())]
        column = next((name for name in called_so if _may_tell(table, name, table_field)), None)
        if column is not None:
            rows.append(ColumnMatch(field=table_field.key, column=column, unit=_unit(table, column, table_field)))
    return rows


def likeliest(table: Table, kinds: Sequence[TableKind]) -> TableKind:
    """What the rows of a table are: of all kinds, that of which most of what is needed has a column, and then most of the rest too."""

    def told(kind: TableKind) -> tuple[float, int]:
        keys = {match.field for match in matched(table, kind)}
        needed = [table_field.key in keys for table_field in kind.fields if table_field.needed]
        return sum(needed) / max(len(needed), 1), len(keys)

    return max(kinds, key=told)


def rows_of(
    table: Table,
    kind: TableKind,
    matches: Sequence[ColumnMatch],
    date_order: DateOrder | None = None,
    fill: Mapping[str, str] | None = None,
) -> list[RowRead]:
    """Every row that is not empty, read by its columns.

    Parameters
    ----------
    date_order : ymd, dmy or mdy, optional
        How dates are written; needed where the table does not prove it.
    fill : dict, optional
        What stands for a field that no column tells, by field, as it would stand in a cell.

    Raises
    ------
    Problem
        When a column or field is unknown, two columns tell one field, a needed one has none, or dates can be read in two ways.
    """
    for_all = {key: text for key, text in (fill or {}).items() if text.strip()}
    places = _places(table, kind, matches, for_all)
    order = date_order or _date_order(table, places)
    filled = _filled(kind, for_all, order)
    read = []
    for i, cells in enumerate(table.rows):
        if not any(cells):
            continue
        number = table.first_row + i
        values = dict(filled)
        problems = []
        for table_field, match, place in places:
            try:
                values[table_field.key] = _value(cells[place], table_field, match.unit, order)
            except ValueError as error:
                problems.append(CellProblem(row=number, column=match.column, message=str(error)))
        read.append(RowRead(number, values, problems))
    return read


def _filled(kind: TableKind, fill: Mapping[str, str], order: DateOrder) -> dict[str, Value]:
    """Values that stand in every row."""
    values: dict[str, Value] = {}
    for key, text in fill.items():
        table_field = kind.field(key)
        try:
            if table_field is None:
                raise ValueError(f"{kind.title} tell nothing called {key}.")
            values[key] = _value(text.strip(), table_field, next(iter(table_field.units), ""), order)
        except ValueError as error:
            raise Problem(str(error), {f"fill.{key}": str(error)}) from None
    return values


def _places(
    table: Table, kind: TableKind, matches: Sequence[ColumnMatch], fill: Mapping[str, str]
) -> list[tuple[TableField, ColumnMatch, int]]:
    places: list[tuple[TableField, ColumnMatch, int]] = []
    wrong: dict[str, str] = {}
    for i, match in enumerate(matches):
        table_field = kind.field(match.field)
        if table_field is None or match.column not in table.columns:
            wrong[f"matches.{i}.column"] = f"There is no column “{match.column}” for {match.field}."
        elif any(other.key == match.field for other, _, _ in places):
            wrong[f"matches.{i}.field"] = f"Two columns tell the {table_field.label.lower()}: choose one."
        elif match.unit and match.unit not in table_field.units:
            wrong[f"matches.{i}.unit"] = f"{table_field.label} is given in {' or '.join(table_field.units)}."
        else:
            places.append((table_field, match, table.columns.index(match.column)))
    if wrong:
        raise Problem(next(iter(wrong.values())), wrong)
    matched_keys = {table_field.key for table_field, _, _ in places} | set(fill)
    missing = [
        table_field.label for table_field in kind.fields if table_field.needed and table_field.key not in matched_keys
    ]
    if missing:
        message = f"Say which column tells: {', '.join(missing)}."
        raise Problem(message, {"matches": message})
    return places


def _unit(table: Table, column: str, table_field: TableField) -> str:
    """The unit named in the column's head, else the first that most of its numbers suit."""
    if len(table_field.units) < 2:
        return next(iter(table_field.units), "")
    named = [
        unit
        for unit in table_field.units
        if re.search(rf"[\s(\[,_/]{re.escape(unit.lower())}[\s)\],]*$", column.lower())
    ]
    if named:
        return max(named, key=len)
    place = table.columns.index(column)
    numbers = [found for row in table.rows if (found := _bare(row[place])) is not None]

    def suited(unit: str) -> int:
        return sum(table_field.low <= table_field.units[unit] * number <= table_field.high for number in numbers)

    return max(table_field.units, key=suited)  # The field's own unit where several suit alike.


def _bare(cell: str) -> float | None:
    """A number without a unit."""
    parts = _NUMBER.match(cell)
    return float(parts[1].replace(",", ".")) if parts and not parts[2] else None


def _may_tell(table: Table, column: str, table_field: TableField) -> bool:
    """Whether most cells of a column can be read as a choice: one called OK may hold yes and no, or how many were."""
    if table_field.kind != "choice":
        return True
    at = table.columns.index(column)
    cells = [cells[at] for cells in table.rows if cells[at]]
    return 2 * sum(_choice(cell, table_field) is not None for cell in cells) > len(cells)


def _choice(cell: str, table_field: TableField) -> str | None:
    return next((key for word, key in table_field.choices.items() if re.search(word, cell.lower())), None)


def _value(cell: str, table_field: TableField, unit: str, order: DateOrder) -> Value:
    """A cell in the field's own unit; raises ValueError with the reason."""
    if not cell or cell in ("-", "–", "—", "n/a"):
        if table_field.needed:
            raise ValueError(f"{table_field.label} is missing.")
        return None
    if table_field.kind == "number":
        return _measured(cell, table_field, unit)
    if table_field.kind == "date":
        return _day(cell, order)
    if table_field.kind == "choice":
        meant = _choice(cell, table_field)
        if meant is None:
            raise ValueError(f"“{cell}” is none of {', '.join(dict.fromkeys(table_field.choices.values()))}.")
        return meant
    return cell


def _measured(cell: str, table_field: TableField, unit: str) -> float:
    parts = _NUMBER.match(cell)
    if parts is None:
        raise ValueError(f"“{cell}” is no number.")
    number, own_unit = float(parts[1].replace(",", ".")), parts[2].strip()
    if own_unit:
        spelt = next((name for name in table_field.units if _plain(name) == _plain(own_unit)), None)
        if spelt is None:
            raise ValueError(
                f"“{own_unit}” is no unit of {table_field.label.lower()}: {' or '.join(table_field.units) or 'none'}."
            )
        unit = spelt
    value = round(number * table_field.units.get(unit, 1.0), 9)
    if not table_field.low <= value <= table_field.high:
        raise ValueError(_implausible(number, unit, table_field))
    if table_field.whole and value != round(value):
        raise ValueError(f"{table_field.label} is a whole number, not {number:g}.")
    return value


def _implausible(number: float, unit: str, table_field: TableField) -> str:
    """Says which other unit would suit: units are often mixed in one column."""
    suits = [
        other
        for other, factor in table_field.units.items()
        if other != unit and table_field.low <= number * factor <= table_field.high
    ]
    words = f"{number:g} {unit}".strip()
    if suits:
        return (
            f"{words} cannot be meant: {number:g} {suits[0]}? Write the unit into the cell where a column mixes them."
        )
    own = next(iter(table_field.units), "")
    ends = (
        f"from {table_field.low:g}"
        if table_field.high == math.inf
        else f"from {table_field.low:g} to {table_field.high:g}"
    )
    return f"{words} is no {table_field.label.lower()}: {ends} {own}".strip() + "."


def _plain(unit: str) -> str:
    return unit.lower().replace("μ", "µ").replace("um", "µm").replace("sec", "s").rstrip(".").replace(" ", "")


def _date_order(table: Table, places: list[tuple[TableField, ColumnMatch, int]]) -> DateOrder:
    """How dates are written, where the table proves it; asked for where it does not."""
    orders: set[DateOrder] = set()
    doubtful: str | None = None
    for table_field, match, place in places:
        if table_field.kind != "date":
            continue
        for row in table.rows:
            parts = _DATE.match(row[place])
            if parts is None:
                continue
            first, second = int(parts[1]), int(parts[2])
            if len(parts[1]) == 4:
                orders.add("ymd")
            elif first > 12:
                orders.add("dmy")
            elif second > 12:
                orders.add("mdy")
            else:
                doubtful = doubtful or match.column
    certain = orders - {"ymd"}
    if doubtful and len(certain) != 1:
        message = f"Dates of “{doubtful}” can be read in two ways: say whether the day or the month comes first."
        raise Problem(message, {"date_order": message})
    return next(iter(certain), "ymd")


def _day(cell: str, order: DateOrder) -> str:
    """A day, or a moment of it, as ISO 8601; of a year or a month alone its first day."""
    if alone := _YEAR.match(cell):
        if not 1 <= int(alone[2] or 1) <= 12:
            raise ValueError(f"“{cell}” is no month of the calendar.")
        return f"{alone[1]}-{int(alone[2] or 1):02d}-01"
    parts = _DATE.match(cell)
    if parts is None:
        raise ValueError(f"“{cell}” is no date.")
    numbers = [int(parts[i]) for i in (1, 2, 3)]
    written: DateOrder = "ymd" if len(parts[1]) == 4 else order
    at = {letter: numbers[i] for i, letter in enumerate(written)}
    year = at["y"] + 2000 if at["y"] < 100 else at["y"]
    try:
        if parts[4] is None:
            return date(year, at["m"], at["d"]).isoformat()
        return datetime(year, at["m"], at["d"], int(parts[4]), int(parts[5])).isoformat(timespec="minutes")
    except ValueError:
        raise ValueError(f"“{cell}” is no day of the calendar.") from None
