"""A print of parts starts: with which settings, how warm, past which gates."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from pydantic import AwareDatetime, Field, StringConstraints

from ...core.contract import Contract, Millimetres, Problem, Seconds
from ...core.printing.plausible import check_layer_height
from ...core.printing.settings import Settings
from ...store import blends, shelf
from ...store.codes import next_code
from ...store.prints import log
from ...store.rows import insert
from ...store.sets import parameter_sets
from ..climate.gate import pass_gate
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, iso, present
from .gates import check_gates
from .parts import PlannedPart, keep_parts
from .record import Conditions, check_temperature

SLACK_S = 300
"""Clocks of two machines may differ by this much."""


class TrialSettings(Contract):
    """Settings of a print without an issued set."""

    material_id: str = Field(max_length=40)
    layer_height_um: Annotated[float, Field(ge=5, le=1000)]
    exposure_s: Seconds
    settings: Settings = Field(default_factory=Settings, description="All others")


class StartFields(Conditions):
    """What is said of a print of parts when it starts."""

    printer_id: str = Field(max_length=40)
    set_code: str | None = Field(None, max_length=20, description="The issued set; or give the trial settings")
    trial: TrialSettings | None = None
    settings_note: Note = ""
    tip_mm: Millimetres | None = Field(None, description="Support tip")
    bottle_id: str | None = Field(None, max_length=40, description="Bottle the resin comes out of")
    lift_suppressed: bool = False
    started_at: AwareDatetime | None = Field(None, description="Now when not given")
    started_from: Annotated[str, StringConstraints(strip_whitespace=True, max_length=20)] | None = Field(
        None, description="Code of the coupon or test it is started from"
    )


class StartInput(StartFields):
    """A print of parts that starts, or has started."""

    parts: list[PlannedPart] = Field(min_length=1, max_length=60)
    volume_ml: float = Field(0, ge=0, le=50_000, description="As the slicing program says")
    minutes: float | None = Field(None, ge=0, le=20_000, description="As the slicing program says")


def put(
    work: UnitOfWork,
    request: StartFields,
    started_at: str | None,
    volume_ml: float,
    duration_s: float,
    finished_at: str | None = None,
) -> str:
    """Keep a print of parts that has started, inside whoever's transaction; without a start it is not known when.

    One that is entered when it came out already has its end: other prints may have run since.

    Raises
    ------
    Problem
        At what cannot be: its set, its moment, its bottle, its temperature without a place.
    Conflict
        While a gate of this printer is shut, or outside the set's band while nobody says why.
    """
    check_temperature(request)
    printer = present(shelf.printer(work.db, request.printer_id), "printer")
    set_row = parameter_sets.parameter_set(work.db, request.set_code) if request.set_code else None
    if request.set_code and (set_row is None or set_row.printer_id != printer.id):
        message = f"There is no set {request.set_code} of {printer.name}."
        raise Problem(message, {"set_code": message})
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: nothing can be printed on it.")
    settings = _settings(work, request, set_row)
    if request.bottle_id is not None:
        _check_bottle(work, request.bottle_id, settings["material_id"])
    if started_at is not None:
        check_moment(work, started_at, "started_at")
        check_alone(work, printer, started_at, finished_at or work.now(), "")
        check_vat(work, printer, started_at)
    check_gates(work, printer.id, request.lift_suppressed)
    crossed = pass_gate(work, set_row.id if set_row else None, request.temp_c, request.outside_band)
    print_id = work.new_id()
    insert(
        work.db,
        "print",
        id=print_id,
        code=next_code(work.db, "J"),
        printer_id=printer.id,
        status="planned",
        of_parts=True,
        planned_at=work.now(),
        started_at=started_at,
        started_by=work.technician().id,
        volume_ml=volume_ml,
        duration_s=duration_s,
        parameter_set_id=set_row.id if set_row else None,
        settings_note=request.settings_note,
        lift_suppressed=request.lift_suppressed,
        tip_mm=request.tip_mm,
        bottle_id=request.bottle_id,
        started_from=request.started_from or None,
        temp_c=request.temp_c,
        temp_place=request.temp_place,
        outside_band=crossed,
        **settings,
    )
    return print_id


def start(work: UnitOfWork, request: StartInput) -> str:
    """Keep a print that starts with its planned parts, inside whoever's transaction."""
    started_at = iso(request.started_at) if request.started_at is not None else work.now()
    duration_s = 60 * request.minutes if request.minutes is not None else 0.0
    print_id = put(work, request, started_at, request.volume_ml, duration_s)
    keep_parts(work, print_id, None, request.parts)
    return print_id


def _settings(work: UnitOfWork, request: StartFields, set_row: parameter_sets.SetRow | None) -> dict[str, Any]:
    """Material, layer, exposure and all other settings as they are kept with the print."""
    if set_row is not None:
        return {
            "material_id": set_row.material_id,
            "layer_height_um": set_row.layer_height_um,
            "exposure_s": set_row.exposure_s,
        }
    if request.trial is None:
        return {"material_id": None}
    trial = request.trial
    if shelf.material(work.db, trial.material_id) is None:
        raise Problem("Choose the material.", {"trial.material_id": "Choose the material."})
    try:
        check_layer_height(trial.layer_height_um)
    except Problem as slip:
        raise Problem(slip.message, {"trial.layer_height_um": slip.message}) from None
    return {**trial.model_dump(exclude={"settings"}), "settings": trial.settings.model_dump()}


def _check_bottle(work: UnitOfWork, bottle_id: str, material_id: str | None) -> None:
    bottle = present(shelf.bottle(work.db, bottle_id), "bottle")
    if material_id is not None and bottle.material_id != material_id:
        message = f"{bottle.code} holds {bottle.material}, not what is printed."
        raise Problem(message, {"bottle_id": message})


def check_moment(work: UnitOfWork, moment: str, field: str) -> None:
    """Refuse a moment that lies in the future."""
    if (datetime.fromisoformat(moment) - work.clock()).total_seconds() > SLACK_S:
        raise Problem("This lies in the future.", {field: "This lies in the future."})


def check_alone(work: UnitOfWork, printer: shelf.Printer, started_at: str, finished_at: str | None, but: str) -> None:
    """Refuse a print while another one runs, or ran, on its printer."""
    other = log.overlapping(work.db, printer.id, started_at, finished_at, but)
    if other is None:
        return
    if other.finished_at is None:
        message = f"{other.code} runs on {printer.name} since {in_words(other.started_at)}: say first how it came out."
    else:
        message = (
            f"{other.code} ran on {printer.name} from {in_words(other.started_at)} to {in_words(other.finished_at)}."
        )
    raise Problem(message, {"started_at": message})


def check_vat(work: UnitOfWork, printer: shelf.Printer, moment: str) -> None:
    """Refuse a print at a moment when its printer's vat was empty, by the records of a shop that keeps them."""
    entries = [row for row in blends.ledger(work.db, [printer.id]) if row.withdrawn_at is None and row.kind != "print"]
    before = [row for row in entries if row.at <= moment]
    if not entries or (before and before[-1].kind != "empty"):
        return
    filled = next((row.at for row in entries if row.at > moment and row.kind in ("fill", "pour", "feed")), None)
    when = f": it was filled {in_words(filled)}" if filled else ""
    message = f"{printer.name}'s vat was empty then{when}."
    raise Problem(message, {"started_at": message})


def in_words(moment: str) -> str:
    """A moment as the clock of this machine has it."""
    at = datetime.fromisoformat(moment).astimezone()
    return f"{at.day} {at:%b %H:%M}"
