"""Prints from before: kept in the log as a table had them. No bottle, screen or vat is moved by them, and no gate is shut."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.printing.plausible import check_layer_height
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert
from ...store.terms import Outcome, PartOutcome
from ..unit_of_work import UnitOfWork
from .parts import CountedPart, counted, keep_parts

PART_OUTCOMES: dict[str, PartOutcome] = {"whole": "whole", "missing parts": "in part", "failed": "missing"}


class ImportedPrint(Contract):
    """A print as a table has it."""

    material_id: str = Field(max_length=40)
    printer_id: str = Field(max_length=40)
    printed_at: str = Field(max_length=30)
    exposure_s: float | None = None
    layer_height_um: float | None = None
    part: str = Field("part", min_length=1, max_length=80)
    parts: int = Field(1, ge=1, le=1000)
    whole: int | None = Field(None, ge=0, le=1000)
    outcome: Outcome
    volume_ml: float = Field(0, ge=0, le=50_000)
    minutes: float = Field(0, ge=0, le=20_000)
    temp_c: float | None = None
    note: str = Field("", max_length=500)


def check(work: UnitOfWork, request: ImportedPrint) -> None:
    """Refuse what cannot be meant.

    Raises
    ------
    Problem
        With the field.
    """
    if request.printed_at > work.now():
        message = "That day has not come yet."
        raise Problem(message, {"printed_at": message})
    if request.layer_height_um is not None:
        check_layer_height(request.layer_height_um)
    if shelf.printer(work.db, request.printer_id) is None or shelf.material(work.db, request.material_id) is None:
        message = "It is not on the shelf."
        raise Problem(message, {"printer": message})


def keep(work: UnitOfWork, request: ImportedPrint, table_code: str, row: int) -> None:
    """Keep a print with its parts and report, inside whoever's transaction."""
    technician_id, print_id, report_id = work.technician().id, work.new_id(), work.new_id()
    insert(
        work.db,
        "print",
        id=print_id,
        code=next_code(work.db, "J"),
        printer_id=request.printer_id,
        material_id=request.material_id,
        status="printed",
        of_parts=True,
        planned_at=request.printed_at,
        printed_at=request.printed_at,
        layer_height_um=request.layer_height_um,
        exposure_s=request.exposure_s,
        temp_c=request.temp_c,
        temp_place=None if request.temp_c is None else "room",
        volume_ml=request.volume_ml,
        duration_s=60 * request.minutes,
        outcome=request.outcome,
        seen=request.note,
        pieces_lost=False,
        settings_note=f"Imported: row {row} of {table_code}",
        started_from=table_code,
        technician_id=technician_id,
    )
    part = CountedPart(
        name=request.part, printed=request.parts, outcome=PART_OUTCOMES[request.outcome], whole=request.whole
    )
    insert(
        work.db,
        "print_report",
        id=report_id,
        print_id=print_id,
        number=1,
        finished_at=request.printed_at,
        outcome=request.outcome,
        symptoms=[],
        seen=request.note,
        pieces_lost=False,
        volume_ml=request.volume_ml,
        duration_s=60 * request.minutes,
        technician_id=technician_id,
        recorded_at=work.now(),
    )
    keep_parts(work, print_id, report_id, counted([part], []))
