"""Wash baths: what they hold, how much went through them, and when they are filled anew."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract
from ...store import wash_baths as store
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import same_version
from ..unit_of_work import Conflict, UnitOfWork, present
from .entry import Name, Page, Version, free_name, version_of


class WashBathInput(Contract):
    """A wash bath and how many loads it takes."""

    name: Name
    wash_fluid: Name = Field(description="As the finish routes that use it call it")
    stage: store.BathStage = Field(description="First, dirty bath or second, clean one")
    volume_l: float = Field(gt=0, le=200, description="What it holds, litres")
    most_loads: int = Field(ge=1, le=10_000, description="Loads after which it is filled anew")
    version: Version = None


def wash_baths(work: UnitOfWork, page: Page) -> list[store.BathRow]:
    """Wash baths, by name."""
    return store.baths(work.db, page.retired, page.after, page.limit, work.now())


def wash_bath(work: UnitOfWork, bath_id: str) -> store.BathRow:
    """One wash bath."""
    return present(store.bath(work.db, bath_id, work.now()), "wash bath")


def add_wash_bath(work: UnitOfWork, request: WashBathInput) -> store.BathRow:
    """Add a wash bath, filled now."""
    with work.write() as answer:
        free_name(work, "wash_bath", request.name, None)
        bath_id = work.new_id()
        columns = request.model_dump(exclude={"version"})
        insert(work.db, "wash_bath", id=bath_id, code=next_code(work.db, "WB"), created_at=work.now(), **columns)
        _fill(work, bath_id)
        return answer(wash_bath(work, bath_id))


def change_wash_bath(work: UnitOfWork, bath_id: str, request: WashBathInput) -> store.BathRow:
    """Change what is known of a wash bath."""
    with work.write() as answer:
        stored = wash_bath(work, bath_id)
        same_version(stored, version_of(request.version), stored.name, request)
        free_name(work, "wash_bath", request.name, bath_id)
        columns = request.model_dump(exclude={"version"})
        update(work.db, "wash_bath", bath_id, version=stored.version + 1, **columns)
        return answer(wash_bath(work, bath_id))


def fill(work: UnitOfWork, bath_id: str) -> store.BathRow:
    """Note that a bath was filled anew: its loads are counted from now."""
    with work.write() as answer:
        wash_bath(work, bath_id)
        _fill(work, bath_id)
        return answer(wash_bath(work, bath_id))


def _fill(work: UnitOfWork, bath_id: str) -> None:
    insert(
        work.db,
        "wash_bath_filling",
        id=work.new_id(),
        wash_bath_id=bath_id,
        filled_at=work.now(),
        technician_id=work.technician_id(),
        recorded_at=work.now(),
    )


def withdraw_filling(work: UnitOfWork, bath_id: str) -> store.BathRow:
    """Let the newest filling no longer count: the one before it does again."""
    with work.write() as answer:
        stored = wash_bath(work, bath_id)
        newest = store.newest_filling(work.db, bath_id)
        if newest is None:
            raise Conflict(f"No filling of {stored.name} is noted.")
        update(work.db, "wash_bath_filling", newest, withdrawn_at=work.now())
        return answer(wash_bath(work, bath_id))
