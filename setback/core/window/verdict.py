"""Verdict on one coupon: under, right or over, and the criteria that say so."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import Contract, Notice
from ..reading.evidence import CouponEvidence
from ..reading.size import bloom_um, growth_um
from .lanes import LANES, Limits

Verdict = Literal["under", "ok", "over", "mixed"]


class VerdictInput(Contract):
    """One coupon and the limits it is judged by."""

    coupon: CouponEvidence
    limits: Limits


class VerdictResult(Contract):
    """Too little light, in tolerance, too much, or mixed; and what says so."""

    verdict: Verdict | None = Field(description="null when no criterion could be judged")
    under: list[str] = Field(description="Criteria that say too little light")
    over: list[str] = Field(description="Criteria that say too much light")
    judged: list[str] = Field(description="Criteria with both a limit and a reading")
    growth_um: float | None = Field(description="Edge growth of this coupon, µm")
    bloom_um: float | None = Field(description="Mean clearance lost under its bridges, µm")
    warnings: list[Notice]


def coupon_verdict(inputs: VerdictInput) -> VerdictResult:
    """Judge one coupon against the limits, criterion by criterion as each lane judges it.

    Both sides: ``mixed``, a contradiction between criteria that calls for other settings rather than another exposure.
    """
    coupon, limits = inputs.coupon, inputs.limits
    said = {lane.key: sides for lane in LANES.values() if (sides := lane.judge(coupon, limits)) is not None}
    criteria = list(said)
    under = [key for key, sides in said.items() if "under" in sides]
    over = [key for key, sides in said.items() if "over" in sides]
    verdict: Verdict | None
    if not criteria:
        verdict = None
    elif under and over:
        verdict = "mixed"
    else:
        verdict = "under" if under else "over" if over else "ok"
    warnings = []
    if verdict is None:
        warnings.append(
            Notice(code="nothing-judged", message="Nothing read on this coupon meets a limit, so it has no verdict.")
        )
    if verdict == "mixed":
        warnings.append(
            Notice(
                code="mixed",
                message=f"Too little light by {', '.join(under)} and too much by {', '.join(over)}: "
                "no exposure mends that. Other settings or other limits are needed.",
            )
        )
    if coupon.uncured or coupon.unwashed:
        warnings.append(Notice(code="provisional", message="Read before the finish route was done: provisional."))
    return VerdictResult(
        verdict=verdict,
        under=under,
        over=over,
        judged=criteria,
        growth_um=growth_um(coupon),
        bloom_um=bloom_um(coupon),
        warnings=warnings,
    )
