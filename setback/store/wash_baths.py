"""Queries over wash baths: their fillings, and what went through them."""

from __future__ import annotations

import sqlite3
from typing import Literal

from pydantic import Field

from .prints.route import ROUTE_OF_PRINT
from .rows import Row, first, many, one

BathStage = Literal["dirty", "clean"]


class BathRow(Row):
    """A wash bath with its newest filling."""

    id: str
    code: str
    name: str
    wash_fluid: str
    stage: BathStage
    volume_l: float = Field(description="What it holds, litres")
    most_loads: int = Field(description="Loads after which it is filled anew")
    version: int
    created_at: str
    retired_at: str | None
    filled_at: str | None = Field(description="When what is in it was poured in; null when nothing is noted")
    loads: int = Field(description="Prints washed in it since")


# A load is a print that went through the bath since it was filled; one whose finish route nobody knows does not count.
_BATH = f"""
WITH filled AS (SELECT b.*, (SELECT max(f.filled_at) FROM wash_bath_filling f
  WHERE f.wash_bath_id = b.id AND f.withdrawn_at IS NULL AND f.filled_at <= :until) AS filled_at FROM wash_bath b)
SELECT b.*, (SELECT count(*) FROM print p JOIN finish_route_version v ON v.id = {ROUTE_OF_PRINT}
  WHERE p.status = 'printed' AND p.printed_at > b.filled_at AND p.printed_at <= :until
    AND v.wash_fluid = b.wash_fluid COLLATE NOCASE) AS loads
FROM filled b"""


def baths(db: sqlite3.Connection, retired: bool, after: str, limit: int, until: str) -> list[BathRow]:
    """Wash baths by name, with their loads up to a moment."""
    sql = f"""{_BATH} WHERE (b.retired_at IS NOT NULL) = :retired AND b.name COLLATE NOCASE > :after
      ORDER BY b.name COLLATE NOCASE LIMIT :limit"""
    return many(db, BathRow, sql, {"until": until, "retired": retired, "after": after, "limit": limit})


def bath(db: sqlite3.Connection, bath_id: str, until: str) -> BathRow | None:
    """One wash bath, with its loads up to a moment."""
    return one(db, BathRow, f"{_BATH} WHERE b.id = :id", {"until": until, "id": bath_id})


def baths_of_fluid(db: sqlite3.Connection, wash_fluid: str, moment: str) -> list[BathRow]:
    """Baths of a fluid, each with the filling that was in it at a moment."""
    sql = f"{_BATH} WHERE b.wash_fluid = :fluid COLLATE NOCASE AND b.filled_at IS NOT NULL ORDER BY b.name"
    return many(db, BathRow, sql, {"until": moment, "fluid": wash_fluid})


def newest_filling(db: sqlite3.Connection, bath_id: str) -> str | None:
    """The filling that is in a bath."""
    sql = """SELECT id FROM wash_bath_filling WHERE wash_bath_id = ? AND withdrawn_at IS NULL
      ORDER BY filled_at DESC, id DESC LIMIT 1"""
    filling_id = first(db, sql, (bath_id,))
    return None if filling_id is None else str(filling_id)


def route_of_print(db: sqlite3.Connection, print_id: str) -> str | None:
    """The version of the finish route a print went through."""
    version_id = first(db, f"SELECT {ROUTE_OF_PRINT} FROM print p WHERE p.id = ?", (print_id,))
    return None if version_id is None else str(version_id)
