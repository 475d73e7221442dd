"""Instruments of the bench: how they are reached, and what they show now."""

from __future__ import annotations

import time

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.instruments import INSTRUMENT_KINDS
from ...store import instruments as store
from ...store.rows import insert, update
from ..both_versions import same_version
from ..shelf.entry import Name, Version, version_of
from ..unit_of_work import UnitOfWork, View, present
from .reaching import check_http, check_serial
from .watching import Watch

SERIAL_KINDS = ("caliper", "scale")
MOST_INSTRUMENTS = 20


class InstrumentInput(Contract):
    """An instrument and how it is reached; it is off until it is switched on."""

    name: Name
    kind: store.InstrumentKindName = Field(description="What it measures")
    connection: store.InstrumentConnection = Field(
        description="Over HTTP in this network, or a serial line of the server"
    )
    address: str = Field(min_length=1, max_length=200, description="Where it answers, or the name of the serial line")
    baud: int = Field(9600, ge=300, le=115_200, description="Speed of the serial line, baud")
    is_on: bool = Field(False, description="Whether the server reads it")
    version: Version = None


class InstrumentView(store.Instrument):
    """An instrument and what it shows now."""

    unit: str
    decimals: int = Field(description="Decimals its kind has")
    fills_fields: bool = Field(description="Its button fills the field that has the focus")
    value: float | None = Field(description="What it last showed, in its unit")
    age_s: float | None = Field(description="How long ago that was measured")
    presses: int = Field(description="How often its button was pressed since the server reads it")
    fault: str | None = Field(description="What is wrong with it")


class Instruments(View):
    """All instruments."""

    items: list[InstrumentView]


def instruments(work: UnitOfWork, watch: Watch) -> Instruments:
    """Instruments by name, with what they show."""
    return Instruments(items=[_view(row, watch) for row in store.instruments(work.db)])


def _view(row: store.Instrument, watch: Watch) -> InstrumentView:
    about, state = INSTRUMENT_KINDS[row.kind], watch.state(row.id)
    measured_s = state.measured_s if state else None
    return InstrumentView(
        **row.model_dump(),
        unit=about.unit,
        decimals=about.decimals,
        fills_fields=about.fills_fields,
        value=state.value if state else None,
        age_s=None if measured_s is None else max(time.monotonic() - measured_s, 0),
        presses=state.presses if state else 0,
        fault=state.fault if state else None,
    )


def add(work: UnitOfWork, request: InstrumentInput, watch: Watch) -> InstrumentView:
    """Add an instrument."""
    _check(request)
    with work.write() as answer:
        others = store.instruments(work.db)
        if len(others) >= MOST_INSTRUMENTS:
            raise Problem(f"{MOST_INSTRUMENTS} instruments at most.", {"name": "Remove one first."})
        _free(others, request.name, None)
        instrument_id = work.new_id()
        insert(
            work.db, "instrument", id=instrument_id, created_at=work.now(), **request.model_dump(exclude={"version"})
        )
        row = present(store.instrument(work.db, instrument_id), "instrument")
        answered = answer(_view(row, watch))
    watch.follow(store.instruments(work.db))
    return answered


def change(work: UnitOfWork, instrument_id: str, request: InstrumentInput, watch: Watch) -> InstrumentView:
    """Change an instrument, or switch it on or off."""
    _check(request)
    with work.write() as answer:
        row = present(store.instrument(work.db, instrument_id), "instrument")
        same_version(row, version_of(request.version), row.name, request)
        _free(store.instruments(work.db), request.name, instrument_id)
        columns = request.model_dump(exclude={"version"})
        update(work.db, "instrument", instrument_id, version=row.version + 1, **columns)
        answered = answer(_view(present(store.instrument(work.db, instrument_id), "instrument"), watch))
    watch.follow(store.instruments(work.db))
    return answered


def take_out(work: UnitOfWork, instrument_id: str, watch: Watch) -> Instruments:
    """Take an instrument out."""
    with work.write() as answer:
        present(store.instrument(work.db, instrument_id), "instrument")
        update(work.db, "instrument", instrument_id, retired_at=work.now())
        answered = answer(instruments(work, watch))
    watch.follow(store.instruments(work.db))
    return answered


def _free(others: list[store.Instrument], name: str, own_id: str | None) -> None:
    if any(row.name.lower() == name.lower() and row.id != own_id for row in others):
        message = f"“{name}” is here already."
        raise Problem(message, {"name": message})


def _check(request: InstrumentInput) -> None:
    if request.connection == "http":
        check_http(request.address)
        return
    if request.kind not in SERIAL_KINDS:
        message = f"A {request.kind} is read over HTTP; over a serial line a {' or a '.join(SERIAL_KINDS)}."
        raise Problem(message, {"connection": message})
    check_serial(request.address)
