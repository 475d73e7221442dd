"""Plan a test: how many specimens of what, on which sets, in which order, at what cost."""

from __future__ import annotations

import math
import random
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ...core.campaign import layers_of
from ...core.contract import Contract, Notice, Problem, Seconds
from ...core.methods import Method, checked_setup
from ...core.print_time import print_time
from ...core.settings import Settings
from ...core.strength.concerns import Concern, Standing, concerns
from ...core.strength.sample_size import SampleSizeInput, sample_size, usual_difference_pct
from ...coupon import KINDS, Coupon
from ...store import briefs, parameter_sets, shelf
from ...store import validity as living
from ...store.codes import next_code
from ...store.rows import insert
from ..bench import Bench, Conflict, View, present
from ..shelf.entry import Note
from ..validity import states
from .methods import known

MOST_EACH = 60
STAIRCASE_EACH = 20
GAP_MM = 3.0

Words = Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)]


class GroupInput(Contract):
    """One material under one set and route."""

    material_id: str = Field(max_length=40)
    set_code: str | None = Field(None, max_length=20, description="An issued set; none for what is bought in")
    finish_route_id: str | None = Field(None, max_length=40, description="The set's own when not given")
    exposure_s: Seconds | None = Field(None, description="Instead of the set's own, to see what exposure does")
    cure_min: Annotated[float, Field(ge=0, le=100_000)] | None = Field(None, description="Instead of the route's own")
    condition: Words = ""
    orientation: Words = ""
    supports: Words = ""
    is_reference: bool = False


class WantedInput(Contract):
    """The difference that would matter, and the spread that is known."""

    detect_pct: float | None = Field(None, gt=0, le=1000, description="What a dozen specimens see when not given")
    cv_pct: float | None = Field(None, gt=0, le=1000, description="The method's usual spread when not given")
    power: float = Field(0.8, gt=0, lt=1)


class TestPlan(Contract):
    method: str = Field(max_length=40)
    brief_id: str | None = Field(None, max_length=40)
    setup: dict[str, Any] = Field(default_factory=dict)
    groups: list[GroupInput] = Field(min_length=1, max_length=20)
    wanted: WantedInput = Field(default_factory=WantedInput)
    each: int | None = Field(
        None, ge=1, le=MOST_EACH, description="Specimens per group; from the wanted difference when not given"
    )
    age_h: Annotated[float, Field(ge=0, le=10_000)] | None = Field(
        None, description="Age at the test, hours after cure"
    )
    note: Note = ""
    concerns_reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)] | None = None


class GroupCost(View):
    number: int
    name: str
    printed: bool
    specimens: int
    fits_plate: int | None
    plates: int
    duration_s: float | None
    volume_ml: float | None
    cost: float | None


class TestQuote(View):
    """What a plan costs, and what is unfair about it."""

    each: int
    each_from: str = Field(description="Where the number of specimens comes from, in words")
    groups: list[GroupCost]
    specimens: int
    print_s: float
    bench_min: float
    volume_ml: float
    cost: float | None
    concerns: list[Concern]
    warnings: list[Notice]


@dataclass(frozen=True)
class _Group:
    """One group with everything that was looked up for it."""

    given: GroupInput
    material: shelf.Material
    held: parameter_sets.SetRow | None
    state: str | None
    printer: shelf.Printer | None
    route: shelf.FinishRoute | None
    own_route: bool
    price_per_l: float | None

    @property
    def printed(self) -> bool:
        return self.material.kind != "reference"

    @property
    def cure_min(self) -> float | None:
        return self.given.cure_min if self.given.cure_min is not None else self.route.cure_min if self.route else None

    @property
    def name(self) -> str:
        parts = [self.material.name, self.given.condition]
        if self.given.exposure_s is not None:
            parts.append(f"{self.given.exposure_s:g} s")
        if self.given.cure_min is not None:
            parts.append(f"{self.given.cure_min:g} min cure")
        return ", ".join(p for p in parts if p)


