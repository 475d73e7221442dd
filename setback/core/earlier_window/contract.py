"""What the process window takes and gives."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Interval, Notice, Seconds
from ..evidence import CouponEvidence, Limits
from ..window.next_exposure import NextExposureResult
from ..window.remedies import Remedy
from .lanes import CureCurve


class WindowInput(Contract):
    coupons: list[CouponEvidence] = Field(min_length=1, max_length=200, description="Coupons of one arm")
    limits: Limits
    exposure_step_s: Seconds
    guard_band_pct: Annotated[float, Field(ge=0, le=100)] = 5.0
    cure: CureCurve | None = None
    reproducibility_sd_um: Annotated[float, Field(ge=0, le=1000)] | None = Field(
        None, description="From a gauge study on file: spread of growth between readers, µm"
    )
    exposures_s: list[Seconds] = Field(
        default_factory=list, max_length=1000, description="Predict at these exposures too"
    )


class LaneEnds(Contract):
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
    lower_capped: bool = False
    upper_capped: bool = False
    beyond: Literal["longer", "shorter"] | None = Field(
        None, description="The end lies outside what was printed; print in this direction"
    )


class Window(Contract):
    lower_s: float
    lower_from: str
    upper_s: float
    upper_from: str
    latitude_pct: float


class Conflict(Contract):
    lower_from: str = Field(description="Lane that needs more light")
    upper_from: str = Field(description="Lane that forbids it")
    lower_s: float
    upper_s: float
    gap_pct: float = Field(description="How far apart the two ends are, percent")
    proven: bool
    try_s: float | None = Field(description="Not proven: the exposure worth one more coupon; not a choice")
    message: str
    remedies: list[Remedy] = Field(description="Cheapest first")


class Prediction(Contract):
    exposure_s: float
    growth_um: float | None
    growth_ci_um: Interval | None
    bloom_um: float | None
    tip_probability: float | None = Field(description="That one tip of the required size holds")
    part_probability: float | None = Field(description="That all tips of a part hold")
    walls_standing: float | None
    walls_of: int | None
    slots_open: float | None
    slots_of: int | None
    margin_lower_pct: float | None = Field(description="Room before under, percent")
    margin_upper_pct: float | None = Field(description="Room before over, percent")
    extrapolated: bool = Field(description="Outside what was printed")


class LeftOut(Contract):
    coupon: str
    exposure_s: float
    why: list[str]


class RawReading(Contract):
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


class WindowResult(Contract):
    ladder_s: Interval | None = Field(description="Lowest and highest exposure that counts")
    lanes: dict[str, LaneEnds]
    window: Window | None
    provisional: bool = Field(description="Something was left out or read too early: do not issue on it")
    open_side: Literal["lower", "upper", "both"] | None = Field(description="Side of the window nothing is known of")
    beyond_ladder: list[str] = Field(description="Lanes whose end lies outside what was printed")
    print_direction: list[str] = Field(description="longer or shorter: where to print to find those ends")
    conflict: Conflict | None
    size_true_s: float | None
    size_true_ci_s: Interval | None
    balance_s: float | None
    scale_error_pct: float | None
    policies: dict[str, float | None] | None
    predictions: list[Prediction]
    left_out: list[LeftOut]
    raw: list[RawReading]
    next: NextExposureResult | None = Field(description="With a single exposure: what to print next")
    warnings: list[Notice]
