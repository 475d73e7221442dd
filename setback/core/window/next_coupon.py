"""The next coupon worth printing: what it would settle, what it costs, and how likely the window is decided after it.

Rules, in the order in which they are asked (source: docs/methods.md, *The next coupon*):

1. Coupons that contradict the others are repeated first, once.
2. Four flat coupons over the range to begin with.
3. Decided, no exposure right, or too narrow: stop.
4. All under: half as much light again as the highest. All over, or an end below the ladder: the lowest by 1.5.
5. A limited lane not read at two exposures: its coupon near the joint end.
6. Where the chance beyond the ladder, to a ratio of 1.35, is better by 0.05 than inside: a flat coupon there.
7. Else the coupon of the lane that may bind and is least sure, at its end, moved by a step where it was printed already.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator
from scipy.special import ndtri

from ..contract import Contract, Notice, Seconds
from ..printing.steps import round_to_step
from ..reading.evidence import CouponEvidence
from ..statistics.posterior import Array
from ..window.verdict import VerdictInput, coupon_verdict
from .contract import CutOffs, Decision, WindowInput
from .joint import chances, printer_steps
from .lanes import LANES, CureCurve, Found, LaneFit, Limits
from .lanes.base import UNIFORMS, Side
from .process_window import Believed, believe, found, overlap

FIRST = 4
"""Flat coupons to begin with."""
FURTHER, ASIDE, BETTER = 1.5, 1.35, 0.05
FAR_DEGREES = 3.0
"""Resin further than this from the temperature that the window is for is brought back before anything is printed."""
IMAGINED = 24
"""Coupons imagined to say how likely a decision is after the next one."""
CouponKind = Literal["flat", "support", "z-bridge"]


class KindOffer(Contract):
    """A coupon that may be printed, with what it costs."""

    kind: CouponKind
    minutes: Annotated[float, Field(ge=0, le=100_000)] = 0.0
    ml: Annotated[float, Field(ge=0, le=10_000)] = 0.0


class NextCouponInput(Contract):
    """What ``process-window`` takes, with the range and the kinds of coupon that may be printed."""

    coupons: list[CouponEvidence] = Field(max_length=200, description="Coupons of one arm; none yet is fine")
    limits: Limits
    exposure_step_s: Seconds
    guard_band_pct: Annotated[float, Field(ge=0, le=100)] = 5.0
    reference_temp_c: Annotated[float, Field(ge=-20, le=80)] | None = None
    cut_offs: CutOffs = Field(default_factory=CutOffs)
    cure: CureCurve | None = None
    reproducibility_sd_um: Annotated[float, Field(ge=0, le=1000)] | None = None
    exposures_s: list[Seconds] = Field(default_factory=list, max_length=1000)
    low_s: Seconds = Field(description="Low end of the range to begin from")
    high_s: Seconds = Field(description="High end of the range to begin from")
    kinds: list[KindOffer] = Field(min_length=1, max_length=3, description="Coupons that may be printed")
    resin_temp_c: Annotated[float, Field(ge=-20, le=80)] | None = Field(
        None, description="Temperature of the resin now, or as it was last measured, °C"
    )

    @model_validator(mode="after")
    def _ordered(self) -> NextCouponInput:
        if self.high_s < self.low_s:
            raise ValueError("high_s is below low_s")
        return self

    def window(self) -> WindowInput:
        """The same, as the process window takes it."""
        values = self.model_dump(exclude={"low_s", "high_s", "kinds", "resin_temp_c"})
        return WindowInput.model_validate(values)


class Settles(Contract):
    """The end of a lane that the next coupon would make narrower."""

    lane: str
    end: Side


class Further(Contract):
    """The coupon that would show an end of a window that is decided on already."""

    kind: CouponKind
    exposure_s: float
    settles: Settles


class NextCouponResult(Contract):
    """Print, repeat or stop: which coupon at which exposure, what it settles, and the chance of a decision after it."""

    action: Literal["print", "repeat", "stop"]
    kind: CouponKind | None
    exposure_s: float | None
    minutes: float | None = None
    ml: float | None = None
    coupons: list[str] = Field([], description="Labels to repeat")
    settles: Settles | None = Field(None, description="The end that is least sure where it matters")
    p_now: float = Field(description="Best chance that all requirements hold, now")
    p_offer: float | None = Field(None, description="Chance that the decision after this coupon is an offer")
    p_window: float | None = None
    decision: Decision
    further: Further | None = Field(
        None, description="With an offer whose latitude is not shown: the coupon that would show an end of the window"
    )
    message: str
    warnings: list[Notice] = []


def next_coupon(inputs: NextCouponInput) -> NextCouponResult:
    """What to print next, or why to stop.

    Parameters
    ----------
    inputs : NextCouponInput
        What the process window takes, the range to begin from in seconds, and the kinds of coupon that may be printed.
    """
    counted = _counted(inputs)
    several = len({c.exposure_s for c in counted}) > 1
    believed = believe(inputs.window()) if several else None
    again = _repeat(inputs, believed, counted) if believed else None
    following = again or _first(inputs, counted)
    if following is not None:
        return following
    if believed is None:
        t = _apart(
            inputs,
            counted,
            inputs.high_s if counted and counted[0].exposure_s < inputs.high_s else inputs.low_s,
            inputs.kinds[0].kind,
        )
        return _print(inputs, None, inputs.kinds[0].kind, t, None, "One exposure makes no lane: print another.")
    return (
        _stop(inputs, believed)
        or _outwards(inputs, believed, counted)
        or _unseen(inputs, believed, counted)
        or (_aside(inputs, believed, counted) or _surest(inputs, believed, counted))
    )


def _first(inputs: NextCouponInput, counted: list[CouponEvidence]) -> NextCouponResult | None:
    """Flat coupons over the range, until there are four."""
    if not _offered(inputs, "flat"):
        return None
    flats = sorted({c.exposure_s for c in counted if c.walls or c.slots or c.blocks})
    if len(flats) >= FIRST:
        return None
    ladder = [
        round_to_step(inputs.low_s * (inputs.high_s / inputs.low_s) ** (i / (FIRST - 1)), inputs.exposure_step_s)
        for i in range(FIRST)
    ]
    open_ = [t for t in dict.fromkeys(ladder) if t > 0 and all(abs(t - f) > inputs.exposure_step_s / 2 for f in flats)]
    if not open_:
        return None
    # From the ends inwards: both failures are seen soonest.
    order = [t for i in (0, FIRST - 1, 1, FIRST - 2) if (t := ladder[i]) in open_]
    return _print(
        inputs, None, "flat", order[0], None, "Four flat coupons over the range show where both failures are."
    )


def _stop(inputs: NextCouponInput, believed: Believed) -> NextCouponResult | None:
    words = {
        "offer": "Another coupon is not needed: all requirements hold with the chance that is asked for.",
        "none": "Two requirements exclude each other: another coupon will not change that.",
        "narrow": "After so many coupons the window is still too narrow to settle: change the settings or what the parts need.",
    }
    if believed.decision not in words:
        return None
    stopped = _result(inputs, believed, "stop", None, None, None, words[believed.decision])
    return (
        stopped.model_copy(update={"further": _further(inputs, believed)}) if believed.decision == "offer" else stopped
    )


def _further(inputs: NextCouponInput, believed: Believed) -> Further | None:
    """The coupon at an end of the window that is not found: beyond it where the end lies beyond what was printed."""
    window = overlap(believed)
    if window is None or window.latitude_pct is not None:
        return None
    low_x, high_x = math.log(believed.evidence.exposures[0]), math.log(believed.evidence.exposures[-1])
    sides: tuple[tuple[Side, str], ...] = (("lower", window.lower_from), ("upper", window.upper_from))
    for side, name in sides:
        end, kind = getattr(believed.fitted[name], side), LANES[name].coupon
        if end is None or kind is None or not _offered(inputs, kind):
            continue
        inside = low_x <= end.median <= high_x
        if inside and found(end):
            continue
        # At the end itself both outcomes tell; an end that was never passed wants a coupon past it.
        past = (
            0.0
            if end.seen_beyond
            else (1.0 if side == "upper" else -1.0) * max(end.interval[1] - end.interval[0], 0.0) / 4
        )
        at = min(max(end.median + past, low_x - math.log(FURTHER)), high_x + math.log(FURTHER))
        t = _apart(inputs, _counted(inputs), math.exp(at), kind)
        return Further.model_validate({"kind": kind, "exposure_s": t, "settles": Settles(lane=name, end=side)})
    return None


def _counted(inputs: NextCouponInput) -> list[CouponEvidence]:
    return [c for c in inputs.coupons if not c.faults or c.include]


def _repeat(inputs: NextCouponInput, believed: Believed, counted: list[CouponEvidence]) -> NextCouponResult | None:
    """Coupons that contradict the others; with a lane that runs the wrong way, its outermost two."""
    if believed.contradictions:
        worst = max(believed.contradictions, key=lambda contradiction: contradiction.chance)
        coupon = next(c for c in counted if c.name == worst.coupon and c.exposure_s == worst.exposure_s)
        labels = [contradiction.coupon for contradiction in believed.contradictions]
        return _result(
            inputs,
            believed,
            "repeat",
            _kind_of(coupon),
            coupon.exposure_s,
            None,
            worst.message,
            coupons=labels,
            p_offer=None,
        )
    for name, fit in believed.fits.items():
        if fit.wrong_direction:
            kind = LANES[name].coupon or "flat"
            same_kind = sorted((c for c in counted if _kind_of(c) == kind), key=lambda c: c.exposure_s)
            message = next(n.message for n in fit.notices if n.code == "wrong-direction")
            if all(sum(c.exposure_s == end.exposure_s for c in same_kind) > 1 for end in (same_kind[0], same_kind[-1])):
                message += " Repeats do not settle it: look at labels, film and light before printing more."
                return _result(inputs, believed, "stop", None, None, None, message)
            return _result(
                inputs,
                believed,
                "repeat",
                kind,
                same_kind[0].exposure_s,
                None,
                message,
                coupons=[same_kind[0].name, same_kind[-1].name],
            )
    return None


def _outwards(inputs: NextCouponInput, believed: Believed, counted: list[CouponEvidence]) -> NextCouponResult | None:
    """All under or all over, or an end beyond what was printed."""
    flat_verdicts = [
        coupon_verdict(VerdictInput(coupon=c, limits=inputs.limits)) for c in counted if _kind_of(c) == "flat"
    ]
    verdicts = {judged.verdict for judged in flat_verdicts if judged.verdict is not None}
    exposures = believed.evidence.exposures
    for name, direction in believed.beyond.items():
        kind = LANES[name].coupon or "flat"
        if _offered(inputs, kind):
            away = exposures[-1] * FURTHER if direction == "longer" else exposures[0] / FURTHER
            t = _apart(inputs, counted, away, kind)
            end: Side = "lower" if direction == "longer" else "upper"
            return _print(
                inputs,
                believed,
                kind,
                t,
                Settles(lane=name, end=end),
                f"{LANES[name].name} lies beyond what was printed.",
            )
    if verdicts in ({"under"}, {"over"}) and _offered(inputs, "flat"):
        away = exposures[-1] * FURTHER if verdicts == {"under"} else exposures[0] / FURTHER
        t = _apart(inputs, counted, away, "flat")
        return _print(inputs, believed, "flat", t, None, f"All coupons are {verdicts.pop()} so far: print further out.")
    return None


def _unseen(inputs: NextCouponInput, believed: Believed, counted: list[CouponEvidence]) -> NextCouponResult | None:
    """A limited lane that was not read at two exposures: its coupon near the joint end."""
    lower, upper = float(np.median(believed.joint.lower)), float(np.median(believed.joint.upper))
    exposures = believed.evidence.exposures
    lower = lower if math.isfinite(lower) else math.log(exposures[0])
    upper = upper if math.isfinite(upper) else math.log(exposures[-1])
    for name in believed.missing:
        kind = LANES[name].coupon
        if kind is None or not _offered(inputs, kind):
            continue
        side: Side = "upper" if name in ("slots", "z", "fail-tip") else "lower"
        own_exposures = sorted({c.exposure_s for c in counted if _kind_of(c) == kind})
        at = math.exp(lower if side == "lower" else upper)
        if own_exposures:
            at = _other_side(inputs, counted, kind, own_exposures[-1] if len(own_exposures) == 1 else at)
        t = _apart(inputs, counted, min(max(at, exposures[0]), exposures[-1]), kind)
        message = f"{LANES[name].name}: not read at two exposures yet."
        return _print(inputs, believed, kind, t, Settles(lane=name, end=side), message)
    return None


def _other_side(inputs: NextCouponInput, counted: list[CouponEvidence], kind: str, near_s: float) -> float:
    """Where the first coupon of a kind points to: more light when it was under, less when it was right or over."""
    coupon = next(c for c in counted if _kind_of(c) == kind)
    verdict = coupon_verdict(VerdictInput(coupon=coupon, limits=inputs.limits)).verdict
    return (
        near_s * (1.25 if verdict == "under" else 0.8)
        if kind != "z-bridge"
        else near_s * (0.75 if verdict == "over" else 1.3)
    )


def _aside(inputs: NextCouponInput, believed: Believed, counted: list[CouponEvidence]) -> NextCouponResult | None:
    """A flat coupon beyond the ladder where the chance is better there than anywhere inside."""
    if not _offered(inputs, "flat") or not believed.fitted:
        return None
    low, high = believed.evidence.exposures[0], believed.evidence.exposures[-1]
    outside = [
        t for t in printer_steps(low / ASIDE, high * ASIDE, inputs.exposure_step_s) if t > 0 and not low <= t <= high
    ]
    if not outside:
        return None
    steps = chances(believed.fitted, outside)
    if steps.best <= believed.steps.best + BETTER:
        return None
    t = _apart(inputs, counted, float(steps.exposures_s[int(np.argmax(steps.p))]), "flat")
    return _print(inputs, believed, "flat", t, None, "All requirements are likelier to hold beyond what was printed.")


def _surest(inputs: NextCouponInput, believed: Believed, counted: list[CouponEvidence]) -> NextCouponResult:
    """The coupon of the end that may bind and is least sure, at its median."""
    binding = believed.joint.binding()
    best: tuple[float, str, Side, Found, str] | None = None
    for name, fit in believed.fitted.items():
        kind = LANES[name].coupon
        if kind is None or not _offered(inputs, kind):
            continue
        for end in fit.ends():
            low, high = end.interval
            worth = (binding.get((name, end.side), 0.0) + 0.02) * (high - low)
            if best is None or worth > best[0]:
                best = (worth, name, end.side, end, kind)
    if best is None:
        return _result(inputs, believed, "stop", None, None, None, "No coupon that may be printed would tell more.")
    _, name, side, end, kind = best
    t = _apart(inputs, counted, math.exp(end.median), kind)
    message = f"{LANES[name].name}: the {side} end is the least sure of those that may limit the window."
    return _print(inputs, believed, kind, t, Settles(lane=name, end=side), message)


def _offered(inputs: NextCouponInput, kind: str) -> KindOffer | None:
    return next((offer for offer in inputs.kinds if offer.kind == kind), None)


def _kind_of(coupon: CouponEvidence) -> str:
    """What a coupon is, by what was read off it."""
    if coupon.tips and not (coupon.walls or coupon.slots or coupon.blocks):
        return "support"
    if coupon.z_gaps and not (coupon.walls or coupon.slots or coupon.blocks or coupon.tips):
        return "z-bridge"
    return "flat"


def _apart(inputs: NextCouponInput, counted: list[CouponEvidence], wanted_s: float, kind: str) -> float:
    """The printer's step nearest to an exposure at which no coupon of the kind was printed yet."""
    step = inputs.exposure_step_s
    printed = [c.exposure_s for c in counted if _kind_of(c) == kind]
    start = max(round_to_step(wanted_s, step), step)
    for n in range(200):
        for t in (start + n * step, start - n * step):
            if t > step / 2 and all(abs(t - exposure) > step / 2 for exposure in printed):
                return round(t, 9)
    return start


