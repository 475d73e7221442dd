"""What to pour into a vat with a heel to reach a recipe at a final volume, with the least drained first.

Balance of each component: heel share left + pour = target share × final volume. Where the heel holds more of a component than
the final volume may, the heel is cut to V' with V'·share = target·final: drain = V − target·final/share, the largest of those.
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ..contract import Contract, Notice, Problem

Millilitres = Annotated[float, Field(ge=0, le=1_000_000)]
Shares = dict[Annotated[str, Field(min_length=1, max_length=120)], Annotated[float, Field(ge=0, le=1)]]
SUM_TOLERANCE = 1e-6


class TopUpInput(Contract):
    """What is in the vat, and the mixture and volume it shall come to, millilitres; fractions from 0 to 1."""

    vat_volume_ml: Millilitres
    vat_fractions: Shares = Field(default_factory=dict)
    target_fractions: Shares = Field(min_length=1)
    final_volume_ml: Annotated[float, Field(gt=0, le=1_000_000)]


class TopUpResult(Contract):
    """How much to drain and to pour, millilitres."""

    drain_ml: float
    pours_ml: dict[str, float]
    heel_ml: float = Field(description="What stays in the vat")
    warnings: list[Notice]


def top_up(inputs: TopUpInput) -> TopUpResult:
    """Pours and the least drain.

    Raises
    ------
    Problem
        When fractions do not sum to one.
    """
    problems = {
        name: f"Fractions sum to {100 * math.fsum(shares.values()):.4g} %, not to 100 %."
        for name, shares in (("vat_fractions", inputs.vat_fractions), ("target_fractions", inputs.target_fractions))
        if (shares or name == "target_fractions" or inputs.vat_volume_ml > 0)
        and abs(math.fsum(shares.values()) - 1) > SUM_TOLERANCE
    }
    if problems:
        raise Problem("These are no mixtures yet.", problems)
    volume, final, within = (
        inputs.vat_volume_ml,
        inputs.final_volume_ml,
        inputs.vat_fractions if inputs.vat_volume_ml > 0 else {},
    )
    drain = max(
        [0.0, *(volume - inputs.target_fractions.get(name, 0.0) * final / f for name, f in within.items() if f > 0)]
    )
    heel = max(volume - drain, 0.0)
    names = dict.fromkeys([*within, *inputs.target_fractions])
    pours = {
        name: max(inputs.target_fractions.get(name, 0.0) * final - within.get(name, 0.0) * heel, 0.0)
        for name in names
        if name in inputs.target_fractions or within.get(name, 0) * heel > 0
    }
    warnings = []
    if drain > 0:
        message = f"The vat holds too much of something: drain {drain:.0f} ml first, through a strainer."
        warnings.append(Notice(code="drain", message=message))
    if drain > 0 and heel < 1e-9:
        warnings.append(Notice(code="empty", message="Nothing in the vat fits the recipe: empty and clean it."))
    return TopUpResult(drain_ml=drain, pours_ml=pours, heel_ml=heel, warnings=warnings)