def quote(bench: Bench, given: TestPlan) -> TestQuote:
    """Specimens, plates, hours, millilitres, money, and concerns, before anything is made."""
    method = known(given.method)
    groups = _looked_up(bench, method, given)
    each, why, warnings = _each(method, given)
    costs = [_cost(method, i, group, each) for i, group in enumerate(groups, 1)]
    if each < 3 and method.pattern != "staircase":
        warnings.append(Notice(code="too-few", message="Fewer than 3 specimens: there will be no tolerance bound."))
    if not any(g.given.is_reference for g in groups) and len(groups) > 1:
        warnings.append(
            Notice(code="no-reference", message="No reference: groups will stand side by side without differences.")
        )
    money = [c.cost for c in costs if c.cost is not None]
    return TestQuote(
        each=each, each_from=why, groups=costs, specimens=each * len(groups),
        print_s=sum(c.duration_s or 0 for c in costs), bench_min=method.minutes_each * each * len(groups),
        volume_ml=sum(c.volume_ml or 0 for c in costs), cost=sum(money) if money else None,
        concerns=concerns([_standing(g) for g in groups]), warnings=warnings,
    )  # fmt: skip


def plan(bench: Bench, given: TestPlan) -> str:
    """Make the test, its prints and its specimens in random order; returns its id for the caller's transaction."""
    method = known(given.method)
    setup = checked_setup(method, given.setup)
    groups = _looked_up(bench, method, given)
    priced = quote(bench, given)
    serious = [c for c in priced.concerns if c.must_confirm]
    if serious and not given.concerns_reason:
        said = "Say why this is compared all the same; it is kept with the test."
        raise Conflict(" ".join(c.message for c in serious), {"concerns_reason": said})
    brief = present(briefs.brief(bench.db, given.brief_id), "brief") if given.brief_id else None
    test_id, code, seed = bench.new_id(), next_code(bench.db, "T"), _seed(bench)
    insert(
        bench.db, "test", id=test_id, code=code, method=method.key, setup=setup, age_h=given.age_h, seed=seed,
        brief_version_id=brief.version_id if brief else None, wanted=given.wanted.model_dump() | {"each": priced.each},
        note=given.note, technician_id=bench.technician().id, planned_at=bench.now(),
        concerns=[c.model_dump() for c in priced.concerns] if serious else None,
        concerns_reason=given.concerns_reason if serious else None,
    )  # fmt: skip
    turns = _turns(len(groups), priced.each, seed)
    for number, (group, cost) in enumerate(zip(groups, priced.groups, strict=True), 1):
        _put_group(bench, code, test_id, number, group, cost, turns)
    return test_id


def _looked_up(bench: Bench, method: Method, given: TestPlan) -> list[_Group]:
    """Materials, sets, states and routes of all groups; Problem names the group that cannot be."""
    wrong: dict[str, str] = {}
    found: list[_Group] = []
    sets = {s.code: s for s in _sets(bench, given)}
    held_states = states(bench, list(sets.values()))
    for i, one in enumerate(given.groups):
        material = shelf.material(bench.db, one.material_id)
        if material is None or material.retired_at is not None:
            wrong[f"groups.{i}.material_id"] = "This material is not on the shelf."
            continue
        if material.kind == "reference" and one.set_code:
            wrong[f"groups.{i}.set_code"] = "What is bought in has no parameter set."
        if one.condition and one.condition not in method.conditions:
            wrong[f"groups.{i}.condition"] = (
                f"One of: {', '.join(method.conditions)}." if method.conditions else "Not asked for."
            )
        living_set = sets.get(one.set_code or "")
        held = parameter_sets.parameter_set(bench.db, living_set.id) if living_set else None
        if one.set_code and held is None:
            wrong[f"groups.{i}.set_code"] = f"There is no set {one.set_code}."
        own = held.finish_route_version_id if held else None
        route_id = one.finish_route_id or own
        found.append(
            _Group(
                given=one, material=material, held=held, state=held_states[held.id].state if held else None,
                printer=shelf.printer(bench.db, held.printer_id) if held else None,
                route=_route(bench, route_id), own_route=(one.finish_route_id in (None, own)) and one.cure_min is None,
                price_per_l=_price(bench, material.id),
            )
        )  # fmt: skip
    same = Counter((g.material.id, g.given.set_code, g.given.condition, g.given.exposure_s, g.cure_min) for g in found)
    if any(count > 1 for count in same.values()):
        wrong["groups"] = "Two groups are the same: change the set, the cure, the exposure or the condition of one."
    if sum(g.given.is_reference for g in found) > 1:
        wrong["groups"] = "One reference at most: the others are compared with it."
    if wrong:
        raise Problem("The test cannot be planned like this.", wrong)
    return found


