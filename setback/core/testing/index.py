"""One weighted number over several properties, and how much it hangs on the weights.

Method: weighted geometric mean of ratios to a baseline (P. W. Bridgman's product rule for multi-criteria choice), which
does not care for units and in which doubling one property cancels halving another of the same weight.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Notice, Problem

Weight = Annotated[float, Field(ge=0, le=1000)]
Value = Annotated[float, Field(ge=-1e12, le=1e12)]


class Criterion(Contract):
    """A property with its weight, and which direction is better."""

    name: str = Field(min_length=1, max_length=120)
    weight: Weight
    better: Literal["higher", "lower"]
    value: Value | None = None
    baseline: Value


class Rival(Contract):
    """A material with its values by property."""

    name: str = Field(min_length=1, max_length=120)
    values: list[Value] = Field(min_length=1, max_length=50, description="One per criterion, in their order")


class PropertyIndexInput(Contract):
    """Materials to rank by several properties against a baseline."""

    criteria: list[Criterion] = Field(min_length=1, max_length=50)
    candidates: list[Rival] = Field([], max_length=100, description="Several to rank, instead of value")


class Share(Contract):
    """What one property adds to the index of a material."""

    name: str
    ratio: float = Field(description="To the baseline, above 1 is better")
    points: float = Field(description="What it adds to the index's logarithm, × 100")


class Ranked(Contract):
    """A material with its index and what it consists of."""

    name: str
    index: float
    shares: list[Share]


class Flip(Contract):
    """The weight of one property at which another material takes the lead."""

    criterion: str
    weight: float
    at_weight: float = Field(description="Here another candidate takes the lead")
    to: str


class PropertyIndexResult(Contract):
    """Materials in order, and how much the order hangs on the weights."""

    index: float | None
    shares: list[Share]
    ranking: list[Ranked]
    flips: list[Flip] = Field(description="For each criterion the nearest weight that changes the leader")
    warnings: list[Notice]


def property_index(inputs: PropertyIndexInput) -> PropertyIndexResult:
    """Index against the baseline (100), the ranking of several candidates, and the weights that would change it.

    Raises
    ------
    Problem
        For values of zero or less, weights that are all zero, or lists that do not match.
    """
    criteria = inputs.criteria
    total = sum(c.weight for c in criteria)
    if total <= 0:
        raise Problem("All weights are zero.", {"criteria": "Give at least one property some weight."})
    problems = {
        f"criteria.{i}.baseline": "More than 0: ratios need it." for i, c in enumerate(criteria) if c.baseline <= 0
    }
    single = not inputs.candidates
    rivals = inputs.candidates or [
        Rival(name="candidate", values=[c.value if c.value is not None else 0 for c in criteria])
    ]
    for r, rival in enumerate(rivals):
        if len(rival.values) != len(criteria):
            problems[f"candidates.{r}.values"] = f"Give {len(criteria)} values, one for each property."
            continue
        for i, value in enumerate(rival.values):
            if value <= 0:
                place = f"criteria.{i}.value" if single else f"candidates.{r}.values.{i}"
                problems[place] = "More than 0: score a size as the share of its tolerance that it uses."
    if problems:
        raise Problem("An index is made of ratios; every value is more than 0.", problems)
    ranked = sorted((_rank(criteria, total, r) for r in rivals), key=lambda r: -r.index)
    warnings = [
        Notice(code="one-number", message="One number hides trade-offs: a low property can be covered by a high one.")
    ]
    worst = min(ranked[0].shares, key=lambda s: s.ratio)
    if worst.ratio < 0.9:
        subject = "The first" if not single else "It"
        message = f"{subject} falls to {100 * worst.ratio:.0f} % of the baseline in {worst.name}."
        warnings.append(Notice(code="trade-off", message=message))
    return PropertyIndexResult(
        index=ranked[0].index if single else None,
        shares=ranked[0].shares if single else [],
        ranking=[] if single else ranked,
        flips=_flips(criteria, ranked),
        warnings=warnings,
    )


def _rank(criteria: list[Criterion], total: float, rival: Rival) -> Ranked:
    shares = []
    for criterion, value in zip(criteria, rival.values, strict=True):
        ratio = value / criterion.baseline if criterion.better == "higher" else criterion.baseline / value
        shares.append(Share(name=criterion.name, ratio=ratio, points=100 * criterion.weight / total * math.log(ratio)))
    return Ranked(name=rival.name, index=100 * math.exp(math.fsum(s.points for s in shares) / 100), shares=shares)


def _flips(criteria: list[Criterion], ranked: list[Ranked]) -> list[Flip]:
    """The difference of two log indices is linear in each weight: where it crosses zero, the lead changes."""
    leader, flips = ranked[0], []
    for i, criterion in enumerate(criteria):
        nearest: Flip | None = None
        for other in ranked[1:]:
            gaps = [math.log(a.ratio / b.ratio) for a, b in zip(leader.shares, other.shares, strict=True)]
            lead = math.fsum(c.weight * g for c, g in zip(criteria, gaps, strict=True))
            if gaps[i] == 0:
                continue
            at = criterion.weight - lead / gaps[i]
            if at >= 0 and (nearest is None or abs(at - criterion.weight) < abs(nearest.at_weight - criterion.weight)):
                nearest = Flip(criterion=criterion.name, weight=criterion.weight, at_weight=at, to=other.name)
        if nearest is not None:
            flips.append(nearest)
    return flips
