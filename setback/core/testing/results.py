"""What a test says: every specimen, each group summed up, groups against the reference, all of it in plain words."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem
from ..statistics.compare import Candidate, CompareInput, Difference, compare
from ..statistics.figures import decimals, shown
from ..statistics.prints import BOUND_PRINTS, MEAN_PRINTS, RelativeSpread, by_print, pooled_spread, relative_spread
from ..statistics.staircase import Drop, StaircaseInput, StaircaseResult, drop_staircase
from ..statistics.summary import SummaryInput, SummaryResult, sample_summary
from ..statistics.tolerance import Distribution
from .methods import Method, Property
from .methods.method import Found, Row

NAMES = {"normal": "normal", "lognormal": "lognormal", "weibull": "Weibull"}

# Two values have an interval too, but one that nobody can use.
LEAST_FOR_CI = 3
# Notices about one specimen, not about the way all of them were tried.
OF_ONE = frozenset({"outside-gauge", "rating-fell", "order"})
# Warnings that the words of a group say already.
IN_WORDS = frozenset({"rating", "none-broke", "one-outcome"})
# Warnings that several groups share: they are told once for the property.
OF_PRINTS = frozenset({"one-print", "few-prints"})


@dataclass(frozen=True)
class Piece:
    """One specimen and what was read off it."""

    code: str
    rows: tuple[Row, ...]
    print: str | None = None
    """The print it came out of; None for what was bought in."""


@dataclass(frozen=True)
class Batch:
    """One group of a test."""

    number: int
    name: str
    is_reference: bool
    pieces: tuple[Piece, ...]
    cure_min: float | None = None
    exposure_s: float | None = None


class RequirementLine(Contract):
    """What a brief asks of a property."""

    limit: float
    at: Literal["least", "most"]
    kind: Literal["must", "should"] = "must"


class Dot(Contract):
    """One specimen's value, as it is drawn."""

    code: str
    value: float
    print: str | None = Field(None, description="The print it came out of")
    unbroken: bool = Field(description="The value was reached without a break")
    outlier: bool
    notices: list[str]
    flagged: bool = Field(description="Something about this one specimen: look at it")


class BatchResult(Contract):
    """One group's property: its specimens, mean, bound and words."""

    number: int
    name: str
    is_reference: bool
    n: int
    prints: int | None = Field(None, description="How many prints they came out of; null for what was bought in")
    cure_min: float | None
    exposure_s: float | None
    dots: list[Dot]
    summary: SummaryResult | None
    staircase: StaircaseResult | None
    centre: float | None = Field(description="Mean, or median of a staircase")
    centre_ci: Interval | None
    bound: float | None = Field(description="What 90 % of parts reach or stay under, with 95 % confidence")
    bound_by: Distribution | None = Field(None, description="The distribution the bound was taken from")
    decimals: int
    words: str
    against_line: str | None
    said: list[str] = Field(description="What its readings ask to be told, once for all it concerns")


class GroupComparison(Contract):
    """One group against the reference, in numbers and in words."""

    number: int
    name: str
    difference: float
    difference_ci: Interval
    change_pct: float | None
    change_ci_pct: Interval | None
    shown: bool
    more_needed: int | None = Field(description="Specimens more in each group that would settle it")
    more_prints_needed: int | None = Field(None, description="Prints more of each group that would settle it")
    words: str


class PropertyResult(Contract):
    """One property over all groups of a test."""

    key: str
    name: str
    unit: str
    better: Literal["higher", "lower"]
    rated: bool
    line: RequirementLine | None
    batches: list[BatchResult]
    reference: str | None
    comparisons: list[GroupComparison]
    warnings: list[Notice]


def work_out(
    method: Method,
    setup: Row,
    batches: Sequence[Batch],
    lines: dict[str, RequirementLine] | None = None,
    earlier: dict[str, RelativeSpread] | None = None,
) -> list[PropertyResult]:
    """Every property of a method over the groups of a test.

    Parameters
    ----------
    lines : dict, optional
        What a brief asks, by property key within the method.
    earlier : dict, optional
        How far prints differed in other tests by this method, by property key (:func:`print_spreads`).
    """
    calculated = {(b.number, p.code): method.calculate(setup, p.rows) for b in batches for p in b.pieces if p.rows}
    results = []
    for prop in method.properties:
        line = (lines or {}).get(prop.key)
        own = {b.number: _spread_of(prop, b, calculated) for b in batches}
        every = pooled_spread([*own.values(), (earlier or {}).get(prop.key, RelativeSpread())])
        summed_up = [
            _batch(method, setup, prop, batch, calculated, line, every.without(own[batch.number])) for batch in batches
        ]
        reference = next((b for b in summed_up if b.is_reference), None)
        comparisons, compared_warnings = _compared(prop, summed_up, reference, (earlier or {}).get(prop.key))
        results.append(
            PropertyResult(
                key=prop.key,
                name=prop.name,
                unit=prop.unit,
                better=prop.better,
                rated=prop.rated,
                line=line,
                batches=summed_up,
                reference=reference.name if reference else None,
                comparisons=comparisons,
                warnings=[*_of_prints(prop, summed_up), *_of_distributions(summed_up), *compared_warnings],
            )
        )
    return results


