"""The earlier method of the process window: where all lanes overlap, what may be chosen inside it, and what to do when nothing may.

The lanes are fitted by :mod:`setback.core.earlier_window.lanes`; here their ends are clipped to what was printed and
combined. All comparisons are made in ln t, because a flat slope puts an end beyond what seconds can hold.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ..contract import Interval, Notice
from ..evidence import CouponEvidence, Limits
from ..steps import round_to_step
from ..verdict import VerdictInput, bloom_um, coupon_verdict, growth_um
from ..window.next_exposure import JudgedCoupon, NextExposureInput, next_exposure
from ..window.remedies import remedies
from .contract import (
    Conflict,
    LaneEnds,
    LeftOut,
    Prediction,
    RawReading,
    Window,
    WindowInput,
    WindowResult,
)
from .lanes import LANES, End, Evidence, LaneFit, as_interval, seconds
from .lanes.feature import balance_x
from .policies import choose

# Ends and marks further outside the ladder than this ratio are not shown.
BEYOND = 1.2
# One-sided 5 % point of the normal distribution: a conflict this many doubts wide is proven.
PROVEN = 1.645
_TIE = 1e-12


@dataclass(frozen=True)
class Clipped:
    """An end as it counts, with the lane it belongs to."""

    lane: str
    x: float
    end: End


def process_window(given: WindowInput) -> WindowResult:
    """Fit every lane and find where they overlap.

    Parameters
    ----------
    given : WindowInput
        Coupons of one arm; exposures in seconds, sizes in millimetres, growth in micrometres. Damaged,
        unwashed and uncured coupons are left out unless marked ``include``.

    Returns
    -------
    WindowResult
        ``lanes`` before clipping; ``window``, ``policies`` and ``predictions`` never outside what was
        printed. Exactly one of ``window``, ``conflict``, ``beyond_ladder``, ``open_side`` explains the
        state, except with a single exposure, where only ``raw`` and ``next`` are given.
    """
    coupons, left_out, warnings = _counting(given.coupons)
    raw = [_raw(coupon) for coupon in coupons]
    exposures = sorted({coupon.exposure_s for coupon in coupons})
    if len(exposures) < 2:
        return _too_early(given, coupons, left_out, raw, warnings)
    evidence = Evidence(coupons, given.limits, given.cure, given.reproducibility_sd_um)
    fits = {name: fit for name, lane in LANES.items() if (fit := lane.fit(evidence)) is not None}
    for fit in fits.values():
        warnings += fit.notices
    if evidence.guard_only:
        warnings.append(
            Notice(
                code="two-exposures", message="Two exposures only: the doubt of the ends is not known. Print a third."
            )
        )
    low_x, high_x = math.log(exposures[0]), math.log(exposures[-1])
    lowers, uppers, beyond, directions = _clip(fits, low_x, high_x)
    lower = max(lowers, key=lambda c: c.x, default=None)
    upper = min(uppers, key=lambda c: c.x, default=None)
    open_side = _open_side(fits)
    window, conflict, choices = None, None, None
    marks = _marks(fits, evidence, low_x, high_x)
    if not beyond and lower and upper and not open_side:
        if lower.x < upper.x - _TIE:
            window = _window(lower, upper)
            size_x = fits["size"].mark_x if "size" in fits else None
            choices = choose(lowers, uppers, size_x, given.exposure_step_s, given.guard_band_pct)
            warnings += choices.warnings
        else:
            conflict = _conflict(lower, upper, given.exposure_step_s, evidence.guard_only)
    edge_low = lower if not beyond else None
    edge_high = upper if not beyond else None
    asked = sorted({*given.exposures_s, *(v for v in (choices.policies if choices else {}).values() if v is not None)})
    return WindowResult(
        ladder_s=(exposures[0], exposures[-1]),
        lanes={name: _ends(name, fit, given.limits, low_x, high_x) for name, fit in fits.items() if fit.usable},
        window=window,
        provisional=any(fit.wrong_direction for fit in fits.values())
        or any(set(c.faults) & {"unwashed", "uncured"} for c in coupons),
        open_side=open_side if not beyond else None,
        beyond_ladder=beyond,
        print_direction=directions,
        conflict=conflict,
        size_true_s=marks.size_true_s,
        size_true_ci_s=marks.size_true_ci_s,
        balance_s=marks.balance_s,
        scale_error_pct=fits["size"].detail.get("scale_error_pct") if "size" in fits else None,
        policies=choices.policies if choices else None,
        predictions=[_predict(t, fits, edge_low, edge_high, low_x, high_x) for t in asked],
        left_out=left_out,
        raw=raw,
        next=None,
        warnings=_ordered(warnings),
    )


def _counting(given: list[CouponEvidence]) -> tuple[list[CouponEvidence], list[LeftOut], list[Notice]]:
    """Coupons that count, in an order that does not depend on the order given."""
    ordered = sorted(given, key=_key)
    counted = [c for c in ordered if not c.faults or c.include]
    left_out = [
        LeftOut(coupon=c.name, exposure_s=c.exposure_s, why=c.faults) for c in ordered if c.faults and not c.include
    ]
    warnings = [Notice(code="left-out", message=f"{out.coupon} is left out: {', '.join(out.why)}.") for out in left_out]
    warnings += [
        Notice(code="included", message=f"{c.name} counts on purpose although {' and '.join(c.faults)}.")
        for c in counted
        if c.faults
    ]
    return counted, left_out, warnings


def _key(coupon: CouponEvidence) -> tuple[float, str]:
    return coupon.exposure_s, coupon.model_dump_json()


def _too_early(
    given: WindowInput, coupons: list[CouponEvidence], left_out: list[LeftOut], raw: list[RawReading],
    warnings: list[Notice],
) -> WindowResult:  # fmt: skip
    """With one exposure (or none left) there is no lane: raw readings and the next exposure."""
    following = None
    if coupons:
        judged = []
        for coupon in coupons:
            verdict = coupon_verdict(VerdictInput(coupon=coupon, limits=given.limits)).verdict
            if verdict is not None:
                judged.append(JudgedCoupon(exposure_s=coupon.exposure_s, verdict=verdict, label=coupon.label))
        if any(c.verdict != "mixed" for c in judged):
            following = next_exposure(NextExposureInput(coupons=judged, exposure_step_s=given.exposure_step_s))
        warnings.append(Notice(code="one-exposure", message="One exposure makes no lane: print another."))
    else:
        warnings.append(Notice(code="none-left", message="Every coupon is left out. Include one on purpose, or print."))
    return WindowResult(
        ladder_s=(coupons[0].exposure_s, coupons[-1].exposure_s) if coupons else None,
        lanes={}, window=None, provisional=False, open_side=None, beyond_ladder=[], print_direction=[], conflict=None,
        size_true_s=None, size_true_ci_s=None, balance_s=None, scale_error_pct=None, policies=None, predictions=[],
        left_out=left_out, raw=raw, next=following, warnings=warnings,
    )  # fmt: skip


def _clip(
    fits: dict[str, LaneFit], low_x: float, high_x: float
) -> tuple[list[Clipped], list[Clipped], list[str], list[str]]:
    """Ends as they count: none outside what was printed; those that matter and lie there are named."""
    lowers, uppers, beyond, directions = [], [], [], []
    for name, fit in fits.items():
        directed = [fit.beyond] if fit.beyond else []
        if fit.lower is not None:
            if fit.lower.x > high_x + _TIE:
                directed.append("longer")
            lowers.append(Clipped(name, max(fit.lower.x, low_x), fit.lower))
        if fit.upper is not None:
            if fit.upper.x < low_x - _TIE:
                directed.append("shorter")
            uppers.append(Clipped(name, min(fit.upper.x, high_x), fit.upper))
        if directed:
            beyond.append(name)
            directions += directed
    return lowers, uppers, beyond, list(dict.fromkeys(directions))


def _open_side(fits: dict[str, LaneFit]) -> Literal["lower", "upper", "both"] | None:
    lower = any(fit.lower is not None for fit in fits.values())
    upper = any(fit.upper is not None for fit in fits.values())
    if lower and upper:
        return None
    return "upper" if lower else "lower" if upper else "both"


def _window(lower: Clipped, upper: Clipped) -> Window:
    low, high = seconds(lower.x), seconds(upper.x)
    return Window(
        lower_s=low,
        lower_from=lower.lane,
        upper_s=high,
        upper_from=upper.lane,
        latitude_pct=100 * (high - low) / math.sqrt(low * high),
    )


def _conflict(lower: Clipped, upper: Clipped, step_s: float, guard_only: bool) -> Conflict:
    def clear(low_x: float, high_x: float) -> bool:
        known = [end.se for end in (lower.end, upper.end) if end.se is not None]
        return bool(known) and low_x - high_x > PROVEN * math.sqrt(sum(se * se for se in known)) + _TIE

    far_low = lower.end.far_x if lower.end.capped and lower.end.far_x is not None else lower.x
    far_high = upper.end.far_x if upper.end.capped and upper.end.far_x is not None else upper.x
    proven = not guard_only and clear(lower.x, upper.x) and clear(far_low, far_high)
    gap = 100 * (math.exp(lower.x - upper.x) - 1)
    said = f"{lower.lane} needs {seconds(lower.x):.3g} s or more, {upper.lane} allows {seconds(upper.x):.3g} s at most"
    middle = round_to_step(seconds((lower.x + upper.x) / 2), step_s)
    return Conflict(
        lower_from=lower.lane,
        upper_from=upper.lane,
        lower_s=seconds(lower.x),
        upper_s=seconds(upper.x),
        gap_pct=gap,
        proven=proven,
        try_s=None if proven or middle <= 0 else middle,
        message=f"No exposure is right: {said}."
        if proven
        else f"The lanes do not meet, but the doubt is larger than the gap: {said}.",
        remedies=remedies(lower.lane, upper.lane),
    )


@dataclass(frozen=True)
class _Marks:
    size_true_s: float | None
    size_true_ci_s: Interval | None
    balance_s: float | None


def _marks(fits: dict[str, LaneFit], evidence: Evidence, low_x: float, high_x: float) -> _Marks:
    size = fits.get("size")
    size_x = size.mark_x if size else None
    shown = size_x is not None and _near(size_x, low_x, high_x)
    balance = balance_x(fits, evidence, low_x, high_x)
    return _Marks(
        size_true_s=seconds(size_x) if shown and size_x is not None else None,
        size_true_ci_s=as_interval(size.mark_interval) if size and shown else None,
        balance_s=seconds(balance) if balance is not None and _near(balance, low_x, high_x) else None,
    )


def _near(x: float, low_x: float, high_x: float) -> bool:
    return low_x - math.log(BEYOND) - _TIE <= x <= high_x + math.log(BEYOND) + _TIE


def _ends(key: str, fit: LaneFit, limits: Limits, low_x: float, high_x: float) -> LaneEnds:
    def shown(end: End | None) -> tuple[float | None, Interval | None]:
        if end is None or not _near(end.x, low_x, high_x):
            return None, None
        return seconds(end.x), as_interval(end.interval)

    lower_s, lower_ci = shown(fit.lower)
    upper_s, upper_ci = shown(fit.upper)
    beyond: Literal["longer", "shorter"] | None = "longer" if fit.beyond == "longer" else None
    if fit.beyond == "shorter" or (fit.upper and fit.upper.x < low_x - _TIE):
        beyond = "shorter"
    elif fit.lower and fit.lower.x > high_x + _TIE:
        beyond = "longer"
    return LaneEnds(
        name=LANES[key].name,
        needs=LANES[key].needs(limits),
        place=list(LANES).index(key),
        lower_s=lower_s,
        upper_s=upper_s,
        lower_ci_s=lower_ci,
        upper_ci_s=upper_ci,
        bracket_s=fit.bracket_s,
        lower_used_s=seconds(min(max(fit.lower.x, low_x), high_x)) if fit.lower else None,
        upper_used_s=seconds(min(max(fit.upper.x, low_x), high_x)) if fit.upper else None,
        lower_capped=bool(fit.lower and fit.lower.capped),
        upper_capped=bool(fit.upper and fit.upper.capped),
        beyond=beyond,
    )


def _predict(
    exposure_s: float,
    fits: dict[str, LaneFit],
    lower: Clipped | None,
    upper: Clipped | None,
    low_x: float,
    high_x: float,
) -> Prediction:
    x = math.log(exposure_s)

    def of(lane: str, what: str) -> float | None:
        fit = fits.get(lane)
        return fit.predict[what](x) if fit and what in fit.predict else None

    size = fits.get("size")
    growth_ci = size.predict_interval(x) if size and size.predict_interval else None
    walls_of, slots_of = of("walls", "of"), of("slots", "of")
    return Prediction(
        exposure_s=exposure_s,
        growth_um=of("size", "growth_um"),
        growth_ci_um=growth_ci,
        bloom_um=of("z", "bloom_um"),
        tip_probability=of("tips", "required_probability"),
        part_probability=of("tips", "part_probability"),
        walls_standing=of("walls", "expected"),
        walls_of=int(walls_of) if walls_of is not None else None,
        slots_open=of("slots", "expected"),
        slots_of=int(slots_of) if slots_of is not None else None,
        margin_lower_pct=100 * math.expm1(x - lower.x) if lower else None,
        margin_upper_pct=100 * math.expm1(upper.x - x) if upper else None,
        extrapolated=x < low_x - _TIE or x > high_x + _TIE,
    )


def _raw(coupon: CouponEvidence) -> RawReading:
    return RawReading(
        coupon=coupon.name,
        exposure_s=coupon.exposure_s,
        growth_um=growth_um(coupon),
        bloom_um=bloom_um(coupon),
        walls_standing=sum(w.standing for w in coupon.walls),
        walls_of=sum(w.of for w in coupon.walls),
        slots_open=sum(s.open for s in coupon.slots),
        slots_of=sum(s.of for s in coupon.slots),
        tips_held=sum(t.held for t in coupon.tips),
        tips_of=sum(t.of for t in coupon.tips),
    )


def _ordered(warnings: list[Notice]) -> list[Notice]:
    """Each said once, what invalidates first."""
    first = ("wrong-direction", "not-monotone", "left-out", "included")
    rank = {code: i for i, code in enumerate(first)}
    once = list({(w.code, w.message): w for w in warnings}.values())
    return sorted(once, key=lambda w: rank.get(w.code, len(first)))
