"""The ways of printing a ladder, and how far each may be trusted."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

WayKey = Literal["separate", "plate", "strip"]


@dataclass(frozen=True)
class Way:
    """A way of printing several exposures: what it gives, and what it costs in trust."""

    key: WayKey
    name: str
    gives: str
    limit: str
    needs: str


WAYS: dict[str, Way] = {
    way.key: way
    for way in (
        Way(
            "separate",
            "Separate prints",
            "Each coupon alone on the plate, in the same place: nothing but exposure differs.",
            "Takes longest.",
            "",
        ),
        Way(
            "plate",
            "Several exposures on one plate",
            "One print; places are shuffled, kept off known marks, and their light is corrected by the plate map.",
            "Without a plate map it only finds the range: exposure and place are mixed.",
            "several exposures on one plate",
        ),
        Way(
            "strip",
            "Dose strip, lift suppressed",
            "One flash per area in a minute or two.",
            "It only seeds: nothing about peel, or growth of stacked layers. The lift must be switched back on.",
            "suppressing the lift",
        ),
    )
}

RANGE_ONLY = (
    "These coupons shared a plate without a map of its light, so exposure and place are mixed: they find the range, "
    "and nothing is issued on them. Measure the plate's light, or print separately inside the range."
)


def effective_exposure_s(exposure_s: float, dose_ratio: float | None) -> float:
    """What a coupon got, in seconds at the place where coupons stand."""
    return exposure_s * (dose_ratio if dose_ratio is not None else 1.0)


def shuffle_again(places: int, exposures: int) -> int:
    """How often each exposure fits on a plate with so many places; at most three, which is enough to see place."""
    return max(min(places // max(exposures, 1), 3), 1)
