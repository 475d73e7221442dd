"""What was read off one coupon: the input of several calculators."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Field, model_validator

from ..contract import Contract, Millimetres, Seconds

Count = Annotated[int, Field(ge=0, le=1000)]


class Graded(Contract):
    """Features of one kind and size on one coupon: how many are whole, of how many that were read, and how many of the rest in part.

    The one shape in which they go from the reading to the lanes. Each kind has its own word for whole, which is its key outside.
    """

    model_config = ConfigDict(serialize_by_alias=True)

    size_mm: Millimetres
    whole: Count
    of: int = Field(1, ge=1, le=1000, description="How many were read; those lost in handling are not counted")
    partial: Count = Field(0, description="How many of those not whole are there, or open, in part")

    @model_validator(mode="after")
    def _enough(self) -> Self:
        if self.whole + self.partial > self.of:
            raise ValueError(f"{self.whole + self.partial} {type(self).__name__.lower()}s counted of {self.of}")
        return self

    @property
    def all_whole(self) -> bool:
        """Whether all features of the size are whole."""
        return self.whole == self.of

    @property
    def partly(self) -> bool:
        """Whether some are whole and some are not, or some are there in part."""
        return self.partial > 0 or 0 < self.whole < self.of


class Wall(Graded):
    """Walls of one thickness: how many stand, of how many that were read."""

    size_mm: Millimetres = Field(description="Drawn thickness of the wall, mm")
    whole: Count = Field(alias="standing", description="How many walls of this size stand whole")


class Slot(Graded):
    """Slots of one width: how many are open, of how many that were read."""

    size_mm: Millimetres = Field(description="Drawn width of the slot, mm")
    whole: Count = Field(alias="open", description="How many slots of this size are open along their whole length")


class Tip(Graded):
    """Support tips of one diameter: how many held, of how many that were read."""

    size_mm: Millimetres = Field(description="Drawn diameter of the support tip, mm")
    whole: Count = Field(alias="held", description="How many tips of this size held their load")


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
    own: bool = Field(
        False, description="Read on a coupon of the workshop's own, whose sizes are less sure than those of Setback's"
    )
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
