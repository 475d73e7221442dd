"""A series: fractions of one additive in one base, each a material with its calibration and tests, against the brief."""

from __future__ import annotations

from collections import defaultdict
from statistics import fmean
from typing import Literal

from pydantic import Field

from ...core.blends.response import BlendResponseInput, BlendResponseResult, Constraint, Point, blend_response
from ...core.contract import Contract, Problem
from ...core.status.validity import State
from ...core.testing.methods import PROPERTIES
from ...store import blends as store
from ...store import testing as tests
from ...store.codes import next_code
from ...store.qualify import briefs
from ...store.rows import insert
from ...store.sets import validity as living
from ..sets.validity import states
from ..shelf.entry import Name
from ..testing.print_spread import OtherTests
from ..testing.records import held_tests
from ..testing.results import worked_out
from ..unit_of_work import UnitOfWork, View, present
from .recipes import RecipeInput, RecipePart, blend_view, put

FIRST = 5
MOST_TESTS = 200


class SeriesInput(Contract):
    """A series to begin: base, additive, the brief it serves, and the first fractions."""

    name: Name
    base_id: str = Field(max_length=40)
    additive_id: str = Field(max_length=40)
    brief_id: str | None = Field(None, max_length=40)
    max_fraction: float = Field(0.3, gt=0, le=1)


class FractionInput(Contract):
    """A fraction to add to a series."""

    fraction: float = Field(gt=0, lt=1)
    forbidden_reason: str | None = Field(None, max_length=300)


class SeriesMember(View):
    """One fraction: a material of its own."""

    fraction: float
    material_id: str
    name: str
    price_per_l: float | None
    sets: list[str]
    set_state: State | None
    values: dict[str, list[float]] = Field(description="Specimens by property; medians of staircases")


class SeriesProperty(View):
    """A property the brief asks for, with its limit."""

    key: str
    name: str
    unit: str
    at: Literal["least", "most"]
    limit: float
    kind: Literal["must", "should"]
    points: int


class SeriesView(store.SeriesRow):
    """A series with its members, curves and the next fraction."""

    members: list[SeriesMember]
    properties: list[SeriesProperty]
    response: BlendResponseResult | None
    suggested: list[float] = Field(description="Fractions worth making next, spread over the range")
    replicate: float | None = Field(description="The fraction tried whose repeat would narrow the edge most")
    words: str
    chosen: SeriesMember | None = Field(
        description="The fraction made and tried that is nearest to the best and meets it all"
    )


class SeriesLine(View):
    """A series in the list."""

    id: str
    code: str
    name: str
    base: str
    additive: str
    brief: str | None


def all_series(work: UnitOfWork) -> list[SeriesLine]:
    """Series, newest first."""
    return [SeriesLine.model_validate(row) for row in store.series(work.db, 100)]


def add(work: UnitOfWork, request: SeriesInput) -> SeriesView:
    """Begin a series of an additive in a base."""
    with work.write() as answer:
        ingredients = {row.id: row for row in store.ingredients(work.db, [request.base_id, request.additive_id])}
        problems = {
            name: "Choose a resin or a dye that is on the shelf."
            for name, material in (("base_id", request.base_id), ("additive_id", request.additive_id))
            if material not in ingredients or ingredients[material].kind not in ("resin", "dye")
        }
        if request.base_id == request.additive_id:
            problems["additive_id"] = "Something else than the base."
        if problems:
            raise Problem("The series cannot be started.", problems)
        series_id = work.new_id()
        insert(
            work.db,
            "blend_series",
            id=series_id,
            code=next_code(work.db, "G"),
            technician_id=work.technician().id,
            created_at=work.now(),
            **request.model_dump(),
        )
        return answer(series(work, series_id))


def add_fraction(work: UnitOfWork, series_id: str, request: FractionInput) -> SeriesView:
    """One fraction more, as a material of its own."""
    with work.write() as answer:
        row = present(store.one_series(work.db, series_id), "series")
        name = f"{row.base} + {100 * request.fraction:g} % {row.additive}"
        parts = [
            RecipePart(material_id=row.base_id, fraction=round(1 - request.fraction, 9)),
            RecipePart(material_id=row.additive_id, fraction=request.fraction),
        ]
        put(work, RecipeInput(name=name, parts=parts, forbidden_reason=request.forbidden_reason), "recipe")
        return answer(series(work, row.id))


def series(work: UnitOfWork, id_or_code: str) -> SeriesView:
    """One series by its id or code."""
    row = present(store.one_series(work.db, id_or_code), "series")
    members = _members(work, row)
    properties = _asked(work, row)
    points = [
        Point(fraction=m.fraction, values={key: value})
        for m in members
        for key, values in m.values.items()
        for value in values
    ]
    constraints = [
        c for c in properties if len({p.fraction for p in points if c.key in p.values}) >= 2 and c.limit != 0
    ]
    response = None
    if constraints:
        limits = [
            Constraint(
                property=c.key, min=c.limit if c.at == "least" else None, max=c.limit if c.at == "most" else None
            )
            for c in constraints
        ]
        response = blend_response(BlendResponseInput(points=points, constraints=limits, max_fraction=row.max_fraction))
    counted = [c.model_copy(update={"points": sum(c.key in p.values for p in points)}) for c in properties]
    return SeriesView(
        **vars(row),
        members=members,
        properties=counted,
        response=response,
        suggested=_suggested(row.max_fraction, members, response),
        replicate=_replicate(members, response),
        words=_words(row, members, counted, response),
        chosen=_chosen(members, response),
    )


