"""Arms side by side: what changing one setting moved, and the least rest that suffices."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field
from scipy.special import ndtr

from ..contract import Contract, Interval, Notice, Seconds
from ..reading.evidence import CouponEvidence
from ..statistics.compare import SIGNIFICANT, holm
from ..window.contract import LaneEnds, Window, WindowInput, WindowResult
from ..window.lanes import Limits
from ..window.lanes.profile import KAPPA
from ..window.process_window import process_window

ONE_SIDED = 1.645
"""One-sided 5 % point of the normal distribution."""
REST_MARGIN = 0.05
"""A window narrower by less than this share of its width is as good."""
MOST_DEGREES_APART = 8.0
"""Arms further apart in temperature differ by it, not by their setting."""
NORMAL_HALF = 1.959964
TOO_WIDE = math.log(1.5)
"""A nominal-size exposure less sure than this, one standard error in ln light, is not compared."""


class ArmInput(Contract):
    """One arm: its settings and the window that was found with them."""

    name: str = Field(min_length=1, max_length=200)
    coupons: list[CouponEvidence] = Field(min_length=1, max_length=200)
    seconds_per_layer: Annotated[float, Field(gt=0, le=10_000)] | None = Field(
        None, description="Of a normal layer at its own size-true, or as wanted"
    )
    rest_s: Annotated[float, Field(ge=0, le=600)] | None = Field(
        None, description="Rest before light, when arms differ in it"
    )


class CompareArmsInput(Contract):
    """Arms of one calibration that differ in one setting."""

    arms: list[ArmInput] = Field(min_length=2, max_length=12, description="The first is the baseline")
    limits: Limits
    exposure_step_s: Seconds = 0.01


class ArmResult(Contract):
    """Nominal-size exposure and window of one arm."""

    name: str
    size_true_s: float | None
    size_true_ci_s: Interval | None
    window: Window | None
    latitude_pct: float | None
    support_end_s: float | None
    conflict_gap_pct: float | None
    seconds_per_layer: float | None
    rest_s: float | None


class ArmShift(Contract):
    """An arm against the baseline."""

    name: str
    size_true_shift_pct: float | None
    size_true_shift_ci_pct: Interval | None
    p_holm: float | None = Field(description="Corrected for the number of arms that are compared")
    shown: bool = Field(description="The nominal-size exposure is shown to have moved")
    degrees_apart_c: float | None = Field(description="How much warmer its coupons were printed than the baseline's")
    latitude_change_pct: float | None = Field(description="Percentage points of latitude")
    support_end_shift_pct: float | None
    seconds_per_layer_change: float | None
    message: str


class CompareArmsResult(Contract):
    """What the arms' setting does, and the least rest that suffices."""

    arms: list[ArmResult]
    shifts: list[ArmShift]
    least_sufficient_rest_s: float | None
    warnings: list[Notice]


@dataclass(frozen=True)
class _Arm:
    inputs: ArmInput
    result: WindowResult
    nominal: tuple[float, float] | None
    """ln of the nominal-size exposure and its standard error; None where it is not known well enough to compare."""
    away_c: float | None
    """How much warmer its coupons were than the temperature all arms are held against; None where that is not known."""

    @property
    def support_end_s(self) -> float | None:
        """The least exposure at which supports hold, s; None where it was not found."""
        tips = self.result.lanes.get("tips")
        return tips.lower_s if tips else None


