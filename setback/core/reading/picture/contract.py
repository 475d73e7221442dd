"""What goes into the reading of a picture and what comes out. Lengths are millimetres on the drawing unless a name says pixels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from pydantic import Field

from ...contract import Contract
from ..tally import FeatureKind

Grey = np.ndarray[Any, np.dtype[Any]]
Bytes = np.ndarray[Any, np.dtype[np.uint8]]
Matrix = np.ndarray[Any, np.dtype[Any]]
State = Literal["formed", "partial", "absent"]
STRAIGHT_PX = 24.0
"""Pixels per millimetre of the straight picture that is kept and shown."""
MARGIN_MM = 1.0
"""Ground round a coupon on its straight picture."""
TOO_TALL = "A support coupon is read off a scan: in a photo its loads stand too far above its floor. Tap what held, or lay it on a scanner."


@dataclass(frozen=True)
class Frame:
    """An upright rectangle on the drawing."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def middle(self) -> tuple[float, float]:
        """Its middle, (x, y)."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def grown(self, by: float) -> Frame:
        """The rectangle with its edges moved outwards."""
        return Frame(self.left - by, self.top - by, self.right + by, self.bottom + by)


@dataclass(frozen=True)
class Mark:
    """A feature as it is drawn, and where."""

    key: str
    kind: FeatureKind
    size_mm: float
    place: Frame
    axis: Literal["x", "y"] | None = None


@dataclass(frozen=True)
class Drawing:
    """What a picture is held against: a coupon's plan as a picture shows it."""

    kind: str
    design: int
    width_mm: float
    height_mm: float
    step_mm: float
    """Side of a cell of ``raised``."""
    raised: Grey
    """1 where something stands at the coupon's full height, less where it is lower, 0 on the floor; one value a cell."""
    marks: tuple[Mark, ...]
    holes: tuple[Frame, ...] = ()
    """Places of the code's row of holes, from its left end; without them the code stands in letters only."""
    landmarks: tuple[tuple[Frame, bool], ...] = ()
    """Rectangles whose middles tell where the drawing lies, and whether each is raised or cut."""
    tip_loads: tuple[tuple[str, Frame], ...] = ()
    """Where each support tip carries its load."""

    def of(self, *kinds: str) -> list[Mark]:
        """Its marks of some kinds."""
        return [mark for mark in self.marks if mark.kind in kinds]


class PictureNotice(Contract):
    """Something about a picture that a person must know, with what helps."""

    code: str
    message: str


class ReadMark(Contract):
    """One feature as a picture shows it, and how sure that is."""

    key: str = Field(description="The feature, as on the coupon's plan")
    state: State | None = Field(description="What is there; null where the picture cannot tell")
    size_mm: float | None = Field(
        None, description="Distance between its edges, mm; null unless the picture resolves it"
    )
    sd_um: float | None = Field(None, description="Standard uncertainty of the size, µm")
    sure: bool = Field(description="Whether a person need only look; unsure ones are asked")
    reason: str | None = Field(
        None, description="In words, why it is not sure: glare, blur, a shadow, a mark just between two states"
    )


class Outline(Contract):
    """Where a coupon lies in the picture: its corners in pixels, from the drawing's upper left clockwise."""

    corners_px: list[tuple[float, float]]


class ReadCoupon(Contract):
    """One coupon found in a picture."""

    code: str | None = Field(description="The number its holes tell, or the chosen code; null when neither is known")
    kind: str = Field(description="Kind of coupon whose drawing fits")
    design: int = Field(description="Design of that kind")
    px_per_mm: float = Field(description="Pixels of the picture per millimetre of the coupon")
    blur_px: float = Field(description="Standard deviation of the picture's edges, px")
    tilt_deg: float = Field(description="How far the camera looked aslant, degrees")
    match: float = Field(description="How well the drawing fits the picture, 0 to 1")
    outline: Outline
    mirrored: bool = Field(False, description="Whether the picture is a mirror image")
    features: list[ReadMark]
    notices: list[PictureNotice] = Field(default_factory=list)


class PictureReading(Contract):
    """Everything a picture shows."""

    width_px: int
    height_px: int
    dpi: float | None = Field(None, description="Resolution the file states, dots per inch")
    coupons: list[ReadCoupon]
    notices: list[PictureNotice] = Field(default_factory=list)
