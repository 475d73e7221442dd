"""Results of a test: every group worked out, against the brief's lines and the reference."""

from __future__ import annotations

import io
from dataclasses import dataclass

from pydantic import Field

from ...core.contract import Notice, Problem
from ...core.statistics.prints import RelativeSpread
from ...core.testing.post_cure import CurePoint, PostCureInput, PostCureResult, hardness_at, post_cure
from ...core.testing.results import PropertyResult, RequirementLine, work_out
from ...report.sheets import write_rows
from ...store import testing as store
from ...store.qualify import briefs
from ..files.coupon_files import Made
from ..unit_of_work import UnitOfWork, View
from .print_spread import OtherTests
from .records import Held, batch, group_name, held_test, hours_between

MIXED_AGE_H = 24.0
# Points of a drawn curve: enough that it looks round.
LINE_STEPS = 60


class MadeUnder(View):
    """What a group was made and tried under: without it a number means little."""

    number: int
    name: str
    n: int
    prints: int | None = Field(description="That the specimens read came out of; null for what was bought in")
    set_code: str | None
    exposure_s: float | None
    route: str | None
    cure_min: float | None
    age_h: tuple[float, float] | None = Field(description="Least and greatest age at the test")
    orientation: str
    supports: str


class Trend(View):
    """A property against cure time or exposure, for one material."""

    property: str
    name: str
    unit: str
    against: str
    against_unit: str
    material: str
    numbers: list[int] = Field(description="Of the groups, in the order of what it is drawn against")
    x: list[float]
    curve: PostCureResult | None
    line: list[tuple[float, float]] = Field(
        description="The curve as it is drawn, from 0 to a little beyond the last one tried"
    )
    words: str


class TestResult(View):
    """What a test says: properties, trends, and what was unfair."""

    code: str
    method: str
    method_name: str
    source: str
    concerns_reason: str | None
    properties: list[PropertyResult]
    made_under: list[MadeUnder]
    trends: list[Trend]
    warnings: list[Notice]


def result(work: UnitOfWork, id_or_code: str) -> TestResult:
    """What one test says."""
    record = held_test(work, id_or_code)
    lines = _lines(work, record)
    worked = worked_out(record, lines, OtherTests(work).spreads(record))
    under = [_made_under(record, g) for g in record.groups]
    return TestResult(
        code=record.row.code,
        method=record.method.key,
        method_name=record.method.name,
        source=record.method.source,
        concerns_reason=record.row.concerns_reason,
        properties=worked,
        made_under=under,
        trends=_trends(record, worked),
        warnings=_warnings(under),
    )


def worked_out(
    record: Held,
    lines: dict[str, RequirementLine] | None = None,
    earlier: dict[str, RelativeSpread] | None = None,
) -> list[PropertyResult]:
    """Results of every property of a test, against the lines of a brief where there are any."""
    return work_out(record.method, record.row.setup, [batch(record, g) for g in record.groups], lines, earlier)


def _lines(work: UnitOfWork, record: Held) -> dict[str, RequirementLine]:
    if record.row.brief_version_id is None:
        return {}
    row = briefs.versions(work.db, [record.row.brief_version_id])[record.row.brief_version_id]
    return {
        requirement["property"].split(".", 1)[1]: RequirementLine(
            limit=requirement["limit"], at=requirement["at"], kind=requirement["kind"]
        )
        for requirement in row.requirements
        if requirement["property"].startswith(f"{record.method.key}.")
    }


def _made_under(record: Held, group: store.GroupRow) -> MadeUnder:
    own = [s for s in record.specimens if s.group_id == group.id and s.gone_at is None]
    ages = [
        age
        for s in own
        for r in record.current.get(s.id, [])
        if (age := hours_between(s.cured_at, r.read_at)) is not None
    ]
    read = [s for s in own if record.current.get(s.id)]
    return MadeUnder(
        number=group.number,
        name=group_name(group),
        n=len(read),
        prints=None if group.material_kind == "reference" else len({s.print for s in read}),
        set_code=group.set_code,
        exposure_s=group.exposure_s or group.set_exposure_s,
        route=group.route,
        cure_min=group.cure_min if group.cure_min is not None else group.route_cure_min,
        age_h=(min(ages), max(ages)) if ages else None,
        orientation=group.orientation,
        supports=group.supports,
    )


