"""What to print next in an arm: one answer per kind of coupon, and the lanes that wait for their first one."""

from __future__ import annotations

from typing import Literal

from ..core.contract import Problem
from ..core.earlier_window.contract import WindowResult
from ..core.evidence import Limits
from ..core.missing_lanes import missing_lanes
from ..core.settings import Settings
from ..core.steps import round_to_step
from ..core.window.next_exposure import JudgedCoupon, NextExposureInput, NextExposureResult, next_exposure
from ..store import calibrations as store
from ..store import shelf
from .bench import View
from .coupon_reads import CouponRead
from .planning import PlanInput, Quote, cost_of

# Which failures a kind of coupon can show, of those that close in on an exposure.
SHOWS: dict[str, Literal["both", "under", "over"]] = {"flat": "both", "support": "under", "z-bridge": "over"}


class NextStep(View):
    """What to print next with one kind of coupon, and what that costs."""

    kind: str
    advice: NextExposureResult
    cost: Quote | None
    refused: str | None


class Missing(View):
    """A lane with a limit and no coupon: which kind shows it, and what the first ones cost."""

    lane: str
    kind: str
    said: str
    exposures_s: list[float]
    cost: Quote | None
    refused: str | None


def next_steps(
    calibration: store.Calibration,
    arm: store.Arm,
    printer: shelf.Printer,
    left_ml: float | None,
    reads: list[CouponRead],
) -> list[NextStep]:
    """One answer per kind of coupon: kinds show different failures, so they must not contradict each other."""
    own = [r for r in reads if r.row.kind in SHOWS]
    kinds = list(dict.fromkeys(["flat", *(r.row.kind for r in own)]))
    if all(r.row.kind == "support" for r in own) and own:
        kinds = ["support"]
    settings = Settings.model_validate(arm.settings)
    steps = []
    for kind in kinds:
        judged = [
            JudgedCoupon.model_validate(
                {
                    # On the printer's step, so that a repeat printed alone stands for it.
                    "exposure_s": max(round_to_step(r.effective_s, printer.exposure_step_s), printer.exposure_step_s),
                    "verdict": r.final_verdict,
                    "label": r.row.code,
                    "repeat": r.row.is_repeat,
                }
            )
            for r in sorted(reads, key=lambda r: r.row.number)
            if r.row.kind == kind and r.final_verdict and not r.left_out
        ]
        advice = next_exposure(
            NextExposureInput(
                coupons=judged, exposure_step_s=printer.exposure_step_s, low_s=calibration.low_s,
                high_s=calibration.high_s, shows=SHOWS[kind],
            )
        )  # fmt: skip
        wanted = [advice.exposure_s] if advice.action == "print" else advice.repeat_exposures_s
        asked = [exposure for exposure in wanted if exposure is not None]
        if not judged and any(r.row.kind == kind and r.reading is None for r in reads):
            # The first ladder is on its way: what comes after it is not known yet.
            continue
        cost, refused = _priced(kind, asked, settings, calibration, printer, left_ml)
        steps.append(NextStep(kind=kind, advice=advice, cost=cost, refused=refused))
    return steps


def missing(
    calibration: store.Calibration, arm: store.Arm, printer: shelf.Printer, left_ml: float | None, here: list[CouponRead],
    window: WindowResult | None,
) -> list[Missing]:  # fmt: skip
    """Lanes that wait for their first coupon, across what looks right so far."""
    right = [r.effective_s for r in here if r.final_verdict == "ok" and not r.left_out]
    ends = (window.window.lower_s, window.window.upper_s) if window and window.window else None
    if ends is None and not right:
        return []
    low, high = ends or (min(right), max(right))
    found = missing_lanes(
        Limits.model_validate(calibration.limits), {r.row.kind for r in here}, low, high, printer.exposure_step_s
    )
    settings = Settings.model_validate(arm.settings)
    made = []
    for one in found:
        cost, refused = _priced(one.kind, one.exposures_s, settings, calibration, printer, left_ml)
        made.append(
            Missing(
                lane=one.lane, kind=one.kind, said=one.said, exposures_s=one.exposures_s, cost=cost, refused=refused
            )
        )
    return made


def _priced(
    kind: str, exposures_s: list[float], settings: Settings, calibration: store.Calibration, printer: shelf.Printer,
    left_ml: float | None,
) -> tuple[Quote | None, str | None]:  # fmt: skip
    """What coupons at these exposures cost, or why they cannot be printed; neither where there are none."""
    if not exposures_s:
        return None, None
    try:
        plan = PlanInput.model_validate({"kind": kind, "exposures_s": exposures_s})
        return cost_of(plan, settings, calibration.layer_height_um, printer, left_ml), None
    except Problem as problem:
        return None, problem.message
