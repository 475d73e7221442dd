"""A coupon that a workshop has of its own, drawn as a simple list of what is read on it: one row for each series."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from .description import Coupon, Feature, FeatureKind, Part, Shape, box

ROW_MM, CELL_MM, LEFT_MM = 9.0, 9.0, 26.0
NAME_MM, SIZE_MM = 3.0, 2.6
LOST_BY: dict[str, FeatureKind] = {"less light": "wall", "more light": "slot", "support": "tip"}
"""What features of a series are to the lanes: those that too little light loses stand like walls, those that too much closes like slots."""
PIECES = ("go", "no")


def own(
    pixel_mm: float,
    floor_mm: float,
    *,
    code: str = "",
    title: str = "Own coupon",
    thickness_mm: float = 2.0,
    volume_ml: float = 1.0,
    width_mm: float = 50.0,
    height_mm: float = 30.0,
    series: Sequence[dict[str, Any]] = (),
    lengths: Sequence[dict[str, Any]] = (),
    go_no_go: bool = False,
) -> Coupon:
    """The list of a described coupon; its outline, minutes and millilitres are those that were stated.

    Parameters
    ----------
    series : sequence of dict
        ``name``, ``lost_by`` (:data:`LOST_BY`), ``sizes_mm`` and ``each``: how many there are of every size.
    lengths : sequence of dict
        ``name``, ``kind`` (outer or inner), ``nominal_mm``, ``axis`` (x, y or None).
    go_no_go : bool
        Whether it has a pair of pieces of which one should go and one should not.
    """
    shapes: list[Shape] = []
    features: list[Feature] = []
    parts: list[Part] = []
    rows = 0

    def label(text: str, top: float, tells: str) -> None:
        place = (0.0, top, LEFT_MM - 1, ROW_MM - 1)
        shapes.append(Shape("label", box(1.0, top + 3.0, LEFT_MM - 2, NAME_MM), text=text[:24]))
        parts.append(Part(text, tells, place))

    def cell(key: str, kind: FeatureKind, size_mm: float, column: int, text: str, **more: Any) -> None:
        left_mm, top = LEFT_MM + column * CELL_MM, rows * ROW_MM
        hit = (left_mm + 0.5, top + 0.5, CELL_MM - 1, ROW_MM - 1)
        role: Literal["gap", "mark"] = "gap" if kind in ("slot", "inner") else "mark"
        shapes.append(Shape(role, box(*hit), feature=key))
        shapes.append(Shape("label", box(left_mm + 1.2, top + 3.2, CELL_MM - 2, SIZE_MM), text=text))
        features.append(Feature(key, kind, size_mm, hit, **more))

    widest = 1
    for at, described in enumerate(series, 1):
        kind = LOST_BY[described["lost_by"]]
        words = "lost by too little light" if kind != "slot" else "closed by too much light"
        label(described["name"], rows * ROW_MM, f"{described['name']}: {words}")
        column = 0
        for size in described["sizes_mm"]:
            for number in range(1, int(described.get("each", 1)) + 1):
                cell(f"{kind}-{at}-{size:g}-{number}", kind, size, column, f"{size:g}")
                column += 1
        widest = max(widest, column)
        rows += 1
    for at, described in enumerate(lengths, 1):
        label(described["name"], rows * ROW_MM, f"{described['name']}: its size tells how far edges have grown")
        cell(
            f"{described['kind']}-{at}",
            described["kind"],
            described["nominal_mm"],
            0,
            f"{described['nominal_mm']:g}",
            axis=described.get("axis"),
        )
        rows += 1
    if go_no_go:
        label("Go and no-go", rows * ROW_MM, "One piece should go, the other should not")
        for column, piece in enumerate(PIECES):
            cell(f"fit-{column}", "fit", 1.0, column, piece)
        widest = max(widest, 2)
        rows += 1
    width, height = LEFT_MM + widest * CELL_MM, max(rows, 1) * ROW_MM
    return Coupon(
        kind="own",
        title=title,
        tells="What this workshop reads on it.",
        does_not_tell="More than its sizes are known: its evidence counts for less than that of Setback's own coupons.",
        width_mm=width,
        height_mm=height,
        thickness_mm=thickness_mm,
        volume_ml=volume_ml,
        shapes=(Shape("floor", box(0, 0, width, height)), *shapes),
        features=tuple(features),
        parts=tuple(parts),
        parameters={
            "code": code,
            "title": title,
            "thickness_mm": thickness_mm,
            "volume_ml": volume_ml,
            "width_mm": width_mm,
            "height_mm": height_mm,
            "series": list(series),
            "lengths": list(lengths),
            "go_no_go": go_no_go,
        },
    )
