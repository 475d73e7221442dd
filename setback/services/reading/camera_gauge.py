"""Each camera and scanner as a gauge: its systematic error, and how often people read otherwise than it says."""

from __future__ import annotations

from pydantic import Field

from ...core.reading.camera_gauge import CameraBias, SizePair, camera_bias
from ...store.reading import pictures as store
from ..unit_of_work import UnitOfWork, View

MOST_PICTURES = 400
"""The newest; older ones were taken with other light and other hands."""


class CameraGauge(View):
    """One camera or scanner."""

    camera: str = Field(description="In words: which phone, or a scanner at its resolution")
    marks: int = Field(description="Sure marks of its pictures that people confirmed or changed")
    changed: int = Field(description="Of those, how many people read otherwise")
    growth: CameraBias | None = Field(
        description="Its systematic error of edges; null where nothing was read both ways"
    )


def camera_gauges(work: UnitOfWork) -> list[CameraGauge]:
    """Every camera of which pictures were confirmed, by name."""
    pairs: dict[str, list[SizePair]] = {}
    for row in store.read_both_ways(work.db, MOST_PICTURES):
        pair = SizePair(row.coupon_id, row.kind, row.picture_mm, row.hand_mm)
        pairs.setdefault(_name(row.camera, row.scanner_dpi), []).append(pair)
    counts = {
        _name(row.camera, row.scanner_dpi): (row.marks, row.changed)
        for row in store.marks_by_camera(work.db, MOST_PICTURES)
    }
    return [
        CameraGauge(
            camera=name,
            marks=counts.get(name, (0, 0))[0],
            changed=counts.get(name, (0, 0))[1],
            growth=camera_bias(pairs.get(name, [])),
        )
        for name in sorted({*pairs, *counts})
    ]


def _name(camera: str | None, scanner_dpi: float | None) -> str:
    if scanner_dpi is not None:
        return f"scanner at {scanner_dpi:g} dpi"
    return camera or "photos that name no camera"
