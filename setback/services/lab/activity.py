"""What changed, by day and person: for whoever was away."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.status.validity import shipped_rules
from ...core.testing.methods import METHODS
from ...store.lab import activity as store
from ..unit_of_work import UnitOfWork, View, iso

WORDS = {
    "print": "printed",
    "reading": "coupon read",
    "calibration": "calibration started",
    "set": "set issued",
    "confirmation": "confirmed",
    "qualification": "qualification signed",
    "brief": "brief written",
    "event": "event noted",
    "vat": "vat",
    "batch": "batch mixed",
    "test": "test planned",
    "specimens": "specimens read",
    "warm start": "warm start",
    "bottle": "bottle added",
}
PAGES = {
    "print": "/log/{code}",
    "reading": "/coupons/{code}",
    "calibration": "/calibrate/{code}",
    "set": "/sets/{code}",
    "confirmation": "/calibrate/{code}",
    "qualification": "/qualify/records/{code}",
    "brief": "/test/briefs",
    "batch": "/blend/batches/{code}",
    "test": "/test/{code}",
    "specimens": "/test/{code}",
    "warm start": "/climate/warm-start/{code}",
    "bottle": "/bottles/{code}",
    "vat": "/blend",
}
EVENT_NAMES = {key: rule.name for key, rule in shipped_rules().items()}
Moment = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}(T[0-9:.]+Z?)?$", max_length=30)]


class ActivityQuery(Contract):
    """Which work is asked for."""

    kind: str = Field("", max_length=20, description="One kind; empty for all")
    by: str = Field("", max_length=4, description="Initials of one person; empty for all")
    material: str = Field("", max_length=40, description="Id of a material; empty for all")
    printer: str = Field("", max_length=40, description="Id of a printer; empty for all")
    set_code: str = Field("", max_length=20, description="Code of a set; empty for all")
    since: Moment | None = Field(None, description="Not before this day or moment")
    before: str = Field("", max_length=80, description="Where the page before it ended, as it said")
    limit: int = Field(60, ge=1, le=200)


class DoneView(View):
    """One piece of work."""

    kind: str
    what: str = Field(description="What was done, in words")
    code: str
    at: str
    by: str | None = Field(description="Initials of who did it, where they are known")
    title: str
    detail: str
    page: str | None = Field(description="Address of its page")


class Activity(View):
    """Work of the lab, newest first."""

    items: list[DoneView]
    kinds: dict[str, str] = Field(description="Kinds of work by key, in words")
    next_before: str | None = Field(description="Where the next page begins; none at the end")


def activity(work: UnitOfWork, query: ActivityQuery) -> Activity:
    """What was done, newest first.

    Raises
    ------
    Problem
        When there is no such kind of work.
    """
    if query.kind and query.kind not in WORDS:
        message = "There is no such kind of work."
        raise Problem(message, {"kind": message})
    until, _, tie = query.before.partition(" ")
    rows = store.done(
        work.db,
        [query.kind] if query.kind else list(WORDS),
        query.limit,
        before=until or iso(work.clock() + timedelta(days=1)),
        tie=tie,
        since=query.since or "",
        by=query.by or None,
        material=query.material or None,
        printer=query.printer or None,
        set_code=query.set_code or None,
    )
    last = rows[-1] if len(rows) == query.limit else None
    return Activity(
        items=[_view(row) for row in rows],
        kinds=WORDS,
        next_before=f"{last.at} {last.kind} {last.code}" if last else None,
    )


def _view(row: store.Done) -> DoneView:
    """A piece of work in words: events and methods by their names."""
    title, detail = row.title, row.detail
    if row.kind == "event":
        key, _, note = detail.partition("|")
        detail = ": ".join(part for part in (EVENT_NAMES.get(key, key), note) if part)
    if row.kind in ("test", "specimens") and title in METHODS:
        title = METHODS[title].name
    page = PAGES[row.kind].format(code=row.code) if row.kind in PAGES else None
    return DoneView(
        kind=row.kind, what=WORDS[row.kind], code=row.code, at=row.at, by=row.by, title=title, detail=detail, page=page
    )
