"""Arms side by side: what changing one setting moved, and the least rest that suffices."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..contract import Contract, Interval, Notice, Seconds
from ..reading.evidence import CouponEvidence
from ..window.contract import LaneEnds, Window, WindowInput, WindowResult
from ..window.lanes import Limits
from ..window.process_window import process_window

SHOWN = 1.645
"""One-sided 5 % point of the normal distribution: a difference this many standard errors wide is shown."""
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

    @property
    def support_end_s(self) -> float | None:
        """The least exposure at which supports hold, s; None where it was not found."""
        tips = self.result.lanes.get("tips")
        return tips.lower_s if tips else None


def compare_arms(inputs: CompareArmsInput) -> CompareArmsResult:
    """Compare arms that differ in one setting; the first is the baseline.

    Every arm is held against the limits by the process window, all at one reference temperature: the median of all coupons. The
    shift of nominal size is the difference of ln exposure; its interval adds both standard errors, taken from the 95 % intervals.
    Over several rests the least that suffices is the shortest whose window is not shown worse than the best: the difference of
    ln(upper / lower) is at most 1.645 standard errors.

    Parameters
    ----------
    given : CompareArmsInput
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
    return CompareArmsResult(
        arms=[_view(arm) for arm in arms],
        shifts=[_shift(baseline, arm) for arm in arms[1:]],
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
    return _Arm(arm, result, nominal)


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


def _shift(baseline: _Arm, arm: _Arm) -> ArmShift:
    shift, interval = None, None
    if baseline.nominal is not None and arm.nominal is not None:
        difference = arm.nominal[0] - baseline.nominal[0]
        half_width = NORMAL_HALF * math.hypot(baseline.nominal[1], arm.nominal[1])
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
        latitude_change_pct=latitude,
        support_end_shift_pct=support,
        seconds_per_layer_change=pace,
        message=_words(shift, interval, latitude, bool(baseline.result.conflict), bool(after)),
    )


def _words(
    shift: float | None, interval: Interval | None, latitude: float | None, was_conflict: bool, has_window: bool
) -> str:
    sentences = []
    if shift is not None and interval is not None and interval[0] <= 0 <= interval[1]:
        sentences.append("It is not shown that true size moved.")
    elif shift is not None:
        more = "more" if shift > 0 else "less"
        sentences.append(f"True size needs {abs(shift):.0f} % {more} light.")
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
        message = "The least sufficient rest needs both ends of two windows: print until they are found in each arm."
        return None, [Notice(code="rest-unknown", message=message)]
    _, (best, best_se) = max(widths, key=lambda pair: pair[1][0])
    enough = [arm.inputs.rest_s for arm, (w, se) in widths if best - w <= SHOWN * math.hypot(se, best_se)]
    return min(rest for rest in enough if rest is not None), []


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
