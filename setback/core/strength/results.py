"""What a test says: every specimen, each group summed up, groups against the reference, all of it in plain words."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem
from ..methods import Method, Property
from ..methods.method import Found, Row
from .compare import Candidate, CompareInput, Difference, compare
from .figures import decimals, shown
from .staircase import Drop, StaircaseInput, StaircaseResult, drop_staircase
from .summary import SummaryInput, SummaryResult, sample_summary

# Two values have an interval too, but one that nobody can use.
LEAST_FOR_CI = 3
# Notices about one specimen, not about the way all of them were tried.
OF_ONE = frozenset({"outside-gauge", "rating-fell", "order"})
# Warnings that the words of a group say already.
IN_WORDS = frozenset({"rating", "none-broke", "one-outcome"})


@dataclass(frozen=True)
class Piece:
    """One specimen and what was read off it."""

    code: str
    rows: tuple[Row, ...]


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
    code: str
    value: float
    unbroken: bool = Field(description="The value was reached without a break")
    outlier: bool
    notices: list[str]
    flagged: bool = Field(description="Something about this one specimen: look at it")


class BatchResult(Contract):
    number: int
    name: str
    is_reference: bool
    n: int
    cure_min: float | None
    exposure_s: float | None
    dots: list[Dot]
    summary: SummaryResult | None
    staircase: StaircaseResult | None
    centre: float | None = Field(description="Mean, or median of a staircase")
    centre_ci: Interval | None
    bound: float | None = Field(description="What 90 % of parts reach or stay under, with 95 % confidence")
    decimals: int
    words: str
    against_line: str | None
    said: list[str] = Field(description="What its readings ask to be told, once for all it concerns")


class GroupComparison(Contract):
    number: int
    name: str
    difference: float
    difference_ci: Interval
    change_pct: float | None
    change_ci_pct: Interval | None
    shown: bool
    more_needed: int | None
    words: str


class PropertyResult(Contract):
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
    method: Method, setup: Row, batches: Sequence[Batch], lines: dict[str, RequirementLine] | None = None
) -> list[PropertyResult]:
    """Every property of a method over the groups of a test.

    Parameters
    ----------
    lines : dict, optional
        What a brief asks, by property key within the method.
    """
    found = {(b.number, p.code): method.calculate(setup, p.rows) for b in batches for p in b.pieces if p.rows}
    results = []
    for one in method.properties:
        line = (lines or {}).get(one.key)
        made = [_batch(method, setup, one, batch, found, line) for batch in batches]
        reference = next((b for b in made if b.is_reference), None)
        comparisons, warnings = _compared(one, made, reference)
        results.append(
            PropertyResult(
                key=one.key, name=one.name, unit=one.unit, better=one.better, rated=one.rated, line=line, batches=made,
                reference=reference.name if reference else None, comparisons=comparisons, warnings=warnings,
            )
        )  # fmt: skip
    return results


def _batch(
    method: Method,
    setup: Row,
    one: Property,
    batch: Batch,
    found: dict[tuple[int, str], Found],
    line: RequirementLine | None,
) -> BatchResult:
    if method.pattern == "staircase":
        return _stairs(setup, one, batch, line)
    read = [(p.code, found[batch.number, p.code]) for p in batch.pieces if (batch.number, p.code) in found]
    broken = [(code, f.values[one.key]) for code, f in read if one.key in f.values]
    whole = [(code, f.unbroken[one.key]) for code, f in read if one.key in f.unbroken]
    notices = {code: f.notices for code, f in read}
    summary = _summary([v for _, v in broken], [v for _, v in whole], one) if broken or whole else None
    far = summary.outlier_index if summary else None
    dots = [
        Dot(
            code=code,
            value=v,
            unbroken=i >= len(broken),
            outlier=i == far,
            notices=[n.message for n in notices[code]],
            flagged=any(n.code in OF_ONE for n in notices[code]),
        )
        for i, (code, v) in enumerate([*broken, *whole])
    ]
    side = line.at if line else ("least" if one.better == "higher" else "most")
    bound = None
    if summary is not None:
        bound = summary.tolerance_lower if side == "least" else summary.tolerance_upper
    return BatchResult(
        number=batch.number, name=batch.name, is_reference=batch.is_reference, n=len(dots), cure_min=batch.cure_min,
        exposure_s=batch.exposure_s, dots=dots, summary=summary, staircase=None, centre=summary.mean if summary else None,
        centre_ci=summary.mean_ci if summary and summary.n >= LEAST_FOR_CI else None, bound=bound, decimals=_decimals(summary, one.rated),
        words=_words(one, summary, bound, side) if summary or not read else "seen on none of them",
        against_line=_against(one, summary, bound, line), said=_said(dots, summary),
    )  # fmt: skip


def _said(dots: list[Dot], summary: SummaryResult | None) -> list[str]:
    counted = Counter(text for dot in dots for text in dot.notices)
    told = [text if len(dots) == 1 else f"{n} of {len(dots)}: {text}" for text, n in counted.items()]
    return [*told, *(w.message for w in summary.warnings if w.code not in IN_WORDS)] if summary else told


def _summary(values: list[float], unbroken: list[float], one: Property) -> SummaryResult:
    made = sample_summary(SummaryInput(values=values, unbroken=unbroken))
    if not one.rated:
        return made
    # Ratings are opinions on a scale of a few steps: a normal bound or an outlier test would pretend to more.
    kept = [w for w in made.warnings if w.code not in ("too-few", "no-spread", "outlier")]
    return made.model_copy(
        update={"tolerance_factor": None, "tolerance_lower": None, "tolerance_upper": None, "outlier_index": None,
                "warnings": [*kept, Notice(code="rating", message="A rating: no tolerance bound.")]}
    )  # fmt: skip


def _decimals(summary: SummaryResult | None, rated: bool) -> int:
    if summary is None:
        return 0
    if rated:
        return 1
    doubt = summary.sd / math.sqrt(summary.n) if summary.sd else None
    return decimals(summary.mean if summary.mean is not None else summary.at_least, doubt)


def _words(one: Property, summary: SummaryResult | None, bound: float | None, side: str) -> str:
    if summary is None:
        return "nothing read yet"
    if summary.mean is None:
        return summary.warnings[0].message
    places = _decimals(summary, one.rated)
    said = f"{summary.mean:.{places}f} {one.unit}".strip()
    if summary.sd and not one.rated:
        said += f", spread {summary.cv_pct:.0f} %" if summary.cv_pct is not None else ""
    if bound is not None:
        reach = "reach" if side == "least" else "stay under"
        said += f"; 9 in 10 parts {reach} {bound:.{places}f}, with 95 % confidence"
    return said


def _against(
    one: Property, summary: SummaryResult | None, bound: float | None, line: RequirementLine | None
) -> str | None:
    """The requirement line against what is known, in words; nothing is judged here."""
    if line is None or summary is None:
        return None
    asked = f"{'at least' if line.at == 'least' else 'at most'} {line.limit:g} {one.unit}".strip()
    if summary.reliability_shown is not None and summary.at_least is not None and line.at == "least":
        if summary.at_least >= line.limit:
            return f"asked {asked}: none broke, {100 * summary.reliability_shown:.0f} % of parts shown"
        return f"asked {asked}: none broke, but none was loaded that far"
    if bound is None:
        return f"asked {asked}: no bound, so not shown"
    met = bound >= line.limit if line.at == "least" else bound <= line.limit
    return f"asked {asked}: {'shown' if met else 'not shown'} by the bound"


def _stairs(setup: Row, one: Property, batch: Batch, line: RequirementLine | None) -> BatchResult:
    drops = [(piece.code, piece.rows[-1]) for piece in batch.pieces if piece.rows]
    scale = setup["mass_kg"] * 9.80665 if one.key == "energy" else 1.0
    dots = [
        Dot(
            code=code,
            value=row["height_m"] * scale,
            unbroken=not row["broke"],
            outlier=False,
            notices=[],
            flagged=False,
        )
        for code, row in drops
    ]
    made = None
    if drops:
        outcomes = [Drop(height_m=row["height_m"], broke=row["broke"]) for _, row in drops]
        made = drop_staircase(StaircaseInput(step_m=setup["step_m"], mass_kg=setup["mass_kg"], outcomes=outcomes))
    centre = made.median_height_m * scale if made and made.median_height_m is not None else None
    limits = made.logit_median_ci_m if made else None
    ci = (limits[0] * scale, limits[1] * scale) if limits else None
    places = decimals(centre, (ci[1] - ci[0]) / 4 if ci else None)
    against = None
    if line is not None and one.key == "height" and ci is not None:
        met = ci[0] >= line.limit if line.at == "least" else ci[1] <= line.limit
        asked = f"asked {'at least' if line.at == 'least' else 'at most'} {line.limit:g} {one.unit}"
        against = f"{asked}: {'shown' if met else 'not shown'} by the interval of the median, {ci[0]:.{places}f} to {ci[1]:.{places}f}"
    if centre is None:
        words = made.warnings[0].message if made else "nothing dropped yet"
    else:
        words = f"half break at {centre:.{places}f} {one.unit}, from {len(drops)} drops"
    return BatchResult(
        number=batch.number, name=batch.name, is_reference=batch.is_reference, n=len(dots), cure_min=batch.cure_min,
        exposure_s=batch.exposure_s, dots=dots, summary=None, staircase=made, centre=centre, centre_ci=ci, bound=None,
        decimals=places, words=words, against_line=against, said=[w.message for w in made.warnings if w.code not in IN_WORDS] if made else [],
    )  # fmt: skip


def _compared(
    one: Property, made: list[BatchResult], reference: BatchResult | None
) -> tuple[list[GroupComparison], list[Notice]]:
    others = [b for b in made if reference is not None and b.number != reference.number]
    if reference is None or one.rated or not others:
        return [], []
    if reference.staircase is not None or any(b.staircase for b in others):
        return [c for c in (_by_medians(one, reference, b) for b in others) if c is not None], []
    left = [b for b in (reference, *others) if len(_values(b)) < 2]
    able = [b for b in others if b not in left]
    warnings = []
    if left:
        names = ", ".join(b.name for b in left)
        said = f"{names}: fewer than two broke, so there is no difference to compute; compare the loads reached."
        warnings.append(Notice(code="not-compared", message=said))
    if reference in left or not able:
        return [], warnings
    if any(d.unbroken for b in (reference, *able) for d in b.dots):
        said = "Specimens that did not break are left out of the differences: the gap is at least this wide for them."
        warnings.append(Notice(code="unbroken-left-out", message=said))
    try:
        result = compare(
            CompareInput(
                baseline=_values(reference), candidates=[Candidate(name=b.name, values=_values(b)) for b in able]
            )
        )
    except Problem as problem:
        return [], [*warnings, Notice(code="no-spread", message=next(iter(problem.fields.values()), problem.message))]
    made_words = [_comparison(one, reference.name, b, d) for b, d in zip(able, result.candidates, strict=True)]
    return made_words, [*warnings, *result.warnings]


def _values(batch: BatchResult) -> list[float]:
    return [d.value for d in batch.dots if not d.unbroken]


def _comparison(one: Property, reference: str, batch: BatchResult, found: Difference) -> GroupComparison:
    return GroupComparison(
        number=batch.number, name=batch.name, difference=found.difference, difference_ci=found.difference_ci,
        change_pct=found.change_pct, change_ci_pct=found.change_ci_pct, shown=found.shown,
        more_needed=found.more_needed, words=_difference_words(one, reference, found),
    )  # fmt: skip


def _difference_words(one: Property, reference: str, found: Difference) -> str:
    if not found.shown:
        if found.more_needed is None:
            return f"no difference to {reference} shown; one this small would take more than a hundred specimens"
        return (
            f"no difference to {reference} shown; {found.more_needed} more in each group would settle one of this size"
        )
    way = "higher" if found.difference > 0 else "lower"
    good = (found.difference > 0) == (one.better == "higher")
    if found.change_pct is None or found.change_ci_pct is None:
        least = min(abs(v) for v in found.difference_ci)
        half = (found.difference_ci[1] - found.difference_ci[0]) / 2
        return f"{shown(abs(found.difference), half)} {one.unit} {way} than {reference}, surely at least {shown(least, half)}"
    low, high = found.change_ci_pct
    least = min(abs(low), abs(high)) if low * high > 0 else 0.0
    said = f"{abs(found.change_pct):.0f} % {way} than {reference}"
    said += f", surely at least {math.floor(least)} %" if least >= 1 else ", surely a little"
    return said + (": better" if good else ": worse")


def _by_medians(one: Property, reference: BatchResult, batch: BatchResult) -> GroupComparison | None:
    """Two staircases: the difference of medians with the limits of both, as normal."""
    if reference.centre is None or batch.centre is None or reference.centre_ci is None or batch.centre_ci is None:
        return None
    half = math.hypot(*((b.centre_ci[1] - b.centre_ci[0]) / 2 for b in (reference, batch)))  # type: ignore[index]
    difference = batch.centre - reference.centre
    change = 100 * difference / reference.centre
    clear = abs(difference) > half
    way = "higher" if difference > 0 else "lower"
    words = (
        f"{abs(change):.0f} % {way} than {reference.name}: {'better' if difference > 0 else 'worse'}"
        if clear
        else f"no difference to {reference.name} shown; more drops would narrow both"
    )
    return GroupComparison(
        number=batch.number, name=batch.name, difference=difference, difference_ci=(difference - half, difference + half),
        change_pct=change, change_ci_pct=None, shown=clear, more_needed=None, words=words,
    )  # fmt: skip
