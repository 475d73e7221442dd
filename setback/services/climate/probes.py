"""Probes: what is where, how warm it is now, and what to write down as the temperature of a print."""

from __future__ import annotations

import zlib
from datetime import UTC, datetime, timedelta
from typing import Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...simulate.devices import PROBE_DRIVERS, Heating, ProbeSetting
from ...store import climate, prints, shelf
from ...store import probes as store
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, Conflict, View, iso, present, same_version
from ..shelf.entry import Name, Note, Version, free_name, version_of

Place = Literal["room", "chamber air", "resin"]
# A sample older than this says nothing of now.
FRESH_S = 30 * 60
# A print begun longer ago says nothing of the next one.
LIKELY_THE_SAME = timedelta(hours=4)
# A resin that moved less than this follows the air round it.
RELAX_H = 12


class ProbeInput(Contract):
    name: Name
    place: Place
    printer_id: str | None = Field(None, max_length=40, description="Needed unless it is in the room")
    driver: Literal["hand", "simulated"] = "hand"
    note: Note = ""
    version: Version = None


class SampleInput(Contract):
    """A temperature read by hand."""

    temp_c: float = Field(ge=-60, le=150)
    humidity_pct: float | None = Field(None, ge=0, le=100)
    sure: bool = Field(False, description="It jumped as air cannot, and is right all the same")


class ProbeNow(View):
    temp_c: float
    humidity_pct: float | None
    at: str
    age_s: float
    fresh: bool


class ProbeView(View):
    id: str
    code: str
    name: str
    place: str
    printer_id: str | None
    printer: str | None
    driver: str
    note: str
    version: int
    retired_at: str | None
    now: ProbeNow | None
    first_at: str | None
    last_at: str | None


class HowWarm(View):
    """What a form can write down without anybody typing it."""

    temp_c: float
    place: str
    probe: str
    probe_id: str
    at: str


class LastStart(View):
    """How warm the print before this one started."""

    code: str
    temp_c: float
    temp_place: str


class HowWarmAnswer(View):
    now: HowWarm | None = Field(description="None while no probe has spoken lately")
    last: LastStart | None = Field(description="The newest print on this printer of the last hours")


class RoomNow(View):
    room: HowWarm | None
    stale: bool = Field(description="There is a probe in the room, but it has been silent")


def probes(bench: Bench) -> list[ProbeView]:
    rows = store.probes(bench.db)
    newest = store.latest(bench.db, [row.number for row in rows])
    return [_view(bench, row, newest.get(row.number)) for row in rows]


def probe(bench: Bench, probe_id: str) -> ProbeView:
    row = present(store.probe(bench.db, probe_id), "probe")
    return _view(bench, row, store.latest(bench.db, [row.number]).get(row.number))


def add(bench: Bench, given: ProbeInput) -> ProbeView:
    """Add a probe; one that is read by a driver is read at once."""
    with bench.write() as answer:
        _check(bench, given, None)
        probe_id = bench.new_id()
        insert(
            bench.db, "probe", id=probe_id, code=next_code(bench.db, "K"), created_at=bench.now(),
            **given.model_dump(exclude={"version"}),
        )  # fmt: skip
        row = present(store.probe(bench.db, probe_id), "probe")
        if row.driver in PROBE_DRIVERS:
            _read(bench, row)
        return answer(probe(bench, probe_id))


def change(bench: Bench, probe_id: str, given: ProbeInput) -> ProbeView:
    with bench.write() as answer:
        row = present(store.probe(bench.db, probe_id), "probe")
        same_version(row.version, version_of(given.version), row.name)
        _check(bench, given, probe_id)
        moved = (row.place, row.printer_id) != (given.place, given.printer_id)
        if moved and store.span(bench.db, row.number) is not None:
            said = "Its samples belong to the place where they were taken: retire it, and add one at the new place."
            raise Problem(said, {"place": said})
        update(bench.db, "probe", probe_id, version=row.version + 1, **given.model_dump(exclude={"version"}))
        return answer(probe(bench, probe_id))


def retire(bench: Bench, probe_id: str, back: bool = False) -> ProbeView:
    with bench.write() as answer:
        present(store.probe(bench.db, probe_id), "probe")
        update(bench.db, "probe", probe_id, retired_at=None if back else bench.now())
        return answer(probe(bench, probe_id))


def note_sample(bench: Bench, probe_id: str, given: SampleInput) -> ProbeView:
    """Write down a reading made by hand.

    Raises
    ------
    Problem
        When it is far from the reading just before, unless it is said to be right.
    """
    with bench.write() as answer:
        row = present(store.probe(bench.db, probe_id), "probe")
        before = store.near(bench.db, row.number, int(bench.clock().timestamp()), FRESH_S)
        if before is not None and abs(before - given.temp_c) > 15 and not given.sure:
            said = f"It was {before:.1f} °C just now. If {given.temp_c:g} °C is right all the same, say so."
            raise Problem(said, {"temp_c": said})
        _keep(bench, row, given.temp_c, given.humidity_pct)
        return answer(probe(bench, probe_id))


def read_now(bench: Bench, probe_id: str) -> ProbeView:
    """Ask the driver of a probe, and keep what it says."""
    with bench.write() as answer:
        row = present(store.probe(bench.db, probe_id), "probe")
        if row.driver not in PROBE_DRIVERS:
            raise Conflict(f"{row.name} is read by hand: type what it shows.")
        _read(bench, row)
        return answer(probe(bench, probe_id))


