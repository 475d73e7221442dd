"""Find anything by code or name."""

from __future__ import annotations

from ...store.lab import find as store
from ..unit_of_work import UnitOfWork, View


class FoundView(View):
    kind: str
    id: str
    code: str
    title: str
    detail: str


def find(work: UnitOfWork, text: str) -> list[FoundView]:
    return [FoundView.model_validate(match) for match in store.find(work.db, text)]
