"""Process window: what every lane believes of its ends, the chance that all hold at each exposure, and what follows.

Every limited criterion is a lane (:mod:`setback.core.window.lanes`). The joint chance decides: an exposure is offered when it is high enough,
none is when no exposure can be right, and more is asked for otherwise. Method and sources: docs/methods.md, *The window*.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any, Literal

import numpy as np

from ..contract import Interval, Notice
from ..printing.steps import ceil_to_step
from ..reading.evidence import CouponEvidence
from ..reading.size import bloom_um, growth_um
from ..statistics.posterior import Array
from ..statistics.quantiles import quantile_of_sorted, quantiles
from .contract import (
    FOUND_HALF,
    Chance,
    Conflict,
    Contradiction,
    CutOffs,
    Decision,
    EndsFound,
    LaneEnds,
    LeftOut,
    NoneRight,
    Offer,
    Prediction,
    PrintOn,
    RawReading,
    TooNarrow,
    Window,
    WindowInput,
    WindowOutcome,
    reaches_offer,
)
from .joint import Joint, chances, far_off, far_side, printer_steps, together
from .lanes import LANES, Evidence, Found, LaneFit, Limits, as_interval, seconds
from .next_exposure import JudgedCoupon, NextExposureInput, next_exposure
from .policies import Steps, choose
from .remedies import remedies
from .verdict import VerdictInput, coupon_verdict

METHOD = "chance 1"
BEYOND = 1.2
"""Ends and marks further outside the ladder than this ratio are not shown."""
MANY_DEGREES = 2.0
LEAST_EXPOSURES = 3
"""Two exposures leave nothing to judge the curves by: nothing is offered on them."""
LIKELY = 0.5
"""A coupon whose light was far off with more than this chance contradicts the others."""
SAME_LIGHT = 1.03
_TIE = 1e-12


@dataclass(frozen=True)
class Believed:
    """What the coupons of one arm say together: the state from which the answer, and the next coupon, follow."""

    evidence: Evidence
    fits: Mapping[str, LaneFit]
    """Every lane that applies, fitted or not."""
    joint: Joint
    steps: Steps
    missing: list[str]
    beyond: dict[str, Literal["longer", "shorter"]]
    contradictions: list[Contradiction]
    decision: Decision
    p_window: float
    warnings: list[Notice]
    left_out: list[LeftOut]

    @property
    def fitted(self) -> dict[str, LaneFit]:
        """The lanes that have an end."""
        return {name: fit for name, fit in self.fits.items() if fit.fitted}


def process_window(inputs: WindowInput) -> WindowOutcome:
    """What is believed of every lane, of the window, and of each exposure.

    Parameters
    ----------
    inputs : WindowInput
        Coupons of one arm; exposures in seconds, sizes in millimetres, growth in micrometres, temperatures in °C. Damaged,
        unwashed and uncured coupons are left out unless marked ``include``.

    Returns
    -------
    Offer, NoneRight, TooNarrow or PrintOn
        ``lanes`` before clipping; ``window``, ``policies`` and ``p_holds`` never outside what was printed. ``decision`` says what to
        do; ``conflict``, ``beyond_ladder`` and ``open_side`` say why there is no window.
    """
    coupons, left_out, warnings = _counting(inputs.coupons)
    if len({coupon.exposure_s for coupon in coupons}) < 2:
        return _too_early(inputs, coupons, left_out, warnings)
    return _answer(inputs, believe(inputs))


def believe(inputs: WindowInput) -> Believed:
    """Fit every lane and hold them together; two exposures at least.

    The window and the next coupon are asked of the same evidence, so the newest answers are kept.
    """
    return _believe(_Question(inputs.model_dump_json(), inputs))


@dataclass(frozen=True)
class _Question:
    """Input that is the same as another when its JSON is."""

    canonical: str
    inputs: WindowInput = field(compare=False)


@lru_cache(maxsize=8)
def _believe(question: _Question) -> Believed:
    inputs = question.inputs
    coupons, left_out, warnings = _counting(inputs.coupons)
    reference, about_temperature = _reference(inputs, coupons)
    evidence = Evidence(coupons, inputs.limits, inputs.cure, inputs.reproducibility_sd_um, reference)
    fits = {name: fit for name, lane in LANES.items() if (fit := lane.fit(evidence)) is not None}
    warnings += _readers_differ(inputs, fits)
    warnings += about_temperature + [notice for fit in fits.values() for notice in fit.notices]
    fitted = {name: fit for name, fit in fits.items() if fit.fitted}
    missing = [name for name, lane in LANES.items() if lane.limited(inputs.limits) and name not in fitted]
    if missing:
        names = ", ".join(LANES[name].name.lower() for name in missing)
        warnings.append(Notice(code="missing-lane", message=f"Nothing is known yet of a limit that was set: {names}."))
    low_x, high_x = math.log(evidence.exposures[0]), math.log(evidence.exposures[-1])
    joint = together(fitted)
    steps = chances(fitted, printer_steps(evidence.exposures[0], evidence.exposures[-1], inputs.exposure_step_s))
    beyond = _beyond(fitted, low_x, high_x)
    contradictions = _contradictions(evidence, fits)
    warnings += [Notice(code="contradiction", message=contradiction.message) for contradiction in contradictions]
    warnings += _no_step(fitted, beyond, inputs.exposure_step_s)
    p_window = joint.any_step(np.log(steps.exposures_s)) if fitted and len(steps.exposures_s) else 0.0
    decision = _decide(inputs, joint, steps, missing, beyond, fits, contradictions, p_window, len(coupons))
    return Believed(
        evidence, fits, joint, steps, missing, beyond, contradictions, decision, p_window, _ordered(warnings), left_out
    )


def _readers_differ(inputs: WindowInput, fits: Mapping[str, LaneFit]) -> list[Notice]:
    """Said where a gauge study on file makes the ends of the size lane less sure."""
    if not inputs.reproducibility_sd_um or "size" not in fits:
        return []
    message = (
        f"By a gauge study readers differ by {inputs.reproducibility_sd_um:.2g} µm in the growth of an edge (standard deviation): "
        "the ends of the size lane are so much less sure."
    )
    return [Notice(code="gauge-study", message=message)]


def _no_step(fits: Mapping[str, LaneFit], beyond: Mapping[str, str], step_s: float) -> list[Notice]:
    """Said when the window, by its median ends, lies between two steps of the printer."""
    lowers = [fit.lower.median for fit in fits.values() if fit.lower is not None]
    uppers = [fit.upper.median for fit in fits.values() if fit.upper is not None]
    if beyond or not lowers or not uppers or max(lowers) >= min(uppers):
        return []
    low_s, high_s = seconds(max(lowers)), seconds(min(uppers))
    if ceil_to_step(low_s, step_s) <= high_s:
        return []
    message = f"No step of {step_s:g} s falls inside the window of {low_s:.3g} to {high_s:.3g} s. Lower the light power, or use a thicker layer."
    return [Notice(code="no-step", message=message)]


def _decide(
    inputs: WindowInput,
    joint: Joint,
    steps: Steps,
    missing: list[str],
    beyond: Mapping[str, str],
    fits: Mapping[str, LaneFit],
    contradictions: list[Contradiction],
    p_window: float,
    coupons: int,
) -> Decision:
    """What to do; an offer is earned by every limited lane, and only inside what was printed."""
    if any(fit.wrong_direction for fit in fits.values()) or contradictions:
        return "more"
    earned = len({c.exposure_s for c in inputs.coupons if not c.faults or c.include}) >= LEAST_EXPOSURES
    if earned and not missing and not beyond and steps.best >= inputs.cut_offs.offer and joint.lowers and joint.uppers:
        return "offer"
    conflicting = joint.lowers and joint.uppers and joint.any_exposure() <= inputs.cut_offs.none
    # An end that lies beyond what was printed was never seen: it is looked for before anything is called impossible.
    if conflicting and p_window <= inputs.cut_offs.none and not beyond:
        return "none"
    if coupons >= inputs.cut_offs.most_coupons and not missing and not beyond:
        return "narrow"
    return "more"


def _counting(inputs: list[CouponEvidence]) -> tuple[list[CouponEvidence], list[LeftOut], list[Notice]]:
    """Coupons that count, in an order that does not depend on the order given."""
    ordered = sorted(inputs, key=_key)
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


def _reference(inputs: WindowInput, coupons: list[CouponEvidence]) -> tuple[float | None, list[Notice]]:
    """The temperature the window is for, and what must be said of the coupons' temperatures."""
    temperatures = sorted(c.temp_c for c in coupons if c.temp_c is not None)
    if not temperatures:
        message = "No coupon has a resin temperature: all count as equally warm, and for which temperature this holds is not known."
        return None, [Notice(code="temperature-unknown", message=message)]
    middle = (temperatures[(len(temperatures) - 1) // 2] + temperatures[len(temperatures) // 2]) / 2
    reference = middle if inputs.reference_temp_c is None else inputs.reference_temp_c
    notices = []
    unknown = [c.name for c in coupons if c.temp_c is None]
    if unknown:
        message = f"No resin temperature is known of {', '.join(unknown)}: counted as within 3 °C of the others."
        notices.append(Notice(code="temperature-missing", message=message))
    if temperatures[-1] - temperatures[0] > MANY_DEGREES:
        message = (
            f"The coupons were printed from {temperatures[0]:g} to {temperatures[-1]:g} °C: their light is corrected to {reference:.3g} °C, and the "
            "intervals are wider for it."
        )
        notices.append(Notice(code="temperature-spread", message=message))
    return reference, notices


def _contradictions(evidence: Evidence, fits: Mapping[str, LaneFit]) -> list[Contradiction]:
    """Coupons that do not fit with the others and were not repeated yet.

    The one that fits least is named first and the others are judged again without it: two swapped coupons make a third look wrong.
    """
    contradictions: list[Contradiction] = []
    while (worst := _worst(evidence, fits)) is not None:
        place, chance = worst
        coupon = evidence.coupons[place]
        direction = "more" if far_side(fits, place) > 0 else "less"
        message = (
            f"{coupon.name} looks as if it had got {direction} light than {coupon.exposure_s:g} s, against all the others: mixed up, swapped, or a "
            "dose that failed. Repeat it."
        )
        contradictions.append(
            Contradiction(coupon=coupon.name, exposure_s=coupon.exposure_s, chance=round(chance, 4), message=message)
        )
        evidence = replace(evidence, coupons=[c for c in evidence.coupons if c is not coupon])
        fits = {name: fit for name, lane in LANES.items() if (fit := lane.fit(evidence)) is not None}
    return contradictions


def _worst(evidence: Evidence, fits: Mapping[str, LaneFit]) -> tuple[int, float] | None:
    """Place and chance of the coupon whose light was most likely far off, when that is likely and it was not repeated."""
    coupons = evidence.coupons
    if len(coupons) <= 2:
        return None  # Which of two is wrong cannot be told.
    chances = [
        (float(chance), -place)
        for place, chance in enumerate(far_off(fits, len(coupons)))
        if chance > LIKELY and not _repeated(coupons[place], coupons)
    ]
    if not chances:
        return None
    chance, place = max(chances)
    return -place, chance


def _repeated(coupon: CouponEvidence, coupons: list[CouponEvidence]) -> bool:
    """Whether another coupon tells the same things at about the same exposure."""

    def tells(coupon_read: CouponEvidence) -> set[str]:
        """The kinds of feature a coupon was read for."""
        return {word for word in ("walls", "slots", "tips", "blocks", "z_gaps") if getattr(coupon_read, word)}

    return any(
        other is not coupon
        and abs(math.log(other.exposure_s / coupon.exposure_s)) < math.log(SAME_LIGHT)
        and tells(coupon) <= tells(other)
        for other in coupons
    )


def _beyond(fits: Mapping[str, LaneFit], low_x: float, high_x: float) -> dict[str, Literal["longer", "shorter"]]:
    """Lanes whose end leaves nothing inside what was printed, with the direction to print."""
    beyond: dict[str, Literal["longer", "shorter"]] = {}
    for name, fit in fits.items():
        if fit.lower is not None and fit.lower.median > high_x + _TIE:
            beyond[name] = "longer"
        elif fit.upper is not None and fit.upper.median < low_x - _TIE:
            beyond[name] = "shorter"
    return beyond


def _answer(inputs: WindowInput, believed: Believed) -> WindowOutcome:
    """The state in the words of the contract."""
    evidence, fits = believed.evidence, believed.fits
    low_s, high_s = evidence.exposures[0], evidence.exposures[-1]
    low_x, high_x = math.log(low_s), math.log(high_s)
    window = overlap(believed)
    size = fits.get("size")
    nominal = size.mark if size and size.mark is not None else None
    nominal_s = seconds(nominal.median) if nominal and _near(nominal.median, low_x, high_x) else None
    policies: dict[str, float | None] = {}
    if believed.decision == "offer":
        policies = choose(believed.steps, nominal_s, "tips" in believed.fitted, inputs.exposure_step_s, inputs.cut_offs)
    exposures = sorted(
        {
            *believed.steps.exposures_s.tolist(),
            *inputs.exposures_s,
            *(v for v in policies.values() if v is not None),
        }
    )
    binding = believed.joint.binding()
    common: dict[str, Any] = {
        "ladder_s": (low_s, high_s),
        "lanes": {n: _ends(n, f, believed, binding, low_x, high_x) for n, f in fits.items() if f.fitted or f.bracket_s},
        "window": window,
        "provisional": provisional(believed),
        "open_side": None if believed.beyond else _open_side(believed.fitted),
        "beyond_ladder": list(believed.beyond),
        "print_direction": list(dict.fromkeys(believed.beyond.values())),
        "size_true_s": None if nominal_s is None else _digits(nominal_s),
        "size_true_ci_s": _interval(nominal.interval) if nominal and nominal_s is not None else None,
        "balance_s": _balance(believed, low_x, high_x),
        "scale_error_pct": size.detail.get("scale_error_pct") if size else None,
        "p_holds": [
            Chance(exposure_s=t, p=_digits(p))
            for t, p in zip(believed.steps.exposures_s.tolist(), believed.steps.p.tolist(), strict=True)
        ],
        "p_window": _digits(believed.p_window),
        "missing_lanes": believed.missing,
        "contradictions": believed.contradictions,
        "reference_temp_c": evidence.reference_c,
        "cut_offs": inputs.cut_offs,
        "method": METHOD,
        "predictions": _predictions(exposures, believed, window, policies, inputs.cut_offs),
        "left_out": believed.left_out,
        "raw": [_raw(coupon) for coupon in evidence.coupons],
        "warnings": believed.warnings,
    }
    match believed.decision:
        case "offer":
            chances_at = {name: None if t is None else _digits(believed.steps.at(t)) for name, t in policies.items()}
            return Offer(**common, policies=policies, policies_p=chances_at)
        case "none":
            return NoneRight(**common, conflict=_conflict(believed))
        case "narrow":
            return TooNarrow(**common)
    return PrintOn(**common)


def _too_early(
    inputs: WindowInput, coupons: list[CouponEvidence], left_out: list[LeftOut], warnings: list[Notice]
) -> PrintOn:
    """With one exposure (or none left) there is no lane: raw readings and the next exposure."""
    following = None
    if coupons:
        verdicts = []
        for coupon in coupons:
            verdict = coupon_verdict(VerdictInput(coupon=coupon, limits=inputs.limits)).verdict
            if verdict is not None:
                verdicts.append(JudgedCoupon(exposure_s=coupon.exposure_s, verdict=verdict, label=coupon.label))
        if any(c.verdict != "mixed" for c in verdicts):
            following = next_exposure(NextExposureInput(coupons=verdicts, exposure_step_s=inputs.exposure_step_s))
        warnings.append(Notice(code="one-exposure", message="One exposure makes no lane: print another."))
    else:
        warnings.append(Notice(code="none-left", message="Every coupon is left out. Include one on purpose, or print."))
    return PrintOn(
        ladder_s=(coupons[0].exposure_s, coupons[-1].exposure_s) if coupons else None,
        missing_lanes=[name for name, lane in LANES.items() if lane.limited(inputs.limits)],
        cut_offs=inputs.cut_offs,
        method=METHOD,
        left_out=left_out,
        raw=[_raw(coupon) for coupon in coupons],
        next=following,
        warnings=warnings,
    )


def provisional(believed: Believed) -> bool:
    """Whether something was left out or read too early: nothing is issued on it."""
    wrong_way = any(fit.wrong_direction for fit in believed.fits.values())
    return wrong_way or any(set(c.faults) & {"unwashed", "uncured"} for c in believed.evidence.coupons)


def found(end: Found) -> bool:
    """Whether an end is known well enough to be called found."""
    low, high = end.interval
    return (high - low) / 2 <= FOUND_HALF and end.seen_beyond


def overlap(believed: Believed) -> Window | None:
    """The window: where the median ends of all lanes overlap, inside what was printed; None where they do not."""
    fits = believed.fitted
    low_x, high_x = math.log(believed.evidence.exposures[0]), math.log(believed.evidence.exposures[-1])
    lowers = {name: fit.lower for name, fit in fits.items() if fit.lower is not None}
    uppers = {name: fit.upper for name, fit in fits.items() if fit.upper is not None}
    if believed.beyond or not lowers or not uppers:
        return None
    lower = max(lowers, key=lambda name: (max(lowers[name].median, low_x), -list(LANES).index(name)))
    upper = min(uppers, key=lambda name: (min(uppers[name].median, high_x), list(LANES).index(name)))
    low, high = max(lowers[lower].median, low_x), min(uppers[upper].median, high_x)
    if low >= high - _TIE:
        return None
    ends = (
        lowers[lower].median >= low_x
        and uppers[upper].median <= high_x
        and found(lowers[lower])
        and found(uppers[upper])
    )
    low_s, high_s = seconds(low), seconds(high)
    return Window(
        lower_s=_digits(low_s),
        lower_from=lower,
        upper_s=_digits(high_s),
        upper_from=upper,
        latitude_pct=_digits(100 * (high_s - low_s) / math.sqrt(low_s * high_s)) if ends else None,
    )


def _conflict(believed: Believed) -> Conflict:
    """The two lanes that exclude each other most surely, the gap between them and its interval."""
    pairs = [(a, b) for a in believed.joint.lowers for b in believed.joint.uppers]
    lower, upper = max(
        pairs, key=lambda pair: float(np.mean(believed.joint.lowers[pair[0]] - believed.joint.uppers[pair[1]]))
    )
    gaps = 100 * np.expm1(np.clip(believed.joint.lowers[lower] - believed.joint.uppers[upper], -5, 5))
    even = np.full(len(gaps), 1 / len(gaps))
    low, middle, high = quantiles(gaps, even, (0.025, 0.5, 0.975))
    ends = believed.fitted[lower].lower, believed.fitted[upper].upper
    assert ends[0] is not None and ends[1] is not None
    low_s, high_s = seconds(ends[0].median), seconds(ends[1].median)
    message = f"{LANES[lower].name.lower()} need {low_s:.3g} s or more, {LANES[upper].name.lower()} allow {high_s:.3g} s at most"
    return Conflict(
        lower_from=lower,
        upper_from=upper,
        lower_s=_digits(low_s),
        upper_s=_digits(high_s),
        gap_pct=_digits(middle),
        gap_ci_pct=(_digits(low), _digits(high)),
        proven=True,
        try_s=None,
        message=f"No exposure is right: {message}.",
        remedies=remedies(lower, upper, believed.evidence.reference_c),
    )


def _open_side(fits: Mapping[str, LaneFit]) -> Literal["lower", "upper", "both"] | None:
    lower = any(fit.lower is not None for fit in fits.values())
    upper = any(fit.upper is not None for fit in fits.values())
    if lower and upper:
        return None
    return "upper" if lower else "lower" if upper else "both"


def _near(x: float, low_x: float, high_x: float) -> bool:
    return low_x - math.log(BEYOND) - _TIE <= x <= high_x + math.log(BEYOND) + _TIE


def _ends(
    key: str, fit: LaneFit, believed: Believed, binding: Mapping[tuple[str, str], float], low_x: float, high_x: float
) -> LaneEnds:
    def shown(end: Found | None) -> tuple[float | None, Interval | None]:
        """An end and its interval, s; None where it lies too far outside the ladder."""
        if end is None or not _near(end.median, low_x, high_x):
            return None, None
        return _digits(seconds(end.median)), _interval(end.interval)

    def used(end: Found | None) -> float | None:
        """An end as others may use it, s; None where it was not found."""
        return None if end is None else _digits(seconds(min(max(end.median, low_x), high_x)))

    lower_s, lower_ci = shown(fit.lower)
    upper_s, upper_ci = shown(fit.upper)
    binds = [binding[key, side] for side in ("lower", "upper") if (key, side) in binding]
    return LaneEnds(
        name=LANES[key].name,
        needs=LANES[key].needs(believed.evidence.limits),
        place=list(LANES).index(key),
        lower_s=lower_s,
        upper_s=upper_s,
        lower_ci_s=lower_ci,
        upper_ci_s=upper_ci,
        bracket_s=fit.bracket_s,
        lower_used_s=used(fit.lower),
        upper_used_s=used(fit.upper),
        found=EndsFound(
            lower=fit.lower is not None and found(fit.lower), upper=fit.upper is not None and found(fit.upper)
        ),
        binding=_digits(max(binds)) if binds else None,
        beyond=believed.beyond.get(key),
    )


def _balance(believed: Believed, low_x: float, high_x: float) -> float | None:
    """Exposure at which as many walls are expected to stand as slots to stay open, over the distinct sizes."""
    walls, slots = believed.fits.get("walls"), believed.fits.get("slots")
    if walls is None or slots is None or not walls.fitted or not slots.fitted:
        return None

    x = np.linspace(low_x - math.log(BEYOND), high_x + math.log(BEYOND), 49)
    excess = walls.curves["expected"](x).mean(axis=1) - slots.curves["expected"](x).mean(axis=1)
    if excess[0] > 0 or excess[-1] < 0:
        return None
    first = int(np.argmax(excess >= 0))
    if first == 0:
        return _digits(seconds(float(x[0])))
    share = excess[first - 1] / (excess[first - 1] - excess[first])
    return _digits(seconds(float(x[first - 1] + share * (x[first] - x[first - 1]))))


@dataclass(frozen=True)
class Curve:
    """Mean and 95 % interval of a prediction at every asked exposure."""

    mean: list[float]
    ci: list[Interval]


def _curve(fits: Mapping[str, LaneFit], lane: str, curve: str, x: Array) -> Curve | None:
    fit = fits.get(lane)
    if fit is None or fit.posterior is None or curve not in fit.curves:
        return None
    values = np.sort(np.maximum(fit.curves[curve](x), -500), axis=1)
    low, middle, high = (quantile_of_sorted(values, share) for share in (0.025, 0.5, 0.975))
    centre = values.mean(axis=1) if curve in ("required", "part", "expected") else middle
    return Curve(
        [_digits(float(v)) for v in centre],
        [(_digits(float(a)), _digits(float(b))) for a, b in zip(low, high, strict=True)],
    )


def _predictions(
    exposures: list[float],
    believed: Believed,
    window: Window | None,
    policies: Mapping[str, float | None] | None,
    cut_offs: CutOffs,
) -> list[Prediction]:
    """What to expect at each exposure, with intervals."""
    if not exposures:
        return []
    x, fits = np.log(exposures), believed.fitted
    low_x, high_x = math.log(believed.evidence.exposures[0]), math.log(believed.evidence.exposures[-1])
    may_offer = believed.decision == "offer" and not provisional(believed)
    growth, bloom = _curve(fits, "size", "growth", x), _curve(fits, "z", "bloom", x)
    tip, part = _curve(fits, "tips", "required", x), _curve(fits, "tips", "part", x)
    walls, slots = _curve(fits, "walls", "expected", x), _curve(fits, "slots", "expected", x)
    totals = {name: int(fits[name].curves["of"](x)[0, 0]) for name in ("walls", "slots") if name in fits}
    part = part if believed.evidence.of(Limits).tips_per_part else None
    p = chances(fits, exposures).p if fits else np.zeros(len(exposures))

    # Room to an end that is only the ladder's has no interval.
    ends = (fits[window.lower_from].lower, fits[window.upper_from].upper) if window else (None, None)
    lower, upper = (end if end is not None and low_x <= end.median <= high_x else None for end in ends)

    def mean(curve: Curve | None, i: int) -> float | None:
        """The middle of a curve at one exposure."""
        return None if curve is None else curve.mean[i]

    def ci(curve: Curve | None, i: int) -> Interval | None:
        """The interval of a curve at one exposure."""
        return None if curve is None else curve.ci[i]

    return [
        Prediction(
            exposure_s=t,
            growth_um=mean(growth, i),
            growth_ci_um=ci(growth, i),
            bloom_um=mean(bloom, i),
            bloom_ci_um=ci(bloom, i),
            tip_probability=mean(tip, i),
            tip_ci=ci(tip, i),
            part_probability=mean(part, i),
            part_ci=ci(part, i),
            walls_standing=mean(walls, i),
            walls_ci=ci(walls, i),
            walls_of=totals.get("walls"),
            slots_open=mean(slots, i),
            slots_ci=ci(slots, i),
            slots_of=totals.get("slots"),
            margin_lower_pct=_digits(100 * (t / window.lower_s - 1)) if window else None,
            margin_upper_pct=_digits(100 * (window.upper_s / t - 1)) if window else None,
            margin_lower_ci_pct=_margin(lower, t),
            margin_upper_ci_pct=_margin(upper, t),
            extrapolated=bool(x[i] < low_x - _TIE or x[i] > high_x + _TIE),
            p=_digits(float(p[i])),
            offered=may_offer and reaches_offer(t, _digits(float(p[i])), policies, cut_offs),
        )
        for i, t in enumerate(exposures)
    ]


def _margin(end: Found | None, exposure_s: float) -> Interval | None:
    """Interval of the room between an exposure and an end of the window, percent; below 0 the exposure lies past it."""
    if end is None:
        return None
    near, far = (seconds(x) for x in (end.interval if end.side == "upper" else end.interval[::-1]))
    if end.side == "upper":
        return _digits(100 * (near / exposure_s - 1)), _digits(100 * (far / exposure_s - 1))
    return _digits(100 * (exposure_s / near - 1)), _digits(100 * (exposure_s / far - 1))


def _interval(ends: tuple[float, float]) -> Interval:
    low, high = as_interval(ends) or (0.0, 0.0)
    return _digits(low), _digits(high)


def _digits(value: float) -> float:
    """Four digits: what the fixed points can tell, and alike on every machine."""
    return float(f"{value:.4g}") if math.isfinite(value) else value


def _raw(coupon: CouponEvidence) -> RawReading:
    return RawReading(
        coupon=coupon.name,
        exposure_s=coupon.exposure_s,
        growth_um=growth_um(coupon),
        bloom_um=bloom_um(coupon),
        walls_standing=sum(w.whole for w in coupon.walls),
        walls_of=sum(w.of for w in coupon.walls),
        slots_open=sum(s.whole for s in coupon.slots),
        slots_of=sum(s.of for s in coupon.slots),
        tips_held=sum(t.whole for t in coupon.tips),
        tips_of=sum(t.of for t in coupon.tips),
    )


def _ordered(warnings: list[Notice]) -> list[Notice]:
    """Each said once, what invalidates first."""
    first = ("wrong-direction", "contradiction", "not-monotone", "left-out", "included")
    rank = {code: i for i, code in enumerate(first)}
    once = list({(w.code, w.message): w for w in warnings}.values())
    return sorted(once, key=lambda w: rank.get(w.code, len(first)))
