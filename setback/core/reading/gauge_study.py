"""How far a measuring by several people can be trusted: crossed analysis of variance of technicians, coupons and repeats.

Method: two-way random effects with interaction; the interaction is kept, components below nothing count as nothing. Intervals of the
components by the modified large sample method (R. K. Burdick, C. M. Borror and D. C. Montgomery, Design and Analysis of Gauge R&R Studies,
ASA-SIAM 2005); distinct categories as there, √2 times the spread of the coupons over that of the gauge.
"""

from __future__ import annotations

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field
from scipy.special import chdtri, stdtrit

from ..contract import Contract, Interval, Notice, Problem

Table = np.ndarray[Any, np.dtype[Any]]

Reading = Annotated[float, Field(ge=-1e9, le=1e9)]
Repeats = Annotated[list[Reading], Field(min_length=2, max_length=50)]
OfTechnician = Annotated[list[Repeats], Field(min_length=2, max_length=200)]
SPREAD = 6.0
"""Standard deviations that are held against a tolerance."""
WANTED_CATEGORIES = 5
LEAST_CATEGORIES = 2
MOST_PCT = 30.0
"""Share of the spread or of the tolerance above which a gauge is not fit for the purpose."""


class GaugeStudyInput(Contract):
    """Readings of the same coupons by several technicians, each repeated."""

    readings: Annotated[list[OfTechnician], Field(min_length=2, max_length=50)] = Field(
        description="By technician, coupon, repeat; all of one length"
    )
    technicians: list[Annotated[str, Field(min_length=1, max_length=60)]] | None = Field(
        None, description="Who they are, in the order of the readings"
    )
    reference: list[Reading] | None = Field(None, description="True value of each coupon, where it is known")
    tolerance: Annotated[float, Field(gt=0, le=1e9)] | None = Field(
        None, description="Whole width of the tolerance, in the unit of the readings"
    )


class Bias(Contract):
    """How far one technician's readings lie from the truth, or from the mean of all where no truth is known."""

    technician: str = Field(description="Who reads")
    bias: float = Field(
        description="Mean difference, in the unit of the readings; above nothing means reading too much"
    )
    bias_ci: Interval = Field(description="95 % interval of the bias")
    shown: bool = Field(description="Whether the interval leaves out nothing")


class GaugeStudyResult(Contract):
    """Where the spread of the readings comes from."""

    repeatability_sd: float = Field(description="Of one person reading one coupon again")
    repeatability_ci: Interval = Field(description="95 % interval")
    reproducibility_sd: float = Field(description="Between persons, their different taste for single coupons included")
    gauge_sd: float = Field(description="Both together")
    gauge_ci: Interval = Field(description="95 % interval")
    part_sd: float = Field(description="Between coupons")
    gauge_pct: float = Field(description="Spread of the gauge as percent of the whole spread of the readings")
    tolerance_pct: float | None = Field(description="Six spreads of the gauge as percent of the tolerance")
    distinct_categories: int = Field(description="How many groups of coupons the gauge can tell apart")
    biases: list[Bias] = Field(description="By technician")
    warnings: list[Notice]


def gauge_study(request: GaugeStudyInput) -> GaugeStudyResult:
    """Repeatability, reproducibility and biases of a study.

    Parameters
    ----------
    request : GaugeStudyInput
        Readings in any one unit, technician × coupon × repeat.

    Raises
    ------
    Problem
        When technicians read different numbers of coupons, or a coupon another number of times.
    """
    table = _table(request)
    people, coupons, repeats = table.shape
    grand = table.mean()
    of_people, of_coupons, cells = table.mean(axis=(1, 2)), table.mean(axis=(0, 2)), table.mean(axis=2)
    squares = {
        "technician": coupons * repeats * float(((of_people - grand) ** 2).sum()) / (people - 1),
        "coupon": people * repeats * float(((of_coupons - grand) ** 2).sum()) / (coupons - 1),
        "both": repeats
        * float(((cells - of_people[:, None] - of_coupons[None, :] + grand) ** 2).sum())
        / ((people - 1) * (coupons - 1)),
        "repeat": float(((table - cells[..., None]) ** 2).sum()) / (people * coupons * (repeats - 1)),
    }
    within = squares["repeat"]
    interaction = max((squares["both"] - within) / repeats, 0.0)
    between = max((squares["technician"] - squares["both"]) / (coupons * repeats), 0.0) + interaction
    part = max((squares["coupon"] - squares["both"]) / (people * repeats), 0.0)
    gauge = within + between
    whole = gauge + part
    pct = 100 * math.sqrt(gauge / whole) if whole > 0 else 0.0
    categories = math.floor(math.sqrt(2 * part / gauge)) if gauge > 0 else 1000
    of_tolerance = 100 * SPREAD * math.sqrt(gauge) / request.tolerance if request.tolerance else None
    free = people * coupons * (repeats - 1)
    return GaugeStudyResult(
        repeatability_sd=math.sqrt(within),
        repeatability_ci=(
            math.sqrt(free * within / float(chdtri(free, 0.025))),
            math.sqrt(free * within / float(chdtri(free, 0.975))),
        ),
        reproducibility_sd=math.sqrt(between),
        gauge_sd=math.sqrt(gauge),
        gauge_ci=_gauge_interval(squares, people, coupons, repeats),
        part_sd=math.sqrt(part),
        gauge_pct=pct,
        tolerance_pct=of_tolerance,
        distinct_categories=min(categories, 1000),
        biases=_biases(request, table, squares["both"]),
        warnings=_warnings(people, coupons, pct, of_tolerance, categories),
    )


