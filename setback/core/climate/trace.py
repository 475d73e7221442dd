"""A temperature trace read against a band: share of the time inside, and the times outside.

A trace comes in steps of one width, each with its lowest, mean and highest sample. A step that lies on both sides of
a limit counts as its samples would when they were spread evenly between lowest and highest.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .band import Side

# Steps further apart than this many widths have a gap between them: nobody knows what happened there.
GAP_WIDTHS = 2.5
MOST_EXCURSIONS = 50


@dataclass(frozen=True)
class Step:
    """Seconds since 1970 (UTC), °C."""

    at_s: int
    samples: int
    low_c: float
    mean_c: float
    high_c: float


@dataclass(frozen=True)
class Excursion:
    """A stretch of time whose mean lies outside the band."""

    from_s: int
    to_s: int
    side: Side
    extreme_c: float


@dataclass(frozen=True)
class Inside:
    """Shares of the time there are samples for, 0 to 1."""

    within: float
    below: float
    above: float


def time_in_band(steps: Sequence[Step], low_c: float, high_c: float) -> Inside | None:
    """Share of the time within, below and above; None without steps."""
    if not steps:
        return None
    below = sum(_share_below(s.low_c, s.high_c, low_c) for s in steps) / len(steps)
    above = sum(_share_below(-s.high_c, -s.low_c, -high_c) for s in steps) / len(steps)
    return Inside(max(1 - below - above, 0.0), below, above)


def excursions(steps: Sequence[Step], width_s: int, low_c: float, high_c: float) -> list[Excursion]:
    """Stretches outside the band, longest first."""
    stretches: list[Excursion] = []
    for run in runs(steps, width_s):
        steps_out: list[Step] = []
        side: Side | None = None
        for step in [*run, None]:
            now = None if step is None else _side(step.mean_c, low_c, high_c)
            if side is not None and now != side:
                extreme = min(s.low_c for s in steps_out) if side == "below" else max(s.high_c for s in steps_out)
                stretches.append(Excursion(steps_out[0].at_s, steps_out[-1].at_s + width_s, side, extreme))
                steps_out = []
            side = now
            if step is not None and now is not None:
                steps_out.append(step)
    stretches.sort(key=lambda e: e.from_s - e.to_s)
    return stretches[:MOST_EXCURSIONS]


def runs(steps: Sequence[Step], width_s: int) -> list[list[Step]]:
    """Steps without a gap between them, as one line each."""
    groups: list[list[Step]] = []
    for step in steps:
        if not groups or step.at_s - groups[-1][-1].at_s > GAP_WIDTHS * width_s:
            groups.append([])
        groups[-1].append(step)
    return groups


def _share_below(low_c: float, high_c: float, limit_c: float) -> float:
    if low_c >= limit_c:
        return 0.0
    if high_c <= limit_c:
        return 1.0
    return (limit_c - low_c) / (high_c - low_c)


def _side(temp_c: float, low_c: float, high_c: float) -> Side | None:
    """Without the slack of the gate: a step is a mean of many readings."""
    return "below" if temp_c < low_c else "above" if temp_c > high_c else None
