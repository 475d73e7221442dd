"""What all things on the shelf share: kinds of fields, pages, and the checks every one of them needs."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import AfterValidator, Field, StringConstraints

from ...core.contract import Contract, Problem
from ...store import shelf
from ..bench import Bench


def _iso_date(text: str) -> str:
    try:
        return date.fromisoformat(text).isoformat()
    except ValueError:
        raise ValueError("give a date as year-month-day") from None


Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
Day = Annotated[str, AfterValidator(_iso_date)]
Initials = Annotated[str, StringConstraints(strip_whitespace=True, to_upper=True, pattern=r"^[A-Za-z]{1,4}$")]
Version = Annotated[int | None, Field(description="Version the edit was made on; needed when changing")]
PAGE = 200


class Page(Contract):
    retired: bool = False
    after: str = Field("", max_length=100, description="Name or code of the last one seen")
    limit: int = Field(100, ge=1, le=PAGE)


def free_name(bench: Bench, table: str, name: str, own_id: str | None) -> None:
    sql = f"SELECT id FROM {table} WHERE name = ? COLLATE NOCASE AND retired_at IS NULL"
    row = bench.db.execute(sql, (name,)).fetchone()
    if row is not None and row[0] != own_id:
        said = f"“{name}” is on the shelf already."
        raise Problem(said, {"name": said})


def live_material(bench: Bench, material_id: str) -> shelf.Material:
    held = shelf.material(bench.db, material_id)
    if held is None or held.retired_at is not None:
        said = "This material is not on the shelf."
        raise Problem(said, {"material_id": said})
    return held


def pair(low: float | None, high: float | None, low_name: str, high_name: str) -> None:
    if (low is None) != (high is None):
        said = "Give both ends of the range, or neither."
        raise Problem(said, {low_name if low is None else high_name: said})
    if low is not None and high is not None and high < low:
        said = "The high end is below the low end."
        raise Problem(said, {high_name: said})


def version_of(given: int | None) -> int:
    if given is None:
        said = "The version the change was made on is missing."
        raise Problem(said, {"version": said})
    return given
