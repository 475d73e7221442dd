"""Signed records: the chains of issued sets and of qualifications, walked to find the first that was altered."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ...store.lab import bundles
from ...store.qualify import qualifications
from ...store.sets import parameter_sets
from ..unit_of_work import UnitOfWork

Progress = Callable[[float, str], None]
BATCH = 100

CHAINS: tuple[tuple[str, Any, str], ...] = (
    ("sets", parameter_sets, "parameter_set"),
    ("qualifications", qualifications, "qualification"),
)


def verify(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Walk every chain and find the first record that does not hash to what it says."""
    totals = {name: bundles.count(work.db, table) for name, _, table in CHAINS}
    every, checked = max(sum(totals.values()), 1), 0
    for _, store, _ in CHAINS:
        after, previous = 0, store.GENESIS
        while batch := store.links(work.db, after, BATCH):
            for row in batch:
                if row.previous_hash != previous or store.hash_of(row) != row.hash or row.chain != after + 1:
                    return _told({"intact": False, "checked": checked, "first_broken": row.code, **totals})
                after, previous, checked = row.chain, row.hash, checked + 1
            progress(checked / every, f"{checked} of {every} signed records checked")
    return _told({"intact": True, "checked": checked, "first_broken": None, **totals})


def _told(fault: dict[str, Any]) -> dict[str, Any]:
    return {**fault, "words": in_words(fault)}


def in_words(summary: dict[str, Any]) -> str:
    """What a walk found, for a person."""
    if not summary["intact"]:
        return f"{summary['first_broken']} is not what was signed."
    kinds = [
        _plural(summary["sets"], "issued set"),
        *([_plural(summary["qualifications"], "qualification")] if summary["qualifications"] else []),
    ]
    return f"{' and '.join(kinds)}, none altered."


def _plural(count: int, name: str) -> str:
    return f"{count} {name}{'' if count == 1 else 's'}"