def _sets(bench: Bench, given: TestPlan) -> list[living.LivingSet]:
    held = (living.living_set(bench.db, code) for code in {g.set_code for g in given.groups if g.set_code})
    return [s for s in held if s is not None]


def _route(bench: Bench, id_or_version: str | None) -> shelf.FinishRoute | None:
    if id_or_version is None:
        return None
    return shelf.finish_route_version(bench.db, id_or_version) or shelf.finish_route(bench.db, id_or_version)


def _price(bench: Bench, material_id: str) -> float | None:
    sql = """SELECT coalesce(r.price_per_l, b.price_per_l) FROM material m LEFT JOIN resin r ON r.material_id = m.id
      LEFT JOIN reference_material b ON b.material_id = m.id WHERE m.id = ?"""
    row = bench.db.execute(sql, (material_id,)).fetchone()
    return row[0] if row else None


def _standing(group: _Group) -> Standing:
    return Standing(
        name=group.name, material_id=group.material.id, printed=group.printed,
        own_set=group.held is None or group.held.material_id == group.material.id,
        set_code=group.held.code if group.held else None, set_state=group.state, own_route=group.own_route,
        cure_min=group.cure_min,
    )  # fmt: skip


def _each(method: Method, given: TestPlan) -> tuple[int, str, list[Notice]]:
    """Specimens per group, where the number comes from, and warnings."""
    if given.each is not None:
        return given.each, "as asked", []
    if method.pattern == "staircase":
        return STAIRCASE_EACH, "a staircase wants twenty drops", []
    cv = given.wanted.cv_pct or method.usual_cv_pct
    detect = given.wanted.detect_pct or usual_difference_pct(cv, given.wanted.power)
    found = sample_size(SampleSizeInput(cv_pct=cv, detect_pct=detect, power=given.wanted.power))
    if found.n_per_group > MOST_EACH:
        said = (
            f"{found.n_per_group} in each group would be needed; {MOST_EACH} are the most. Ask for a larger difference."
        )
        raise Problem(said, {"wanted.detect_pct": said})
    each = max(found.n_per_group, 3)
    why = f"to see {detect:g} % at a spread of {cv:g} %, {100 * given.wanted.power:.0f} times in 100"
    return each, why if each == found.n_per_group else f"{why}; 3 at least, for a bound", list(found.warnings)


