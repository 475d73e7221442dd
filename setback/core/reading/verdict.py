"""Verdict on one coupon: under, right or over, and the criteria that say so."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import Contract, Notice
from .evidence import CouponEvidence, Limits
from .size import fit_size

Verdict = Literal["under", "ok", "over", "mixed"]
# Readings resolve a hundredth of a micrometre at best: sums of caliper values must not tip a verdict.
_SLACK_UM = 1e-6


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


def growth_um(coupon: CouponEvidence) -> float | None:
    """Edge growth of one coupon in µm, null without a bar or notch that could be measured."""
    measured = [block for block in coupon.blocks if block.measured_mm is not None]
    return 1000 * fit_size([measured]).growth_mm[0] if measured else None


def bloom_um(coupon: CouponEvidence) -> float | None:
    """Mean clearance lost under the bridges of one coupon in µm, null without bridges."""
    if not coupon.z_gaps:
        return None
    return 1000 * sum(gap.nominal_mm - gap.measured_mm for gap in coupon.z_gaps) / len(coupon.z_gaps)


def coupon_verdict(inputs: VerdictInput) -> VerdictResult:
    """Judge one coupon against the limits.

    Under: growth below target - tolerance, a bar washed away, a wall of the required size or thicker missing, or a tip of
    the required size or thicker not wholly held. Over: growth above, a slot of the required size or
    wider not open, or bloom above its limit. Both: ``mixed``, a contradiction between criteria that
    calls for other settings rather than another exposure.
    """
    coupon, limits = inputs.coupon, inputs.limits
    growth, bloom = growth_um(coupon), bloom_um(coupon)
    under, over, criteria = [], [], []
    if growth is not None and limits.growth_tol_um is not None:
        criteria.append("size")
        if growth < limits.growth_target_um - limits.growth_tol_um - _SLACK_UM:
            under.append("size")
        if growth > limits.growth_target_um + limits.growth_tol_um + _SLACK_UM:
            over.append("size")
    if bloom is not None and limits.z_bloom_max_um is not None:
        criteria.append("z")
        if bloom > limits.z_bloom_max_um + _SLACK_UM:
            over.append("z")
    if limits.growth_tol_um is not None and any(block.state == "washed" for block in coupon.blocks):
        criteria += [] if "size" in criteria else ["size"]
        under += [] if "size" in under else ["size"]
    counted = (
        ("walls", limits.walls_size_mm, coupon.walls, under),
        ("slots", limits.slots_size_mm, coupon.slots, over),
        ("tips", limits.tips_size_mm, coupon.tips, under),
    )
    for name, required, features, side in counted:
        needed = [f for f in features if required is not None and f.size_mm >= required - 1e-9]
        if needed:
            criteria.append(name)
            if not all(f.all_whole for f in needed):
                side.append(name)
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
        verdict=verdict, under=under, over=over, judged=criteria, growth_um=growth, bloom_um=bloom, warnings=warnings
    )
