"""A table from outside, pasted, or out of a spreadsheet: names of columns, and rows of text."""

from __future__ import annotations

import csv
import io
import zipfile
from datetime import date, datetime
from typing import Any

from pydantic import Field

from ..contract import Contract, Problem

MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 20_000, 100, 500
DELIMITERS = "\t;,"
OPEN_SHEET = b"PK"


class Table(Contract):
    """Names of columns and rows of text, each as long as the names."""

    columns: list[str]
    rows: list[list[str]]
    first_row: int = Field(description="Number of the first of the rows where the table came from, counted from 1")


def table_of(content: bytes) -> Table:
    """A table out of a spreadsheet (XLSX), or of text with tabs, semicolons or commas.

    The first row with two filled cells or more names the columns; empty rows are passed over.

    Raises
    ------
    Problem
        When it is neither, is empty, or is larger than 20,000 rows or 100 columns.
    """
    lines = _sheet(content) if content[:2] == OPEN_SHEET else _text(content)
    head = next((i for i, row in enumerate(lines) if sum(bool(cell) for cell in row) >= 2), None)
    if head is None:
        raise _refused("There is no table in it: the first row names the columns, the rows below are what they say.")
    names = lines[head]
    width = max(i + 1 for i, name in enumerate(names) if name)
    if width > MOST_COLUMNS:
        raise _refused(f"It has {width} columns; {MOST_COLUMNS} are the most.")
    columns: list[str] = []
    for i, name in enumerate(names[:width]):
        label = name or f"column {i + 1}"
        columns.append(label if label not in columns else f"{label} ({i + 1})")
    body = [(row + [""] * width)[:width] for row in lines[head + 1 :]]
    if not any(any(row) for row in body):
        raise _refused("It has names of columns and no rows.")
    while not any(body[-1]):
        body.pop()
    if len(body) > MOST_ROWS:
        raise _refused(f"It has {len(body)} rows; {MOST_ROWS} are the most at once.")
    return Table(columns=columns, rows=body, first_row=head + 2)


def _text(content: bytes) -> list[list[str]]:
    text = _decoded(content)
    lines = text.splitlines()[:50]
    delimiter = max(DELIMITERS, key=lambda sign: min(sum(line.count(sign) for line in lines), 10_000))
    try:
        return [[_short(cell) for cell in row] for row in csv.reader(io.StringIO(text), delimiter=delimiter)]
    except csv.Error as error:
        raise _refused(f"It cannot be read as a table: {error}.") from None


def _decoded(content: bytes) -> str:
    encodings = ("utf-16",) if content[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252")
    for encoding in encodings:
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\0" not in text:
            return text
    raise _refused("This is no table of text and no XLSX spreadsheet.")


def _sheet(content: bytes) -> list[list[str]]:
    """The first sheet of a workbook; what its formulas last came to."""
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        workbook = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        sheet = workbook.worksheets[0]
        rows = sheet.iter_rows(max_row=MOST_ROWS + 100, max_col=MOST_COLUMNS + 1, values_only=True)
        return [[_short(_in_words(cell)) for cell in row] for row in rows]
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError, IndexError, OSError, SyntaxError) as error:
        raise _refused("This spreadsheet cannot be read. Save it as XLSX or CSV and open that.") from error


def _in_words(cell: Any) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        return cell.isoformat(sep=" ", timespec="minutes") if cell.time() != datetime.min.time() else str(cell.date())
    if isinstance(cell, date):
        return cell.isoformat()
    return f"{cell:.10g}" if isinstance(cell, float) else str(cell)


def _short(cell: str) -> str:
    text = " ".join(cell.split())
    if len(text) > LONGEST_CELL:
        raise _refused(f"A cell has more than {LONGEST_CELL} letters: “{text[:30]}…”.")
    return text


def _refused(message: str) -> Problem:
    return Problem(message, {"file": message})