def _table(request: GaugeStudyInput) -> Table:
    coupons, repeats = len(request.readings[0]), len(request.readings[0][0])
    for i, person in enumerate(request.readings):
        if len(person) != coupons:
            message = f"Technician {i + 1} read {len(person)} coupons, the first {coupons}: all read the same ones."
            raise Problem(message, {f"readings.{i}": message})
        for j, coupon in enumerate(person):
            if len(coupon) != repeats:
                message = f"Coupon {j + 1} was read {len(coupon)} times here, the first {repeats} times: all as often."
                raise Problem(message, {f"readings.{i}.{j}": message})
    for name, values, count in (
        ("technicians", request.technicians, len(request.readings)),
        ("reference", request.reference, coupons),
    ):
        if values is not None and len(values) != count:
            message = f"Give {count}, one for each, not {len(values)}."
            raise Problem(message, {name: message})
    return np.array(request.readings, dtype=float)


def _gauge_interval(squares: dict[str, float], people: int, coupons: int, repeats: int) -> Interval:
    """95 % interval of the gauge's standard deviation: each mean square may be off by its own chi-squared."""
    terms = [
        (squares["technician"] / (coupons * repeats), people - 1),
        (squares["both"] * (coupons - 1) / (coupons * repeats), (people - 1) * (coupons - 1)),
        (squares["repeat"] * (repeats - 1) / repeats, people * coupons * (repeats - 1)),
    ]
    variance = sum(value for value, _ in terms)
    low = math.sqrt(sum(((1 - n / float(chdtri(n, 0.025))) * value) ** 2 for value, n in terms))
    high = math.sqrt(sum(((n / float(chdtri(n, 0.975)) - 1) * value) ** 2 for value, n in terms))
    return math.sqrt(max(variance - low, 0.0)), math.sqrt(variance + high)


def _biases(request: GaugeStudyInput, table: Table, both: float) -> list[Bias]:
    """Against the truth, each coupon's mean difference is one value; against all, what the interaction leaves open."""
    people, coupons, repeats = table.shape
    names = request.technicians or [f"technician {i + 1}" for i in range(people)]
    cells = table.mean(axis=2)
    biases = []
    for name, row in zip(names, cells, strict=True):
        if request.reference is not None:
            off = row - np.array(request.reference)
            bias, free = float(off.mean()), coupons - 1
            error = float(off.std(ddof=1)) / math.sqrt(coupons)
        else:
            bias, free = float(row.mean() - cells.mean()), (people - 1) * (coupons - 1)
            error = math.sqrt(both / (coupons * repeats) * (1 - 1 / people))
        reach = float(stdtrit(free, 0.975)) * error
        shown = abs(bias) > reach
        biases.append(Bias(technician=name, bias=bias, bias_ci=(bias - reach, bias + reach), shown=shown))
    return biases


def _warnings(people: int, coupons: int, pct: float, of_tolerance: float | None, categories: int) -> list[Notice]:
    notices = []

    def say(code: str, message: str) -> None:
        notices.append(Notice(code=code, message=message))

    if people == 2:
        say("two-technicians", "Two technicians say little about how people differ: three or more are wanted.")
    if coupons < 5:
        say("few-coupons", f"{coupons} coupons are few: five or more, from under to over, are wanted.")
    if pct > MOST_PCT:
        say("gauge-too-wide", f"The gauge makes {pct:.0f} % of the spread: what it tells of coupons is mostly itself.")
    if of_tolerance is not None and of_tolerance > MOST_PCT:
        say(
            "tolerance-too-narrow",
            f"The gauge takes {of_tolerance:.0f} % of the tolerance; up to {MOST_PCT:.0f} % is usual.",
        )
    if categories < LEAST_CATEGORIES:
        say("not-told-apart", "The gauge cannot tell these coupons apart.")
    elif categories < WANTED_CATEGORIES:
        say("few-categories", f"The gauge tells {categories} groups of coupons apart; {WANTED_CATEGORIES} are wanted.")
    return notices
