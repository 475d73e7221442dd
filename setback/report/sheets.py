"""Tables that leave as CSV: no cell of them is a formula to the spreadsheet that opens it."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterable, Sequence
from typing import IO, Any

FORMULA = ("=", "+", "-", "@", "\t", "\r")
NUMBERS = re.compile(r"[-+]?\d+(\.\d*)?([eE][-+]?\d+)?([ ;]+[-+]?\d+(\.\d*)?([eE][-+]?\d+)?)*")


def write_rows(out: IO[str], rows: Iterable[Sequence[Any]]) -> None:
    """Write rows as CSV."""
    csv.writer(out).writerows([escaped(cell) for cell in row] for row in rows)


def escaped(value: Any) -> Any:
    """A cell for a spreadsheet: text that would be taken for a formula is made text; numbers stay numbers."""
    if isinstance(value, bytes):
        return f"{len(value)} bytes"
    if isinstance(value, str) and value.startswith(FORMULA) and not NUMBERS.fullmatch(value):
        return f"'{value}"
    return value