def compare_arms(inputs: CompareArmsInput) -> CompareArmsResult:
    """Compare arms that differ in one setting; the first is the baseline.

    Every arm is held against the limits by the process window, all at one reference temperature: the median of all coupons. The
    shift of nominal size is the difference of ln exposure; its interval adds both standard errors, taken from the 95 % intervals,
    and what the correction for temperature has wrong in both alike. Several arms are corrected for their number by Holm. Arms
    more than 8 °C apart are not compared. Over several rests the least that suffices is the shortest whose window is shown
    to be as wide as that of the longest, within 5 % of its width: the upper one-sided 95 % limit of the difference of
    ln(upper / lower) is under that margin (non-inferiority). Not shown to be worse is not enough: so the shortest was taken
    in 15 of 18 simulated sets whose windows were truly narrower. Where all shorter ones are shown to be worse it is the longest.

    Parameters
    ----------
    inputs : CompareArmsInput
        Two arms or more, exposures in seconds, sizes in millimetres.

    Returns
    -------
    CompareArmsResult
        What each arm says, and every other arm against the first. Where an arm has no nominal size yet, or one too unsure to
        compare, there is no shift, and a warning says so.
    """
    temps = sorted(c.temp_c for arm in inputs.arms for c in arm.coupons if c.temp_c is not None)
    reference_c = temps[len(temps) // 2] if temps else None
    arms = [_arm(arm, inputs, reference_c) for arm in inputs.arms]
    baseline, warnings = arms[0], []
    for arm in arms:
        if arm.nominal is None:
            message = f"{arm.inputs.name} has no nominal size that could be compared: bars and notches that differ at two exposures make one."
            warnings.append(Notice(code="no-size-true", message=message))
    rest, notes = _least_rest(arms)
    moved = [_moved(baseline, arm) for arm in arms[1:]]
    for arm in arms[1:]:
        if _apart_c(baseline, arm) is None and any(a.away_c is not None for a in (baseline, arm)):
            message = f"The temperature of {arm.inputs.name} or of {baseline.inputs.name} is not known: what differs may be that."
            warnings.append(Notice(code="temperature-unknown", message=message))
    for arm, how in zip(arms[1:], moved, strict=True):
        if how is None and abs(_apart_c(baseline, arm) or 0.0) > MOST_DEGREES_APART:
            message = (
                f"{arm.inputs.name} was printed {abs(_apart_c(baseline, arm) or 0.0):.0f} °C away from {baseline.inputs.name}: "
                "that moves more than most settings. Print one of them again at the other's temperature."
            )
            warnings.append(Notice(code="temperature-apart", message=message))
    return CompareArmsResult(
        arms=[_view(arm) for arm in arms],
        shifts=[_shift(baseline, arm, how, p) for arm, how, p in zip(arms[1:], moved, _corrected(moved), strict=True)],
        least_sufficient_rest_s=rest,
        warnings=[*warnings, *notes],
    )


def _arm(arm: ArmInput, inputs: CompareArmsInput, reference_c: float | None) -> _Arm:
    result = process_window(
        WindowInput(
            coupons=arm.coupons,
            limits=inputs.limits,
            exposure_step_s=inputs.exposure_step_s,
            reference_temp_c=reference_c,
        )
    )
    nominal = None
    if result.size_true_s is not None and result.size_true_ci_s is not None:
        error = _standard_error(result.size_true_ci_s)
        if error <= TOO_WIDE:
            nominal = (math.log(result.size_true_s), error)
    return _Arm(arm, result, nominal, _away_c(arm, reference_c))


def _away_c(arm: ArmInput, reference_c: float | None) -> float | None:
    known = [coupon.temp_c for coupon in arm.coupons if coupon.temp_c is not None]
    return sum(known) / len(known) - reference_c if known and reference_c is not None else None


def _apart_c(baseline: _Arm, arm: _Arm) -> float | None:
    """How much warmer an arm was printed than the baseline."""
    return None if baseline.away_c is None or arm.away_c is None else arm.away_c - baseline.away_c


def _moved(baseline: _Arm, arm: _Arm) -> tuple[float, float] | None:
    """Difference of ln nominal-size exposure with its standard error, where the two can be compared.

    Each arm's error holds its own part of what is unsure about the effect of temperature; that is one number for both, so
    that arms on both sides of the reference are off in opposite directions.
    """
    if baseline.nominal is None or arm.nominal is None:
        return None
    apart = _apart_c(baseline, arm)
    if apart is not None and abs(apart) > MOST_DEGREES_APART:
        return None
    shared = -2 * KAPPA[1] ** 2 * (baseline.away_c or 0.0) * (arm.away_c or 0.0)
    variance = baseline.nominal[1] ** 2 + arm.nominal[1] ** 2 + max(shared, 0.0)
    return arm.nominal[0] - baseline.nominal[0], math.sqrt(variance)


def _corrected(moved: list[tuple[float, float] | None]) -> list[float | None]:
    """Two-sided p-values of the arms that can be compared, corrected for their number."""
    p_values = [2 * float(ndtr(-abs(how[0]) / how[1])) for how in moved if how is not None]
    adjusted = iter(holm(p_values))
    return [None if how is None else next(adjusted) for how in moved]


def _standard_error(interval: Interval) -> float:
    """Of ln exposure, from its 95 % interval."""
    return math.log(interval[1] / interval[0]) / (2 * NORMAL_HALF)


def _view(arm: _Arm) -> ArmResult:
    return ArmResult(
        name=arm.inputs.name,
        size_true_s=None if arm.nominal is None else arm.result.size_true_s,
        size_true_ci_s=None if arm.nominal is None else arm.result.size_true_ci_s,
        window=arm.result.window,
        latitude_pct=arm.result.window.latitude_pct if arm.result.window else None,
        support_end_s=arm.support_end_s,
        conflict_gap_pct=arm.result.conflict.gap_pct if arm.result.conflict else None,
        seconds_per_layer=arm.inputs.seconds_per_layer,
        rest_s=arm.inputs.rest_s,
    )


def _shift(baseline: _Arm, arm: _Arm, moved: tuple[float, float] | None, p_holm: float | None) -> ArmShift:
    shift, interval, is_shown = None, None, p_holm is not None and p_holm < SIGNIFICANT
    if moved is not None:
        difference, half_width = moved[0], NORMAL_HALF * moved[1]
        shift, interval = _percent(difference), (_percent(difference - half_width), _percent(difference + half_width))
    before, after = baseline.result.window, arm.result.window
    latitude = None
    if before and after and before.latitude_pct is not None and after.latitude_pct is not None:
        latitude = after.latitude_pct - before.latitude_pct
    support = None
    if baseline.support_end_s and arm.support_end_s:
        support = _percent(math.log(arm.support_end_s / baseline.support_end_s))
    pace = None
    if baseline.inputs.seconds_per_layer is not None and arm.inputs.seconds_per_layer is not None:
        pace = arm.inputs.seconds_per_layer - baseline.inputs.seconds_per_layer
    return ArmShift(
        name=arm.inputs.name,
        size_true_shift_pct=shift,
        size_true_shift_ci_pct=interval,
        p_holm=p_holm,
        shown=is_shown,
        degrees_apart_c=_apart_c(baseline, arm),
        latitude_change_pct=latitude,
        support_end_shift_pct=support,
        seconds_per_layer_change=pace,
        message=_words(shift, is_shown, latitude, bool(baseline.result.conflict), bool(after)),
    )


def _words(shift: float | None, is_shown: bool, latitude: float | None, was_conflict: bool, has_window: bool) -> str:
    sentences = []
    if shift is not None and not is_shown:
        sentences.append("It is not shown that the nominal-size exposure moved.")
    elif shift is not None:
        more = "more" if shift > 0 else "less"
        sentences.append(f"Nominal size needs {abs(shift):.0f} % {more} light.")
    if latitude is not None:
        sentences.append(f"The window is {abs(latitude):.0f} points {'wider' if latitude > 0 else 'narrower'}.")
    elif was_conflict and has_window:
        sentences.append("Here the lanes meet; in the first arm they do not.")
    return " ".join(sentences) or "Too little is read to say."


def _percent(difference: float) -> float:
    return 100 * (math.exp(difference) - 1)


def _least_rest(arms: list[_Arm]) -> tuple[float | None, list[Notice]]:
    rests = {arm.inputs.rest_s for arm in arms if arm.inputs.rest_s is not None}
    if len(rests) < 2:
        return None, []
    widths = [(arm, width) for arm in arms if arm.inputs.rest_s is not None and (width := _width(arm)) is not None]
    if len({arm.inputs.rest_s for arm, _ in widths}) < 2:
        message = "The shortest rest that works needs both ends of two windows: print until they are found in each arm."
        return None, [Notice(code="rest-unknown", message=message)]
    longest, (best, best_se) = max(widths, key=lambda pair: pair[0].inputs.rest_s or 0.0)
    margin = REST_MARGIN * best
    shorter = [
        (arm.inputs.rest_s, best - width, ONE_SIDED * math.hypot(se, best_se))
        for arm, (width, se) in widths
        if arm is not longest and arm.inputs.rest_s is not None
    ]
    enough = [rest for rest, worse, unsure in shorter if worse + unsure <= margin]
    if enough:
        return min(enough), []
    if all(worse - unsure > 0 for _, worse, unsure in shorter):
        return longest.inputs.rest_s, []
    message = (
        f"No shorter rest is shown to be as good as {longest.inputs.rest_s:g} s, within {100 * REST_MARGIN:.0f} % of the window's "
        "width. Coupons near both ends of both windows would narrow it."
    )
    return None, [Notice(code="rest-not-shown", message=message)]


def _width(arm: _Arm) -> tuple[float, float] | None:
    """ln(upper / lower) of an arm's window, below 0 where its lanes do not meet, with its standard error; None when not known."""
    lanes = arm.result.lanes.values()
    lower = max((end for lane in lanes if (end := _end(lane, "lower"))), default=None)
    upper = min((end for lane in lanes if (end := _end(lane, "upper"))), default=None)
    if lower is None or upper is None:
        return None
    return upper[0] - lower[0], math.hypot(lower[1], upper[1])


def _end(lane: LaneEnds, side: str) -> tuple[float, float] | None:
    """ln of a lane's end with its standard error, where the end is found."""
    end_s, interval = getattr(lane, f"{side}_s"), getattr(lane, f"{side}_ci_s")
    if end_s is None or interval is None or not getattr(lane.found, side):
        return None
    return math.log(end_s), _standard_error(interval)
