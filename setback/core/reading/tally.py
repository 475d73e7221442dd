"""From single features read off a coupon to the counts the calculators take.

Features lost in handling are not counted. When one side of the mirrored series lost features that its
mirror image kept, light or level is uneven: the poorer side leaves the counts and the finding is named.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from ..contract import Contract
from .evidence import Block, CouponEvidence, Slot, Tip, Wall, ZGap

FeatureState = Literal["formed", "partial", "absent", "lost"]
FeatureKind = Literal["wall", "slot", "tip", "outer", "inner", "z-gap", "vernier", "fit", "taper", "legible"]
# Fewer than three could be chance: with even light a discordant size falls on either side alike, so three on
# one side and none on the other happens by chance once in four; two would be as likely as not.
ONE_SIDED_SIZES = 3


class ReadFeature(Contract):
    """One feature of a coupon with what a person saw."""

    key: str
    kind: FeatureKind
    side: Literal["left", "right"] | None = None
    size_mm: float
    axis: Literal["x", "y"] | None = None
    state: FeatureState | None = Field(
        None, description="For counted features, and absent for a bar that washed away; null while not read"
    )
    measured_mm: float | None = Field(None, description="For caliper features; null while not measured")


@dataclass(frozen=True)
class Finding:
    """Something a reading points to other than exposure."""

    code: str
    message: str


@dataclass(frozen=True)
class Tally:
    """Counts of one coupon's features, and findings that the counts cannot carry."""

    evidence: CouponEvidence
    findings: list[Finding]


def tally(
    exposure_s: float,
    features: list[ReadFeature],
    *,
    label: str | None = None,
    faults: tuple[str, ...] = (),
    include: bool = False,
    temp_c: float | None = None,
    own: bool = False,
) -> Tally:
    """Count the features of one coupon by kind and size.

    Parameters
    ----------
    exposure_s : float
        Exposure of a normal layer, s.
    features : list of ReadFeature
        Sizes and caliper values in millimetres.
    faults : tuple of str
        Any of ``damaged``, ``unwashed``, ``uncured``.
    temp_c : float, optional
        Resin temperature at the start of the print, °C.
    own : bool
        Whether it is a coupon of the workshop's own.
    """
    findings, dropped = _one_sided(features)
    counts: dict[tuple[str, float], list[int]] = defaultdict(lambda: [0, 0, 0])
    for feature in features:
        if feature.state in (None, "lost") or (feature.kind, feature.side) in dropped:
            continue
        entry = counts[feature.kind, feature.size_mm]
        entry[0] += feature.state == "formed"
        entry[1] += 1
        entry[2] += feature.state == "partial"
    ordered = sorted(counts.items())
    measured = [f for f in features if f.measured_mm is not None and f.state != "lost"]
    washed = [f for f in features if f.kind == "outer" and f.state == "absent"]
    evidence = CouponEvidence(
        exposure_s=exposure_s,
        label=label,
        temp_c=temp_c,
        walls=[Wall(size_mm=size, standing=n, of=of, partial=p) for (k, size), (n, of, p) in ordered if k == "wall"],
        slots=[Slot(size_mm=size, open=n, of=of, partial=p) for (k, size), (n, of, p) in ordered if k == "slot"],
        tips=[Tip(size_mm=size, held=n, of=of, partial=p) for (k, size), (n, of, p) in ordered if k == "tip"],
        blocks=[
            Block(kind=f.kind, nominal_mm=f.size_mm, measured_mm=f.measured_mm, axis=f.axis)
            for f in measured
            if f.kind in ("outer", "inner") and f.measured_mm is not None
        ]
        + [Block(kind="outer", nominal_mm=f.size_mm, axis=f.axis, state="washed") for f in washed],
        z_gaps=[
            ZGap(nominal_mm=f.size_mm, measured_mm=f.measured_mm)
            for f in measured
            if f.kind == "z-gap" and f.measured_mm is not None
        ],
        damaged="damaged" in faults,
        unwashed="unwashed" in faults,
        uncured="uncured" in faults,
        include=include,
        own=own,
    )
    return Tally(evidence, findings)


def _one_sided(features: list[ReadFeature]) -> tuple[list[Finding], set[tuple[str, str | None]]]:
    """Series whose one side lost at least three sizes that the mirror image kept, and not the reverse."""
    findings: list[Finding] = []
    dropped: set[tuple[str, str | None]] = set()
    for kind, noun in (("wall", "walls"), ("slot", "slots"), ("tip", "tips")):
        sides: dict[str, dict[float, bool]] = {"left": {}, "right": {}}
        for f in features:
            if f.kind == kind and f.side and f.state not in (None, "lost"):
                sides[f.side][f.size_mm] = f.state == "formed"
        shared = sides["left"].keys() & sides["right"].keys()
        lost = {
            side: [size for size in shared if sides[other][size] and not sides[side][size]]
            for side, other in (("left", "right"), ("right", "left"))
        }
        for side, other in (("left", "right"), ("right", "left")):
            if len(lost[side]) >= ONE_SIDED_SIZES and not lost[other]:
                dropped.add((kind, side))
                findings.append(
                    Finding(
                        "one-sided",
                        f"{len(lost[side])} {noun} failed on the {side} side only: that points to level, film or "
                        f"uneven light, not to exposure. The {side} {noun} leave the fit.",
                    )
                )
    return findings, dropped
