"""A logger's CSV: what its columns mean, and its rows as samples.

A logger writes local times in one of three date orders, °C or °F, point or comma. What can be proven from the file is
proven (a 13 in the first place of a date is a day); what cannot is asked, never guessed in silence.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta, timezone, tzinfo
from itertools import pairwise
from typing import Annotated, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import Field

from ..contract import Contract, Problem

DateOrder = Literal["ymd", "dmy", "mdy"]
PREVIEW_ROWS = 8
# Air does not do this; a plug pulled out and in again does.
JUMP_C, JUMP_WITHIN_S = 15.0, 900
GAP_STEPS = 5
LONGEST_CELL = 200
"""Letters of a cell; no time and no number is longer, and searching a longer one would take time that grows with its square."""
COLDEST_C, HOTTEST_C = -60.0, 150.0

_DATE = re.compile(r"(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4})")
_TIME = re.compile(r"(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*([AaPp]\.?[Mm]\.?)?")
_ZONE = re.compile(r"(Z|[+-]\d{2}:?\d{2})$")


class LoggerMapping(Contract):
    """What the columns are."""

    time_column: Annotated[str, Field(min_length=1, max_length=200)]
    date_column: str | None = Field(None, max_length=200, description="When date and time stand apart")
    temp_column: Annotated[str, Field(min_length=1, max_length=200)]
    humidity_column: str | None = Field(None, max_length=200)
    fahrenheit: bool = False
    time_zone: str = Field("UTC", max_length=60, description="Name such as Europe/London, or an offset such as +01:00")
    date_order: DateOrder | None = Field(None, description="Needed when the file does not prove it")
    leave_out_unreadable: bool = Field(False, description="Rows that cannot be read are left out instead of refused")
    leave_out_jumps: bool = Field(False, description="Implausibly fast jumps are left out")


class LoggerFile(Contract):
    """What is seen of a file before it is imported."""

    encoding: str
    delimiter: str
    columns: list[str]
    rows: list[list[str]]
    header_line: int = Field(description="Line of the column names, from 1")
    time_column: str | None
    date_column: str | None
    temp_columns: list[str] = Field(description="More than one: say which")
    humidity_column: str | None
    fahrenheit: bool
    date_order: DateOrder | None = Field(description="None when the first rows do not prove it")
    notices: list[str]


@dataclass
class Reading:
    """What came of reading the rows; samples are handed out meanwhile."""

    rows: int = 0
    unreadable: int = 0
    examples: list[str] = field(default_factory=list)
    jumps: int = 0
    jump_examples: list[str] = field(default_factory=list)

    def refuse(self, line: int, reason: str) -> None:
        """Count a line that cannot be read, with the reason."""
        self.unreadable += 1
        if len(self.examples) < 5:
            self.examples.append(f"line {line}: {reason}")

    def jump(self, line: int, from_c: float, to_c: float) -> None:
        """Note a line whose temperature is too far from the one before it, °C."""
        self.jumps += 1
        if len(self.jump_examples) < 5:
            self.jump_examples.append(f"line {line}: from {from_c:.1f} to {to_c:.1f} °C")


def look_into(head: bytes, tail: bytes = b"") -> LoggerFile:
    """Encoding, columns and what they seem to be, from the first part of a file; its end may prove the order of dates.

    Raises
    ------
    Problem
        When it is no table of text.
    """
    encoding, text, notices = _decoded(head)
    lines = text.splitlines()
    delimiter = max((",", ";", "\t"), key=lambda d: sum(line.count(d) for line in lines[:50]))
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        message = f"It cannot be read as a table: {error}."
        if "\r" in text and "\n" not in text:
            message = "Its lines end in carriage returns alone, as no logger writes today: save it again as CSV."
        raise Problem(message, {"file": message}) from None
    if len(rows) > 2 and not text.endswith("\n"):
        # The last row may be cut in two where the head ends.
        rows = rows[:-1]
    width = max((len(row) for row in rows), default=0)
    if width < 2:
        raise Problem(
            "This is no table: a logger's CSV has a column of times and one of temperatures.",
            {"file": "Choose a CSV file."},
        )
    start = next((i for i, row in enumerate(rows) if len(row) == width and not any(_number(c) for c in row)), None)
    if start is None or start + 1 >= len(rows):
        raise Problem(
            "No line with the names of the columns was found.", {"file": "The first lines must name the columns."}
        )
    if any(len(name) > LONGEST_CELL for name in rows[start]):
        message = f"A column's name is longer than {LONGEST_CELL} letters."
        raise Problem(message, {"file": message})
    columns = [name.strip() or f"column {i + 1}" for i, name in enumerate(rows[start])]
    body = [row for row in rows[start + 1 :] if len(row) == width]
    columns_read = {name: [row[i].strip() for row in body] for i, name in enumerate(columns)}
    dated = [n for n, cells in columns_read.items() if cells and _share(cells, _DATE.search) > 0.8]
    timed = [n for n, cells in columns_read.items() if cells and _share(cells, _TIME.search) > 0.8]
    numbers = [
        n for n, cells in columns_read.items() if cells and n not in dated + timed and _share(cells, _number) > 0.5
    ]
    temps = [n for n in numbers if re.search(r"temp|°|deg|\b[cf]\b|celsius|fahrenheit", n, re.I)] or numbers
    humid = next((n for n in numbers if re.search(r"hum|rh|%", n, re.I)), None)
    temps = [n for n in temps if n != humid]
    both = next((n for n in dated if n in timed), None)
    date_in = both or (dated[0] if dated else None)
    if len(temps) > 1:
        notices.append(f"There are {len(temps)} columns that may be the temperature: say which.")
    return LoggerFile(
        encoding=encoding,
        delimiter=delimiter,
        columns=columns,
        rows=[[cell[:LONGEST_CELL] for cell in row] for row in body[:PREVIEW_ROWS]],
        header_line=start + 1,
        time_column=both or (timed[0] if timed else None),
        date_column=None if both else date_in,
        temp_columns=temps,
        humidity_column=humid,
        fahrenheit=bool(temps) and bool(re.search(r"°\s*f|fahrenheit|deg\s*f|\bf\b", temps[0], re.I)),
        date_order=_order([*columns_read[date_in], *tail.decode("latin-1").splitlines()[1:]]) if date_in else None,
        notices=notices,
    )


def samples(
    rows: Iterable[tuple[int, list[str]]], columns: list[str], mapping: LoggerMapping, read: Reading
) -> Iterator[tuple[int, float, float | None]]:
    """Seconds since 1970, °C and % humidity of every row that can be read; what cannot is noted in ``read``.

    Raises
    ------
    Problem
        When a column or the zone is unknown, the order of the date is neither given nor proven, or two orders are.
    """
    places = {name: i for i, name in enumerate(columns)}
    at = {what: _place(places, what, name) for what, name in _wanted(mapping)}
    times = _Times(mapping)
    last: tuple[int, float] | None = None
    for line, row in rows:
        if not row or all(not cell.strip() for cell in row):
            continue
        read.rows += 1
        if any(len(row[place]) > LONGEST_CELL for place in at.values() if place < len(row)):
            read.refuse(line, f"a cell is longer than {LONGEST_CELL} letters")
            continue
        try:
            date_text = row[at["date_column"]] if "date_column" in at else row[at["time_column"]]
            second = times.second(line, date_text, row[at["time_column"]])
            temp = _temperature(row[at["temp_column"]], mapping.fahrenheit)
            humidity = _humidity(row[at["humidity_column"]]) if "humidity_column" in at else None
        except IndexError:
            read.refuse(line, "it has fewer columns than the first line")
            continue
        except Problem:
            raise
        except ValueError as error:
            read.refuse(line, str(error))
            continue
        if last is not None and abs(temp - last[1]) > JUMP_C and 0 < second - last[0] <= JUMP_WITHIN_S:
            read.jump(line, last[1], temp)
            if mapping.leave_out_jumps:
                continue
        last = (second, temp)
        yield second, round(temp, 2), humidity


def gaps(seconds: list[int]) -> list[tuple[int, int]]:
    """Pairs of seconds between which the log is silent for far longer than its usual step."""
    steps = [b - a for a, b in pairwise(seconds)]
    if not steps:
        return []
    usual = sorted(steps)[len(steps) // 2]
    return [(a, b) for a, b in pairwise(seconds) if b - a > GAP_STEPS * usual]


def _wanted(mapping: LoggerMapping) -> list[tuple[str, str]]:
    named = [("time_column", mapping.time_column), ("temp_column", mapping.temp_column)]
    named += [("date_column", mapping.date_column)] if mapping.date_column else []
    return named + ([("humidity_column", mapping.humidity_column)] if mapping.humidity_column else [])


def _place(places: dict[str, int], what: str, name: str) -> int:
    if name not in places:
        message = f"There is no column {name!r} in this file."
        raise Problem(message, {what: message})
    return places[name]


def _zone_named(name: str) -> tzinfo:
    """A zone by its name, or by its offset from UTC."""
    fixed = _ZONE.fullmatch(name.strip())
    return timezone(timedelta(seconds=_offset(fixed[1]))) if fixed else ZoneInfo(name)


class _Times:
    """Times of one file: the order of its dates is found once and then held against every row."""

    def __init__(self, mapping: LoggerMapping) -> None:
        self.order: DateOrder | None = mapping.date_order
        self.proven_at: int | None = None
        self.days: dict[str, int] = {}
        self.last = 0
        self.zone: tzinfo
        try:
            self.zone = _zone_named(mapping.time_zone)
        except (ZoneInfoNotFoundError, ValueError, OSError):
            message = f"{mapping.time_zone!r} is no time zone: give a name such as UTC or Europe/London, or an offset such as +01:00."
            raise Problem(message, {"time_zone": message}) from None
        self.utc = mapping.time_zone == "UTC"
        self.offsets: dict[int, int] = {}

    def second(self, line: int, date_text: str, time_text: str) -> int:
        """Seconds since 1970 in UTC of one row.

        Raises
        ------
        ValueError
            When this row holds no time.
        """
        day = self._day(line, date_text)
        match = _TIME.search(time_text)
        if match is None:
            raise ValueError(f"{time_text.strip()!r} is no time")
        hour, minute, second = int(match[1]), int(match[2]), int(match[3] or 0)
        if match[4]:
            hour = hour % 12 + (12 if match[4][0] in "Pp" else 0)
        if hour > 23 or minute > 59 or second > 59:
            raise ValueError(f"{time_text.strip()!r} is no time")
        local = day * 86_400 + hour * 3600 + minute * 60 + second
        zone = _ZONE.search(time_text.strip())
        if zone:
            return local - _offset(zone[1])
        return local if self.utc else self._from_zone(local)

    def _from_zone(self, local: int) -> int:
        # Offsets change at whole quarters of an hour; the hour that comes twice is told apart by the row before.
        quarter = local // 900
        if quarter not in self.offsets:
            naive = datetime(1970, 1, 1) + timedelta(seconds=local)
            first = naive.replace(tzinfo=self.zone).utcoffset() or timedelta(0)
            self.offsets[quarter] = int(first.total_seconds())
        offset_time = local - self.offsets[quarter]
        if offset_time <= self.last:
            naive = datetime(1970, 1, 1) + timedelta(seconds=local)
            second = int((naive.replace(tzinfo=self.zone, fold=1).utcoffset() or timedelta(0)).total_seconds())
            offset_time = local - second
        self.last = max(self.last, offset_time)
        return offset_time

    def _day(self, line: int, text: str) -> int:
        match = _DATE.search(text)
        if match is None:
            raise ValueError(f"{text.strip()!r} is no date")
        if match[0] not in self.days:
            self.days[match[0]] = self._day_of(line, match)
        return self.days[match[0]]

    def _day_of(self, line: int, match: re.Match[str]) -> int:
        proven = _proven(match)
        if proven is not None and self.order is not None and proven != self.order:
            where = f" as line {self.proven_at} shows" if self.proven_at else ""
            message = (
                f"Line {line} has the date {match[0]}, which is not {_ORDER_WORDS[self.order]}{where}: the file mixes "
                "orders of dates. Export it again in one."
            )
            raise Problem(message, {"date_order": message})
        if proven is not None and self.order is None:
            self.order, self.proven_at = proven, line
        if self.order is None:
            message = f"{match[0]} can be read in two ways: say whether the day or the month comes first."
            raise Problem(message, {"date_order": message})
        a, b, c = int(match[1]), int(match[2]), int(match[3])
        year, month, day = {"ymd": (a, b, c), "dmy": (c, b, a), "mdy": (c, a, b)}[self.order]
        year += 2000 if year < 100 else 0
        return (datetime(year, month, day, tzinfo=UTC) - datetime(1970, 1, 1, tzinfo=UTC)).days


_ORDER_WORDS = {"ymd": "year first", "dmy": "day first", "mdy": "month first"}


def _proven(match: re.Match[str]) -> DateOrder | None:
    if len(match[1]) == 4:
        return "ymd"
    if int(match[1]) > 12:
        return "dmy"
    return "mdy" if int(match[2]) > 12 else None


def _order(cells: list[str]) -> DateOrder | None:
    matches = (_DATE.search(cell[:LONGEST_CELL]) for cell in cells)
    return next((order for m in matches if m and (order := _proven(m))), None)


def _offset(text: str) -> int:
    if text == "Z":
        return 0
    digits = text[1:].replace(":", "")
    return (1 if text[0] == "+" else -1) * (int(digits[:2]) * 3600 + int(digits[2:]) * 60)


def _decoded(head: bytes) -> tuple[str, str, list[str]]:
    if head[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16", head[: len(head) // 2 * 2].decode("utf-16", errors="ignore"), []
    if b"\0" in head:
        raise Problem("This is no text file.", {"file": "Choose the CSV file that the logger's program writes."})
    try:
        return "utf-8-sig", head.decode("utf-8-sig"), []
    except UnicodeDecodeError as error:
        if error.start > len(head) - 4:
            return "utf-8-sig", head[: error.start].decode("utf-8-sig"), []
        message = "Its letters are not UTF-8 and were read as Western European: look at the names of the columns."
        return "cp1252", head.decode("cp1252", errors="replace"), [message]


def _share(cells: list[str], test: Callable[[str], object]) -> float:
    filled = [cell[:LONGEST_CELL] for cell in cells if cell]
    return sum(1 for cell in filled if test(cell)) / len(filled) if filled else 0.0


def _number(cell: str) -> bool:
    return len(cell) <= LONGEST_CELL and bool(re.fullmatch(r"\s*[+-]?\d+([.,]\d+)?\s*(°?\s*[CF]|%)?\s*", cell))


def _value(cell: str) -> float:
    text = cell.strip().rstrip("CF%°").strip().replace(",", ".").replace("\u2212", "-")
    try:
        return float(text)
    except ValueError:
        raise ValueError(f"{cell.strip()!r} is no number") from None


def _temperature(cell: str, fahrenheit: bool) -> float:
    value = _value(cell)
    value = (value - 32) / 1.8 if fahrenheit else value
    if not COLDEST_C <= value <= HOTTEST_C:
        raise ValueError(f"{cell.strip()!r} is no temperature of a print room")
    return value


def _humidity(cell: str) -> float | None:
    if not cell.strip():
        return None
    value = _value(cell)
    if not 0 <= value <= 100:
        raise ValueError(f"{cell.strip()!r} is no humidity in percent")
    return value
