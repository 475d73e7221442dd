"""Heaters, and what each printer's chamber is thermally, found from a logged heating."""

from __future__ import annotations

from pydantic import Field

from ...core.climate.heat_fit import HeatSample, WarmUpFitInput, WarmUpFitResult, temperature_at, warm_up_fit
from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.climate import probes
from ...store.climate import warm_starts as store
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import same_version
from ..shelf.entry import Name, Version, free_name, version_of
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .probes import second

# A heating is a matter of hours; what is longer holds something else too.
LONGEST_S = 24 * 3600
MOST_SAMPLES = 2000


class HeaterInput(Contract):
    """A heater: watts, thermostat, cut-out."""

    name: Name
    watts: float = Field(ge=1, le=20_000)
    cut_out: bool = Field(description="It has a thermal cut-out of its own")
    thermostat: bool = False
    version: Version = None


class FitInput(Contract):
    """A stretch of a chamber probe's log in which the heater ran without a break."""

    probe_id: str = Field(max_length=40)
    heater_id: str = Field(max_length=40)
    from_at: str = Field(max_length=30)
    to_at: str = Field(max_length=30)
    ambient_c: float | None = Field(None, ge=-40, le=60, description="The room; from its probe when not given")


class ChamberFit(View):
    """How a chamber answered to a heater."""

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


def heaters(work: UnitOfWork) -> list[store.Heater]:
    """Heaters on the shelf, by name."""
    return store.heaters(work.db)


def add_heater(work: UnitOfWork, request: HeaterInput) -> store.Heater:
    """Add a heater."""
    with work.write() as answer:
        free_name(work, "heater", request.name, None)
        heater_id = work.new_id()
        insert(
            work.db,
            "heater",
            id=heater_id,
            code=next_code(work.db, "H"),
            created_at=work.now(),
            **request.model_dump(exclude={"version"}),
        )
        return answer(present(store.heater(work.db, heater_id), "heater"))


def change_heater(work: UnitOfWork, heater_id: str, request: HeaterInput) -> store.Heater:
    """Change a heater."""
    with work.write() as answer:
        stored = present(store.heater(work.db, heater_id), "heater")
        same_version(stored, version_of(request.version), stored.name, request)
        free_name(work, "heater", request.name, heater_id)
        update(work.db, "heater", heater_id, version=stored.version + 1, **request.model_dump(exclude={"version"}))
        return answer(present(store.heater(work.db, heater_id), "heater"))


def fits(work: UnitOfWork) -> list[ChamberFit]:
    """What is known of each printer's chamber."""
    return [_view(work, row) for row in store.fits(work.db)]


def fit(work: UnitOfWork, request: FitInput) -> ChamberFit:
    """Find loss and heat capacity from a logged heating, and keep them.

    Raises
    ------
    Problem
        When the stretch holds too little, or no heating.
    """
    with work.write() as answer:
        probe = present(probes.probe(work.db, request.probe_id), "probe")
        heater = present(store.heater(work.db, request.heater_id), "heater")
        if probe.printer_id is None:
            message = "A probe in the room tells nothing of a chamber: choose one in a chamber's air."
            raise Problem(message, {"probe_id": message})
        try:
            from_s, to_s = second(request.from_at), second(request.to_at)
        except ValueError:
            raise Problem("Give times.", {"from_at": "Give a time such as 2026-01-21T08:00:00Z."}) from None
        if not 0 < to_s - from_s <= LONGEST_S:
            message = "Choose the hours in which the heater ran: the start before the end, no more than a day."
            raise Problem(message, {"to_at": message})
        ambient = request.ambient_c if request.ambient_c is not None else _room_at(work, from_s)
        result = warm_up_fit(
            WarmUpFitInput(samples=_samples(work, probe.number, from_s, to_s), heater_w=heater.watts, ambient_c=ambient)
        )
        fit_id = work.new_id()
        insert(
            work.db,
            "chamber_fit",
            id=fit_id,
            code=next_code(work.db, "Q"),
            printer_id=probe.printer_id,
            heater_id=heater.id,
            probe=probe.number,
            from_s=from_s,
            to_s=to_s,
            ambient_c=ambient,
            loss_w_per_k=result.loss_w_per_k,
            heat_capacity_j_per_k=result.heat_capacity_j_per_k,
            result=result.model_dump(),
            technician_id=work.technician_id(),
            at=work.now(),
        )
        return answer(_view(work, present(store.fit(work.db, fit_id), "fit")))


def withdraw(work: UnitOfWork, fit_id: str, back: bool = False) -> ChamberFit:
    """Take a fit out; the one before counts again."""
    with work.write() as answer:
        row = present(store.fit(work.db, fit_id), "fit")
        update(work.db, "chamber_fit", fit_id, withdrawn_at=None if back else work.now())
        return answer(_view(work, row))


def of_printer(work: UnitOfWork, printer_id: str) -> store.FitRow:
    """The fit that counts for a printer.

    Raises
    ------
    Conflict
        While none was made.
    """
    newest_fit = next((row for row in store.fits(work.db) if row.printer_id == printer_id), None)
    if newest_fit is None:
        name = present(shelf.printer(work.db, printer_id), "printer").name
        raise Conflict(f"Nothing is known of {name}'s chamber yet: log one heating of it first.")
    return newest_fit


def _room_at(work: UnitOfWork, at_s: int) -> float:
    rooms = [row for row in probes.probes(work.db) if row.place == "room"]
    temperature = next((t for row in rooms if (t := probes.near(work.db, row.number, at_s, 7200)) is not None), None)
    if temperature is None:
        message = "No probe logged the room then: type how warm the room was."
        raise Problem(message, {"ambient_c": message})
    return temperature


def _samples(work: UnitOfWork, number: int, from_s: int, to_s: int) -> list[HeatSample]:
    rows = probes.samples(work.db, number, from_s, to_s + 1)
    every = max(len(rows) // MOST_SAMPLES, 1)
    if not rows:
        message = "This probe logged nothing in that time."
        raise Problem(message, {"from_at": message})
    return [HeatSample(time_s=row[0] - from_s, temp_c=row[3]) for row in rows[::every]]


def _view(work: UnitOfWork, row: store.FitRow) -> ChamberFit:
    logged = probes.samples(work.db, row.probe, row.from_s, row.to_s + 1)
    every = max(len(logged) // 200, 1)
    values = {k: getattr(row, k) for k in ChamberFit.model_fields if k not in ("curve", "fitted", "result")}
    result, long = WarmUpFitResult.model_validate(row.result), row.to_s - row.from_s
    return ChamberFit(
        **values,
        result=result,
        fitted=[(t, temperature_at(result, t)) for t in (long * i / 60 for i in range(61))],
        curve=[(float(r[0] - row.from_s), r[3]) for r in logged[::every]],
    )
