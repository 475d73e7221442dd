"""What to print next in an arm: one suggestion, led by the next coupon, with what it costs."""

from __future__ import annotations

import contextlib
from typing import get_args

from pydantic import Field

from ...core.contract import Problem
from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step
from ...core.window.contract import CutOffs
from ...core.window.lanes import LANES, CureCurve, Limits
from ...core.window.next_coupon import CouponKind, KindOffer, NextCouponInput, NextCouponResult, Settles
from ...store import shelf
from ...store.calibrate import calibrations as store
from ..reading.coupon_evidence import CouponRead, window_evidence, window_input
from ..unit_of_work import View
from .planning import PlanInput, Quote, cost_of
from .windows import next_coupon_for

KINDS: tuple[CouponKind, ...] = get_args(CouponKind)


class NextStep(View):
    """The next coupon, or why to stop, with what printing it costs."""

    advice: NextCouponResult
    settles: str | None = Field(description="The end that it would settle, in words")
    exposures_s: list[float] = Field(
        description="To plan, on the printer's steps; empty when there is nothing to print"
    )
    is_repeat: bool
    cost: Quote | None
    refused: str | None = Field(description="Why it cannot be printed here")
    further_settles: str | None = Field(description="The end of the window that one more coupon would show, in words")
    further_cost: Quote | None


def next_step(
    calibration: store.Calibration,
    arm: store.Arm,
    printer: shelf.Printer,
    left_ml: float | None,
    reads: list[CouponRead],
    cure: CureCurve | None,
    sure: CutOffs,
    reader_spread_um: float | None,
    range_s: tuple[float, float],
) -> NextStep | None:
    """The one suggestion for an arm, from everything that was read in it; in a range, s, while nothing was."""
    if calibration.closed_at is not None:
        return None
    settings = Settings.model_validate(arm.settings)

    def cost(kind: str, exposures_s: list[float]) -> Quote:
        """What coupons of a kind at these exposures would cost."""
        plan = PlanInput.model_validate({"kind": kind, "exposures_s": exposures_s})
        return cost_of(plan, settings, calibration.layer_height_um, printer, left_ml)

    evidence, _ = window_evidence(reads)
    window = (
        window_input(calibration, printer.exposure_step_s, evidence, cure, sure, reader_spread_um) if evidence else None
    )
    values = {"coupons": [], "limits": calibration.limits, "exposure_step_s": printer.exposure_step_s}
    advice = next_coupon_for(
        NextCouponInput.model_validate(
            {
                **(window.model_dump() if window else values),
                "low_s": range_s[0],
                "high_s": range_s[1],
                "kinds": _kinds(Limits.model_validate(calibration.limits)),
                "resin_temp_c": _last_temperature(reads),
            }
        )
    )
    exposures = _to_print(advice, reads, printer.exposure_step_s)
    quote, refused, further = None, None, None
    if advice.further is not None:
        with contextlib.suppress(Problem):
            further = cost(advice.further.kind, [advice.further.exposure_s])
    if exposures and advice.kind:
        try:
            quote = cost(advice.kind, exposures)
        except Problem as problem:
            refused = problem.message
    return NextStep(
        advice=advice,
        settles=_settles(advice.settles),
        exposures_s=exposures,
        is_repeat=advice.action == "repeat",
        cost=quote,
        refused=refused,
        further_settles=_settles(advice.further.settles) if advice.further else None,
        further_cost=further,
    )


class FirstStep(View):
    """What to print first where nothing was read yet."""

    kind: str
    exposures_s: list[float]
    cost: Quote
    words: str = Field(description="Why this one")


def first_step(
    printer: shelf.Printer, settings: Settings, layer_height_um: float, limits: Limits, range_s: tuple[float, float]
) -> FirstStep | None:
    """The coupon that would show most for what it costs, in a range where nothing was printed; None where none fits the plate."""
    low_s, high_s = range_s
    advice = next_coupon_for(
        NextCouponInput(
            coupons=[],
            limits=limits,
            exposure_step_s=printer.exposure_step_s,
            low_s=low_s,
            high_s=high_s,
            kinds=_kinds(limits),
        )
    )
    exposures = _to_print(advice, [], printer.exposure_step_s)
    if not exposures or not advice.kind:
        return None
    plan = PlanInput.model_validate({"kind": advice.kind, "exposures_s": exposures})
    try:
        cost = cost_of(plan, settings, layer_height_um, printer, None)
    except Problem:
        return None
    return FirstStep(kind=advice.kind, exposures_s=exposures, cost=cost, words=advice.message)


def _last_temperature(reads: list[CouponRead]) -> float | None:
    """Of the coupon printed last, as far as it was measured, °C."""
    measured = [r.row for r in reads if r.row.temp_c is not None and r.row.printed_at is not None]
    return max(measured, key=lambda row: (str(row.printed_at), row.number)).temp_c if measured else None


def _kinds(limits: Limits) -> list[KindOffer]:
    """Coupons whose lanes are limited; the flat coupon always. What they cost is worked out for the one that is chosen."""
    kinds = {"flat"} | {str(lane.coupon) for lane in LANES.values() if lane.limited(limits)}
    return [KindOffer(kind=kind) for kind in KINDS if kind in kinds]


def _to_print(advice: NextCouponResult, reads: list[CouponRead], step_s: float) -> list[float]:
    if advice.action == "print" and advice.exposure_s is not None:
        return [advice.exposure_s]
    if advice.action == "repeat":
        # On the printer's step, so that a repeat printed alone stands for it.
        again = {max(round_to_step(r.effective_s, step_s), step_s) for r in reads if r.row.code in advice.coupons}
        return sorted(again)
    return []


def _settles(settles: Settles | None) -> str | None:
    return f"the {settles.end} end of {LANES[settles.lane].name.lower()}" if settles else None