def _print(
    inputs: NextCouponInput,
    believed: Believed | None,
    kind: str,
    exposure_s: float,
    settles: Settles | None,
    message: str,
) -> NextCouponResult:
    p_offer = None if believed is None else chance_of_offer(inputs, believed, kind, exposure_s)
    return _result(inputs, believed, "print", kind, exposure_s, settles, message, p_offer=p_offer)


def _result(
    inputs: NextCouponInput,
    believed: Believed | None,
    action: str,
    kind: str | None,
    exposure_s: float | None,
    settles: Settles | None,
    message: str,
    coupons: list[str] | None = None,
    p_offer: float | None = None,
) -> NextCouponResult:
    cost = _offered(inputs, kind) if kind else None
    return NextCouponResult.model_validate(
        {
            "action": action,
            "kind": kind,
            "exposure_s": exposure_s,
            "minutes": cost.minutes if cost else None,
            "ml": cost.ml if cost else None,
            "coupons": coupons or [],
            "settles": settles,
            "p_now": _digits(believed.steps.best) if believed else 0.0,
            "p_offer": None if p_offer is None else _digits(p_offer),
            "p_window": _digits(believed.p_window) if believed else None,
            "decision": believed.decision if believed else "more",
            "message": message,
            "warnings": [*_too_far(inputs, believed, action), *(believed.warnings if believed else [])],
        }
    )


