"""Where a range to start from comes from, and how far each source may be trusted."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from ..printing.steps import ceil_to_step, floor_to_step

SourceKey = Literal[
    "own guess", "maker", "borrowed", "light meter", "reference resin", "dose strip", "working curve", "prediction"
]
# A first ladder leaves room on both sides of a single number.
BORROWED_RATIO = 1.6
CURVE_RATIO = 1.35
STRIP_RATIO = 1.25


@dataclass(frozen=True)
class Source:
    """Where a range of exposures may come from, and how far it is trusted."""

    key: SourceKey
    name: str
    trust: str
    measured: bool = False
    """With this bottle on this printer, in this calibration."""


SOURCES: dict[str, Source] = {
    source.key: source
    for source in (
        Source(
            "own guess", "My own estimate", "Leave room on both sides: the first coupons should show both failures."
        ),
        Source(
            "maker",
            "Maker’s range",
            "A maker’s range is often so wide that its middle is wrong. The first coupons "
            "find both failures, then close in.",
        ),
        Source(
            "borrowed",
            "Another workshop’s number",
            "A borrowed number assumes the other workshop’s room, printer age and bottle: there is room on both sides.",
        ),
        Source(
            "light meter",
            "Light meter",
            "The same meter on two printers: it sees its own band of light, not the resin’s.",
        ),
        Source(
            "reference resin",
            "Reference resin",
            "A resin calibrated on both printers tells their ratio; this pair may still differ a little.",
        ),
        Source(
            "dose strip",
            "Dose strip",
            "Printed here, with this bottle, but without lift or stacked layers: growth and "
            "supports are still unknown.",
            measured=True,
        ),
        Source(
            "working curve",
            "Working curve",
            "Measured here: depth of cure for this layer height. It knows nothing of "
            "growth across the plate, or of the peel.",
            measured=True,
        ),
        Source(
            "prediction",
            "Setback’s own prediction",
            "From every calibration in this shop; its interval says how far it may be off.",
        ),
    )
}
"""In order of rising trust."""


def measured_since(chosen: str, at_hand: Collection[str]) -> SourceKey | None:
    """The most trusted source measured in a calibration itself, where it is at hand and outranks the chosen one."""
    rising = list(SOURCES)
    newer = [key for key in rising[rising.index(chosen) + 1 :] if key in at_hand and SOURCES[key].measured]
    return SOURCES[newer[-1]].key if newer else None


@dataclass(frozen=True)
class Range:
    """Exposures to begin with, s."""

    low_s: float
    high_s: float


def on_steps(low_s: float, high_s: float, step_s: float) -> Range:
    """A range moved outwards to whole steps of the printer, one step at least."""
    low = max(floor_to_step(low_s, step_s), step_s)
    return Range(low, max(ceil_to_step(high_s, step_s), low))


def around(number_s: float, ratio: float, step_s: float) -> Range:
    """A range with room on both sides of one number, on the printer's step."""
    return on_steps(number_s / ratio, number_s * ratio, step_s)


def from_curve(exposure_s: float, interval_s: tuple[float, float] | None, step_s: float) -> Range:
    """The exposure a working curve gives, with its interval, and never less room than a curve deserves."""
    near = around(exposure_s, CURVE_RATIO, step_s)
    if interval_s is None:
        return near
    # An interval of three squares may span decades: a ladder that wide tells nothing.
    far = on_steps(max(interval_s[0], exposure_s / 4), min(interval_s[1], exposure_s * 4), step_s)
    return Range(min(near.low_s, far.low_s), max(near.high_s, far.high_s))


def from_strip(areas: list[tuple[float, str]], step_s: float) -> Range | None:
    """The range a dose strip leaves open: from its highest under to its lowest over, with room.

    Parameters
    ----------
    areas : list of (exposure in s, verdict)
        Mixed areas say nothing.

    Returns
    -------
    Range or None
        None while no area is judged.
    """
    clear = [(t, verdict) for t, verdict in areas if verdict != "mixed"]
    if not clear:
        return None
    times = [t for t, _ in clear]
    unders = [t for t, verdict in clear if verdict == "under"]
    overs = [t for t, verdict in clear if verdict == "over"]
    low = max(unders) if unders else min(times) / STRIP_RATIO
    high = min(overs) if overs else max(times) * STRIP_RATIO
    if low > high:
        low, high = high, low
    if len(unders) == len(clear):
        low, high = max(unders), max(unders) * BORROWED_RATIO
    elif len(overs) == len(clear):
        low, high = min(overs) / BORROWED_RATIO, min(overs)
    middle = math.sqrt(low * high)
    return around(middle, max(math.sqrt(high / low) * STRIP_RATIO**0.5, STRIP_RATIO), step_s)