def _chosen(members: list[SeriesMember], response: BlendResponseResult | None) -> SeriesMember | None:
    if response is None or response.best_fraction is None:
        return None
    best = response.best_fraction
    inside = [m for m in members if any(low <= m.fraction <= high for low, high in response.feasible)]
    return min(inside, key=lambda m: abs(m.fraction - best), default=None)


def _members(work: UnitOfWork, row: store.SeriesRow) -> list[SeriesMember]:
    """The base as fraction 0, then every blend of just these two, with what is known of each."""
    shares = {row.base_id: 0.0} | {
        p.blend_id: p.fraction for p in store.blends_of_two(work.db, row.base_id, row.additive_id)
    }
    prices = {i.id: i.price_per_l for i in store.ingredients(work.db, [row.base_id, row.additive_id])}
    values = _values(work, list(shares))
    sets = {m: living.sets_of_material(work.db, m) for m in shares}
    lived = states(work, [s for living_sets in sets.values() for s in living_sets])
    names = {row.base_id: row.base}
    base, extra = prices.get(row.base_id), prices.get(row.additive_id)
    return [
        SeriesMember(
            fraction=f,
            material_id=m,
            name=names.get(m) or blend_view(work, m).name,
            price_per_l=None if base is None or extra is None else base * (1 - f) + extra * f,
            sets=[s.code for s in sets[m]],
            set_state=lived[sets[m][0].id].state if sets[m] else None,
            values=values[m],
        )
        for m, f in sorted(shares.items(), key=lambda item: item[1])
    ]


def _values(work: UnitOfWork, material_ids: list[str]) -> dict[str, dict[str, list[float]]]:
    """Specimens of the newest test of each property, by material."""
    by_fraction: dict[str, dict[str, list[float]]] = defaultdict(dict)
    others = OtherTests(work)
    for record in held_tests(work, tests.tests_of_materials(work.db, material_ids, MOST_TESTS)):
        groups = {g.number: g for g in record.groups}
        for prop in worked_out(record, earlier=others.spreads(record)):
            key = f"{record.method.key}.{prop.key}"
            for batch in prop.batches:
                group = groups[batch.number]
                if (
                    group.material_id not in material_ids
                    or key in by_fraction[group.material_id]
                    or batch.centre is None
                ):
                    continue
                # Specimens of one print are alike: each print counts as one.
                by_print: dict[str, list[float]] = defaultdict(list)
                for dot in batch.dots:
                    if not dot.unbroken:
                        by_print[dot.print or dot.code].append(dot.value)
                broken = [fmean(values) for values in by_print.values()]
                by_fraction[group.material_id][key] = [batch.centre] if batch.staircase or not broken else broken
    return by_fraction


def _asked(work: UnitOfWork, row: store.SeriesRow) -> list[SeriesProperty]:
    if row.brief_id is None:
        return []
    brief = present(briefs.brief(work.db, row.brief_id), "brief")
    return [
        SeriesProperty(
            key=r["property"],
            name=PROPERTIES[r["property"]][1].name,
            unit=PROPERTIES[r["property"]][1].unit,
            at=r["at"],
            limit=r["limit"],
            kind=r["kind"],
            points=0,
        )
        for r in brief.requirements
        if r["property"] in PROPERTIES
    ]


def _suggested(most: float, members: list[SeriesMember], response: BlendResponseResult | None) -> list[float]:
    """Spread over the range at first; then where the edge of what is feasible is least known."""
    fractions = [m.fraction for m in members]
    spread = [round(most * i / (FIRST - 1), 3) for i in range(1, FIRST)]
    untried = [f for f in spread if min(abs(f - t) for t in fractions) > 0.02]
    if (
        response is not None
        and response.next_fraction is not None
        and min(abs(response.next_fraction - t) for t in fractions) > 0.005
    ):
        untried = [response.next_fraction, *untried]
    return list(dict.fromkeys(round(f, 3) for f in untried))[:FIRST]


def _replicate(members: list[SeriesMember], response: BlendResponseResult | None) -> float | None:
    """Of the fractions tried, the one nearest to an end of what is feasible: there a repeat matters."""
    if response is None or not response.feasible:
        return None
    ends = [end for span in response.feasible for end in span]
    fractions = [m.fraction for m in members if m.values]
    return min(fractions, key=lambda f: min(abs(f - end) for end in ends)) if fractions else None


def _percent(fraction: float) -> str:
    return f"{round(100 * fraction, 1):g}"


def _words(
    row: store.SeriesRow,
    members: list[SeriesMember],
    properties: list[SeriesProperty],
    response: BlendResponseResult | None,
) -> str:
    if row.brief_id is None:
        return "Choose a brief: it says which fraction is good enough."
    missing = [p.name.lower() for p in properties if p.points < 2]
    if response is None:
        return f"Not yet tested at two fractions: {', '.join(missing)}."
    tail = f" Not counted, for want of tests: {', '.join(missing)}." if missing else ""
    if response.best_fraction is None:
        return f"No fraction up to {100 * row.max_fraction:g} % meets the brief with 90 % assurance." + tail
    spans = " and ".join(f"{_percent(a)} to {_percent(b)} %" for a, b in response.feasible)
    limited = PROPERTIES[response.limited_by or ""][1].name.lower()
    return (
        f"{spans} meets it with 90 % assurance; {_percent(response.best_fraction)} % has the most in hand, limited by {limited}."
        + tail
    )