def _too_far(inputs: NextCouponInput, believed: Believed | None, action: str) -> list[Notice]:
    """Said before printing with resin that is not as warm as what the window is for."""
    reference = believed.evidence.reference_c if believed else inputs.reference_temp_c
    if action == "stop" or reference is None or inputs.resin_temp_c is None:
        return []
    if abs(inputs.resin_temp_c - reference) <= FAR_DEGREES:
        return []
    message = (
        f"The resin is at {inputs.resin_temp_c:.3g} °C and the coupons stand for {reference:.3g} °C: bring it back to within "
        f"{FAR_DEGREES:g} °C before the next print."
    )
    return [Notice(code="bring-back", message=message)]


def chance_of_offer(inputs: NextCouponInput, believed: Believed, kind: str, exposure_s: float) -> float | None:
    """How likely every limited lane is settled for an offer after this coupon, by imagining it.

    For points of the posterior taken as the truth in turn, a coupon is drawn at the exposure, the points are weighed anew by it, and it is
    seen whether the best step then reaches the cut-off. None while a lane is missing that this coupon does not begin.
    """
    lanes = {
        name: fit for name, fit in believed.fitted.items() if LANES[name].coupon == kind and fit.imagined is not None
    }
    if believed.missing or believed.contradictions or not lanes:
        return None
    x, offers = math.log(exposure_s), 0
    places = (np.arange(IMAGINED) + 0.5) / IMAGINED
    normals = ndtri((np.arange(IMAGINED) * 0.618034 + 0.5) % 1.0 * 0.998 + 0.001)
    low = min(believed.evidence.exposures[0], exposure_s)
    high = max(believed.evidence.exposures[-1], exposure_s)
    steps = printer_steps(low, high, inputs.exposure_step_s)
    for i in range(IMAGINED):
        fits: dict[str, LaneFit] = dict(believed.fitted)
        for n, (name, fit) in enumerate(lanes.items()):
            fits[name] = _after(fit, x, float(places[(i * 7 + n * 5) % IMAGINED]), 0.015 * float(normals[i]), i)
        offers += chances(fits, steps).best >= inputs.cut_offs.offer
    return offers / IMAGINED


def _after(fit: LaneFit, x: float, place: float, delta: float, number: int) -> LaneFit:
    """A lane after an imagined coupon."""
    assert fit.posterior is not None and fit.imagined is not None
    truth = int(np.searchsorted(np.cumsum(fit.posterior.weights), place))
    uniforms = (np.arange(1, UNIFORMS + 1, dtype=np.float64) * 0.7548776662 + 0.5698402910 * (number + 1)) % 1.0
    log_weights = np.log(fit.posterior.weights + 1e-300) + fit.imagined(
        x, min(truth, len(fit.posterior.weights) - 1), delta, uniforms
    )
    weights: Array = np.exp(log_weights - log_weights.max())
    weights /= weights.sum()

    def moved(end: Found | None) -> Found | None:
        """An end as it would be believed after the imagined coupon."""
        return None if end is None else replace(end, weights=weights)

    return replace(fit, lower=moved(fit.lower), upper=moved(fit.upper), mark=moved(fit.mark))


def _digits(value: float) -> float:
    return float(f"{value:.4g}")


__all__ = ["KindOffer", "NextCouponInput", "NextCouponResult", "chance_of_offer", "next_coupon"]