def _cost(method: Method, number: int, group: _Group, each: int) -> GroupCost:
    """Plates, seconds and millilitres from the specimen's own geometry; unknown for real parts and what is bought."""
    if not group.printed or method.specimen is None or group.printer is None or group.held is None:
        return GroupCost(
            number=number, name=group.name, printed=group.printed, specimens=each, fits_plate=None, plates=1,
            duration_s=None, volume_ml=None, cost=None,
        )  # fmt: skip
    coupon = KINDS[method.specimen](group.printer.pixel_um / 1000, 0.3)
    fits = _fits(coupon, group.printer)
    if fits == 0:
        said = f"A {coupon.title.lower()} of {coupon.width_mm:g} × {coupon.height_mm:g} mm does not fit {group.printer.name}'s plate."
        raise Problem(said, {f"groups.{number - 1}.set_code": said})
    settings = Settings.model_validate(group.held.settings)
    timing = print_time(
        settings.timing(
            layers_of(coupon.thickness_mm, group.held.layer_height_um), group.given.exposure_s or group.held.exposure_s,
            group.printer.delay_includes_motion, volume_ml=coupon.volume_ml,
        )
    )  # fmt: skip
    plates, volume = math.ceil(each / fits), each * coupon.volume_ml
    return GroupCost(
        number=number, name=group.name, printed=True, specimens=each, fits_plate=fits, plates=plates,
        duration_s=plates * timing.total_s, volume_ml=volume,
        cost=None if group.price_per_l is None else volume * group.price_per_l / 1000,
    )  # fmt: skip


def _fits(coupon: Coupon, printer: shelf.Printer) -> int:
    """How many lie side by side on the plate, either way round."""
    w, h = coupon.width_mm + GAP_MM, coupon.height_mm + GAP_MM
    x, y = printer.plate_x_mm + GAP_MM, printer.plate_y_mm + GAP_MM
    return max(int(x // w) * int(y // h), int(x // h) * int(y // w))


def _turns(groups: int, each: int, seed: int) -> dict[tuple[int, int], int]:
    """The random order: the turn of each specimen, by group and number."""
    every: Sequence[tuple[int, int]] = [(g, n) for n in range(1, each + 1) for g in range(1, groups + 1)]
    shuffled = random.Random(seed).sample(every, len(every))
    return {one: turn for turn, one in enumerate(shuffled, 1)}


def _seed(bench: Bench) -> int:
    return int(bench.new_id()[:8], 16)


def _put_group(
    bench: Bench,
    code: str,
    test_id: str,
    number: int,
    group: _Group,
    cost: GroupCost,
    turns: dict[tuple[int, int], int],
) -> None:
    group_id, print_id = bench.new_id(), None
    plate_ids: list[str | None] = [None] * cost.plates
    if group.printed and group.printer is not None:
        print_id = bench.new_id()
        insert(
            bench.db, "print", id=print_id, code=next_code(bench.db, "J"), printer_id=group.printer.id, status="planned",
            planned_at=bench.now(), volume_ml=cost.volume_ml or 0, duration_s=cost.duration_s or 0,
            technician_id=bench.technician_id(), parameter_set_id=group.held.id if group.held else None,
            settings_note=f"{code}, group {number}",
        )  # fmt: skip
        plate_ids = [bench.new_id() for _ in range(cost.plates)]
        for n, plate_id in enumerate(plate_ids, 1):
            insert(bench.db, "plate", id=plate_id, print_id=print_id, number=n)
    insert(
        bench.db, "test_group", id=group_id, test_id=test_id, number=number, material_id=group.material.id,
        parameter_set_id=group.held.id if group.held else None, printer_id=group.printer.id if group.printer else None,
        finish_route_version_id=group.route.version_id if group.route else None, print_id=print_id,
        exposure_s=group.given.exposure_s, cure_min=group.given.cure_min, condition=group.given.condition,
        orientation=group.given.orientation, supports=group.given.supports, is_reference=group.given.is_reference,
    )  # fmt: skip
    per_plate = cost.fits_plate or cost.specimens
    for n in range(1, cost.specimens + 1):
        plate = (n - 1) // per_plate
        place = f"plate {plate + 1}, place {(n - 1) % per_plate + 1}" if cost.plates > 1 else f"place {n}"
        insert(
            bench.db, "specimen", id=bench.new_id(), code=f"{code}-{number}{n:02d}", group_id=group_id, number=n,
            turn=turns[number, n], plate_id=plate_ids[min(plate, len(plate_ids) - 1)], place=place if group.printed else "",
        )  # fmt: skip
