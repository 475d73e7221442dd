"""Find anything by code or name."""

from __future__ import annotations

from ...store.lab import find as store
from ..unit_of_work import UnitOfWork, View


class FoundView(View):
    """A thing that was found, with the address of its page."""

    kind: str
    id: str
    code: str
    title: str
    detail: str


def find(work: UnitOfWork, text: str) -> list[FoundView]:
    """Whatever has this text in its code or name."""
    return [FoundView.model_validate(match) for match in store.find(work.db, text)]
