"""Find anything by code or name."""

from __future__ import annotations

from ...store.lab import find as store
from ..unit_of_work import UnitOfWork


def find(work: UnitOfWork, text: str) -> list[store.Found]:
    """Whatever has this text in its code or name."""
    return store.find(work.db, text)
