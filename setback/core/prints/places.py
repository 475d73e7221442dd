"""Where on the plate parts fail, and whether that could be chance.

Method: under chance the failed parts of a print are any of its parts, so failures are dealt out anew within each print
(a permutation test; E. S. Edgington, Randomization Tests). The test's value is the cell whose failures exceed what its prints
would give it by most standard deviations; its chance is the share of deals in which any cell exceeds by as much. A print
that failed whole, or not at all, says nothing of places.
"""

from __future__ import annotations

from collections import defaultdict
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ..contract import Contract, Notice, Problem

ROWS, COLUMNS = 3, 3
DEALS, SEED = 1999, 7
MOST_PRINTS = 400
"""Prints with some failures that are dealt out; the newest of more."""
FEW_PRINTS = 5
SURE = 0.05


class PlacedPart(Contract):
    """A part on the plate, and whether it failed."""

    print: str = Field(max_length=40, description="Parts of one print share it")
    x_mm: float = Field(ge=0, le=10_000)
    y_mm: float = Field(ge=0, le=10_000)
    failed: bool


class FailurePlacesInput(Contract):
    """Parts of prints on one plate, in the order they were printed."""

    plate_x_mm: Annotated[float, Field(gt=0, le=10_000)]
    plate_y_mm: Annotated[float, Field(gt=0, le=10_000)]
    parts: list[PlacedPart] = Field(min_length=1, max_length=100_000)


class PlateCell(Contract):
    """A ninth of the plate; column and row count from the corner where x and y are 0."""

    column: int
    row: int
    parts: int
    failed: int
    expected: float = Field(description="Failures its prints would give it by chance")


class FailurePlacesResult(Contract):
    """Failures by ninths of the plate, and how likely they are by chance alone."""

    cells: list[PlateCell]
    worst: PlateCell | None = Field(description="The cell that exceeds chance by most; null where nothing can be said")
    p: float | None = Field(description="Chance that some cell exceeds by as much")
    shown: bool = Field(description="Whether places matter: p below 0.05")
    prints: int = Field(description="Prints that tell: some of their parts failed, not all")
    warnings: list[Notice]


def failure_places(inputs: FailurePlacesInput) -> FailurePlacesResult:
    """Failures by ninths of the plate with a test against chance.

    Raises
    ------
    Problem
        When a part lies off the plate.
    """
    parts, failed = _counts(inputs)
    cells = [
        PlateCell(
            column=cell % COLUMNS,
            row=cell // COLUMNS,
            parts=int(sum(counts[cell] for counts in parts.values())),
            failed=int(sum(counts[cell] for counts in failed.values())),
            expected=0.0,
        )
        for cell in range(ROWS * COLUMNS)
    ]
    telling = [name for name in parts if 0 < failed[name].sum() < parts[name].sum()][-MOST_PRINTS:]
    if len(telling) < FEW_PRINTS:
        message = f"{len(telling)} prints lost some of their parts: {FEW_PRINTS} are wanted before places can be told from chance."
        return FailurePlacesResult(
            cells=cells,
            worst=None,
            p=None,
            shown=False,
            prints=len(telling),
            warnings=[Notice(code="too-few", message=message)],
        )
    counts = np.array([parts[name] for name in telling])
    lost = np.array([failed[name] for name in telling])
    expected, spread = _by_chance(counts, lost.sum(axis=1))
    cells = [cell.model_copy(update={"expected": round(float(expected[at]), 2)}) for at, cell in enumerate(cells)]
    usable = spread > 1e-9
    if not usable.any():
        message = "The parts of each print stand in one ninth of the plate: places cannot be told from chance."
        return FailurePlacesResult(
            cells=cells,
            worst=None,
            p=None,
            shown=False,
            prints=len(telling),
            warnings=[Notice(code="one-place", message=message)],
        )
    excess = np.where(usable, (lost.sum(axis=0) - expected) / np.where(usable, spread, 1), -np.inf)
    dealt = (_deal(counts, lost.sum(axis=1)) - expected)[:, usable] / spread[usable]
    worst = int(excess.argmax())
    p = float((1 + (dealt.max(axis=1) >= excess[worst] - 1e-9).sum()) / (1 + DEALS))
    return FailurePlacesResult(cells=cells, worst=cells[worst], p=p, shown=p < SURE, prints=len(telling), warnings=[])


Counts = dict[str, "np.ndarray[Any, np.dtype[np.int64]]"]


def _counts(inputs: FailurePlacesInput) -> tuple[Counts, Counts]:
    """Parts, and failed parts, of each print by cell."""
    parts: Counts = defaultdict(lambda: np.zeros(ROWS * COLUMNS, dtype=np.int64))
    failed: Counts = defaultdict(lambda: np.zeros(ROWS * COLUMNS, dtype=np.int64))
    for number, part in enumerate(inputs.parts):
        if part.x_mm > inputs.plate_x_mm or part.y_mm > inputs.plate_y_mm:
            message = (
                f"{part.x_mm:g}, {part.y_mm:g} mm lies off a plate of {inputs.plate_x_mm:g} × {inputs.plate_y_mm:g} mm."
            )
            raise Problem(message, {f"parts.{number}": message})
        column = min(int(COLUMNS * part.x_mm / inputs.plate_x_mm), COLUMNS - 1)
        row = min(int(ROWS * part.y_mm / inputs.plate_y_mm), ROWS - 1)
        cell = row * COLUMNS + column
        parts[part.print][cell] += 1
        failed[part.print][cell] += part.failed
    return parts, failed


def _by_chance(counts: Any, lost: Any) -> tuple[Any, Any]:
    """Mean and standard deviation of each cell's failures when each print's are dealt out anew (hypergeometric)."""
    total = counts.sum(axis=1)
    share = counts / total[:, None]
    expected = lost[:, None] * share
    variance = expected * (1 - share) * ((total - lost) / np.maximum(total - 1, 1))[:, None]
    return expected.sum(axis=0), np.sqrt(variance.sum(axis=0))


def _deal(counts: Any, lost: Any) -> Any:
    """Failures by cell in each of many deals."""
    rng = np.random.default_rng(SEED)
    dealt = np.zeros((DEALS, counts.shape[1]))
    for parts, failures in zip(counts, lost, strict=True):
        dealt += rng.multivariate_hypergeometric(parts, int(failures), size=DEALS)
    return dealt
