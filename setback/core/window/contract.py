"""What the process window takes and gives."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Discriminator, Field, Tag, TypeAdapter

from ..contract import Contract, Interval, Notice, Probability, Seconds
from ..reading.evidence import CouponEvidence
from .lanes import CureCurve, Limits
from .next_exposure import NextExposureResult
from .remedies import Remedy

Decision = Literal["offer", "none", "narrow", "more"]
FOUND_HALF = math.log(1.15)
"""Half of an end's interval, in ln light, up to which the end counts as found."""


class CutOffs(Contract):
    """How sure a lab wants to be; shown wherever a decision is."""

    offer: Probability = Field(0.9, description="An exposure is offered when all requirements hold with this chance")
    lanes: Probability = Field(0.9, description="Support-safe and hardest keep the lanes of one side with this chance")
    nominal: Probability = Field(
        0.8, description="Nominal size is offered where all requirements hold with this chance"
    )
    none: Probability = Field(0.05, description="No exposure is right when the chance of any is this or less")
    most_coupons: Annotated[int, Field(ge=4, le=200)] = Field(
        16, description="With this many coupons and neither answer the window is too narrow to settle"
    )


class WindowInput(Contract):
    """Coupons of one arm, the limits, and how sure an offer must be; exposures in seconds, sizes in millimetres."""

    coupons: list[CouponEvidence] = Field(min_length=1, max_length=200, description="Coupons of one arm")
    limits: Limits
    exposure_step_s: Seconds
    guard_band_pct: Annotated[float, Field(ge=0, le=100)] = Field(
        5.0, description="Kept with older campaigns; the chances of the cut-offs take its place"
    )
    reference_temp_c: Annotated[float, Field(ge=-20, le=80)] | None = Field(
        None, description="Resin temperature that the window is for, °C; the median of the coupons when not given"
    )
    cut_offs: CutOffs = Field(default_factory=CutOffs)
    cure: CureCurve | None = None
    reproducibility_sd_um: Annotated[float, Field(ge=0, le=1000)] | None = Field(
        None, description="From a gauge study on file: spread of growth between readers, µm"
    )
    exposures_s: list[Seconds] = Field(
        default_factory=list, max_length=1000, description="Predict at these exposures too"
    )


class EndsFound(Contract):
    """Whether an end is known: half of its interval at most 15 %, and evidence on both sides."""

    lower: bool
    upper: bool


class LaneEnds(Contract):
    """Ends of one lane with their 95 % intervals, s, and whether each was found."""

    # What an earlier method kept of a lane and nobody reads any more is passed over.
    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)

    name: str = Field("", description="In words; empty in what was kept before lanes carried theirs")
    needs: str = Field("", description="What it asks of the parts")
    place: int = Field(0, description="Order in which lanes are drawn")
    lower_s: float | None
    upper_s: float | None
    lower_ci_s: Interval | None
    upper_ci_s: Interval | None
    bracket_s: tuple[float | None, float | None] | None = Field(
        None, description="(lo, hi) around the end, read without a model"
    )
    lower_used_s: float | None = Field(None, description="Lower end as it counts: clipped to the ladder")
    upper_used_s: float | None = Field(None, description="Upper end as it counts: clipped to the ladder")
    found: EndsFound = Field(
        EndsFound(lower=True, upper=True),
        description="In what an earlier method kept, every end counts as found",
    )
    binding: float | None = Field(None, description="Chance that this lane limits the window on its side")
    beyond: Literal["longer", "shorter"] | None = Field(
        None, description="The end lies outside what was printed; print in this direction"
    )


class Window(Contract):
    """The exposures at which all lanes hold by their medians, s, and the lanes that set its ends."""

    lower_s: float
    lower_from: str
    upper_s: float
    upper_from: str
    latitude_pct: float | None = Field(
        description="Width in percent; none where an end is only the ladder's, or not found"
    )