def print_spreads(method: Method, setup: Row, batches: Sequence[Batch]) -> dict[str, RelativeSpread]:
    """How far the prints of each group differ, pooled over a test's groups, by property key."""
    if method.pattern == "staircase":
        return {}
    calculated = {(b.number, p.code): method.calculate(setup, p.rows) for b in batches for p in b.pieces if p.rows}
    return {prop.key: pooled_spread([_spread_of(prop, b, calculated) for b in batches]) for prop in method.properties}


def _spread_of(prop: Property, batch: Batch, calculated: dict[tuple[int, str], Found]) -> RelativeSpread:
    """Of a group whose specimens all broke, each with its print known."""
    read = [(p, calculated[batch.number, p.code]) for p in batch.pieces if (batch.number, p.code) in calculated]
    if prop.rated or any(prop.key in f.unbroken or p.print is None for p, f in read):
        return RelativeSpread()
    values = [(f.values[prop.key], p.print) for p, f in read if prop.key in f.values]
    return relative_spread(by_print([v for v, _ in values], [p for _, p in values])) if values else RelativeSpread()


def _batch(
    method: Method,
    setup: Row,
    prop: Property,
    batch: Batch,
    calculated: dict[tuple[int, str], Found],
    line: RequirementLine | None,
    elsewhere: RelativeSpread,
) -> BatchResult:
    if method.pattern == "staircase":
        return _stairs(setup, prop, batch, line)
    read = [(p.code, calculated[batch.number, p.code]) for p in batch.pieces if (batch.number, p.code) in calculated]
    broken = [(code, f.values[prop.key]) for code, f in read if prop.key in f.values]
    whole = [(code, f.unbroken[prop.key]) for code, f in read if prop.key in f.unbroken]
    notices = {code: f.notices for code, f in read}
    prints = {p.code: p.print for p in batch.pieces}
    summary = _summary(broken, whole, prints, prop, elsewhere) if broken or whole else None
    far = summary.outlier_index if summary else None
    dots = [
        Dot(
            code=code,
            value=v,
            print=prints[code],
            unbroken=i >= len(broken),
            outlier=i == far,
            notices=[n.message for n in notices[code]],
            flagged=any(n.code in OF_ONE for n in notices[code]),
        )
        for i, (code, v) in enumerate([*broken, *whole])
    ]
    side = line.at if line else ("least" if prop.better == "higher" else "most")
    bound, bound_by = None, None
    if summary is not None:
        bound = summary.bound_lower if side == "least" else summary.bound_upper
        bound_by = summary.bound_lower_by if side == "least" else summary.bound_upper_by
    return BatchResult(
        number=batch.number,
        name=batch.name,
        is_reference=batch.is_reference,
        n=len(dots),
        prints=_count_prints(dots),
        cure_min=batch.cure_min,
        exposure_s=batch.exposure_s,
        dots=dots,
        summary=summary,
        staircase=None,
        centre=summary.mean if summary else None,
        centre_ci=summary.mean_ci if summary and summary.n >= LEAST_FOR_CI else None,
        bound=bound,
        bound_by=bound_by,
        decimals=_decimals(summary, prop.rated),
        words=_words(prop, summary, bound, side) if summary or not read else "seen on none of them",
        against_line=_against(prop, summary, bound, line),
        said=_said(dots, summary),
    )


def _said(dots: list[Dot], summary: SummaryResult | None) -> list[str]:
    counted = Counter(text for dot in dots for text in dot.notices)
    texts = [text if len(dots) == 1 else f"{n} of {len(dots)}: {text}" for text, n in counted.items()]
    if summary is None:
        return texts
    return [*texts, *(w.message for w in summary.warnings if w.code not in IN_WORDS | OF_PRINTS)]


