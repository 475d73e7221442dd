"""What a phone at the bench keeps at hand: today's list, codes that wait to be read, prints that run, and the cards."""

from __future__ import annotations

from datetime import datetime, timedelta

from pydantic import Field

from ...store.calibrate import calibrations
from ...store.prints import log
from ...store.sets import validity
from ..sets.board import BoardQuery, Task, board
from ..unit_of_work import UnitOfWork, View, iso

MOST_CODES = 120
"""Codes of one kind: more than lie on a bench, and few enough to be fetched one by one over a weak network."""


class RunningPrint(View):
    """A print that was started and nobody reported on."""

    code: str
    material: str | None
    printer: str
    started_at: str
    due_at: str = Field(description="When it should be done")


class AtHand(View):
    """What is done at the bench, by code."""

    today: list[Task] = Field(description="What the Board lists for today, without what is to be read")
    to_read: list[calibrations.Waiting] = Field(description="Coupons printed and not read, oldest first")
    running: list[RunningPrint] = Field(description="Prints that were started and nobody reported on, oldest first")
    cards: list[validity.SetAtHand] = Field(description="Newest sets, by material and printer")


def at_hand(work: UnitOfWork) -> AtHand:
    """What a phone at the bench keeps at hand."""
    return AtHand(
        today=[task for task in board(work, BoardQuery()).today if task.kind != "read"],
        to_read=calibrations.waiting_for_reading(work.db, MOST_CODES),
        running=[_running(row) for row in log.running(work.db)],
        cards=validity.sets_at_hand(work.db, MOST_CODES),
    )


def _running(row: log.LoggedPrint) -> RunningPrint:
    started_at = row.started_at or row.planned_at
    due = datetime.fromisoformat(started_at) + timedelta(seconds=row.duration_s)
    return RunningPrint(
        code=row.code, material=row.material, printer=row.printer, started_at=started_at, due_at=iso(due)
    )
