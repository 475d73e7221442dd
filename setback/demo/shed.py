"""The print room while the demo is made."""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from ..services.unit_of_work import UnitOfWork

DEMO_NOW = datetime(2026, 1, 21, 8, 40, tzinfo=UTC)
SEED = 20260121


@dataclass
class Shed:
    """The print room while the demo is made: a clock that is moved by hand, and one source of chance."""

    work: UnitOfWork
    noise: random.Random
    time: datetime = DEMO_NOW - timedelta(days=12)

    def pass_time(self, **length: float) -> None:
        self.time += timedelta(**length)

    def work_as(self, initials: str) -> None:
        self.work.initials = initials