def _count_prints(dots: list[Dot]) -> int | None:
    prints = {dot.print for dot in dots}
    return None if None in prints else len(prints)


def _of_prints(prop: Property, batches: list[BatchResult]) -> list[Notice]:
    """What the number of prints does not allow, once for all groups it concerns."""
    notices = []
    single = [b.name for b in batches if b.prints == 1]
    if single:
        message = (
            f"{', '.join(single)}: all specimens came out of one print, so this speaks of that print. Parts of another may "
            f"differ; {MEAN_PRINTS} prints tell of the mean, {BOUND_PRINTS} of a bound."
        )
        notices.append(Notice(code="one-print", message=message))
    few = [b.name for b in batches if b.summary and any(w.code == "few-prints" for w in b.summary.warnings)]
    if few and not prop.rated:
        message = (
            f"{', '.join(few)}: no bound for parts of other prints. It takes {BOUND_PRINTS} prints, or a spread from print to "
            "print that earlier tests by this method have shown."
        )
        notices.append(Notice(code="few-prints", message=message))
    return notices


def _of_distributions(batches: list[BatchResult]) -> list[Notice]:
    """Which groups' bounds come from another distribution than the normal one, once for all."""
    groups: dict[str, list[str]] = {}
    for batch in batches:
        by = batch.bound_by
        if batch.bound is not None and by not in (None, "normal"):
            groups.setdefault(NAMES[by], []).append(batch.name)
    return [
        Notice(
            code="bound-by",
            message=f"{', '.join(names)}: the bound is by the {name} distribution, which the values leave open and which is "
            "the more careful.",
        )
        for name, names in groups.items()
    ]


def _summary(
    broken: list[tuple[str, float]],
    whole: list[tuple[str, float]],
    prints: dict[str, str | None],
    prop: Property,
    elsewhere: RelativeSpread,
) -> SummaryResult:
    values, unbroken = [v for _, v in broken], [v for _, v in whole]
    # Strengths, energies, sizes and times alike cannot be below 0.
    is_positive = min([*values, *unbroken]) >= 0
    print_names = [name for code, _ in [*broken, *whole] if (name := prints[code]) is not None]
    has_prints = len(print_names) == len(values) + len(unbroken)
    summary = sample_summary(
        SummaryInput(
            values=values,
            unbroken=unbroken,
            positive=is_positive,
            print=print_names[: len(values)] if has_prints else None,
            unbroken_print=print_names[len(values) :] if has_prints and unbroken else None,
            print_spread=elsewhere.of(math.fsum(values) / len(values)) if has_prints and values else None,
        )
    )
    if not prop.rated:
        return summary
    # Ratings are opinions on a scale of a few steps: a normal bound or an outlier test would pretend to more.
    warnings = [w for w in summary.warnings if w.code not in ("too-few", "no-spread", "outlier")]
    return summary.model_copy(
        update={
            "tolerance_factor": None,
            "tolerance_lower": None,
            "tolerance_upper": None,
            "bound_lower": None,
            "bound_upper": None,
            "bound_lower_by": None,
            "bound_upper_by": None,
            "distributions": [],
            "without_outliers": None,
            "outlier_index": None,
            "warnings": [*warnings, Notice(code="rating", message="A rating: no tolerance bound.")],
        }
    )


def _decimals(summary: SummaryResult | None, rated: bool) -> int:
    if summary is None:
        return 0
    if rated:
        return 1
    uncertainty = summary.sd / math.sqrt(summary.n) if summary.sd else None
    return decimals(summary.mean if summary.mean is not None else summary.at_least, uncertainty)


def _words(prop: Property, summary: SummaryResult | None, bound: float | None, side: str) -> str:
    if summary is None:
        return "nothing read yet"
    if summary.mean is None:
        return summary.warnings[0].message
    places = _decimals(summary, prop.rated)
    message = f"{summary.mean:.{places}f} {prop.unit}".strip()
    if summary.sd and not prop.rated:
        message += f", spread {summary.cv_pct:.0f} %" if summary.cv_pct is not None else ""
    if bound is not None:
        reach = "reach" if side == "least" else "stay under"
        parts = "parts" if summary.about == "parts" else "parts of this print"
        message += f"; 9 in 10 {parts} {reach} {f'{bound:.{places}f} {prop.unit}'.strip()}, with 95 % confidence"
    return f"{message}, from one print" if summary.about != "parts" and bound is None else message


