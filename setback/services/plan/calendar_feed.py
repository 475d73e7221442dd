"""The plan as a calendar: a file, and an address that may be read until it is revoked."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime

from icalendar import Calendar, Event
from pydantic import Field

from ...store import plan as store
from ...store.rows import insert, update
from ..lab_settings import base_address, lab_settings
from ..unit_of_work import NotFound, UnitOfWork, View, present
from .planning import TaskPlanned, view

TOKEN_BYTES = 24


class FeedAddress(View):
    """A new address: shown once, for only its seal is kept."""

    id: str
    address: str = Field(description="Where a calendar program reads it; whoever has it can read the plan")


def calendar(work: UnitOfWork) -> bytes:
    """The plan as an iCalendar file: what a person does, and prints."""
    plan = view(work)
    calendar_file = Calendar()
    calendar_file.add("prodid", "-//Setback//Plan//EN")
    calendar_file.add("version", "2.0")
    calendar_file.add("x-wr-calname", f"Plan, {lab_settings(work).name}".rstrip(", "))
    for step in plan.steps:
        if step.person_min or step.kind == "print":
            calendar_file.add_component(_event(step, plan.now))
    return bytes(calendar_file.to_ical())


def _event(step: TaskPlanned, now: str) -> Event:
    event = Event()
    event.add("uid", f"{hashlib.sha256(step.key.encode()).hexdigest()[:24]}@setback")
    event.add("dtstamp", datetime.fromisoformat(now))
    event.add("dtstart", datetime.fromisoformat(step.starts_at))
    event.add("dtend", datetime.fromisoformat(step.ends_at))
    event.add("summary", step.name)
    event.add("description", f"{step.job}: {step.person_min} min of you" + (", over night" if step.night else ""))
    return event


class Feeds(View):
    """Addresses by which the plan can be read."""

    items: list[store.Feed]


def feeds(work: UnitOfWork) -> Feeds:
    """Addresses that stand."""
    return Feeds(items=store.feeds(work.db))


def open_feed(work: UnitOfWork) -> FeedAddress:
    """A new address to read the plan by."""
    token = secrets.token_urlsafe(TOKEN_BYTES)
    with work.write() as answer:
        feed_id = work.new_id()
        insert(
            work.db,
            "calendar_feed",
            id=feed_id,
            token_hash=_seal(token),
            created_at=work.now(),
            technician_id=work.technician().id,
        )
        return answer(FeedAddress(id=feed_id, address=f"{base_address(work)}/api/plan/feeds/{token}.ics"))


def revoke(work: UnitOfWork, feed_id: str) -> Feeds:
    """Let an address no longer be read."""
    with work.write() as answer:
        present(next((feed for feed in store.feeds(work.db) if feed.id == feed_id), None), "address")
        update(work.db, "calendar_feed", feed_id, revoked_at=work.now())
        return answer(feeds(work))


def is_feed(work: UnitOfWork, token: str) -> bool:
    """Whether an address of the plan stands."""
    return store.is_feed(work.db, _seal(token))


def read_feed(work: UnitOfWork, token: str) -> bytes:
    """The calendar behind an address.

    Raises
    ------
    NotFound
        When no such address stands.
    """
    if not is_feed(work, token):
        raise NotFound("calendar")
    return calendar(work)


def _seal(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
