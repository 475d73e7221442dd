"""Coupon geometry of our own: one description, several outputs. Lengths are millimetres.

To add a coupon or specimen, write a function that returns a :class:`Coupon` and enter it here.
"""

from collections.abc import Callable

from .description import Coupon, Feature, Shape
from .flat import flat
from .others import depth, grid, z_bridge
from .specimens import bend_bar, closed_loop, drop_disc, fit_pairs, hardness_block, notched_bar, tensile_bar, wear_pair
from .support import support

KINDS: dict[str, Callable[..., Coupon]] = {
    "flat": flat,
    "support": support,
    "z-bridge": z_bridge,
    "depth": depth,
    "grid": grid,
    "bend-bar": bend_bar,
    "tensile-bar": tensile_bar,
    "closed-loop": closed_loop,
    "notched-bar": notched_bar,
    "drop-disc": drop_disc,
    "wear-pair": wear_pair,
    "hardness-block": hardness_block,
    "fit-pairs": fit_pairs,
}

__all__ = ["KINDS", "Coupon", "Feature", "Shape", "flat", "support"]
