"""Read a virtual coupon as a person with calipers would, with a person's error."""

from __future__ import annotations

import random
from dataclasses import dataclass

from .printed import Printed


@dataclass(frozen=True)
class Reader:
    """A pair of eyes and calipers. Lengths are mm."""

    caliper_sd_mm: float = 0.006
    caliper_bias_mm: float = 0.0
    caliper_step_mm: float = 0.01
    gap_mm: float = 0.004
    """Light seen between two bars' ends."""
    play_mm: float = 0.005
    """Play at which a plug that is pushed by hand stops in its channel, more or less."""
    eye_sd: float = 0.06
    """Uncertainty about how much of a feature is there, as a share of it."""
    deburrs: bool = True
    """Whether the foot is taken off before the calipers are put on."""


@dataclass(frozen=True)
class Seen:
    """One feature as it is noted: a state, or a size."""

    key: str
    state: str | None
    measured_mm: float | None


def read(printed: Printed, seed: int, reader: Reader | None = None) -> list[Seen]:
    """What a reader notes; the same seed gives the same reading."""
    eyes = reader or Reader()
    chance = random.Random(seed)
    features = []
    pairs = [o for o in printed.outcomes if o.kind == "vernier" and o.size_mm is not None]
    # Pairs stand from the widest gap to the most overlap: the first that shows no light between is the one that touches.
    touching = next((o.key for o in pairs if (o.size_mm or 0.0) + chance.gauss(0, eyes.gap_mm) <= 0), None)
    if touching is not None:
        features.append(Seen(touching, "formed", None))
    for outcome in printed.outcomes:
        if outcome.kind in ("vernier", "taper"):
            continue
        if outcome.size_mm is not None:
            burr = 0.0 if eyes.deburrs else 2 * outcome.foot_mm * (1 if outcome.kind == "outer" else -1)
            measured = outcome.size_mm + burr + chance.gauss(eyes.caliper_bias_mm, eyes.caliper_sd_mm)
            steps = round(max(measured, 0.0) / eyes.caliper_step_mm)
            features.append(Seen(outcome.key, None, round(steps * eyes.caliper_step_mm, 4)))
            continue
        if outcome.share is None:
            if outcome.kind == "outer":
                # Nothing to hold the calipers to: the bar washed away.
                features.append(Seen(outcome.key, "absent", None))
            continue
        share = outcome.share
        # Nobody doubts a feature that is wholly there or wholly gone.
        share_judged = share + chance.gauss(0, eyes.eye_sd) if 0 < share < 1 else share
        state = "formed" if share_judged >= 0.9 else "partial" if share_judged > 0.3 else "absent"
        features.append(Seen(outcome.key, state, None))
    plug = [o for o in printed.outcomes if o.kind == "taper" and o.size_mm is not None]
    # The plug goes in by its nose: the first step for which there is no play left stops it.
    stop = next((o.key for o in plug if (o.size_mm or 0.0) + chance.gauss(0, eyes.play_mm) <= 0), None)
    if stop is not None:
        features.append(Seen(stop, "formed", None))
    return features
