"""What all things on the shelf share: kinds of fields, pages, and the checks every one of them needs."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import AfterValidator, Field, StringConstraints

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert
from ...store.terms import MaterialKind
from ..unit_of_work import UnitOfWork

YEARS = range(1980, 2101)
"""Beyond these a date is a slip of the finger."""


def _iso_date(text: str) -> str:
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise ValueError("give a date as year-month-day") from None
    if day.year not in YEARS:
        raise ValueError(f"{day.year:04d} is no year a bottle was bought in: look at the date again")
    return day.isoformat()


Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
Day = Annotated[str, AfterValidator(_iso_date)]
Initials = Annotated[str, StringConstraints(strip_whitespace=True, to_upper=True, pattern=r"^[A-Za-z]{1,4}$")]
Version = Annotated[int | None, Field(description="Version the edit was made on; needed when changing")]
PAGE = 200


class Page(Contract):
    """One page of a list by name."""

    retired: bool = False
    after: str = Field("", max_length=100, description="Name or code of the last one seen")
    limit: int = Field(100, ge=1, le=PAGE)


def free_name(work: UnitOfWork, table: str, name: str, own_id: str | None) -> None:
    """Refuse a name that another row has."""
    if shelf.id_of_name(work.db, table, name) not in (None, own_id):
        message = f"“{name}” is on the shelf already."
        raise Problem(message, {"name": message})


def new_material(work: UnitOfWork, kind: MaterialKind, name: str) -> tuple[str, str]:
    """Put a material of a kind on record, under a name that nothing else has; its id and code."""
    free_name(work, "material", name, None)
    material_id, code = work.new_id(), next_code(work.db, "R")
    insert(work.db, "material", id=material_id, code=code, kind=kind, name=name, created_at=work.now())
    return material_id, code


def live_material(work: UnitOfWork, material_id: str) -> shelf.Material:
    """A material that is on the shelf."""
    stored = shelf.material(work.db, material_id)
    if stored is None or stored.retired_at is not None:
        message = "This material is not on the shelf."
        raise Problem(message, {"material_id": message})
    return stored


def pair(low: float | None, high: float | None, low_name: str, high_name: str) -> None:
    """Refuse a range that is upside down or has one end only."""
    if (low is None) != (high is None):
        message = "Give both ends of the range, or neither."
        raise Problem(message, {low_name if low is None else high_name: message})
    if low is not None and high is not None and high < low:
        message = "The high end is below the low end."
        raise Problem(message, {high_name: message})


def version_of(version: int | None) -> int:
    """The version an edit was made on; refuses an edit without one."""
    if version is None:
        message = "The version the change was made on is missing."
        raise Problem(message, {"version": message})
    return version
