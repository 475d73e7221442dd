"""The window that prints of parts make by themselves: where the wanted share comes out whole.

The chance at an exposure is that of the wanted share or more of parts being whole, by the curves of
:func:`~setback.core.prints.success.print_success`. An end that no failure showed is where the prints stopped, and is said to be open;
nothing is said outside what was printed.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from pydantic import Field

from ..contract import Notice, Seconds
from ..printing.steps import steps_between
from ..window.contract import (
    FOUND_HALF,
    Chance,
    CutOffs,
    EndsFound,
    LaneEnds,
    Offer,
    Prediction,
    PrintOn,
    Window,
    WindowOutcome,
    reaches_offer,
)
from .outcomes import PrintSuccessInput, PrintSuccessResult, SuccessEnd
from .success import SideFit, chance_of_share, success_and_fits

METHOD, LANE = "prints", "parts"
FROM_PRINTS = "From prints of parts alone: sizes, walls, slots and support tips were not measured."


class PrintWindowInput(PrintSuccessInput):
    """Outcomes of prints, the printer's step, and how sure an offer must be."""

    exposure_step_s: Seconds
    cut_offs: CutOffs = Field(default_factory=CutOffs)


def print_window(inputs: PrintWindowInput) -> WindowOutcome:
    """The window of a pair from its prints of parts, in the form of the window that coupons make.

    Raises
    ------
    Problem
        As :func:`~setback.core.prints.success.print_success`.
    """
    success, fits = success_and_fits(inputs)
    exposures = [seen.exposure_s for seen in success.seen if seen.whole + seen.under + seen.over]
    ladder = (min(exposures), max(exposures)) if exposures else None
    from_prints = Notice(code="from-prints", message=FROM_PRINTS)
    common: dict[str, Any] = {
        "ladder_s": ladder,
        "method": METHOD,
        "cut_offs": inputs.cut_offs,
        "open_side": _open_side(success),
        "left_out": [],
        "raw": [],
        "next": None,
        "warnings": [from_prints, *success.warnings],
    }
    if success.curve is None or ladder is None:
        return PrintOn.model_validate(common)
    chances = _chances(fits, steps_between(*ladder, inputs.exposure_step_s), inputs.target)
    best = max(chances, key=lambda chance: chance.p, default=None)
    lane = _lane(success, inputs.target)
    common |= {
        "lanes": {LANE: lane},
        "window": _window(success, lane),
        "p_holds": chances,
        "p_window": best.p if best else None,
    }
    offers = best is not None and best.p >= inputs.cut_offs.offer
    policies = (
        {"size-true": None, "centre": best.exposure_s, "support-safe": None, "hardest-in-tolerance": None}
        if best and offers
        else None
    )
    common["predictions"] = [_prediction(chance, success, policies, inputs.cut_offs) for chance in chances]
    if policies is None or best is None:
        return PrintOn.model_validate(common)
    policies_p = {name: best.p if value is not None else None for name, value in policies.items()}
    return Offer.model_validate({**common, "policies": policies, "policies_p": policies_p})


def _open_side(success: PrintSuccessResult) -> str | None:
    """The side on which no part failed."""
    has_under = any(seen.under for seen in success.seen)
    has_over = any(seen.over for seen in success.seen)
    return {(True, True): None, (True, False): "upper", (False, True): "lower", (False, False): "both"}[
        has_under, has_over
    ]


def _chances(fits: list[SideFit], steps_s: list[float], target: float) -> list[Chance]:
    if not steps_s:
        return []
    chances = chance_of_share(fits, np.log(np.array(steps_s)), target)
    return [Chance(exposure_s=step_s, p=float(p)) for step_s, p in zip(steps_s, chances, strict=True)]


def _is_found(end: SuccessEnd | None) -> bool:
    """Whether an end is known on both of its sides, and well enough."""
    if end is None or end.ci_s[0] is None or end.ci_s[1] is None:
        return False
    return math.log(end.ci_s[1] / end.ci_s[0]) / 2 <= FOUND_HALF


def _lane(success: PrintSuccessResult, target: float) -> LaneEnds:
    lower, upper, span = success.exposure_for, success.upper, success.span_s

    def interval(end: SuccessEnd | None) -> tuple[float, float] | None:
        """Both limits of an end; None where one lies outside what was printed."""
        return None if end is None or end.ci_s[0] is None or end.ci_s[1] is None else (end.ci_s[0], end.ci_s[1])

    return LaneEnds(
        name="Whole parts",
        needs=f"{100 * target:g} % whole",
        lower_s=lower.exposure_s if lower else None,
        upper_s=upper.exposure_s if upper else None,
        lower_ci_s=interval(lower),
        upper_ci_s=interval(upper),
        lower_used_s=span[0] if span else None,
        upper_used_s=span[1] if span else None,
        found=EndsFound(lower=_is_found(lower), upper=_is_found(upper)),
    )


def _window(success: PrintSuccessResult, lane: LaneEnds) -> Window | None:
    if success.span_s is None or success.span_s[0] >= success.span_s[1]:
        return None
    low_s, high_s = success.span_s
    are_found = lane.found.lower and lane.found.upper
    return Window(
        lower_s=low_s,
        lower_from=LANE,
        upper_s=high_s,
        upper_from=LANE,
        latitude_pct=100 * (high_s - low_s) / math.sqrt(low_s * high_s) if are_found else None,
    )


def _prediction(
    chance: Chance, success: PrintSuccessResult, policies: dict[str, float | None] | None, cut_offs: CutOffs
) -> Prediction:
    """What is expected at one exposure: prints tell the chance and the room to both ends, and nothing of single features."""
    lower, upper = success.exposure_for, success.upper
    return Prediction(
        exposure_s=chance.exposure_s,
        growth_um=None,
        growth_ci_um=None,
        bloom_um=None,
        tip_probability=None,
        part_probability=None,
        walls_standing=None,
        walls_of=None,
        slots_open=None,
        slots_of=None,
        p=chance.p,
        offered=policies is not None and reaches_offer(chance.exposure_s, chance.p, policies, cut_offs),
        margin_lower_pct=100 * (chance.exposure_s / lower.exposure_s - 1) if lower else None,
        margin_upper_pct=100 * (upper.exposure_s / chance.exposure_s - 1) if upper else None,
        extrapolated=False,
    )
