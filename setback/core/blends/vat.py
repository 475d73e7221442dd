"""What is in a vat now: replayed from its ledger, by component and lot, so that a late correction re-derives all that follows.

Every entry moves volumes: what comes in brings its own composition, what goes out takes the mixture as it is. Stirring and
standing move nothing. Volume per component is conserved: in − out = in the vat.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

EntryKind = Literal["fill", "pour", "feed", "print", "drain", "empty", "stir"]
IN: frozenset[EntryKind] = frozenset({"fill", "pour", "feed"})
OUT: frozenset[EntryKind] = frozenset({"print", "drain"})
# Component and lot.
Content = Mapping[tuple[str, str], float]


@dataclass(frozen=True)
class Entry:
    """One line of the ledger. ``shares`` is what comes in, by (component, lot), summing to one."""

    id: str
    kind: EntryKind
    at: str
    volume_ml: float = 0.0
    shares: Content = field(default_factory=dict)


@dataclass(frozen=True)
class State:
    """The vat after one entry."""

    entry_id: str
    at: str
    contents: Content
    volume_ml: float
    stirred_at: str | None
    filled_at: str | None
    gone_ml: Content


@dataclass(frozen=True)
class Impossible:
    """An entry that cannot be, and why."""

    entry_id: str
    message: str


def replay(entries: Sequence[Entry], capacity_ml: float) -> tuple[list[State], list[Impossible]]:
    """Every state in the order of time, and what cannot have been.

    An entry that takes out more than there was empties the vat and is named; one that overfills it is named.
    """
    contents: dict[tuple[str, str], float] = {}
    returned: dict[tuple[str, str], float] = {}
    stirred: str | None = None
    filled: str | None = None
    states: list[State] = []
    impossible: list[Impossible] = []
    for entry in sorted(entries, key=lambda e: e.at):
        total_ml = math.fsum(contents.values())
        if entry.kind in IN:
            for key, share in entry.shares.items():
                contents[key] = contents.get(key, 0.0) + share * entry.volume_ml
            filled = filled if total_ml > 0 and filled else entry.at
            if total_ml + entry.volume_ml > capacity_ml + 1e-6:
                message = f"{total_ml + entry.volume_ml:.0f} ml in a vat of {capacity_ml:.0f} ml."
                impossible.append(Impossible(entry.id, message))
        elif entry.kind in OUT or entry.kind == "empty":
            out = total_ml if entry.kind == "empty" else min(entry.volume_ml, total_ml)
            if entry.kind != "empty" and entry.volume_ml > total_ml + 1e-6:
                message = f"{entry.volume_ml:.0f} ml were taken out of {total_ml:.0f} ml."
                impossible.append(Impossible(entry.id, message))
            share_out = out / total_ml if total_ml > 0 else 0.0
            for key, volume in contents.items():
                returned[key] = returned.get(key, 0.0) + volume * share_out
            contents = {k: v * (1 - share_out) for k, v in contents.items() if v * (1 - share_out) > 1e-9}
            filled = filled if contents else None
        if entry.kind == "stir" or entry.kind in IN:
            stirred = entry.at if entry.kind == "stir" else stirred
        states.append(
            State(entry.id, entry.at, dict(contents), math.fsum(contents.values()), stirred, filled, dict(returned))
        )
    return states, impossible


def by_component(contents: Content) -> dict[str, float]:
    """Millilitres of each component, whatever its lot."""
    shares: dict[str, float] = {}
    for (component, _), volume in contents.items():
        shares[component] = shares.get(component, 0.0) + volume
    return shares


def fractions(contents: Content) -> dict[str, float]:
    """Shares of the materials in a vat, from 0 to 1; empty for an empty vat."""
    shares = by_component(contents)
    total = math.fsum(shares.values())
    return {name: volume / total for name, volume in shares.items()} if total > 0 else {}


def distance(first: Mapping[str, float], other: Mapping[str, float]) -> float:
    """Greatest difference of any component's fraction: 0 alike, 1 nothing in common."""
    return max((abs(first.get(k, 0.0) - other.get(k, 0.0)) for k in {*first, *other}), default=0.0)
