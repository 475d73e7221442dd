"""Probes: what is where, how warm it is now, and what to write down as the temperature of a print."""

from __future__ import annotations

import logging
import zlib
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, OneOf, Problem
from ...simulate.devices import PROBE_DRIVERS, Heating, ProbeReading, ProbeSetting
from ...store import shelf
from ...store.climate import probes as store
from ...store.climate import warm_starts as climate
from ...store.codes import next_code
from ...store.lab import settings
from ...store.prints import prints
from ...store.rows import insert, update
from ...store.terms import TempPlace
from ..both_versions import same_version
from ..shelf.entry import Name, Note, Version, free_name, version_of
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present

Place = TempPlace
# A sample older than this says nothing of now.
FRESH_S = 30 * 60
# A print begun longer ago says nothing of the next one.
LIKELY_THE_SAME = timedelta(hours=4)
# A resin that moved less than this follows the air round it.
RELAX_H = 12


log = logging.getLogger(__name__)

BY_HAND = "hand"
"""A probe without a driver: read by a person, or by importing its own log."""


class ProbeInput(Contract):
    """A probe: name, place, driver and usual band."""

    name: Name
    place: Place
    printer_id: str | None = Field(None, max_length=40, description="Needed unless it is in the room")
    driver: Annotated[str, OneOf(lambda: (BY_HAND, *PROBE_DRIVERS))] = BY_HAND
    note: Note = ""
    version: Version = None


class SampleInput(Contract):
    """A temperature read by hand."""

    temp_c: float = Field(ge=-60, le=150)
    humidity_pct: float | None = Field(None, ge=0, le=100)
    sure: bool = Field(False, description="It jumped implausibly fast, and is right all the same")


class ProbeNow(View):
    """The newest temperature of a probe, and how old it is."""

    temp_c: float
    humidity_pct: float | None
    at: str
    age_s: float
    fresh: bool


class ProbeView(store.ProbeRow):
    """A probe with its newest sample."""

    now: ProbeNow | None
    first_at: str | None
    last_at: str | None


class HowWarm(View):
    """What a form can write down without anybody typing it."""

    temp_c: float
    place: TempPlace
    probe: str
    probe_id: str
    at: str


class LastStart(View):
    """How warm the print before this one started."""

    code: str
    temp_c: float
    temp_place: TempPlace


class HowWarmAnswer(View):
    """The freshest temperature of a place."""

    now: HowWarm | None = Field(description="None while no probe has spoken lately")
    last: LastStart | None = Field(description="The newest print on this printer of the last hours")


class RoomNow(View):
    """The temperature of the room."""

    room: HowWarm | None
    stale: bool = Field(description="There is a probe in the room, but it has been silent")


class ProbeDriver(View):
    """A way a probe can be read."""

    key: str
    name: str


def drivers() -> list[ProbeDriver]:
    """Ways a probe can be read, by hand first."""
    every = [
        (BY_HAND, "by hand, or imported from its own log"),
        *((key, kind.name) for key, kind in PROBE_DRIVERS.items()),
    ]
    return [ProbeDriver(key=key, name=name) for key, name in every]


def probes(work: UnitOfWork) -> list[ProbeView]:
    """Probes, by name."""
    rows = store.probes(work.db)
    newest = store.latest(work.db, [row.number for row in rows])
    return [_view(work, row, newest.get(row.number)) for row in rows]


def probe(work: UnitOfWork, probe_id: str) -> ProbeView:
    """One probe."""
    row = present(store.probe(work.db, probe_id), "probe")
    return _view(work, row, store.latest(work.db, [row.number]).get(row.number))


def add(work: UnitOfWork, request: ProbeInput) -> ProbeView:
    """Add a probe; one that is read by a driver is read at once."""
    _check(work, request, None)
    probe_id = work.new_id()
    # A device may take its time: nobody else waits for it.
    new = _Device(probe_id, request.driver, request.place, _printer(work, request.printer_id))
    sample = _asked(work, new) if request.driver in PROBE_DRIVERS else None
    with work.write() as answer:
        _check(work, request, None)
        insert(
            work.db,
            "probe",
            id=probe_id,
            code=next_code(work.db, "K"),
            created_at=work.now(),
            **request.model_dump(exclude={"version"}),
        )
        row = present(store.probe(work.db, probe_id), "probe")
        if sample is not None:
            _keep(work, row, sample.temp_c, sample.humidity_pct)
        return answer(probe(work, probe_id))


def _printer(work: UnitOfWork, printer_id: str | None) -> str | None:
    printer = shelf.printer(work.db, printer_id) if printer_id else None
    return printer.name if printer else None


