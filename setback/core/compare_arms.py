"""Arms side by side: what changing one setting moved, and the least rest that suffices."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field
from scipy.special import stdtrit

from .contract import Contract, Interval, Notice, Seconds
from .earlier_window.contract import Window, WindowInput, WindowResult
from .earlier_window.lanes import Evidence
from .earlier_window.lanes.line import size_lane
from .earlier_window.process_window import process_window
from .evidence import CouponEvidence, Limits

SHOWN = 1.645
"""One-sided 5 % point of the normal distribution: a difference this many doubts wide is shown."""
NORMAL_HALF = 1.959964


class ArmInput(Contract):
    name: str = Field(min_length=1, max_length=200)
    coupons: list[CouponEvidence] = Field(min_length=1, max_length=200)
    seconds_per_layer: Annotated[float, Field(gt=0, le=10_000)] | None = Field(
        None, description="Of a normal layer at its own size-true, or as wanted"
    )
    rest_s: Annotated[float, Field(ge=0, le=600)] | None = Field(
        None, description="Rest before light, when arms differ in it"
    )


class CompareArmsInput(Contract):
    arms: list[ArmInput] = Field(min_length=2, max_length=12, description="The first is the baseline")
    limits: Limits
    exposure_step_s: Seconds = 0.01


class ArmResult(Contract):
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
    arms: list[ArmResult]
    shifts: list[ArmShift]
    least_sufficient_rest_s: float | None
    warnings: list[Notice]


@dataclass(frozen=True)
class _Arm:
    given: ArmInput
    result: WindowResult
    true_x: float | None
    true_se: float | None
    coupons: int

    @property
    def support_end_s(self) -> float | None:
        tips = self.result.lanes.get("tips")
        return tips.lower_s if tips else None


def compare_arms(given: CompareArmsInput) -> CompareArmsResult:
    """Compare arms that differ in one setting; the first is the baseline.

    The shift of size-true is the difference of ln size-true, by the delta method with Student's t, n1 + n2 - 4
    degrees. Over several rests the least that suffices is the shortest whose window is not shown worse than the
    best: the difference of ln(upper / lower) is at most 1.645 doubts.
    """
    arms = [_arm(arm, given) for arm in given.arms]
    baseline, warnings = arms[0], []
    for arm in arms:
        if arm.true_x is None:
            said = f"{arm.given.name} has no size-true yet: bars and notches at two exposures make one."
            warnings.append(Notice(code="no-size-true", message=said))
    rest, notes = _least_rest(arms)
    return CompareArmsResult(
        arms=[_view(arm) for arm in arms],
        shifts=[_shift(baseline, arm) for arm in arms[1:]],
        least_sufficient_rest_s=rest,
        warnings=[*warnings, *notes],
    )


def _arm(arm: ArmInput, given: CompareArmsInput) -> _Arm:
    result = process_window(
        WindowInput(coupons=arm.coupons, limits=given.limits, exposure_step_s=given.exposure_step_s)
    )
    counted = [c for c in arm.coupons if not c.faults or c.include]
    fit = size_lane(Evidence(counted, given.limits, None, None)) if len({c.exposure_s for c in counted}) > 1 else None
    measured = sum(bool(c.blocks) for c in counted)
    se = None
    if fit and fit.mark_interval and measured > 2:
        se = (fit.mark_interval[1] - fit.mark_interval[0]) / (2 * float(stdtrit(measured - 2, 0.975)))
    return _Arm(arm, result, fit.mark_x if fit else None, se, measured)


def _view(arm: _Arm) -> ArmResult:
    return ArmResult(
        name=arm.given.name,
        size_true_s=None if arm.true_x is None else math.exp(arm.true_x),
        size_true_ci_s=arm.result.size_true_ci_s,
        window=arm.result.window,
        latitude_pct=arm.result.window.latitude_pct if arm.result.window else None,
        support_end_s=arm.support_end_s,
        conflict_gap_pct=arm.result.conflict.gap_pct if arm.result.conflict else None,
        seconds_per_layer=arm.given.seconds_per_layer,
        rest_s=arm.given.rest_s,
    )


def _shift(baseline: _Arm, arm: _Arm) -> ArmShift:
    shift, interval = None, None
    if baseline.true_x is not None and arm.true_x is not None:
        difference = arm.true_x - baseline.true_x
        shift = _percent(difference)
        degrees = baseline.coupons + arm.coupons - 4
        if baseline.true_se is not None and arm.true_se is not None and degrees > 0:
            half = float(stdtrit(degrees, 0.975)) * math.hypot(baseline.true_se, arm.true_se)
            interval = (_percent(difference - half), _percent(difference + half))
    before, after = baseline.result.window, arm.result.window
    latitude = after.latitude_pct - before.latitude_pct if before and after else None
    support = None
    if baseline.support_end_s and arm.support_end_s:
        support = _percent(math.log(arm.support_end_s / baseline.support_end_s))
    pace = None
    if baseline.given.seconds_per_layer is not None and arm.given.seconds_per_layer is not None:
        pace = arm.given.seconds_per_layer - baseline.given.seconds_per_layer
    return ArmShift(
        name=arm.given.name, size_true_shift_pct=shift, size_true_shift_ci_pct=interval,
        latitude_change_pct=latitude, support_end_shift_pct=support, seconds_per_layer_change=pace,
        message=_words(shift, interval, latitude, bool(baseline.result.conflict), bool(after)),
    )  # fmt: skip


def _words(
    shift: float | None, interval: Interval | None, latitude: float | None, was_conflict: bool, has_window: bool
) -> str:
    said = []
    if shift is not None and interval is not None and interval[0] <= 0 <= interval[1]:
        said.append("It is not shown that true size moved.")
    elif shift is not None:
        more = "more" if shift > 0 else "less"
        said.append(f"True size needs {abs(shift):.0f} % {more} light.")
    if latitude is not None:
        said.append(f"The window is {abs(latitude):.0f} points {'wider' if latitude > 0 else 'narrower'}.")
    elif was_conflict and has_window:
        said.append("Here the lanes meet; in the first arm they do not.")
    return " ".join(said) or "Too little is read to say."


def _percent(difference: float) -> float:
    return 100 * (math.exp(difference) - 1)


def _least_rest(arms: list[_Arm]) -> tuple[float | None, list[Notice]]:
    rests = {arm.given.rest_s for arm in arms if arm.given.rest_s is not None}
    if len(rests) < 2:
        return None, []
    known = [(arm, width) for arm in arms if arm.given.rest_s is not None and (width := _width(arm)) is not None]
    if len({arm.given.rest_s for arm, _ in known}) < 2:
        said = "The least sufficient rest needs the doubt of two windows: read three exposures or more in each arm."
        return None, [Notice(code="rest-unknown", message=said)]
    _, (best, best_se) = max(known, key=lambda pair: pair[1][0])
    enough = [arm.given.rest_s for arm, (w, se) in known if best - w <= SHOWN * math.hypot(se, best_se)]
    return min(rest for rest in enough if rest is not None), []


def _width(arm: _Arm) -> tuple[float, float] | None:
    """ln(upper / lower) of an arm's window, below 0 in a conflict, with its doubt; None when that is not known."""
    found = arm.result.window or arm.result.conflict
    if found is None:
        return None
    lanes, doubts = arm.result.lanes, []
    for lane, interval in (
        (found.lower_from, lanes[found.lower_from].lower_ci_s), (found.upper_from, lanes[found.upper_from].upper_ci_s)
    ):  # fmt: skip
        if interval is not None and lane != "cure":
            doubts.append(math.log(interval[1] / interval[0]) / (2 * NORMAL_HALF))
        elif lane != "cure":
            return None
    return math.log(found.upper_s / found.lower_s), math.hypot(*doubts) if doubts else 0.0