class Conflict(Contract):
    """The two lanes that exclude each other, and the gap between them with its interval."""

    lower_from: str = Field(description="Lane that needs more light")
    upper_from: str = Field(description="Lane that forbids it")
    lower_s: float
    upper_s: float
    gap_pct: float = Field(description="How far apart the two ends are, percent")
    gap_ci_pct: Interval | None = Field(None, description="95 % interval of the gap")
    proven: bool
    try_s: float | None = Field(description="Not proven: the exposure worth one more coupon; not a choice")
    message: str
    remedies: list[Remedy] = Field(description="Cheapest first")


class Prediction(Contract):
    """What to expect of parts at one exposure, each with a 95 % interval."""

    exposure_s: float
    growth_um: float | None
    growth_ci_um: Interval | None
    bloom_um: float | None
    bloom_ci_um: Interval | None = None
    tip_probability: float | None = Field(description="That one tip of the required size holds")
    tip_ci: Interval | None = None
    part_probability: float | None = Field(description="That all tips of a part hold")
    part_ci: Interval | None = None
    walls_standing: float | None
    walls_ci: Interval | None = None
    walls_of: int | None
    slots_open: float | None
    slots_ci: Interval | None = None
    slots_of: int | None
    p: float | None = Field(None, description="Chance that all requirements hold at this exposure")
    offered: bool = Field(
        True, description="Whether it may be issued without a reason; an earlier method offered its whole window"
    )
    margin_lower_pct: float | None = Field(description="Room before under, percent")
    margin_upper_pct: float | None = Field(description="Room before over, percent")
    margin_lower_ci_pct: Interval | None = Field(None, description="95 % interval of the margin to underexposure")
    margin_upper_ci_pct: Interval | None = Field(None, description="95 % interval of the margin to overexposure")
    extrapolated: bool = Field(description="Outside what was printed")


class Chance(Contract):
    """The chance that all limits hold at one exposure."""

    exposure_s: float
    p: float = Field(description="Chance that all limited lanes hold")


class Contradiction(Contract):
    """A coupon that does not fit with the others: mixed up, swapped, or exposed otherwise than it says."""

    coupon: str
    exposure_s: float
    chance: float = Field(description="That its light was far off, all lanes together")
    message: str


class LeftOut(Contract):
    """A coupon that does not count, and the faults it was left out for."""

    coupon: str
    exposure_s: float
    why: list[str]


class RawReading(Contract):
    """What one coupon reads before anything is fitted."""

    coupon: str
    exposure_s: float
    growth_um: float | None
    bloom_um: float | None
    walls_standing: int
    walls_of: int
    slots_open: int
    slots_of: int
    tips_held: int
    tips_of: int


def reaches_offer(
    exposure_s: float, p: float | None, policies: Mapping[str, float | None] | None, cut_offs: CutOffs
) -> bool:
    """Whether an exposure belongs to an offer: a policy names it, or its chance reaches the cut-off."""
    named = [value for value in (policies or {}).values() if value is not None]
    return (p is not None and p >= cut_offs.offer) or any(abs(value - exposure_s) < 1e-9 for value in named)


