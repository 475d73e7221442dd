"""Heaters, and what each printer's chamber is thermally, found from a logged heating."""

from __future__ import annotations

from pydantic import Field

from ...core.climate.chamber import after
from ...core.climate.heat_fit import HeatSample, WarmUpFitInput, WarmUpFitResult, warm_up_fit
from ...core.contract import Contract, Problem
from ...store import climate as store
from ...store import probes, shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, Conflict, View, present, same_version
from ..shelf.entry import Name, Version, free_name, version_of
from .probes import second

# A heating is a matter of hours; what is longer holds something else too.
LONGEST_S = 24 * 3600
MOST_SAMPLES = 2000


class HeaterInput(Contract):
    name: Name
    watts: float = Field(ge=1, le=20_000)
    cut_out: bool = Field(description="It has a thermal cut-out of its own")
    thermostat: bool = False
    version: Version = None


class HeaterView(View):
    id: str
    code: str
    name: str
    watts: float
    cut_out: bool
    thermostat: bool
    version: int
    retired_at: str | None


class FitInput(Contract):
    """A stretch of a chamber probe's log in which the heater ran without a break."""

    probe_id: str = Field(max_length=40)
    heater_id: str = Field(max_length=40)
    from_at: str = Field(max_length=30)
    to_at: str = Field(max_length=30)
    ambient_c: float | None = Field(None, ge=-40, le=60, description="The room; from its probe when not given")


class ChamberFit(View):
    id: str
    code: str
    printer_id: str
    printer: str
    heater_id: str
    heater: str
    ambient_c: float
    loss_w_per_k: float
    heat_capacity_j_per_k: float
    result: WarmUpFitResult
    curve: list[tuple[float, float]] = Field(description="Logged: seconds from the start, and °C")
    fitted: list[tuple[float, float]] = Field(description="The curve through it")
    initials: str | None
    at: str


def heaters(bench: Bench) -> list[HeaterView]:
    return [HeaterView.model_validate(row) for row in store.heaters(bench.db)]


def add_heater(bench: Bench, given: HeaterInput) -> HeaterView:
    with bench.write() as answer:
        free_name(bench, "heater", given.name, None)
        heater_id = bench.new_id()
        insert(
            bench.db, "heater", id=heater_id, code=next_code(bench.db, "H"), created_at=bench.now(),
            **given.model_dump(exclude={"version"}),
        )  # fmt: skip
        return answer(HeaterView.model_validate(store.heater(bench.db, heater_id)))


def change_heater(bench: Bench, heater_id: str, given: HeaterInput) -> HeaterView:
    with bench.write() as answer:
        held = present(store.heater(bench.db, heater_id), "heater")
        same_version(held.version, version_of(given.version), held.name)
        free_name(bench, "heater", given.name, heater_id)
        update(bench.db, "heater", heater_id, version=held.version + 1, **given.model_dump(exclude={"version"}))
        return answer(HeaterView.model_validate(store.heater(bench.db, heater_id)))


def fits(bench: Bench) -> list[ChamberFit]:
    """What is known of each printer's chamber."""
    return [_view(bench, row) for row in store.fits(bench.db)]


def fit(bench: Bench, given: FitInput) -> ChamberFit:
    """Find loss and heat capacity from a logged heating, and keep them.

    Raises
    ------
    Problem
        When the stretch holds too little, or no heating.
    """
    with bench.write() as answer:
        probe = present(probes.probe(bench.db, given.probe_id), "probe")
        heater = present(store.heater(bench.db, given.heater_id), "heater")
        if probe.printer_id is None:
            said = "A probe in the room tells nothing of a chamber: choose one in a chamber's air."
            raise Problem(said, {"probe_id": said})
        try:
            from_s, to_s = second(given.from_at), second(given.to_at)
        except ValueError:
            raise Problem("Give times.", {"from_at": "Give a time such as 2026-01-21T08:00:00Z."}) from None
        if not 0 < to_s - from_s <= LONGEST_S:
            said = "Choose the hours in which the heater ran: the start before the end, no more than a day."
            raise Problem(said, {"to_at": said})
        ambient = given.ambient_c if given.ambient_c is not None else _room_at(bench, from_s)
        result = warm_up_fit(
            WarmUpFitInput(
                samples=_samples(bench, probe.number, from_s, to_s), heater_w=heater.watts, ambient_c=ambient
            )
        )
        fit_id = bench.new_id()
        insert(
            bench.db, "chamber_fit", id=fit_id, code=next_code(bench.db, "Q"), printer_id=probe.printer_id,
            heater_id=heater.id, probe=probe.number, from_s=from_s, to_s=to_s, ambient_c=ambient,
            loss_w_per_k=result.loss_w_per_k, heat_capacity_j_per_k=result.heat_capacity_j_per_k,
            result=result.model_dump(), technician_id=bench.technician_id(), at=bench.now(),
        )  # fmt: skip
        return answer(_view(bench, present(store.fit(bench.db, fit_id), "fit")))


def withdraw(bench: Bench, fit_id: str, back: bool = False) -> ChamberFit:
    """Take a fit out; the one before counts again."""
    with bench.write() as answer:
        row = present(store.fit(bench.db, fit_id), "fit")
        update(bench.db, "chamber_fit", fit_id, withdrawn_at=None if back else bench.now())
        return answer(_view(bench, row))


def of_printer(bench: Bench, printer_id: str) -> store.FitRow:
    """The fit that counts for a printer.

    Raises
    ------
    Conflict
        While none was made.
    """
    found = next((row for row in store.fits(bench.db) if row.printer_id == printer_id), None)
    if found is None:
        name = present(shelf.printer(bench.db, printer_id), "printer").name
        raise Conflict(f"Nothing is known of {name}'s chamber yet: log one heating of it first.")
    return found


def _room_at(bench: Bench, at_s: int) -> float:
    rooms = [row for row in probes.probes(bench.db) if row.place == "room"]
    told = next((t for row in rooms if (t := probes.near(bench.db, row.number, at_s, 7200)) is not None), None)
    if told is None:
        said = "No probe logged the room then: type how warm the room was."
        raise Problem(said, {"ambient_c": said})
    return told


def _samples(bench: Bench, number: int, from_s: int, to_s: int) -> list[HeatSample]:
    rows = probes.samples(bench.db, number, from_s, to_s + 1)
    every = max(len(rows) // MOST_SAMPLES, 1)
    if not rows:
        said = "This probe logged nothing in that time."
        raise Problem(said, {"from_at": said})
    return [HeatSample(time_s=row[0] - from_s, temp_c=row[3]) for row in rows[::every]]


def _view(bench: Bench, row: store.FitRow) -> ChamberFit:
    logged = probes.samples(bench.db, row.probe, row.from_s, row.to_s + 1)
    every = max(len(logged) // 200, 1)
    own = {k: getattr(row, k) for k in ChamberFit.model_fields if k not in ("curve", "fitted", "result")}
    result, long = WarmUpFitResult.model_validate(row.result), row.to_s - row.from_s
    return ChamberFit(
        **own, result=result,
        fitted=[(t, after(result.start_c, result.steady_c, result.time_constant_s, t)) for t in (long * i / 60 for i in range(61))],
        curve=[(float(r[0] - row.from_s), r[3]) for r in logged[::every]],
    )  # fmt: skip
