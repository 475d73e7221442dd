"""The turns of a gauge study: who reads which coupon when, in a random order that shows nobody what was read before."""

from __future__ import annotations

import random
from typing import NamedTuple

from .evidence import Block
from .size import fit_size


class Turn(NamedTuple):
    """One reading that is to be made."""

    reader: int
    place: int
    """Place in this reader's own order, from 0."""
    coupon: int
    repeat: int
    """Which of this reader's readings of this coupon it is, from 0."""


def study_turns(readers: int, coupons: int, repeats: int, seed: int) -> list[Turn]:
    """Every reader reads every coupon as often as every other, each reader in an order of their own.

    Method: each round of repeats is shuffled by itself, so that no coupon waits long for its repeat; a round does not begin with the
    coupon the last one ended with, so that nobody reads one twice running.

    Parameters
    ----------
    readers, coupons, repeats : int
        Counts; two coupons at least.
    seed : int
        The same seed gives the same order.
    """
    chance = random.Random(seed)
    turns = []
    for reader in range(readers):
        order: list[tuple[int, int]] = []
        for repeat in range(repeats):
            shuffled = chance.sample(range(coupons), coupons)
            if order and shuffled[0] == order[-1][0]:
                shuffled.append(shuffled.pop(0))
            order += [(coupon, repeat) for coupon in shuffled]
        turns += [Turn(reader, place, coupon, repeat) for place, (coupon, repeat) in enumerate(order)]
    return turns


def growth_by_edges_um(nominal_mm: float, outer_mm: float, inner_mm: float) -> float:
    """Growth per edge, µm, from a bar and a notch drawn to the same size: shrinkage, which moves both alike, falls out."""
    blocks = [
        Block(kind="outer", nominal_mm=nominal_mm, measured_mm=outer_mm),
        Block(kind="inner", nominal_mm=nominal_mm, measured_mm=inner_mm),
    ]
    return 1000 * fit_size([blocks]).growth_mm[0]


def growth_by_plug_um(play_mm: float) -> float:
    """Growth per edge, µm, from the drawn play of the step at which the taper plug stopped: four faces share it."""
    return 1000 * play_mm / 4
