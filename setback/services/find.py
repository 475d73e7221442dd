"""Find anything by code or name."""

from __future__ import annotations

from ..store import find as store
from .bench import Bench, View


class FoundView(View):
    kind: str
    id: str
    code: str
    title: str
    detail: str


def find(bench: Bench, text: str) -> list[FoundView]:
    return [FoundView.model_validate(found) for found in store.find(bench.db, text)]
