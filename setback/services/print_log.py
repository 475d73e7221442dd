"""The log of prints: short entries with their conditions."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from ..core.contract import Contract, Problem
from ..store import parameter_sets, prints, shelf
from ..store.codes import next_code
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present
from .climate.gate import pass_gate
from .climate.probes import resin_at
from .gates import check_gates
from .shelf.entry import Note

Outcome = Literal["whole", "missing parts", "failed"]
PartOutcome = Literal["whole", "in part", "missing"]


class PrintedPartInput(Contract):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    place: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = ""
    outcome: PartOutcome = "whole"


class LogInput(Contract):
    """A print of parts, outside a campaign."""

    printer_id: str = Field(max_length=40)
    set_code: str | None = Field(None, max_length=20, description="The issued set; or say the trial settings")
    settings_note: Note = ""
    temp_c: float | None = Field(None, ge=-20, le=80)
    temp_place: Literal["room", "chamber air", "resin"] | None = None
    volume_ml: float = Field(0, ge=0, le=50_000)
    parts: list[PrintedPartInput] = Field(min_length=1, max_length=60)
    seen: Note = ""
    lift_suppressed: bool = False
    temp_end_c: float | None = Field(
        None, ge=-20, le=80, description="Of the resin at the end; from its probe when not given"
    )
    outside_band: Note = Field("", description="Why it was printed outside the set's temperature band")


class PrintedPart(View):
    id: str
    name: str
    place: str
    outcome: str


class LogView(View):
    id: str
    code: str
    printer_id: str
    printer: str
    material: str | None
    calibration_id: str | None
    calibration_code: str | None
    set_code: str | None
    settings_note: str
    printed_at: str
    temp_c: float | None
    temp_place: str | None
    temp_end_c: float | None
    outside_band: dict[str, Any] | None = Field(description="What was said of it, when it began outside its band")
    volume_ml: float
    duration_s: float
    outcome: str | None
    seen: str
    initials: str | None
    searched_at: str | None
    lift_suppressed: bool
    lift_back_at: str | None
    coupons: int
    specimens: int
    parts: list[PrintedPart] = []


def logged(bench: Bench, before: str, limit: int, failed: bool = False) -> list[LogView]:
    """Prints that came out, newest first, those before the one of this id; only failures where asked for."""
    if before:
        present(prints.one_logged(bench.db, before), "print")
    rows = prints.logged(bench.db, before, limit, failed)
    held: dict[str, list[PrintedPart]] = {}
    for part in prints.parts(bench.db, [row.id for row in rows]):
        held.setdefault(part.print_id, []).append(PrintedPart.model_validate(part))
    return [LogView.model_validate(row).model_copy(update={"parts": held.get(row.id, [])}) for row in rows]


def log(bench: Bench, given: LogInput) -> LogView:
    """Log a print of parts.

    Raises
    ------
    Conflict
        While a gate of this printer is shut: the vat is not searched, or the lift is not back on.
    """
    check_temperature(given.temp_c, given.temp_place)
    with bench.write() as answer:
        printer = present(shelf.printer(bench.db, given.printer_id), "printer")
        if printer.retired_at is not None:
            raise Conflict(f"{printer.name} is retired: nothing can be printed on it.")
        check_gates(bench, given.printer_id, given.lift_suppressed)
        held = parameter_sets.parameter_set(bench.db, given.set_code) if given.set_code else None
        if given.set_code and (held is None or held.printer_id != printer.id):
            said = f"There is no set {given.set_code} of {printer.name}."
            raise Problem(said, {"set_code": said})
        crossed = pass_gate(bench, held.id if held else None, given.temp_c, given.outside_band)
        end_c = given.temp_end_c if given.temp_end_c is not None else _resin_now(bench, printer.id)
        outcomes = {part.outcome for part in given.parts}
        whole = outcomes == {"whole"}
        print_id = bench.new_id()
        insert(
            bench.db, "print", id=print_id, code=next_code(bench.db, "J"), printer_id=printer.id, status="printed",
            planned_at=bench.now(), printed_at=bench.now(), temp_c=given.temp_c, temp_place=given.temp_place,
            volume_ml=given.volume_ml, duration_s=0, technician_id=bench.technician_id(),
            outcome="whole" if whole else "failed" if outcomes == {"missing"} else "missing parts", seen=given.seen,
            parameter_set_id=held.id if held else None, settings_note=given.settings_note,
            lift_suppressed=given.lift_suppressed, temp_end_c=end_c, outside_band=crossed,
        )  # fmt: skip
        for part in given.parts:
            insert(bench.db, "print_part", id=bench.new_id(), print_id=print_id, **part.model_dump())
        return answer(_view(bench, print_id))


def _resin_now(bench: Bench, printer_id: str) -> float | None:
    return resin_at(bench, printer_id, int(bench.clock().timestamp()))


def check_temperature(temp_c: float | None, temp_place: str | None) -> None:
    if (temp_c is None) != (temp_place is None):
        said = "Say where the temperature was measured." if temp_place is None else "Give the temperature."
        raise Problem(said, {"temp_place" if temp_place is None else "temp_c": said})


def vat_searched(bench: Bench, print_id: str) -> LogView:
    """Somebody searched the vat and checked the film after missing parts."""
    with bench.write() as answer:
        who = bench.technician()
        row = present(prints.one_logged(bench.db, print_id), "print")
        if row.outcome not in ("missing parts", "failed") or row.searched_at is not None:
            raise Conflict(f"{row.code} does not wait for that.")
        update(bench.db, "print", print_id, searched_at=bench.now(), searched_by=who.id)
        return answer(_view(bench, print_id))


def lift_back(bench: Bench, print_id: str) -> LogView:
    """Somebody switched the lift back on."""
    with bench.write() as answer:
        who = bench.technician()
        row = present(prints.one_logged(bench.db, print_id), "print")
        if not row.lift_suppressed or row.lift_back_at is not None:
            raise Conflict(f"{row.code} does not wait for that.")
        update(bench.db, "print", print_id, lift_back_at=bench.now(), lift_back_by=who.id)
        return answer(_view(bench, print_id))


def _view(bench: Bench, print_id: str) -> LogView:
    row = present(prints.one_logged(bench.db, print_id), "print")
    parts = [PrintedPart.model_validate(part) for part in prints.parts(bench.db, [print_id])]
    return LogView.model_validate(row).model_copy(update={"parts": parts})
