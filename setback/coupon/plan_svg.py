"""The plan drawing as an SVG of its own: the same shapes that are printed and read."""

from __future__ import annotations

from html import escape

from .description import HOLES, Coupon

_FILLS = {"floor": "#e8e4da", "solid": "#38415a", "gap": "#e8e4da", "hole": "#fff", "mark": "#8a91a0"}


def plan_svg(coupon: Coupon, code: str = "", exposure: str = "") -> str:
    """A drawing to scale, in millimetres."""
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {coupon.width_mm:g} {coupon.height_mm:g}" '
        f'width="{coupon.width_mm:g}mm" height="{coupon.height_mm:g}mm">',
        f"<title>{escape(coupon.title)}</title>",
    ]
    for shape in coupon.shapes:
        if shape.role == "text" and shape.text == HOLES:
            continue
        if shape.role == "text":
            text = code if shape.text == "code" else exposure
            (x, y), height = shape.points[0], shape.points[2][1] - shape.points[0][1]
            if text:
                parts.append(
                    f'<text x="{x:g}" y="{y + 0.85 * height:g}" font-size="{height:g}" font-family="monospace" '
                    f'font-weight="700" fill="#38415a">{escape(text)}</text>'
                )
            continue
        named = f' data-feature="{shape.feature}"' if shape.feature else ""
        points = " ".join(f"{x:g},{y:g}" for x, y in shape.points)
        parts.append(f'<polygon{named} fill="{_FILLS[shape.role]}" points="{points}"/>')
    return "\n".join([*parts, "</svg>"])
