"""Coupon geometry of our own: one description, several outputs. Lengths are millimetres.

To add a coupon or specimen, write a function that returns a :class:`Coupon` and enter it here.
"""

import json
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

from .description import Coupon, Feature, FeatureKind, Part, Shape, Unfit
from .flat import NEWEST as NEWEST_FLAT
from .flat import flat
from .others import depth, grid, z_bridge
from .own import own as own_coupon
from .specimens import bend_bar, closed_loop, drop_disc, fit_pairs, hardness_block, notched_bar, tensile_bar, wear_pair
from .strip import strip
from .support import support

KINDS: dict[str, Callable[..., Coupon]] = {
    "flat": flat,
    "support": support,
    "z-bridge": z_bridge,
    "strip": strip,
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


SERIES = {"flat": ("walls_mm", "slots_mm"), "support": ("tips_mm",), "grid": ("plate_mm",)}
"""What else may be chosen, by kind."""

SERIES_OF: dict[str, FeatureKind] = {"walls_mm": "wall", "slots_mm": "slot", "tips_mm": "tip"}
"""The features whose sizes a series is."""

NEWEST = {"flat": NEWEST_FLAT}
"""The design new coupons of a kind are drawn in; those without one have only one."""

EXPOSED = ("flat", "support", "z-bridge", "strip", "depth", "grid")
"""Coupons: made to tell of an exposure. The others are specimens, made at one that is known."""

WITH_FLOOR = ("flat", "support", "z-bridge", "grid")
"""Those whose features stand on a floor of base and transition layers."""

ON_ONE_PLATE = ("flat", "support", "z-bridge", "depth")
"""Those of which one plate holds several exposures."""


def drawn(kind: str, parameters: Mapping[str, Any]) -> Coupon:
    """The coupon of a kind, drawn (again) from its parameters.

    Raises
    ------
    Unfit
        When it cannot be drawn so; names the parameter.
    """
    # Written out, 2 and 2.0 stay apart, as they do in a stored file.
    return _drawn(KINDS[kind], json.dumps(parameters, sort_keys=True))


@lru_cache(maxsize=128)
def _drawn(draw: Callable[..., Coupon], parameters: str) -> Coupon:
    """Kept, because a plan asks for the same coupon many times and its volume takes a while."""
    values = json.loads(parameters)
    return draw(**{name: tuple(v) if isinstance(v, list) else v for name, v in values.items()})


__all__ = [
    "EXPOSED",
    "KINDS",
    "NEWEST",
    "ON_ONE_PLATE",
    "SERIES",
    "SERIES_OF",
    "WITH_FLOOR",
    "Coupon",
    "Feature",
    "FeatureKind",
    "Part",
    "Shape",
    "Unfit",
    "drawn",
    "flat",
    "own_coupon",
    "support",
]
