"""What people of Skerry Point put beside the work itself: two errands, and when a calibration is needed."""

from __future__ import annotations

from datetime import timedelta

from ..services.plan import own_tasks
from .shed import Shed


def errands(lab: Shed, ids: dict[str, str]) -> None:
    """Orders to place and a film to fetch; Rinsewell is needed this evening."""
    now = lab.now
    for name, minutes, hours in (("Order Slate 2", 10, 30), ("Fetch the film for Gannet", 25, None)):
        due_at = None if hours is None else now + timedelta(hours=hours)
        own_tasks.add(lab.work, own_tasks.OwnTaskInput(name=name, minutes=minutes, due_at=due_at))
    own_tasks.set_due(lab.work, own_tasks.DueInput(job="C-008", due_at=now + timedelta(hours=8)))