def _against(
    prop: Property, summary: SummaryResult | None, bound: float | None, line: RequirementLine | None
) -> str | None:
    """The requirement line against what is known, in words; nothing is judged here."""
    if line is None or summary is None:
        return None
    requirement = f"required {'≥' if line.at == 'least' else '≤'} {line.limit:g} {prop.unit}".strip()
    if summary.reliability_shown is not None and summary.at_least is not None and line.at == "least":
        if summary.at_least >= line.limit:
            return f"{requirement}: none broke, {100 * summary.reliability_shown:.0f} % of parts shown"
        return f"{requirement}: none broke, but none was loaded that far"
    if summary.about != "parts":
        return f"{requirement}: one print shows nothing of the material"
    if bound is None:
        return f"{requirement}: no bound, so not shown"
    met = bound >= line.limit if line.at == "least" else bound <= line.limit
    return f"{requirement}: {'met' if met else 'not met'} at the tolerance bound"


def _stairs(setup: Row, prop: Property, batch: Batch, line: RequirementLine | None) -> BatchResult:
    drops = [(piece, piece.rows[-1]) for piece in batch.pieces if piece.rows]
    scale = setup["mass_kg"] * 9.80665 if prop.key == "energy" else 1.0
    dots = [
        Dot(
            code=piece.code,
            value=row["height_m"] * scale,
            print=piece.print,
            unbroken=not row["broke"],
            outlier=False,
            notices=[],
            flagged=False,
        )
        for piece, row in drops
    ]
    stairs = None
    if drops:
        outcomes = [Drop(height_m=row["height_m"], broke=row["broke"]) for _, row in drops]
        stairs = drop_staircase(StaircaseInput(step_m=setup["step_m"], mass_kg=setup["mass_kg"], outcomes=outcomes))
    centre = stairs.median_height_m * scale if stairs and stairs.median_height_m is not None else None
    limits = stairs.median_ci_m if stairs else None
    ci = (limits[0] * scale, limits[1] * scale) if limits else None
    places = decimals(centre, (ci[1] - ci[0]) / 4 if ci else None)
    against = None
    if line is not None and prop.key == "height" and ci is not None:
        met = ci[0] >= line.limit if line.at == "least" else ci[1] <= line.limit
        requirement = f"required {'≥' if line.at == 'least' else '≤'} {line.limit:g} {prop.unit}"
        against = f"{requirement}: {'met' if met else 'not met'} by the 95 % interval of the median, {ci[0]:.{places}f} to {ci[1]:.{places}f}"
    if centre is None:
        words = stairs.warnings[0].message if stairs else "nothing dropped yet"
    else:
        words = f"half break at {centre:.{places}f} {prop.unit}, from {len(drops)} drops"
    return BatchResult(
        number=batch.number,
        name=batch.name,
        is_reference=batch.is_reference,
        n=len(dots),
        prints=_count_prints(dots),
        cure_min=batch.cure_min,
        exposure_s=batch.exposure_s,
        dots=dots,
        summary=None,
        staircase=stairs,
        centre=centre,
        centre_ci=ci,
        bound=None,
        decimals=places,
        words=words,
        against_line=against,
        said=[w.message for w in stairs.warnings if w.code not in IN_WORDS] if stairs else [],
    )


def _compared(
    prop: Property, batches: list[BatchResult], reference: BatchResult | None, earlier: RelativeSpread | None
) -> tuple[list[GroupComparison], list[Notice]]:
    others = [b for b in batches if reference is not None and b.number != reference.number]
    if reference is None or prop.rated or not others:
        return [], []
    if reference.staircase is not None or any(b.staircase for b in others):
        return [c for c in (_by_medians(prop, reference, b) for b in others) if c is not None], []
    too_few = [b for b in (reference, *others) if len(_values(b)) < 2]
    able = [b for b in others if b not in too_few]
    warnings = []
    if too_few:
        names = ", ".join(b.name for b in too_few)
        message = f"{names}: fewer than two broke, so there is no difference to compute; compare the loads reached."
        warnings.append(Notice(code="not-compared", message=message))
    if reference in too_few or not able:
        return [], warnings
    if any(d.unbroken for b in (reference, *able) for d in b.dots):
        message = (
            "Specimens that did not break are left out of the differences: the gap is at least this wide for them."
        )
        warnings.append(Notice(code="unbroken-left-out", message=message))
    try:
        result = compare(
            CompareInput(
                baseline=_values(reference),
                baseline_print=_prints(reference),
                candidates=[Candidate(name=b.name, values=_values(b), print=_prints(b)) for b in able],
                print_spread=earlier.of(_typical([reference, *able])) if earlier else None,
            )
        )
    except Problem as problem:
        return [], [*warnings, Notice(code="no-spread", message=next(iter(problem.fields.values()), problem.message))]
    made_words = [
        _comparison(prop, reference.name, b, d, result.about) for b, d in zip(able, result.candidates, strict=True)
    ]
    told = [w for w in result.warnings if w.code != "no-prints"]
    if len(told) < len(result.warnings):
        message = f"{reference.name} has no prints of ours: its specimens count one by one."
        told.append(Notice(code="no-prints", message=message))
    return made_words, [*warnings, *told]