def _warnings(under: list[MadeUnder]) -> list[Notice]:
    ages = [u.age_h for u in under if u.age_h is not None]
    if ages and max(high for _, high in ages) - min(low for low, _ in ages) > MIXED_AGE_H:
        message = "Ages at the test differ by more than a day: resins go on changing after cure."
        return [Notice(code="mixed-age", message=message)]
    return []


@dataclass(frozen=True)
class _Against:
    name: str
    unit: str


_CURE, _EXPOSURE = _Against("cure time", "min"), _Against("exposure", "s")


def _trends(record: Held, worked: list[PropertyResult]) -> list[Trend]:
    """One material at several cures or exposures: what "harder" does, seen and not assumed."""
    trends = []
    by_material: dict[str, list[store.GroupRow]] = {}
    for group in record.groups:
        by_material.setdefault(group.material, []).append(group)
    for material, groups in by_material.items():
        for against in (_CURE, _EXPOSURE):
            x = {g.number: v for g in groups if (v := _x(g, against)) is not None}
            if len(set(x.values())) < 2:
                continue
            trends += [t for p in worked if (t := _trend(p, material, against, x)) is not None]
    return trends


def _x(group: store.GroupRow, against: _Against) -> float | None:
    if against is _CURE:
        return group.cure_min if group.cure_min is not None else group.route_cure_min
    return group.exposure_s or group.set_exposure_s


def _trend(prop: PropertyResult, material: str, against: _Against, x: dict[int, float]) -> Trend | None:
    batches = {b.number: b for b in prop.batches if b.number in x and b.centre is not None}
    order = sorted(batches, key=lambda n: x[n])
    if len({x[n] for n in order}) < 2:
        return None
    curve, line, words = None, [], _way(prop, [batches[n].centre or 0.0 for n in order], against)
    if against is _CURE and prop.unit == "Shore":
        points = [CurePoint(minutes=x[n], hardness=d.value) for n in order for d in batches[n].dots if d.value > 0]
        try:
            curve = post_cure(PostCureInput(points=points))
            end = 1.04 * x[order[-1]]
            line = [(t, hardness_at(curve, t)) for t in (end * i / LINE_STEPS for i in range(LINE_STEPS + 1))]
            words = f"95 % of the gain after {curve.minutes_to_fraction:.0f} min; hardness ends near {curve.final_hardness:.0f}"
        except Problem as problem:
            words = problem.message
    return Trend(
        property=prop.key,
        name=prop.name,
        unit=prop.unit,
        against=against.name,
        against_unit=against.unit,
        material=material,
        numbers=order,
        x=[x[n] for n in order],
        curve=curve,
        line=line,
        words=words,
    )


def _way(prop: PropertyResult, values: list[float], against: _Against) -> str:
    if values == sorted(values):
        return f"{prop.name} rises with {against.name} over what was tried"
    if values == sorted(values, reverse=True):
        return f"{prop.name} falls with {against.name} over what was tried"
    return f"{prop.name} does not go one way with {against.name}"


def as_csv(work: UnitOfWork, id_or_code: str) -> Made:
    """Every reading of a test, one row each, in the order of breaking."""
    record = held_test(work, id_or_code)
    names = {g.id: g for g in record.groups}
    reads = record.method.reads
    out = io.StringIO()
    head = ["turn", "specimen", "group", "material", "set", "print", "place"]
    rows: list[list[object]] = [
        [*head, *(f"{f.key} ({f.unit})" if f.unit else f.key for f in reads), "read by", "read at", "note"]
    ]
    for specimen in record.specimens:
        group = names[specimen.group_id]
        head_cells = [
            specimen.turn,
            specimen.code,
            group_name(group),
            group.material,
            group.set_code or "",
            specimen.print or "",
            specimen.place,
        ]
        for row in rows_of(record, specimen.id):
            values = [_cell(row.read.get(f.key)) if row else "" for f in reads]
            rows.append([*head_cells, *values, *((row.initials, row.read_at, row.note) if row else ("", "", ""))])
    write_rows(out, rows)
    content = out.getvalue().encode()
    return Made(content, "text/csv", f"{record.row.code}.csv", f"{len(record.specimens)} specimens", 0.0)


def rows_of(record: Held, specimen_id: str) -> list[store.SpecimenReading | None]:
    """What counts of a specimen; one empty row where nothing was read."""
    return [*record.current.get(specimen_id, [])] or [None]


def _cell(value: object) -> object:
    return " ".join(map(str, value)) if isinstance(value, list) else "" if value is None else value