def change(work: UnitOfWork, probe_id: str, request: ProbeInput) -> ProbeView:
    """Change a probe."""
    with work.write() as answer:
        row = present(store.probe(work.db, probe_id), "probe")
        same_version(row, version_of(request.version), row.name, request)
        _check(work, request, probe_id)
        moved = (row.place, row.printer_id) != (request.place, request.printer_id)
        if moved and store.span(work.db, row.number) is not None:
            message = "Its samples belong to the place where they were taken: retire it, and add one at the new place."
            raise Problem(message, {"place": message})
        update(work.db, "probe", probe_id, version=row.version + 1, **request.model_dump(exclude={"version"}))
        return answer(probe(work, probe_id))


def retire(work: UnitOfWork, probe_id: str, back: bool = False) -> ProbeView:
    """Take a probe out of the lists, or bring it back."""
    with work.write() as answer:
        row = present(store.probe(work.db, probe_id), "probe")
        if back:
            free_name(work, "probe", row.name, probe_id)
        update(work.db, "probe", probe_id, retired_at=None if back else work.now())
        return answer(probe(work, probe_id))


def note_sample(work: UnitOfWork, probe_id: str, request: SampleInput) -> ProbeView:
    """Write down a reading made by hand.

    Raises
    ------
    Problem
        When it is far from the reading just before, unless it is said to be right.
    """
    with work.write() as answer:
        row = present(store.probe(work.db, probe_id), "probe")
        before = store.near(work.db, row.number, int(work.clock().timestamp()), FRESH_S)
        if before is not None and abs(before - request.temp_c) > 15 and not request.sure:
            message = f"It was {before:.1f} °C just now. If {request.temp_c:g} °C is right all the same, say so."
            raise Problem(message, {"temp_c": message})
        _keep(work, row, request.temp_c, request.humidity_pct, waited_s=work.waited_s)
        return answer(probe(work, probe_id))


def read_now(work: UnitOfWork, probe_id: str) -> ProbeView:
    """Ask the driver of a probe, and keep what it says."""
    row = present(store.probe(work.db, probe_id), "probe")
    if row.driver not in PROBE_DRIVERS:
        raise Conflict(f"{row.name} is read by hand: type what it shows.")
    # A device may take its time: nobody else waits for it.
    sample = _asked(work, row)
    with work.write() as answer:
        _keep(work, row, sample.temp_c, sample.humidity_pct)
        return answer(probe(work, probe_id))


def read_all(work: UnitOfWork) -> int:
    """One reading of every probe that has a driver; how many answered. One that fails keeps none of the others."""
    samples = []
    for row in [row for row in store.probes(work.db) if row.driver in PROBE_DRIVERS]:
        try:
            samples.append((row, _asked(work, row)))
        except Exception:
            log.exception("The probe %s could not be read", row.name)
    with work.write():
        for row, sample in samples:
            _keep(work, row, sample.temp_c, sample.humidity_pct)
    return len(samples)


def room_now(work: UnitOfWork) -> RoomNow:
    """How warm the room is, for the top bar."""
    rows = [row for row in store.probes(work.db) if row.place == "room"]
    fresh = _fresh(work, rows)
    return RoomNow(room=fresh, stale=bool(rows) and fresh is None)


def how_warm(work: UnitOfWork, printer_id: str) -> HowWarm | None:
    """The best that is known of a printer now: its resin, else the air in its chamber, else the room."""
    rows = [row for row in store.probes(work.db) if row.printer_id == printer_id or row.place == "room"]
    order = ("resin", "chamber air", "room")
    for place in order:
        fresh = _fresh(work, [row for row in rows if row.place == place])
        if fresh is not None:
            return fresh
    return None


def how_warm_at(work: UnitOfWork, printer_id: str, at: str) -> HowWarm | None:
    """What the logs say of a printer at a moment: its resin, else the air in its chamber, else the room."""
    rows = [row for row in store.probes(work.db) if row.printer_id == printer_id or row.place == "room"]
    for place in ("resin", "chamber air", "room"):
        for row in rows:
            temp_c = store.near(work.db, row.number, second(at), FRESH_S) if row.place == place else None
            if temp_c is not None:
                return HowWarm(temp_c=temp_c, place=row.place, probe=row.name, probe_id=row.id, at=at)
    return None


def last_start(work: UnitOfWork, printer_id: str) -> LastStart | None:
    """What was noted of the print before, while the room is likely to be as warm as then."""
    row = prints.last_temperature(work.db, printer_id, iso(work.clock() - LIKELY_THE_SAME))
    return LastStart.model_validate(row) if row else None