class WindowResult(Contract):
    """The answer of ``process-window``: lanes, chances, decision, policies, predictions, contradictions, warnings.

    It is one of four, told apart by ``decision``: :class:`Offer`, :class:`NoneRight`, :class:`TooNarrow`, :class:`PrintOn`.
    """

    ladder_s: Interval | None = Field(description="Lowest and highest exposure that counts")
    lanes: dict[str, LaneEnds] = {}
    window: Window | None = None
    provisional: bool = Field(False, description="Something was left out or read too early: do not issue on it")
    open_side: Literal["lower", "upper", "both"] | None = Field(
        None, description="Side of the window nothing is known of"
    )
    beyond_ladder: list[str] = Field([], description="Lanes whose end lies outside what was printed")
    print_direction: list[str] = Field([], description="longer or shorter: where to print to find those ends")
    conflict: Conflict | None = None
    size_true_s: float | None = None
    size_true_ci_s: Interval | None = None
    balance_s: float | None = None
    scale_error_pct: float | None = None
    policies: dict[str, float | None] | None = Field(None, description="Only with an offer")
    policies_p: dict[str, float | None] | None = Field(None, description="Chance that all requirements hold, by policy")
    p_holds: list[Chance] = Field([], description="For each printer step inside the ladder")
    p_window: float | None = Field(None, description="Chance that any printed exposure holds")
    missing_lanes: list[str] = Field([], description="Limits without a fitted lane")
    decision: Decision = Field(
        "more", description="offer, none: no exposure is right, narrow: too narrow to settle, more: print on"
    )
    contradictions: list[Contradiction] = []
    reference_temp_c: float | None = Field(None, description="Resin temperature that the window is for, °C")
    cut_offs: CutOffs = CutOffs()
    method: str = Field("", description="Of the window's engine; empty in what the earlier method made")
    predictions: list[Prediction] = []
    left_out: list[LeftOut]
    raw: list[RawReading]
    next: NextExposureResult | None = Field(None, description="With a single exposure: what to print next")
    warnings: list[Notice]

    def p_at(self, exposure_s: float) -> float | None:
        """Chance that all requirements hold at an exposure: that of its printer step; none outside what was printed."""
        if self.ladder_s is None or not self.p_holds:
            return None
        if not self.ladder_s[0] * (1 - 1e-9) <= exposure_s <= self.ladder_s[1] * (1 + 1e-9):
            return None
        return min(self.p_holds, key=lambda step: abs(step.exposure_s - exposure_s)).p

    def offers(self, exposure_s: float) -> bool:
        """Whether an exposure is offered: only an :class:`Offer` has any."""
        return False

    def ends_found(self) -> tuple[float | None, float | None]:
        """Lower and upper end of the window, none where an end is only where the ladder stopped."""
        if self.window is None:
            return None, None
        ends = []
        for side, lane, end_s in (
            ("lower", self.window.lower_from, self.window.lower_s),
            ("upper", self.window.upper_from, self.window.upper_s),
        ):
            lane_ends = self.lanes.get(lane)
            is_found = lane_ends is None or (
                getattr(lane_ends.found, side) and getattr(lane_ends, f"{side}_s") is not None
            )
            ends.append(end_s if is_found and lane not in self.beyond_ladder else None)
        return ends[0], ends[1]


class Offer(WindowResult):
    """At some exposure all requirements hold with the chance that is asked for."""

    decision: Literal["offer"] = "offer"
    policies: dict[str, float | None]
    policies_p: dict[str, float | None]
    conflict: None = None

    def offers(self, exposure_s: float) -> bool:
        """Whether an exposure is offered: one that a policy names, or one at which the cut-off for an offer is reached."""
        return not self.provisional and reaches_offer(exposure_s, self.p_at(exposure_s), self.policies, self.cut_offs)


class NoneRight(WindowResult):
    """No exposure is right: two lanes exclude each other."""

    decision: Literal["none"] = "none"
    policies: None = None
    conflict: Conflict


class TooNarrow(WindowResult):
    """So many coupons, and neither answer: the window is too narrow to settle."""

    decision: Literal["narrow"] = "narrow"
    policies: None = None
    conflict: None = None


class PrintOn(WindowResult):
    """Not known yet: print on. Also what an earlier method made, whose policies came with every window."""

    decision: Literal["more"] = "more"


WindowOutcome = Offer | NoneRight | TooNarrow | PrintOn
_OUTCOMES: TypeAdapter[WindowOutcome] = TypeAdapter(
    Annotated[
        Annotated[Offer, Tag("offer")]
        | Annotated[NoneRight, Tag("none")]
        | Annotated[TooNarrow, Tag("narrow")]
        | Annotated[PrintOn, Tag("more")],
        Discriminator(lambda kept: kept.get("decision", "more")),
    ]
)


def window_outcome(kept: Mapping[str, Any]) -> WindowOutcome:
    """An answer that was kept, as the outcome it was."""
    return _OUTCOMES.validate_python(kept)
