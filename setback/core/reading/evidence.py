"""What was read off one coupon, and the limits it is held against: the input of several calculators."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..contract import Contract, Millimetres, Probability, Seconds

Count = Annotated[int, Field(ge=0, le=1000)]


class Wall(Contract):
    """Walls of one thickness: how many stand, of how many that were read."""

    size_mm: Millimetres = Field(description="Drawn thickness of the wall, mm")
    standing: Count = Field(description="How many walls of this size stand whole")
    of: int = Field(1, ge=1, le=1000, description="How many were read; those lost in handling are not counted")
    partial: Count = Field(0, description="How many of those not standing whole are there in part")

    @model_validator(mode="after")
    def _enough(self) -> Wall:
        _no_more_than(self.standing + self.partial, self.of, "walls")
        return self


class Slot(Contract):
    """Slots of one width: how many are open, of how many that were read."""

    size_mm: Millimetres = Field(description="Drawn width of the slot, mm")
    open: Count = Field(description="How many slots of this size are open along their whole length")
    of: int = Field(1, ge=1, le=1000, description="How many were read")
    partial: Count = Field(0, description="How many of those not wholly open are open in part")

    @model_validator(mode="after")
    def _enough(self) -> Slot:
        _no_more_than(self.open + self.partial, self.of, "slots")
        return self


class Tip(Contract):
    """Support tips of one diameter: how many held, of how many that were read."""

    size_mm: Millimetres = Field(description="Drawn diameter of the support tip, mm")
    held: Count = Field(description="How many tips of this size held their load")
    of: int = Field(1, ge=1, le=1000, description="How many were read")
    partial: Count = Field(0, description="How many of those not held held in part")

    @model_validator(mode="after")
    def _enough(self) -> Tip:
        _no_more_than(self.held + self.partial, self.of, "tips")
        return self


class Block(Contract):
    """A bar or a notch measured with calipers, mm; or that it washed away."""

    kind: Literal["outer", "inner"] = Field(description="outer: over a bar; inner: across a notch")
    nominal_mm: Millimetres = Field(description="Drawn size, mm")
    measured_mm: Millimetres | None = Field(None, description="Caliper reading, mm; none where the bar washed away")
    axis: Literal["x", "y"] | None = Field(None, description="Plate axis the size lies along")
    state: Literal["washed"] | None = Field(None, description="washed: the bar is gone; that is evidence too")

    @model_validator(mode="after")
    def _read(self) -> Block:
        if (self.measured_mm is None) is not (self.state == "washed"):
            raise ValueError("give measured_mm, or state washed for a bar that is gone, not both")
        return self


class ZGap(Contract):
    """Clearance under a bridge, drawn and measured, mm."""

    nominal_mm: Millimetres = Field(description="Drawn clearance under the bridge, mm")
    measured_mm: float = Field(ge=0, le=10_000, description="Measured clearance, mm")


class CouponEvidence(Contract):
    """Everything read off one coupon, with the exposure and temperature it was printed at."""

    exposure_s: Seconds = Field(description="Exposure of a normal layer, s")
    label: str | None = Field(None, max_length=40, description="Code of the coupon, used in messages")
    temp_c: Annotated[float, Field(ge=-20, le=80)] | None = Field(
        None, description="Resin temperature at the start of its print, °C; null where nobody measured"
    )
    walls: list[Wall] = Field(default_factory=list)
    slots: list[Slot] = Field(default_factory=list)
    tips: list[Tip] = Field(default_factory=list)
    blocks: list[Block] = Field(default_factory=list)
    z_gaps: list[ZGap] = Field(default_factory=list)
    damaged: bool = False
    unwashed: bool = False
    uncured: bool = False
    include: bool = Field(False, description="Count the coupon although it is damaged, unwashed or uncured")

    @property
    def name(self) -> str:
        """How messages call the coupon."""
        return self.label or f"{self.exposure_s:g} s"

    @property
    def faults(self) -> list[str]:
        """Conditions that leave the coupon out of the fit."""
        return [word for word in ("damaged", "unwashed", "uncured") if getattr(self, word)]


class Limits(Contract):
    """What the parts need. A criterion without its limit makes no lane."""

    growth_target_um: float = Field(0, ge=-1000, le=1000, description="Wanted edge growth per edge, µm")
    growth_tol_um: Annotated[float, Field(gt=0, le=1000)] | None = Field(
        None, description="Allowed departure of edge growth from the target, µm"
    )
    walls_size_mm: Millimetres | None = Field(None, description="Thinnest wall the parts need, mm")
    walls_probability: Probability = Field(0.9, description="Share of such walls that must stand")
    slots_size_mm: Millimetres | None = Field(None, description="Narrowest slot the parts need, mm")
    slots_probability: Probability = Field(0.9, description="Share of such slots that must be open")
    tips_size_mm: Millimetres | None = Field(None, description="Support tip the parts are printed on, mm")
    tips_probability: Probability = Field(0.95, description="Probability that the tip holds")
    tips_per_part: Annotated[int, Field(ge=1, le=100_000)] | None = Field(
        None, description="When given, the probability is for all tips of a part together"
    )
    z_bloom_max_um: Annotated[float, Field(gt=0, le=5000)] | None = Field(
        None, description="Largest clearance a bridge may lose, µm"
    )
    fail_tip_size_mm: Millimetres | None = Field(None, description="Tip that should be too thin to hold, mm")
    fail_tip_probability: Probability = Field(0.1, description="Largest probability that it holds")


def _no_more_than(count: int, of: int, what: str) -> None:
    if count > of:
        raise ValueError(f"{count} {what} counted of {of}")