def resin_at(work: UnitOfWork, printer_id: str, at_s: int) -> float | None:
    """What a probe in the resin of a printer said about a moment."""
    rows = [row for row in store.probes(work.db) if row.printer_id == printer_id and row.place == "resin"]
    return next((t for row in rows if (t := store.near(work.db, row.number, at_s, FRESH_S)) is not None), None)


def second(text: str) -> int:
    """Seconds since 1970 of an ISO time."""
    return int(datetime.fromisoformat(text.replace("Z", "+00:00")).timestamp())


def moment(at_s: float) -> str:
    """Seconds since 1970 as an ISO time."""
    return iso(datetime.fromtimestamp(at_s, UTC))


def _fresh(work: UnitOfWork, rows: list[store.ProbeRow]) -> HowWarm | None:
    newest = store.latest(work.db, [row.number for row in rows])
    now = work.clock().timestamp()
    for row in rows:
        sample = newest.get(row.number)
        if sample is not None and now - sample.at_s <= FRESH_S:
            return HowWarm(
                temp_c=sample.temp_c, place=row.place, probe=row.name, probe_id=row.id, at=moment(sample.at_s)
            )
    return None


def _check(work: UnitOfWork, request: ProbeInput, own_id: str | None) -> None:
    free_name(work, "probe", request.name, own_id)
    if request.place != "room" and request.printer_id is None:
        message = "Say in which printer it is."
        raise Problem(message, {"printer_id": message})
    if request.place == "room" and request.printer_id is not None:
        message = "A probe in the room belongs to no printer."
        raise Problem(message, {"printer_id": message})
    if request.printer_id is not None and shelf.printer(work.db, request.printer_id) is None:
        message = "There is no such printer."
        raise Problem(message, {"printer_id": message})


@dataclass(frozen=True)
class _Device:
    """What is known of a probe's device before its row is there; a row has the same names."""

    id: str
    driver: str
    place: TempPlace
    printer: str | None


def _asked(work: UnitOfWork, row: store.ProbeRow | _Device) -> ProbeReading:
    """What the device says now."""
    demo = settings.value(work.db, "demo")
    days_moved = demo["days_moved"] if isinstance(demo, dict) else 0
    setting = ProbeSetting(row.place, zlib.crc32(row.id.encode()), _heatings(work, row), days_moved)
    return PROBE_DRIVERS[row.driver].make(setting).read(work.clock())


def _keep(
    work: UnitOfWork, row: store.ProbeRow, temp_c: float, humidity_pct: float | None, waited_s: float = 0
) -> None:
    at = int(work.clock().timestamp() - waited_s)
    store.add_sample(work.db, row.number, at, temp_c, humidity_pct)
    store.sum_up(work.db, row.number, at, at)


def _heatings(work: UnitOfWork, row: store.ProbeRow | _Device) -> list[Heating]:
    """Warm starts that were begun and reach this probe: a stand-in must feel the heater too."""
    if row.printer is None:
        return []
    since = iso(work.clock() - timedelta(hours=RELAX_H))
    heatings = []
    for warm_start in climate.begun_since(work.db, since):
        begun, request = second(warm_start.begun_at or warm_start.at), warm_start.asked
        for chamber, plan in zip(request["chambers"], warm_start.plan["chambers"], strict=True):
            if chamber["printer"] != row.printer:
                continue
            steady = request["ambient_c"] + request["heater_w"] / chamber["loss_w_per_k"]
            tau = chamber["heat_capacity_j_per_k"] / chamber["loss_w_per_k"]
            heatings.append(Heating(begun + plan["on_s"], begun + plan["off_s"], request["target_c"], steady, tau))
            if row.place == "resin" and request["bath"]:
                poured = next(s["at_s"] for s in warm_start.plan["steps"] if s["kind"] == "pour")
                target = request["bath"]["target_c"]
                heatings.append(Heating(begun + poured, begun + plan["off_s"], target, 4 * target, 60.0))
    return heatings


def _view(work: UnitOfWork, row: store.ProbeRow, newest: store.Latest | None) -> ProbeView:
    ends = store.span(work.db, row.number)
    now = None
    if newest is not None:
        age = work.clock().timestamp() - newest.at_s
        now = ProbeNow(
            temp_c=newest.temp_c,
            humidity_pct=newest.humidity_pct,
            at=moment(newest.at_s),
            age_s=age,
            fresh=age <= FRESH_S,
        )
    return ProbeView(
        **vars(row),
        now=now,
        first_at=moment(ends[0]) if ends else None,
        last_at=moment(ends[1]) if ends else None,
    )
