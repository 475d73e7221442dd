"""The exposure at which to print parts next, where parts alone show the window."""

from __future__ import annotations

from typing import Literal

from ..contract import Contract, Problem
from ..printing.steps import round_to_step
from ..window.contract import WindowOutcome
from ..window.next_exposure import JudgedCoupon, NextExposureInput, next_exposure
from .outcomes import PrintSuccessResult, SeenAt

NONE_RIGHT = (
    "Too little and too much light meet, and at no exposure enough parts came out whole: change a setting, the part or the wanted share; "
    "another exposure will not help."
)


class NextPrint(Contract):
    """What to print next, or that there is enough."""

    action: Literal["print", "decide", "review"]
    exposure_s: float | None
    reason: str


def next_print(
    success: PrintSuccessResult | None,
    window: WindowOutcome | None,
    target: float,
    range_s: tuple[float, float],
    step_s: float,
) -> NextPrint:
    """The next exposure for prints of parts.

    Exposures are judged by what most of their failed parts had: too little light, too much, or neither where the wanted share came out
    whole; then :func:`~setback.core.window.next_exposure.next_exposure` looks for the widest gap, that above only once parts failed for
    too much light. With no gap left, or exposures that contradict each other, more parts are printed where the wanted share is expected.

    Parameters
    ----------
    success : PrintSuccessResult or None
        What was printed so far; None before the first print.
    window : WindowOutcome or None
        What it makes; an offer ends the search.
    target : float
        Share of parts that should come out whole.
    range_s : tuple of float
        Where to look first, s.
    step_s : float
        Step of the printer, s.
    """
    if window is not None and window.decision == "offer":
        return NextPrint(action="decide", exposure_s=None, reason="Enough parts came out whole: decide.")
    exposures = success.seen if success else []
    coupons = [coupon for at in exposures if (coupon := _as_coupon(at, target)) is not None]
    # Parts are not spoilt only to see where too much light begins.
    ends: Literal["both", "under"] = "both" if any(at.over for at in exposures) else "under"
    try:
        following = next_exposure(
            NextExposureInput(coupons=coupons, exposure_step_s=step_s, low_s=range_s[0], high_s=range_s[1], shows=ends)
        )
    except Problem as problem:
        return NextPrint(action="review", exposure_s=None, reason=problem.message)
    if following.action == "print" and following.exposure_s is not None:
        return NextPrint(action="print", exposure_s=following.exposure_s, reason=following.reason)
    if any(warning.code == "no-ok" for warning in following.warnings):
        return NextPrint(action="review", exposure_s=None, reason=NONE_RIGHT)
    reason = "More parts where most came out whole." if following.action == "done" else following.reason
    return _more_parts(success, window, reason, target, step_s)


def _as_coupon(seen: SeenAt, target: float) -> JudgedCoupon | None:
    tells = seen.whole + seen.under + seen.over
    if not tells:
        return None
    verdict = "ok" if seen.whole / tells >= target else "over" if seen.over > seen.under else "under"
    return JudgedCoupon.model_validate({"exposure_s": seen.exposure_s, "verdict": verdict})


def _more_parts(
    success: PrintSuccessResult | None, window: WindowOutcome | None, reason: str, target: float, step_s: float
) -> NextPrint:
    """More parts at the exposure with the best chance."""
    chances = window.p_holds if window is not None else []
    if chances:
        best = max(chances, key=lambda chance: chance.p)
        words = f"More parts at {best.exposure_s:g} s: there {100 * target:.0f} % are whole with {100 * best.p:.0f} % so far."
        return NextPrint(action="print", exposure_s=best.exposure_s, reason=words)
    most_whole = max(success.seen, key=lambda at: at.whole / max(at.parts, 1)) if success else None
    if most_whole is None:
        return NextPrint(action="review", exposure_s=None, reason=reason)
    exposure_s = max(round_to_step(most_whole.exposure_s, step_s), step_s)
    return NextPrint(action="print", exposure_s=exposure_s, reason=reason)
