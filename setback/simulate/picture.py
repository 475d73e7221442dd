"""A plain picture of a read coupon, for trying the app without a camera."""

from __future__ import annotations

import io
import random
from typing import Any

PIXELS_PER_MM = 14


def picture(plan: dict[str, Any], states: dict[str, str], tint: tuple[int, int, int], seed: int) -> bytes:
    """JPEG of the coupon: what did not form is missing, what closed is filled."""
    from PIL import Image, ImageDraw, ImageFilter

    noise = random.Random(seed)
    size = (int(plan["width_mm"] * PIXELS_PER_MM) + 80, int(plan["height_mm"] * PIXELS_PER_MM) + 80)
    image = Image.new("RGB", size, (176, 170, 160))
    draw = ImageDraw.Draw(image)

    def shade(amount: int) -> tuple[int, int, int]:
        return (max(tint[0] + amount, 0), max(tint[1] + amount, 0), max(tint[2] + amount, 0))

    fills = {"floor": shade(0), "solid": shade(38), "gap": shade(-26), "mark": shade(30)}
    for shape in plan["shapes"]:
        role, key = shape["role"], shape.get("feature")
        if role == "text" or (role != "floor" and key and states.get(key) == "absent"):
            continue
        points = [(40 + x * PIXELS_PER_MM, 40 + y * PIXELS_PER_MM) for x, y in shape["points"]]
        if role == "solid":
            draw.polygon([(x + 3, y + 4) for x, y in points], fill=shade(-34))
        draw.polygon(points, fill=fills[role])
    image = image.rotate(noise.uniform(-1.5, 1.5), resample=Image.Resampling.BICUBIC, fillcolor=(176, 170, 160))
    grain = Image.frombytes("L", size, noise.randbytes(size[0] * size[1])).filter(ImageFilter.GaussianBlur(1))
    image = Image.blend(image.filter(ImageFilter.GaussianBlur(0.8)), Image.merge("RGB", (grain,) * 3), 0.07)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=82)
    return out.getvalue()