def read_all(bench: Bench) -> int:
    """One reading of every probe that has a driver; how many there are."""
    with bench.write():
        rows = [row for row in store.probes(bench.db) if row.driver in PROBE_DRIVERS]
        for row in rows:
            _read(bench, row)
    return len(rows)


def room_now(bench: Bench) -> RoomNow:
    """How warm the room is, for the top bar."""
    rows = [row for row in store.probes(bench.db) if row.place == "room"]
    told = _fresh(bench, rows)
    return RoomNow(room=told, stale=bool(rows) and told is None)


def how_warm(bench: Bench, printer_id: str) -> HowWarm | None:
    """The best that is known of a printer now: its resin, else the air in its chamber, else the room."""
    rows = [row for row in store.probes(bench.db) if row.printer_id == printer_id or row.place == "room"]
    order = ("resin", "chamber air", "room")
    for place in order:
        told = _fresh(bench, [row for row in rows if row.place == place])
        if told is not None:
            return told
    return None


def last_start(bench: Bench, printer_id: str) -> LastStart | None:
    """What was noted of the print before, while the room is likely to be as warm as then."""
    row = prints.last_temperature(bench.db, printer_id, iso(bench.clock() - LIKELY_THE_SAME))
    return LastStart.model_validate(row) if row else None


def resin_at(bench: Bench, printer_id: str, at_s: int) -> float | None:
    """What a probe in the resin of a printer said about a moment."""
    rows = [row for row in store.probes(bench.db) if row.printer_id == printer_id and row.place == "resin"]
    return next((t for row in rows if (t := store.near(bench.db, row.number, at_s, FRESH_S)) is not None), None)


def second(text: str) -> int:
    """Seconds since 1970 of an ISO time."""
    return int(datetime.fromisoformat(text.replace("Z", "+00:00")).timestamp())


def moment(at_s: float) -> str:
    return iso(datetime.fromtimestamp(at_s, UTC))


def _fresh(bench: Bench, rows: list[store.ProbeRow]) -> HowWarm | None:
    newest = store.latest(bench.db, [row.number for row in rows])
    now = bench.clock().timestamp()
    for row in rows:
        held = newest.get(row.number)
        if held is not None and now - held.at_s <= FRESH_S:
            return HowWarm(temp_c=held.temp_c, place=row.place, probe=row.name, probe_id=row.id, at=moment(held.at_s))
    return None


def _check(bench: Bench, given: ProbeInput, own_id: str | None) -> None:
    free_name(bench, "probe", given.name, own_id)
    if given.place != "room" and given.printer_id is None:
        said = "Say in which printer it is."
        raise Problem(said, {"printer_id": said})
    if given.place == "room" and given.printer_id is not None:
        said = "A probe in the room belongs to no printer."
        raise Problem(said, {"printer_id": said})
    if given.printer_id is not None and shelf.printer(bench.db, given.printer_id) is None:
        said = "There is no such printer."
        raise Problem(said, {"printer_id": said})


def _read(bench: Bench, row: store.ProbeRow) -> None:
    setting = ProbeSetting(row.place, zlib.crc32(row.id.encode()), _heatings(bench, row))
    said = PROBE_DRIVERS[row.driver](setting).read(bench.clock())
    _keep(bench, row, said.temp_c, said.humidity_pct)


def _keep(bench: Bench, row: store.ProbeRow, temp_c: float, humidity_pct: float | None) -> None:
    at = int(bench.clock().timestamp())
    store.add_samples(bench.db, row.number, [(at, temp_c, humidity_pct)])
    store.sum_up(bench.db, row.number, at, at)


def _heatings(bench: Bench, row: store.ProbeRow) -> list[Heating]:
    """Warm starts that were begun and reach this probe: a stand-in must feel the heater too."""
    if row.printer is None:
        return []
    since = iso(bench.clock() - timedelta(hours=RELAX_H))
    made = []
    for held in climate.begun_since(bench.db, since):
        begun, asked = second(held.begun_at or held.at), held.asked
        for chamber, plan in zip(asked["chambers"], held.plan["chambers"], strict=True):
            if chamber["printer"] != row.printer:
                continue
            steady = asked["ambient_c"] + asked["heater_w"] / chamber["loss_w_per_k"]
            tau = chamber["heat_capacity_j_per_k"] / chamber["loss_w_per_k"]
            made.append(Heating(begun + plan["on_s"], begun + plan["off_s"], asked["target_c"], steady, tau))
            if row.place == "resin" and asked["bath"]:
                poured = next(s["at_s"] for s in held.plan["steps"] if s["kind"] == "pour")
                target = asked["bath"]["target_c"]
                made.append(Heating(begun + poured, begun + plan["off_s"], target, 4 * target, 60.0))
    return made


def _view(bench: Bench, row: store.ProbeRow, newest: store.Latest | None) -> ProbeView:
    ends = store.span(bench.db, row.number)
    now = None
    if newest is not None:
        age = bench.clock().timestamp() - newest.at_s
        now = ProbeNow(
            temp_c=newest.temp_c, humidity_pct=newest.humidity_pct, at=moment(newest.at_s), age_s=age,
            fresh=age <= FRESH_S,
        )  # fmt: skip
    return ProbeView(
        **{name: getattr(row, name) for name in _OWN}, now=now, first_at=moment(ends[0]) if ends else None,
        last_at=moment(ends[1]) if ends else None,
    )  # fmt: skip


_OWN = ("id", "code", "name", "place", "printer_id", "printer", "driver", "note", "version", "retired_at")
