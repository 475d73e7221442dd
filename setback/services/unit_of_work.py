"""What a use case needs at hand: the open database, the clock, fresh ids, and who works."""

from __future__ import annotations

import random
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict

from ..core.contract import Contract, Problem
from ..store import shelf
from ..store.database import TakesNoWriting, file_of, let_go, see_one_moment, writing
from ..store.lab import answers
from ..store.touched import Recorded

Clock = Callable[[], datetime]


class View(Contract):
    """Base of everything services return; may be built from the store's dataclasses."""

    model_config = ConfigDict(extra="ignore", from_attributes=True, allow_inf_nan=False)


class NotFound(Exception):
    """What was asked for is not there."""


class Conflict(Exception):
    """A stale edit, or a rule of the job that forbids the step now."""

    def __init__(self, message: str, fields: dict[str, str] | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.fields = fields or {}


class RecordedAlready(Conflict):
    """The same request was done so long ago that its answer is no longer kept."""

    def __init__(self, at: str) -> None:
        super().__init__(f"This was recorded already, on {at[:10]}. Reload to see it.")


class AlreadyDone(Exception):
    """The same create was answered before; carries that answer."""

    def __init__(self, answer: Any) -> None:
        super().__init__("already done")
        self.answer = answer


def real_clock() -> datetime:
    """The time now, UTC."""
    return datetime.now(UTC)


def real_ids() -> str:
    """A random UUID."""
    return str(uuid.uuid4())


def seeded_ids(seed: int) -> Callable[[], str]:
    """Random UUIDs that come out the same for the same seed."""
    source = random.Random(seed)
    return lambda: str(uuid.UUID(int=source.getrandbits(128), version=4))


def iso(moment: datetime) -> str:
    """UTC, ISO 8601, whole seconds; the year in four digits, so that moments stand in the order of their text.

    Raises
    ------
    Problem
        When a calendar has no such moment in UTC: in the hours before its first, or after its last year.
    """
    try:
        return moment.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    except OverflowError:
        raise Problem("There is no such moment.") from None


Answer = TypeVar("Answer", bound=BaseModel)


@dataclass
class UnitOfWork:
    """One piece of work on the database: its connection, the clock, fresh ids, who works, and the key of a request that may be repeated."""

    db: Recorded
    clock: Clock = real_clock
    new_id: Callable[[], str] = real_ids
    initials: str | None = None
    request_key: str | None = None
    sign_in_id: str | None = None
    """The sign-in it is done under, where people sign in."""
    by_a_person: bool = False
    """Asked for by somebody at a screen: what they change carries their initials."""
    request_content: bytes = b""
    """What the request with this key asks, and who asks it, by its hash: the same key for something else is refused."""
    waited_s: float = 0
    """How long what is recorded waited in a device that could not reach the server."""
    _open: bool = field(default=False, repr=False)

    def __post_init__(self) -> None:
        self.db.moment, self.db.initials = self.clock, self.initials

    @property
    def path(self) -> Path:
        """The database file."""
        return file_of(self.db)

    def now(self) -> str:
        """The time now, ISO 8601 in UTC."""
        return iso(self.clock())

    def entered(self) -> str:
        """When a person entered what is recorded: now, or earlier where it waited in their device; ISO 8601 in UTC."""
        return iso(self.clock() - timedelta(seconds=self.waited_s))

    def hold(self) -> None:
        """Read everything from here on as of one moment: nothing changes between two queries of one answer."""
        see_one_moment(self.db)

    @contextmanager
    def keeping(self) -> Iterator[None]:
        """A write of what is only derived, in the midst of reading; a moment held before it is taken anew after it."""
        was_reading = let_go(self.db)
        try:
            with writing(self.db):
                yield
        finally:
            if was_reading:
                self.hold()

    def keep(self, step: Callable[[], None]) -> bool:
        """A write of what is only derived; False where the disk takes nothing: reading goes on without it."""
        try:
            with self.keeping():
                step()
        except TakesNoWriting:
            return False
        return True

    @contextmanager
    def write(self, *, by_anybody: bool = False) -> Iterator[Callable[[Answer], Answer]]:
        """A write transaction. Pass the answer through what it yields, so that a repeat of the request gets it.

        Every write a person asks for names who did it, except by_anybody: timers, and the first initials of a lab.

        Raises
        ------
        Problem
            When a person asks for it and gives no initials, or initials nobody here has.
        AlreadyDone
            When this request key was answered before.
        Conflict
            When it was used for something else, or by somebody else, or so long ago that the answer is no longer kept.
        """
        self.db.initials = self.initials
        with writing(self.db):
            if self.by_a_person and not by_anybody:
                self.technician()
            if self.request_key is not None:
                self._not_done_yet(self.request_key)

            def answering(answer: Answer) -> Answer:
                """Keep an answer for a repeat of the request."""
                if self.request_key is not None:
                    content = answer.model_dump(mode="json")
                    answers.keep(self.db, self.request_key, self.request_content, content, self.now())
                return answer

            yield answering

    def _not_done_yet(self, key: str) -> None:
        earlier = answers.request(self.db, key)
        if earlier is None:
            return
        if earlier.content and earlier.content != self.request_content:
            raise Conflict("This key was used for another request, or by somebody else. Send it again under a new key.")
        if earlier.answer is None:
            raise RecordedAlready(earlier.at)
        raise AlreadyDone(earlier.answer)

    def technician(self) -> shelf.Technician:
        """Who works now.

        Raises
        ------
        Problem
            When no initials were given, or they are not known.
        """
        if not self.initials:
            message = "Choose your initials first (top right): evidence carries who made it."
            raise Problem(message, {"technician": message})
        row = shelf.technician_by_initials(self.db, self.initials)
        if row is None or row.retired_at is not None:
            message = f"{self.initials} is not a technician here. Choose other initials, or add them."
            raise Problem(message, {"technician": message})
        return row

    def technician_id(self) -> str | None:
        """Who works now, where it need not be known."""
        technician = shelf.technician_by_initials(self.db, self.initials) if self.initials else None
        return technician.id if technician else None


Row = TypeVar("Row")


def present(row: Row | None, noun: str) -> Row:
    """The row, or NotFound in plain words."""
    if row is None:
        raise NotFound(f"There is no such {noun}.")
    return row
