"""Walls and slots: over what part of its length each stands or is open.

A wall shows as two edges, its top between them and what falls on the floor beside it; a slot the same the other way round. How much
brightness changes across a short piece of it is compared with the same across ground where nothing is drawn, and with the picture's own
walls and slots that are wide enough to be plain.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from .contract import Drawing, Grey, Mark
from .straight import Straight

PIECE_MM = 0.16
BESIDE_MM = 0.42
"""How far beside its edges a wall or a slot changes the brightness."""
FREE_MM = 0.75
"""From a wall's or slot's edge to ground where nothing is drawn."""
ENDS = 0.035
"""Share of the length at each end that is not looked at: it is round."""
USUAL = {"wall": 0.6, "slot": 1.0}
"""What a plain one of a kind changes the brightness by, relative to the other kind."""
GONE = 0.3
"""A kind that changes less than this of what the other leads one to expect is gone as a whole."""
THERE = 0.4
LEAST_NOISE, LEAST_CHANGE = 0.002, 0.03


@dataclass(frozen=True)
class Length:
    """A wall or a slot by its pieces."""

    mark: Mark
    strength: Grey
    """Of each piece: how much brightness changes there, 0 as on bare ground, 1 as at a plain wall or slot of that width."""
    noise: float
    """What bare ground gives by chance, in the same measure."""
    drowned: float
    """Share of it that is drowned in light."""

    @property
    def share(self) -> float:
        """Share of its length that is there."""
        return float((self.strength > THERE).mean())

    @property
    def unclear(self) -> float:
        """Share of its pieces that are neither plainly there nor plainly not."""
        low, high = min(0.18 + 2 * self.noise, THERE), max(0.58, THERE + 2 * self.noise)
        return float(((self.strength > low) & (self.strength < high)).mean())


def all_lengths(view: Straight, drawing: Drawing) -> list[Length]:
    """All walls and slots of a coupon, as their pieces show.

    How much a plain one changes the brightness in this light is taken from the plainer half of its kind; where a whole kind may be gone,
    from the other kind, of which a wall gives a little less than a slot.
    """
    changes = {kind: [_changes(view, mark, 0.0) for mark in drawing.of(kind)] for kind in USUAL if drawing.of(kind)}
    if not changes:
        return []
    ground, noise = _bare_ground(view, drawing, changes)
    plain = {}
    for kind, changes_of_kind in changes.items():
        scaled = [
            float(np.median(change)) / _by_width(mark)
            for mark, change in zip(drawing.of(kind), changes_of_kind, strict=True)
        ]
        plain[kind] = float(np.quantile(scaled, 0.75)) - ground
    lengths = []
    for kind, changes_of_kind in changes.items():
        others = [plain[other] * USUAL[kind] / USUAL[other] for other in plain if other != kind]
        expected = max([plain[kind], *(0.8 * change for change in others if plain[kind] < GONE * change)])
        visible = expected > max(4 * noise, LEAST_CHANGE)
        for mark, change in zip(drawing.of(kind), changes_of_kind, strict=True):
            strength = (change - ground) / (expected * _by_width(mark)) if visible else np.zeros_like(change)
            drowned = view.drowned_share(mark.place.grown(0.2))
            lengths.append(Length(mark, strength.astype(np.float32), noise / expected if visible else 1.0, drowned))
    return lengths


def _bare_ground(view: Straight, drawing: Drawing, changes: dict[str, list[Grey]]) -> tuple[float, float]:
    """What ground where nothing stands gives, and how much that varies: of all that changes least in the picture.

    Between slots the block's top is bare in any light; between walls shadows may lie everywhere.
    """
    least = []
    for kind, changes_of_kind in changes.items():
        marks = drawing.of(kind)
        beside = [_changes(view, mark, side) for mark in marks for side in _free(marks, mark)]
        every = np.concatenate([*changes_of_kind, *beside])
        least.append((float(np.quantile(every, 0.05)), float(np.quantile(every, 0.2))))
    low, high = min(least, key=lambda pair: pair[1])
    return low, max(high - low, LEAST_NOISE)


def _by_width(mark: Mark) -> float:
    """What a narrow wall or slot changes, as a share of what one of 0.65 mm does."""
    return 0.4 + 0.6 * min(mark.size_mm / 0.65, 1.2)


def _free(marks: Sequence[Mark], mark: Mark) -> list[float]:
    """Where beside a mark bare ground lies, as offsets from its middle; half-way to its neighbours."""
    x, y = mark.place.middle
    apart = [other.place.middle[0] - x for other in marks if other is not mark and abs(other.place.middle[1] - y) < 3]
    right = min((a for a in apart if a > 0), default=None)
    return [right / 2] if right is not None and FREE_MM < right / 2 < 1.6 else []


def _changes(view: Straight, mark: Mark, beside: float) -> Grey:
    """How much brightness changes across each piece of a mark, as a share of the brightness about it.

    The root mean square of what is left of the lines across, when a straight slope between their ends is taken away.
    """
    x, _ = mark.place.middle
    length = mark.place.bottom - mark.place.top
    ends = (mark.place.top + ENDS * length, mark.place.bottom - ENDS * length)
    reach = mark.size_mm / 2 + BESIDE_MM if beside == 0 else 0.25 + BESIDE_MM
    distances, lines = view.across((x + beside, 0.0), reach, ends, "x")
    pieces = max(round((ends[1] - ends[0]) / PIECE_MM), 4)
    rows = (
        cv2.resize(lines, (lines.shape[1], pieces), interpolation=cv2.INTER_AREA) if lines.shape[0] >= pieces else lines
    )
    end = max(len(distances) // 8, 2)
    before, after = rows[:, :end].mean(axis=1, keepdims=True), rows[:, -end:].mean(axis=1, keepdims=True)
    slope = before + (after - before) * np.linspace(0, 1, rows.shape[1], dtype=np.float32)[None, :]
    level = np.maximum(rows.mean(axis=1), 8.0)
    # Narrow marks fill less of the lines: what counts is the change itself, not how wide it is.
    change = np.sqrt(((rows - slope) ** 2).sum(axis=1) * abs(float(distances[1] - distances[0])))
    return np.asarray(change / level, dtype=np.float32)
