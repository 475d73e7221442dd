"""Instruments of the bench that the server reads by itself."""

from __future__ import annotations

import sqlite3
from typing import Literal

from .rows import Row, many, one

InstrumentKindName = Literal["probe", "light meter", "caliper", "force gauge", "scale"]
InstrumentConnection = Literal["http", "serial"]


class Instrument(Row):
    """An instrument and how it is reached."""

    id: str
    name: str
    kind: InstrumentKindName
    connection: InstrumentConnection
    address: str
    baud: int
    is_on: bool
    version: int


_INSTRUMENT = (
    "SELECT id, name, kind, connection, address, baud, is_on, version FROM instrument WHERE retired_at IS NULL"
)


def instruments(db: sqlite3.Connection) -> list[Instrument]:
    """Instruments, by name."""
    return many(db, Instrument, f"{_INSTRUMENT} ORDER BY name, id", ())


def instrument(db: sqlite3.Connection, instrument_id: str) -> Instrument | None:
    """One instrument."""
    return one(db, Instrument, f"{_INSTRUMENT} AND id = ?", (instrument_id,))
