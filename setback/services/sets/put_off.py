"""Today's list as a person wants it: an entry may wait until a day, or be dismissed while it says the same."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store.lab import put_off as store
from ..shelf.entry import Day
from ..unit_of_work import UnitOfWork, View

Reason = Annotated[str, Field(min_length=1, max_length=300)]


class PutOffInput(Contract):
    """Which entry is put off, until when and why."""

    key: str = Field(min_length=1, max_length=300, description="Key of the entry in today's list")
    detail: str = Field(
        "", max_length=600, description="What it says now: once it says something else it is shown again"
    )
    until: Day | None = Field(None, description="Shown again from this day; without one it is dismissed")
    reason: Reason = Field(description="Why it can wait")


class TaskKey(Contract):
    """An entry of today's list."""

    key: str = Field(min_length=1, max_length=300, description="Key of the entry")


class PutOffView(View):
    """An entry that was put off."""

    task: str = Field(description="Key of the entry")
    until: str | None = Field(description="Shown again from this day; none: dismissed while it says the same")
    reason: str
    initials: str
    at: str


def put_off(work: UnitOfWork, request: PutOffInput) -> PutOffView:
    """Take an entry out of today's list for a while.

    Raises
    ------
    Problem
        When the day has come already.
    """
    if request.until is not None and request.until <= work.now()[:10]:
        message = "Give a day after today."
        raise Problem(message, {"until": message})
    with work.write() as answer:
        by = work.technician().id
        store.keep(work.db, request.key, request.until, request.detail, request.reason, by, work.now())
        return answer(next(PutOffView.model_validate(one) for one in store.put_off(work.db) if one.task == request.key))


def bring_back(work: UnitOfWork, request: TaskKey) -> TaskKey:
    """Show an entry again."""
    with work.write() as answer:
        store.forget(work.db, request.key)
        return answer(request)


def waiting_since(rows: list[store.PutOff], key: str, detail: str, today: str) -> PutOffView | None:
    """How an entry was put off, where that still holds."""
    row = next((one for one in rows if one.task == key), None)
    if row is None or (row.until <= today if row.until is not None else row.detail != detail):
        return None
    return PutOffView.model_validate(row)
