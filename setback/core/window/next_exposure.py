"""The next exposure worth a coupon, from coupons judged so far."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from ..contract import Contract, Notice, Problem, Seconds
from ..printing.steps import move, round_to_step
from ..window.verdict import Verdict

# A gap is not worth another coupon below this ratio, nor below this many exposure steps.
GAP_RATIO = 1.08
GAP_STEPS = 1.5
# How far to go on from a ladder whose coupons all failed on the same side.
STRIDE = 1.5
_WORDS = {"under": "under", "ok": "right", "over": "over"}


class JudgedCoupon(Contract):
    """A coupon with its exposure and verdict."""

    exposure_s: Seconds
    verdict: Verdict
    label: str | None = Field(None, max_length=40)
    repeat: bool = Field(False, description="Supersedes earlier coupons at its exposure")

    @property
    def name(self) -> str:
        """Its label, or its exposure where it has none."""
        return self.label or f"{self.exposure_s:g} s"


class NextExposureInput(Contract):
    """Judged coupons and the steps of the printer."""

    coupons: list[JudgedCoupon] = Field(max_length=500, description="Coupons of one arm, oldest first")
    exposure_step_s: Seconds
    low_s: Seconds | None = Field(None, description="Low end of the maker's range, s; used when nothing is printed")
    high_s: Seconds | None = Field(None, description="High end of the maker's range, s")
    shows: Literal["both", "under", "over"] = Field(
        "both", description="Failures these coupons can show; a coupon of support tips alone never shows over"
    )


class NextExposureResult(Contract):
    """The next exposure to print, s, or why there is none."""

    action: Literal["print", "repeat", "done", "review"]
    exposure_s: float | None = Field(description="Exposure to print, s")
    repeat: list[str] = Field(description="Coupons to print again")
    repeat_exposures_s: list[float] = Field(description="Their exposures, s")
    reason: str
    settles: str | None = Field(description="What the coupon would settle")
    warnings: list[Notice]


@dataclass(frozen=True)
class _Gap:
    low_s: float
    high_s: float
    settles: str

    @property
    def ratio(self) -> float:
        """How many times the low exposure the high one is."""
        return self.high_s / self.low_s

    def worth(self, step_s: float) -> bool:
        """Whether a step of the printer still lies between both."""
        return self.ratio > GAP_RATIO and self.high_s - self.low_s > GAP_STEPS * step_s * (1 + 1e-9)


def next_exposure(inputs: NextExposureInput) -> NextExposureResult:
    """Choose the next exposure between the highest under and the lowest over.

    Mixed coupons take no part. A coupon marked ``repeat`` supersedes earlier ones at its exposure;
    other disagreement is a contradiction and asks for a repeat, naming the coupons; when both have been
    repeated and still contradict, a person must review.

    Raises
    ------
    Problem
        When nothing is printed and no maker's range is given.
    """
    live = _standing(inputs.coupons)
    clear = [c for c in live if c.verdict != "mixed"]
    contradiction = _contradiction(clear)
    if contradiction:
        return contradiction
    unders = [c.exposure_s for c in clear if c.verdict == "under"]
    oks = [c.exposure_s for c in clear if c.verdict == "ok"]
    overs = [c.exposure_s for c in clear if c.verdict == "over"]
    step = inputs.exposure_step_s
    if not clear:
        middle = _middle_of_range(inputs)
        reason, settles = "Nothing is judged yet: start at the geometric middle of the range.", "which way to go"
        return _printing(middle, inputs, reason, settles, up=True)
    if not oks and not overs:
        top = max(unders)
        return _printing(
            STRIDE * top, inputs, f"All are under so far: go half as much above {top:g} s.", "an upper end"
        )
    if not oks and not unders:
        low = min(overs)
        reason = f"All are over so far: go below {low:g} s by the same ratio."
        return _printing(low / STRIDE, inputs, reason, "a lower end", up=False)
    sides = {"both": ("the lower end", "the upper end"), "under": ("the lower end",), "over": ("the upper end",)}
    gaps = [gap for gap in _gaps(unders, oks, overs) if gap.worth(step) and gap.settles in sides[inputs.shows]]
    if not gaps:
        nothing_ok = not oks
        reason = "The gaps left are not worth another coupon."
        warnings = []
        if nothing_ok:
            reason = "The gap between under and over is closed and no coupon was right."
            warnings.append(
                Notice(code="no-ok", message=reason + " Change a setting or a limit; another exposure will not help.")
            )
        return NextExposureResult(
            action="done",
            exposure_s=None,
            repeat=[],
            repeat_exposures_s=[],
            reason=reason,
            settles=None,
            warnings=warnings,
        )
    widest = min(gaps, key=lambda gap: (-round(gap.ratio, 9), gap.low_s))
    reason = f"The widest gap left is {widest.low_s:.3g} to {widest.high_s:.3g} s."
    return _printing(math.sqrt(widest.low_s * widest.high_s), inputs, reason, widest.settles)


def _standing(coupons: list[JudgedCoupon]) -> list[JudgedCoupon]:
    """Coupons not superseded by a later repeat at their exposure, in the order given."""
    last_repeat = {c.exposure_s: i for i, c in enumerate(coupons) if c.repeat}
    return [c for i, c in enumerate(coupons) if i >= last_repeat.get(c.exposure_s, -1)]


def _contradiction(coupons: list[JudgedCoupon]) -> NextExposureResult | None:
    """An under at or above an ok or over, or an over at or below an ok."""
    rank = {"under": 0, "ok": 1, "over": 2}
    pairs = [
        (a, b) for a in coupons for b in coupons if rank[a.verdict] < rank[b.verdict] and a.exposure_s >= b.exposure_s
    ]
    if not pairs:
        return None
    pairs.sort(key=lambda pair: (pair[1].exposure_s / pair[0].exposure_s, pair[0].exposure_s))
    for a, b in pairs:
        again = [c for c in (b, a) if not c.repeat]
        if again:
            message = (
                f"{a.name} ({a.exposure_s:g} s) is {_WORDS[a.verdict]} although {b.name} ({b.exposure_s:g} s) is "
                f"{_WORDS[b.verdict]}. "
                f"Print {' and '.join(c.name for c in again)} again."
            )
            return NextExposureResult(
                action="repeat",
                exposure_s=again[0].exposure_s,
                repeat=[c.name for c in again],
                repeat_exposures_s=list(dict.fromkeys(c.exposure_s for c in again)),
                reason=message,
                settles="which of the two to believe",
                warnings=[Notice(code="contradiction", message=message)],
            )
    a, b = pairs[0]
    message = (
        f"{a.name} and {b.name} were both repeated and still contradict each other. "
        "Something other than exposure differs: look at resin, temperature, plate and reading before printing more."
    )
    return NextExposureResult(
        action="review",
        exposure_s=None,
        repeat=[],
        repeat_exposures_s=[],
        reason=message,
        settles=None,
        warnings=[Notice(code="still-contradicting", message=message)],
    )


def _gaps(unders: list[float], oks: list[float], overs: list[float]) -> list[_Gap]:
    gaps = []
    if unders:
        gaps.append(_Gap(max(unders), min(oks + overs), "the lower end"))
    elif oks:
        gaps.append(_Gap(min(oks) / STRIDE, min(oks), "the lower end"))
    if oks:
        top = max(oks)
        gaps.append(_Gap(top, min(overs) if overs else STRIDE * top, "the upper end"))
    return gaps


def _middle_of_range(inputs: NextExposureInput) -> float:
    fields = {name: "Needed while nothing is printed." for name in ("low_s", "high_s") if getattr(inputs, name) is None}
    if fields or inputs.low_s is None or inputs.high_s is None:
        raise Problem("With no coupon judged yet, a range to start from is needed.", fields)
    if inputs.high_s < inputs.low_s:
        raise Problem("The high end of the range is below the low end.", {"high_s": "Give the larger number here."})
    return math.sqrt(inputs.low_s * inputs.high_s)


def _printing(
    wanted_s: float, inputs: NextExposureInput, reason: str, settles: str, *, up: bool = True
) -> NextExposureResult:
    """Round to the step; an answer already printed moves on by one step; below one step: review."""
    step = inputs.exposure_step_s
    printed = {round_to_step(c.exposure_s, step) for c in inputs.coupons}
    answer = round_to_step(wanted_s, step)
    while answer in printed and answer >= step:
        answer = move(answer, 1 if up else -1, step)
    if answer < step * (1 - 1e-9):
        return NextExposureResult(
            action="review",
            exposure_s=None,
            repeat=[],
            repeat_exposures_s=[],
            reason=f"The next exposure would be below the printer's step of {step:g} s. "
            "Lower the light power, or use a thicker layer.",
            settles=None,
            warnings=[],
        )
    return NextExposureResult(
        action="print",
        exposure_s=answer,
        repeat=[],
        repeat_exposures_s=[],
        reason=reason,
        settles=settles,
        warnings=[],
    )