def _values(batch: BatchResult) -> list[float]:
    return [d.value for d in batch.dots if not d.unbroken]


def _typical(batches: list[BatchResult]) -> float:
    """The size a share of the mean is taken of, where groups of several means are held against each other."""
    return math.sqrt(math.fsum((b.centre or 0.0) ** 2 for b in batches) / len(batches))


def _prints(batch: BatchResult) -> list[str] | None:
    """The print of each value; None where they are no prints of ours."""
    prints = [d.print for d in batch.dots if not d.unbroken]
    return None if None in prints else [name for name in prints if name is not None]


def _comparison(
    prop: Property, reference: str, batch: BatchResult, difference: Difference, about: str
) -> GroupComparison:
    return GroupComparison(
        number=batch.number,
        name=batch.name,
        difference=difference.difference,
        difference_ci=difference.difference_ci,
        change_pct=difference.change_pct,
        change_ci_pct=difference.change_ci_pct,
        shown=difference.shown,
        more_needed=difference.more_needed,
        more_prints_needed=difference.more_prints_needed,
        words=_difference_words(prop, reference, difference, about),
    )


def _difference_words(prop: Property, reference: str, result: Difference, about: str) -> str:
    if about != "parts":
        return f"one print of a group: whether it differs from {reference}, or only its print does, cannot be told"
    if not result.shown:
        if result.more_prints_needed is not None:
            more = "one more print" if result.more_prints_needed == 1 else f"{result.more_prints_needed} more prints"
            return f"no difference to {reference} shown; {more} of each group would settle one of this size"
        if result.more_needed is None:
            return f"no difference to {reference} shown; one this small would take more than a hundred specimens"
        return (
            f"no difference to {reference} shown; {result.more_needed} more in each group would settle one of this size"
        )
    direction = "higher" if result.difference > 0 else "lower"
    good = (result.difference > 0) == (prop.better == "higher")
    if result.change_pct is None or result.change_ci_pct is None:
        least = min(abs(v) for v in result.difference_ci)
        half_width = (result.difference_ci[1] - result.difference_ci[0]) / 2
        return f"{shown(abs(result.difference), half_width)} {prop.unit} {direction} than {reference}, at least {shown(least, half_width)} (95 % confidence)"
    low, high = result.change_ci_pct
    least = min(abs(low), abs(high)) if low * high > 0 else 0.0
    message = f"{abs(result.change_pct):.0f} % {direction} than {reference}"
    message += (
        f", at least {math.floor(least)} % (95 % confidence)"
        if least >= 1
        else ", by less than 1 % at least (95 % confidence)"
    )
    return message + (": better" if good else ": worse")


def _by_medians(prop: Property, reference: BatchResult, batch: BatchResult) -> GroupComparison | None:
    """Two staircases: the difference of medians with the limits of both, as normal."""
    if reference.centre is None or batch.centre is None or reference.centre_ci is None or batch.centre_ci is None:
        return None
    half_width = math.hypot(*((b.centre_ci[1] - b.centre_ci[0]) / 2 for b in (reference, batch)))  # type: ignore[index]
    difference = batch.centre - reference.centre
    change = 100 * difference / reference.centre
    clear = abs(difference) > half_width
    direction = "higher" if difference > 0 else "lower"
    words = (
        f"{abs(change):.0f} % {direction} than {reference.name}: {'better' if difference > 0 else 'worse'}"
        if clear
        else f"no difference to {reference.name} shown; more drops would narrow both"
    )
    return GroupComparison(
        number=batch.number,
        name=batch.name,
        difference=difference,
        difference_ci=(difference - half_width, difference + half_width),
        change_pct=change,
        change_ci_pct=None,
        shown=clear,
        more_needed=None,
        words=words,
    )
