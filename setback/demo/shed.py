"""The print room while the demo is made."""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from ..services.unit_of_work import UnitOfWork

DEMO_NOW = datetime(2026, 1, 21, 8, 40, tzinfo=UTC)
SEED = 20260121


@dataclass
class Shed:
    """The print room while the demo is made: a clock that is moved by hand, and one source of chance."""

    work: UnitOfWork
    noise: random.Random
    now: datetime = DEMO_NOW
    """When the demo's story ends; it can be told of any day."""
    time: datetime = DEMO_NOW - timedelta(days=12)

    @property
    def days_moved(self) -> int:
        """Days between the day the story was written for and the day it is told of."""
        return (self.now - DEMO_NOW).days

    def on_day(self, days: int, hour: int, minute: int) -> datetime:
        """A time of day, so many days from the end of the story."""
        return (self.now + timedelta(days=days)).replace(hour=hour, minute=minute)

    def date(self, written: str) -> str:
        """A date of the story, on the days it is told of."""
        return (date.fromisoformat(written) + timedelta(days=self.days_moved)).isoformat()

    def pass_time(self, **length: float) -> None:
        self.time += timedelta(**length)

    def work_as(self, initials: str) -> None:
        self.work.initials = initials
