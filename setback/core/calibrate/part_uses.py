"""What parts are for, and the limits that follow: a calibration is begun in words before numbers.

A use is entered here and nowhere else. Sizes are what such parts usually have; each becomes the nearest size the printer's pixels
draw, and a person may change every one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..window.lanes import Limits


@dataclass(frozen=True)
class PartUse:
    """A kind of part: what it is, and the thinnest wall, narrowest slot, support tip and edge growth it can live with."""

    key: str
    name: str
    words: str
    wall_mm: float | None
    slot_mm: float | None
    tip_mm: float | None
    growth_um: float | None


USES = (
    PartUse(
        "usual", "Mixed parts", "Walls, slots and tips of middling size, to a few hundredths.", 0.2, 0.34, 0.43, 45
    ),
    PartUse("fine", "Fine detail", "Thin walls and small lettering count more than size.", 0.15, 0.25, 0.3, 80),
    PartUse("fit", "Parts that fit", "Size counts most: joints, threads, plugs.", 0.3, 0.4, 0.5, 30),
    PartUse(
        "openings", "Fine openings", "Slots and holes must stay open: filters, sieves, nozzles.", 0.3, 0.25, 0.5, 50
    ),
    PartUse("clear", "Clear windows", "Seen through: light that runs deep must not close them.", 0.3, 0.4, 0.4, 60),
    PartUse("coarse", "Coarse and strong", "Thick parts on firm supports; detail does not matter.", 0.5, 0.8, 0.6, 100),
)
BLOOM_UM = 150.0
"""Z loss under bridges that parts with openings can live with."""
CHECKS_DEPTH = frozenset({"clear", "openings"})


def near(sizes_mm: Sequence[float], wanted_mm: float | None) -> float | None:
    """The size of a series next to a wanted one, mm; None where none is wanted or drawn."""
    if wanted_mm is None:
        return None
    return min(sizes_mm, key=lambda size: abs(size - wanted_mm), default=None)


def limits_for(
    use: PartUse, walls_mm: Sequence[float], slots_mm: Sequence[float], tips_mm: Sequence[float], is_opaque: bool
) -> Limits:
    """The limits of a use in the sizes a printer draws.

    Parameters
    ----------
    walls_mm, slots_mm, tips_mm : sequence of float, mm
        Sizes on the coupons of this printer.
    is_opaque : bool
        In an opaque resin light does not reach deep enough to close a hole from below: Z loss is not asked about.
    """
    return Limits(
        growth_target_um=0,
        growth_tol_um=use.growth_um,
        walls_size_mm=near(walls_mm, use.wall_mm),
        slots_size_mm=near(slots_mm, use.slot_mm),
        tips_size_mm=near(tips_mm, use.tip_mm),
        z_bloom_max_um=BLOOM_UM if use.key in CHECKS_DEPTH or not is_opaque else None,
    )
