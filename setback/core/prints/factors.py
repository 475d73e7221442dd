"""The conditions of prints as columns: what moved, what moved together, and what never moved."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ..contract import Problem
from .outcomes import FailedParts, PrintOutcome, SeenAt, Side, Together

Array = np.ndarray[Any, np.dtype[np.float64]]

# A temperature is known to half a degree: prints as warm as each other count together, so that a fit costs what differs.
TOGETHER = 0.9
"""Correlation above which two factors cannot be told apart."""
STEPS: dict[str, tuple[str, float]] = {
    "exposure": ("10 %", math.log(1.1)),
    "temperature": ("1 °C", 1.0),
    "rest": ("1 s", 1.0),
    "tip": ("0.05 mm", 0.05),
}
"""What the effect of a factor is told for: in words, and in the units of its column."""


@dataclass(frozen=True)
class Rows:
    """The rows of all prints as columns; ``of_print`` numbers the prints."""

    x: Array
    under: Array
    over: Array
    other: Array
    whole: Array
    of_print: np.ndarray[Any, np.dtype[np.int64]]

    def failed(self, side: Side) -> Array:
        """Parts that failed on one side."""
        return self.under if side == "under" else self.over

    @cached_property
    def weight(self) -> Array:
        """Parts of each row."""
        return self.whole + self.under + self.over + self.other


@dataclass(frozen=True)
class Factor:
    """A factor that moved: its columns, centred, and the names of their effects."""

    name: str
    columns: Array
    labels: list[tuple[str, str, float]]
    """Name, step in words and size of each column's effect."""


def rows_of(prints: Sequence[PrintOutcome]) -> Rows:
    """Prints as columns: logarithm of the exposure, and parts by how they came out; arrays of one row each.

    Raises
    ------
    Problem
        When the parts of a row do not add up, or nobody says how the failed ones failed.
    """
    counts = [_counts(number, outcome) for number, outcome in enumerate(prints)]
    names: dict[str, int] = {}
    of_print = [
        names.setdefault(f"print {outcome.print}" if outcome.print is not None else f"row {number}", len(names))
        for number, outcome in enumerate(prints)
    ]
    return Rows(
        x=np.log([outcome.exposure_s for outcome in prints]),
        under=np.array([c.under for c in counts], dtype=float),
        over=np.array([c.over for c in counts], dtype=float),
        other=np.array([c.other for c in counts], dtype=float),
        whole=np.array([outcome.whole for outcome in prints], dtype=float),
        of_print=np.array(of_print),
    )


def _counts(number: int, outcome: PrintOutcome) -> FailedParts:
    """How many parts of a row failed in which way."""
    missing = outcome.parts - outcome.whole
    if missing < 0:
        message = f"{outcome.whole} whole of {outcome.parts}: more than were printed."
        raise Problem(message, {f"prints.{number}.whole": message})
    if outcome.failed is not None:
        if outcome.failed.under + outcome.failed.over + outcome.failed.other != missing:
            message = f"The failed parts must add up to {missing}: {outcome.parts} less {outcome.whole} whole."
            raise Problem(message, {f"prints.{number}.failed": message})
        return outcome.failed
    if missing and outcome.failed_as is None:
        message = "Say how the failed parts failed: under, over or other."
        raise Problem(message, {f"prints.{number}.failed_as": message})
    return FailedParts(**{outcome.failed_as: missing}) if outcome.failed_as else FailedParts()


def seen_at(prints: Sequence[PrintOutcome], rows: Rows) -> list[SeenAt]:
    """What came out at each exposure, all prints together, in the order of exposure."""
    exposures = np.array([outcome.exposure_s for outcome in prints])
    totals = []
    for exposure in sorted(set(exposures.tolist())):
        is_here = exposures == exposure
        sums = {name: int(getattr(rows, name)[is_here].sum()) for name in ("whole", "under", "over", "other")}
        totals.append(
            SeenAt(
                exposure_s=exposure,
                prints=len(set(rows.of_print[is_here].tolist())),
                parts=int(rows.weight[is_here].sum()),
                **sums,
            )
        )
    return totals


def factors_of(prints: Sequence[PrintOutcome], rows: Rows) -> tuple[list[Factor], list[Together]]:
    """The factors that every print has and that moved, and those that cannot be told apart."""
    usable: list[Factor] = []
    together: list[Together] = []
    shares = rows.weight / rows.weight.sum()
    for name, key in (("temperature", "temp_c"), ("rest", "rest_s"), ("tip", "tip_mm"), ("place", "place")):
        values = [getattr(outcome, key) for outcome in prints]
        if name == "temperature":
            values = [None if value is None else round(2 * value) / 2 for value in values]
        if any(value is None for value in values):
            continue
        if len(set(values)) == 1:
            together.append(Together(factors=[name], r=None))
            continue
        usable.append(_places(values, shares) if name == "place" else _number(name, values, shares))
    exposure = Factor("exposure", (rows.x - float(shares @ rows.x))[:, None], [])
    moving = [exposure] if float(np.ptp(rows.x)) > 0 else []
    separate: list[Factor] = []
    for factor in [*moving, *usable]:
        twin = next(((other, r) for other in separate if (r := _together(other, factor, shares)) > TOGETHER), None)
        if twin is not None:
            together.append(Together(factors=[twin[0].name, factor.name], r=round(twin[1], 3)))
        else:
            separate.append(factor)
    return [factor for factor in separate if factor.name != "exposure"], together


def _number(name: str, values: list[float], shares: Array) -> Factor:
    column = np.array(values, dtype=float)
    words, step = STEPS[name]
    return Factor(name, (column - float(shares @ column))[:, None], [(name, words, step)])


def _places(values: list[str], shares: Array) -> Factor:
    """A column for each place but the one with most parts."""
    weight = {place: float(shares[np.array(values) == place].sum()) for place in sorted(set(values))}
    usual = max(weight, key=lambda place: weight[place])
    others = [place for place in weight if place != usual]
    columns = np.array([[float(value == place) - weight[place] for place in others] for value in values])
    return Factor("place", columns, [(f"place: {place}", f"against {usual}", 1.0) for place in others])


def _together(a: Factor, b: Factor, shares: Array) -> float:
    """Largest correlation between two factors: the first canonical one, so that places count as one factor."""
    roots = []
    for columns in (a.columns, b.columns):
        weighted = columns * np.sqrt(shares)[:, None]
        left, size, _ = np.linalg.svd(weighted, full_matrices=False)
        roots.append(left[:, size > 1e-9 * max(float(size[0]), 1e-12)])
    if not roots[0].size or not roots[1].size:
        return 0.0
    return float(np.linalg.svd(roots[0].T @ roots[1], compute_uv=False)[0])
