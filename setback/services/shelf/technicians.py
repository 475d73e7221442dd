"""Technicians appear only as their initials."""

from __future__ import annotations

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.rows import insert, update
from ..bench import Bench, View
from .entry import Initials


class TechnicianInput(Contract):
    initials: Initials


class TechnicianView(View):
    id: str
    initials: str
    retired_at: str | None


def technicians(bench: Bench) -> list[TechnicianView]:
    return [TechnicianView.model_validate(row) for row in shelf.technicians(bench.db)]


def add_technician(bench: Bench, given: TechnicianInput) -> TechnicianView:
    """Add initials, or bring retired ones back."""
    with bench.write() as answer:
        held = shelf.technician_by_initials(bench.db, given.initials)
        if held is not None and held.retired_at is None:
            raise Problem("These initials are taken.", {"initials": f"{given.initials} is here already."})
        if held is not None:
            update(bench.db, "technician", held.id, retired_at=None)
        else:
            insert(bench.db, "technician", id=bench.new_id(), initials=given.initials, created_at=bench.now())
        return answer(TechnicianView.model_validate(shelf.technician_by_initials(bench.db, given.initials)))
