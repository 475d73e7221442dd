"""Technicians appear only as their initials."""

from __future__ import annotations

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.rows import insert, update
from ..unit_of_work import Conflict, UnitOfWork, present
from .entry import Initials


class TechnicianInput(Contract):
    """Initials of somebody who works here."""

    initials: Initials


def technicians(work: UnitOfWork) -> list[shelf.Technician]:
    """Who works here, by initials."""
    return shelf.technicians(work.db)


def add_technician(work: UnitOfWork, request: TechnicianInput) -> shelf.Technician:
    """Add initials, or bring retired ones back.

    Raises
    ------
    Conflict
        Where people sign in: initials belong to an account there.
    """
    if work.sign_in_id is not None:
        raise Conflict("People sign in here: a lead adds them under This lab, People.")
    with work.write(by_anybody=True) as answer:
        stored = shelf.technician_by_initials(work.db, request.initials)
        if stored is not None and stored.retired_at is None:
            raise Problem("These initials are taken.", {"initials": f"{request.initials} is here already."})
        return answer(put_technician(work, request))


def put_technician(work: UnitOfWork, request: TechnicianInput) -> shelf.Technician:
    """Initials that work here from now on, whether they did before or not, inside whoever's transaction."""
    stored = shelf.technician_by_initials(work.db, request.initials)
    if stored is None:
        insert(work.db, "technician", id=work.new_id(), initials=request.initials, created_at=work.now())
    elif stored.retired_at is not None:
        update(work.db, "technician", stored.id, retired_at=None)
    return present(shelf.technician_by_initials(work.db, request.initials), "technician")
