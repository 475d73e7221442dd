"""Pictures of coupons of the tests' own printer, as a camera or a scanner would take them."""

from __future__ import annotations

from typing import Any

from setback.coupon import NEWEST, drawn
from setback.coupon.lettering import embossed
from setback.simulate.camera import Shot, photograph
from setback.simulate.hidden import Conditions
from setback.simulate.printed import Printed, print_coupon
from tests.lab import FLOOR_MM, MACHINE, PIXEL_MM, TRUTH

PLAIN = Shot(px_per_mm=26, tilt_deg=1.0, lamp_deg=235)
SCAN = Shot(scanner_dpi=600, turn_deg=1.5, quality=92, noise=1.0)


def printed(exposure_s: float, kind: str = "flat", seed: int = 5, **parameters: Any) -> Printed:
    """A coupon as it would be planned in a lab of the tests, printed."""
    newest = {"design": NEWEST[kind]} if kind in NEWEST else {}
    coupon = drawn(kind, {"pixel_mm": PIXEL_MM, "floor_mm": FLOOR_MM, **newest, **parameters})
    return print_coupon(coupon, MACHINE, TRUTH, Conditions(exposure_s), seed)


def picture(made: Printed, code: str, shot: Shot = PLAIN, seed: int = 1) -> bytes:
    """Its picture."""
    lettered = embossed(made.coupon, code, f"{made.conditions.exposure_s:g}s")
    return photograph(made, lettered, seed, shot)
