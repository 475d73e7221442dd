"""The solid of a coupon as STL or 3MF in millimetres: every shape a convex body, joined and cut by a boolean engine."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, Literal

import numpy as np

from .description import CUT, Coupon, Shape

if TYPE_CHECKING:
    import trimesh

# Bodies that only touch are sunk into each other by this much, so that the union is one body without seams.
_SINK_MM = 0.02


class NotWatertight(Exception):
    """The solid has a hole: a fault of the geometry, never of the person asking."""


def solid(coupon: Coupon) -> trimesh.Trimesh:
    """One watertight body whose volume is the stated one.

    Raises
    ------
    NotWatertight
        When the union is not a closed volume.
    """
    return _joined(coupon.kind, coupon.shapes)


@lru_cache(maxsize=16)
def _joined(kind: str, shapes: tuple[Shape, ...]) -> trimesh.Trimesh:
    """The solid of some shapes, kept for a while: a coupon leaves in several files."""
    import trimesh

    solids = [_body(s) for s in shapes if s.role in ("floor", "solid", "mark")]
    gaps = [_body(s, reach=_SINK_MM) for s in shapes if s.role in CUT]
    whole = trimesh.boolean.union(solids, engine="manifold") if len(solids) > 1 else solids[0]
    if gaps:
        whole = trimesh.boolean.difference([whole, *gaps], engine="manifold")
    if not whole.is_volume:
        raise NotWatertight(f"the solid of the {kind} is not watertight")
    return whole


def exported(coupon: Coupon, kind: Literal["stl", "3mf"]) -> bytes:
    """The file's bytes; Y runs from the reader to the back, as on the drawing."""
    return bytes(solid(coupon).export(file_type=kind))  # type: ignore[arg-type]


def _body(shape: Shape, reach: float = 0.0) -> trimesh.Trimesh:
    """The convex body of a shape; ``reach`` lets a gap or hole cut through the faces it ends on."""
    import trimesh

    base, top = shape.base or shape.points, shape.top or shape.points
    low = shape.low_mm - (_SINK_MM if shape.low_mm > 0 and not reach else 0.0)
    if shape.role == "hole":
        low -= reach
    corners = [(x, y, low) for x, y in base] + [(x, y, shape.high_mm + reach) for x, y in top]
    body: trimesh.Trimesh = trimesh.convex.convex_hull(np.array(corners))
    return body
