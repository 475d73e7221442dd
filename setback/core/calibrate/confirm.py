"""Confirm: a demanding part at the chosen exposure; and where a finding points instead of at the exposure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..trace.model import leading

MOST_SUSPECTS = 3


@dataclass(frozen=True)
class Finding:
    """What was seen, the signs and answers of the trace it stands for, and where it points instead of at the exposure."""

    key: str
    seen: str
    advice: str
    signs: tuple[str, ...]
    answers: tuple[tuple[str, str], ...] = ()

    @property
    def suspect(self) -> str:
        """The causes that lead for these signs, as the trace ranks them."""
        leads = leading(list(self.signs), {}, dict(self.answers), MOST_SUSPECTS)
        return ", ".join(cause.name[0].lower() + cause.name[1:] for cause in leads)


FINDINGS: dict[str, Finding] = {
    f.key: f
    for f in (
        Finding(
            "one-side",
            "Loss on one side only",
            "Check level and the plate's light map; the exposure stays.",
            ("one-side-missing",),
        ),
        Finding(
            "same-place",
            "A mark at the same place in every print",
            "Put it on the printer's defect map; the parameters stay.",
            ("same-mark",),
        ),
        Finding(
            "parts-fail",
            "Coupons pass, parts fail",
            "Suspect how the part stands before the exposure.",
            ("supports-torn", "warped"),
            (("check-coupon", "right"),),
        ),
        Finding(
            "too-little",
            "Small, soft, detail missing, supports let go",
            "Go back to Refine: use longer exposures, and look at the temperature first.",
            ("details-missing", "details-soft", "supports-torn"),
        ),
        Finding(
            "too-much",
            "Grown, slots closed, brittle, supports hard to remove",
            "Go back to Refine: use shorter exposures.",
            ("details-grown-shut", "parts-stuck", "brittle"),
        ),
    )
}
PLACES = ("centre", "worst place")


def confirmed(passes: Sequence[tuple[str, float]], exposure_s: float) -> bool:
    """Whether an exposure has passed at the centre and at the worst place of the plate."""
    places = {place for place, at in passes if abs(at - exposure_s) < 1e-9}
    return set(PLACES) <= places
