"""Confirm: a demanding part at the chosen exposure; and where a finding points instead of at the exposure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Finding:
    """What was seen, and what to suspect first."""

    key: str
    seen: str
    suspect: str
    advice: str


FINDINGS: dict[str, Finding] = {
    f.key: f
    for f in (
        Finding(
            "one-side",
            "Loss on one side only",
            "level or light",
            "Check level and the plate's light map; the exposure stays.",
        ),
        Finding(
            "same-place",
            "A mark at the same place in every print",
            "screen or film",
            "Put it on the printer's defect map; the parameters stay.",
        ),
        Finding(
            "parts-fail",
            "Coupons pass, parts fail",
            "supports, orientation, drainage, peel area",
            "Suspect how the part stands before the exposure.",
        ),
        Finding(
            "too-little",
            "Small, soft, detail missing, supports let go",
            "too little light",
            "Go back to Refine: use longer exposures, and look at the temperature first.",
        ),
        Finding(
            "too-much",
            "Grown, slots closed, brittle, supports hard to remove",
            "too much light",
            "Go back to Refine: use shorter exposures.",
        ),
    )
}
PLACES = ("centre", "worst place")


def confirmed(passes: Sequence[tuple[str, float]], exposure_s: float) -> bool:
    """Whether an exposure has passed at the centre and at the worst place of the plate."""
    places = {place for place, at in passes if abs(at - exposure_s) < 1e-9}
    return set(PLACES) <= places
