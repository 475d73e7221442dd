"""Signed records: the chains of issued sets and of qualifications, walked to find the first that was altered."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..store import parameter_sets, qualifications
from .bench import Bench

Progress = Callable[[float, str], None]
BATCH = 100

CHAINS: tuple[tuple[str, Any, str], ...] = (
    ("sets", parameter_sets, "parameter_set"),
    ("qualifications", qualifications, "qualification"),
)


def verify(bench: Bench, progress: Progress, given: dict[str, Any]) -> dict[str, Any]:
    """Walk every chain and find the first record that does not hash to what it says."""
    totals = {name: _count(bench, table) for name, _, table in CHAINS}
    every, seen = max(sum(totals.values()), 1), 0
    for _, store, _ in CHAINS:
        after, previous = 0, store.GENESIS
        while batch := store.links(bench.db, after, BATCH):
            for row in batch:
                if row.previous_hash != previous or store.hash_of(row) != row.hash or row.chain != after + 1:
                    return _told({"intact": False, "checked": seen, "first_broken": row.code, **totals})
                after, previous, seen = row.chain, row.hash, seen + 1
            progress(seen / every, f"{seen} of {every} signed records checked")
    return _told({"intact": True, "checked": seen, "first_broken": None, **totals})


def _told(found: dict[str, Any]) -> dict[str, Any]:
    return {**found, "words": in_words(found)}


def in_words(found: dict[str, Any]) -> str:
    """What a walk found, for a person."""
    if not found["intact"]:
        return f"{found['first_broken']} is not what was signed."
    kinds = [
        _plural(found["sets"], "issued set"),
        *([_plural(found["qualifications"], "qualification")] if found["qualifications"] else []),
    ]
    return f"{' and '.join(kinds)}, none altered."


def _plural(count: int, name: str) -> str:
    return f"{count} {name}{'' if count == 1 else 's'}"


def _count(bench: Bench, table: str) -> int:
    return int(bench.db.execute(f"SELECT count(*) FROM {table}").fetchone()[0])
