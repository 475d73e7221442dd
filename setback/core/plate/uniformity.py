"""Is light even over the plate, and which part of it stays inside the window?"""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..contract import Contract, Notice, Problem, Seconds

Reading = Annotated[float, Field(gt=0, le=1_000_000)]
CellState = Literal["under", "inside", "over"]


class PlateUniformityInput(Contract):
    """Light measured over a grid of the plate, in any unit, and where the coupons stood."""

    readings: list[list[Reading]] = Field(min_length=1, max_length=50, description="Rows of light or dose, any unit")
    exposure_s: Seconds
    window_lower_s: Seconds
    window_upper_s: Seconds
    reference_cell: tuple[int, int] | None = Field(
        None, description="Row and column, from 0, where the coupons stood; the plate's mean when not given"
    )


class PlateUniformityResult(Contract):
    """Relative dose of every cell, and the part of the plate on which an exposure stays in its window."""

    relative_dose: list[list[float]]
    effective_exposure_s: list[list[float]] = Field(description="What each cell gets, in seconds at the reference")
    cells: list[list[CellState]]
    min_over_max: float
    usable_fraction: float
    worst_cell: tuple[int, int] = Field(description="Where the least room is left, or most is missing")
    warnings: list[Notice]


def plate_uniformity(inputs: PlateUniformityInput) -> PlateUniformityResult:
    """Dose of each cell relative to where the coupons stood, and which cells stay inside the window.

    Raises
    ------
    Problem
        When rows differ in length, the reference cell is not on the grid, or the window is upside down.
    """
    rows = inputs.readings
    width = len(rows[0])
    if not width or any(len(row) != width for row in rows):
        message = "Every row of the grid needs as many readings as the first."
        raise Problem(message, {"readings": message})
    if inputs.window_upper_s <= inputs.window_lower_s:
        message = "The upper end of the window must be above the lower."
        raise Problem(message, {"window_upper_s": message})
    warnings = []
    if inputs.reference_cell is None:
        reference = math.fsum(value for row in rows for value in row) / (width * len(rows))
        message = "Relative to the plate's mean: say in which cell the coupons stood."
        warnings.append(Notice(code="no-reference", message=message))
    else:
        row, column = inputs.reference_cell
        if not (0 <= row < len(rows) and 0 <= column < width):
            message = f"There is no cell {row}, {column} in a grid of {len(rows)} × {width}."
            raise Problem(message, {"reference_cell": message})
        reference = rows[row][column]
    relative = [[value / reference for value in row] for row in rows]
    effective = [[inputs.exposure_s * dose for dose in row] for row in relative]
    cells = [[_state(t, inputs.window_lower_s, inputs.window_upper_s) for t in row] for row in effective]
    flat = [value for row in rows for value in row]
    inside = sum(state == "inside" for row in cells for state in row)
    if not inputs.window_lower_s <= inputs.exposure_s <= inputs.window_upper_s:
        message = "The exposure itself lies outside the window."
        warnings.append(Notice(code="outside-window", message=message))
    return PlateUniformityResult(
        relative_dose=relative,
        effective_exposure_s=effective,
        cells=cells,
        min_over_max=min(flat) / max(flat),
        usable_fraction=inside / len(flat),
        worst_cell=_worst(effective, inputs.window_lower_s, inputs.window_upper_s),
        warnings=warnings,
    )


def dose_at(relative_dose: list[list[float]], across: float, down: float) -> float:
    """Dose at a place between the cells' centres, straight between neighbours, level beyond the outer ones.

    Parameters
    ----------
    across, down : float
        Place as a fraction of the plate, 0 to 1, from its corner.
    """
    columns = (np.arange(len(relative_dose[0])) + 0.5) / len(relative_dose[0])
    rows = (np.arange(len(relative_dose)) + 0.5) / len(relative_dose)
    return float(np.interp(down, rows, [np.interp(across, columns, row) for row in relative_dose]))


def _state(exposure_s: float, lower_s: float, upper_s: float) -> CellState:
    return "under" if exposure_s < lower_s else "over" if exposure_s > upper_s else "inside"


def _worst(effective: list[list[float]], lower_s: float, upper_s: float) -> tuple[int, int]:
    """The cell with the least room to either end, by ratio."""
    room = {
        (i, j): min(math.log(t / lower_s), math.log(upper_s / t))
        for i, row in enumerate(effective)
        for j, t in enumerate(row)
    }
    return min(room, key=lambda cell: (room[cell], cell))
