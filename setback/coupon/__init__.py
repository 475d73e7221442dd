"""Coupon geometry of our own: one description, several outputs. Lengths are millimetres."""

from .description import Coupon, Feature, Shape
from .flat import flat
from .support import support

KINDS = {"flat": flat, "support": support}

__all__ = ["KINDS", "Coupon", "Feature", "Shape", "flat", "support"]
