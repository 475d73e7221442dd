"""Plan a test: how many specimens of what, on which sets, in which order, at what cost."""

from __future__ import annotations

import math
import random
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ...core.calibrate.stages import layers_of
from ...core.contract import Contract, Notice, Problem, Seconds
from ...core.printing.print_time import print_time
from ...core.printing.settings import Settings
from ...core.statistics.prints import BOUND_PRINTS, MEAN_PRINTS, POOLED_DEGREES, seen_difference_pct
from ...core.statistics.sample_size import SampleSizeInput, sample_size, usual_difference_pct
from ...core.status.validity import State
from ...core.testing.concerns import Concern, Standing, concerns
from ...core.testing.methods import Method, checked_setup
from ...coupon import KINDS, Coupon
from ...store import shelf
from ...store.codes import next_code
from ...store.qualify import briefs
from ...store.rows import insert
from ...store.sets import parameter_sets
from ...store.sets import validity as living
from ..sets.validity import states
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .methods import known
from .print_spread import OtherTests

MOST_EACH = 60
STAIRCASE_EACH = 20
ONE_PRINT = (
    "One print of each group: the result speaks of these prints, and qualifies no material. Two tell what is the print and "
    "what the material."
)
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
    """A test to plan: method, groups, and the difference it should see."""

    method: str = Field(max_length=40)
    brief_id: str | None = Field(None, max_length=40)
    setup: dict[str, Any] = Field(default_factory=dict)
    groups: list[GroupInput] = Field(min_length=1, max_length=20)
    wanted: WantedInput = Field(default_factory=WantedInput)
    each: int | None = Field(
        None, ge=1, le=MOST_EACH, description="Specimens per group; from the wanted difference when not given"
    )
    prints: int | None = Field(
        None,
        ge=1,
        le=MOST_EACH,
        description="Prints that each group is spread over; two for a mean, four for a bound, when not given",
    )
    age_h: Annotated[float, Field(ge=0, le=10_000)] | None = Field(
        None, description="Age at the test, hours after cure"
    )
    note: Note = ""
    concerns_reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)] | None = None


class GroupCost(View):
    """What one group costs: minutes and millilitres."""

    number: int
    name: str
    printed: bool
    specimens: int
    prints: int
    fits_plate: int | None
    plates: int = Field(description="Of all its prints together")
    duration_s: float | None
    volume_ml: float | None
    cost: float | None


class TestQuote(View):
    """What a plan costs, and what is unfair about it."""

    each: int
    each_from: str = Field(description="Where the number of specimens comes from, in words")
    prints: int = Field(description="Prints that each group is spread over")
    prints_from: str = Field(description="Where the number of prints comes from, in words")
    sees: str | None = Field(description="The difference this plan would show, as far as prints differ, in words")
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

    request: GroupInput
    material: shelf.Material
    held: parameter_sets.SetRow | None
    state: State | None
    printer: shelf.Printer | None
    route: shelf.FinishRoute | None
    own_route: bool
    price_per_l: float | None

    @property
    def printed(self) -> bool:
        """Whether the group is printed here, not bought in."""
        return self.material.kind != "reference"

    @property
    def cure_min(self) -> float | None:
        """Minutes of cure: its own, else those of its finish route."""
        return (
            self.request.cure_min if self.request.cure_min is not None else self.route.cure_min if self.route else None
        )

    @property
    def name(self) -> str:
        """Material, condition and what was varied, in words."""
        parts = [self.material.name, self.request.condition]
        if self.request.exposure_s is not None:
            parts.append(f"{self.request.exposure_s:g} s")
        if self.request.cure_min is not None:
            parts.append(f"{self.request.cure_min:g} min cure")
        return ", ".join(p for p in parts if p)


def quote(work: UnitOfWork, plan: TestPlan) -> TestQuote:
    """Specimens, plates, hours, millilitres, money, and concerns, before anything is made."""
    method = known(plan.method)
    groups = _looked_up(work, method, plan)
    each, reason, warnings = _each(method, plan)
    prints, prints_reason = _prints(work, method, plan, each)
    costs = [_cost(method, i, group, each, prints) for i, group in enumerate(groups, 1)]
    if prints == 1 and any(group.printed for group in groups):
        warnings.append(Notice(code="one-print", message=ONE_PRINT))
    if each < 3 and method.pattern != "staircase":
        warnings.append(Notice(code="too-few", message="Fewer than 3 specimens: there will be no tolerance bound."))
    if not any(g.request.is_reference for g in groups) and len(groups) > 1:
        warnings.append(
            Notice(code="no-reference", message="No reference: groups will stand side by side without differences.")
        )
    money = [c.cost for c in costs if c.cost is not None]
    return TestQuote(
        each=each,
        each_from=reason,
        prints=prints,
        prints_from=prints_reason,
        sees=_sees(work, method, plan, groups, (each, prints)),
        groups=costs,
        specimens=each * len(groups),
        print_s=sum(c.duration_s or 0 for c in costs),
        bench_min=method.minutes_each * each * len(groups),
        volume_ml=sum(c.volume_ml or 0 for c in costs),
        cost=sum(money) if money else None,
        concerns=concerns([_standing(g) for g in groups]),
        warnings=warnings,
    )


def plan(work: UnitOfWork, request: TestPlan) -> str:
    """Make the test, its prints and its specimens in random order; returns its id for the caller's transaction."""
    method = known(request.method)
    setup = checked_setup(method, request.setup)
    groups = _looked_up(work, method, request)
    priced = quote(work, request)
    serious = [c for c in priced.concerns if c.must_confirm]
    if serious and not request.concerns_reason:
        message = "Say why this is compared all the same; it is kept with the test."
        raise Conflict(" ".join(c.message for c in serious), {"concerns_reason": message})
    brief = present(briefs.brief(work.db, request.brief_id), "brief") if request.brief_id else None
    test_id, code, seed = work.new_id(), next_code(work.db, "T"), _seed(work)
    insert(
        work.db,
        "test",
        id=test_id,
        code=code,
        method=method.key,
        setup=setup,
        age_h=request.age_h,
        seed=seed,
        brief_version_id=brief.version_id if brief else None,
        wanted=request.wanted.model_dump() | {"each": priced.each},
        note=request.note,
        technician_id=work.technician().id,
        planned_at=work.now(),
        concerns=[c.model_dump() for c in priced.concerns] if serious else None,
        concerns_reason=request.concerns_reason if serious else None,
    )
    turns = _turns(len(groups), priced.each, seed)
    for number, (group, cost) in enumerate(zip(groups, priced.groups, strict=True), 1):
        _put_group(work, code, test_id, number, group, cost, turns)
    return test_id


def _looked_up(work: UnitOfWork, method: Method, plan: TestPlan) -> list[_Group]:
    """Materials, sets, states and routes of all groups; Problem names the group that cannot be."""
    problems: dict[str, str] = {}
    groups: list[_Group] = []
    sets = {s.code: s for s in _sets(work, plan)}
    held_states = states(work, list(sets.values()))
    for i, group in enumerate(plan.groups):
        material = shelf.material(work.db, group.material_id)
        if material is None or material.retired_at is not None:
            problems[f"groups.{i}.material_id"] = "This material is not on the shelf."
            continue
        if material.kind == "reference" and group.set_code:
            problems[f"groups.{i}.set_code"] = "What is bought in has no parameter set."
        if group.condition and group.condition not in method.conditions:
            problems[f"groups.{i}.condition"] = (
                f"One of: {', '.join(method.conditions)}." if method.conditions else "Not asked for."
            )
        living_set = sets.get(group.set_code or "")
        set_row = parameter_sets.parameter_set(work.db, living_set.id) if living_set else None
        if group.set_code and set_row is None:
            problems[f"groups.{i}.set_code"] = f"There is no set {group.set_code}."
        set_route_id = set_row.finish_route_version_id if set_row else None
        route_id = group.finish_route_id or set_route_id
        groups.append(
            _Group(
                request=group,
                material=material,
                held=set_row,
                state=held_states[set_row.id].state if set_row else None,
                printer=shelf.printer(work.db, set_row.printer_id) if set_row else None,
                route=_route(work, route_id),
                own_route=(group.finish_route_id in (None, set_route_id)) and group.cure_min is None,
                price_per_l=shelf.price(work.db, material.id),
            )
        )
    same = Counter(
        (g.material.id, g.request.set_code, g.request.condition, g.request.exposure_s, g.cure_min) for g in groups
    )
    if any(count > 1 for count in same.values()):
        problems["groups"] = "Two groups are the same: change the set, the cure, the exposure or the condition of one."
    if sum(g.request.is_reference for g in groups) > 1:
        problems["groups"] = "One reference at most: the others are compared with it."
    if problems:
        raise Problem("The test cannot be planned like this.", problems)
    return groups


def _sets(work: UnitOfWork, plan: TestPlan) -> list[living.LivingSet]:
    living_sets = (living.living_set(work.db, code) for code in {g.set_code for g in plan.groups if g.set_code})
    return [s for s in living_sets if s is not None]


def _route(work: UnitOfWork, id_or_version: str | None) -> shelf.FinishRoute | None:
    if id_or_version is None:
        return None
    return shelf.finish_route_version(work.db, id_or_version) or shelf.finish_route(work.db, id_or_version)


def _standing(group: _Group) -> Standing:
    return Standing(
        name=group.name,
        material_id=group.material.id,
        printed=group.printed,
        own_set=group.held is None or group.held.material_id == group.material.id,
        set_code=group.held.code if group.held else None,
        set_state=group.state,
        own_route=group.own_route,
        cure_min=group.cure_min,
    )


def _each(method: Method, plan: TestPlan) -> tuple[int, str, list[Notice]]:
    """Specimens per group, where the number comes from, and warnings."""
    if plan.each is not None:
        return plan.each, "as asked", []
    if method.pattern == "staircase":
        return STAIRCASE_EACH, "a staircase wants twenty drops", []
    cv = plan.wanted.cv_pct or method.usual_cv_pct
    detect = plan.wanted.detect_pct or usual_difference_pct(cv, plan.wanted.power)
    size = sample_size(SampleSizeInput(cv_pct=cv, detect_pct=detect, power=plan.wanted.power))
    if size.n_per_group > MOST_EACH:
        message = (
            f"{size.n_per_group} in each group would be needed; {MOST_EACH} are the most. Ask for a larger difference."
        )
        raise Problem(message, {"wanted.detect_pct": message})
    each = max(size.n_per_group, 3)
    reason = f"to see {detect:g} % at a spread of {cv:g} %, with {100 * plan.wanted.power:.0f} % power"
    return each, reason if each == size.n_per_group else f"{reason}; 3 at least, for a bound", list(size.warnings)


def _prints(work: UnitOfWork, method: Method, plan: TestPlan, each: int) -> tuple[int, str]:
    """Prints that each group is spread over, and why so many."""
    if plan.prints is not None:
        if plan.prints > each:
            message = f"{each} specimens come out of {each} prints at most."
            raise Problem(message, {"prints": message})
        return plan.prints, "as asked"
    if not _wants_bound(work, method, plan):
        return min(MEAN_PRINTS, each), "two tell what is the print and what the material"
    known_degrees = min((spread.degrees for spread in OtherTests(work).of_method(method).values()), default=0.0)
    if known_degrees >= POOLED_DEGREES:
        return min(
            MEAN_PRINTS, each
        ), "how far prints differ is known from earlier tests, so two are enough for a bound"
    return min(BOUND_PRINTS, each), "a bound for nine parts in ten takes four"


def _sees(
    work: UnitOfWork, method: Method, plan: TestPlan, groups: list[_Group], counts: tuple[int, int]
) -> str | None:
    """What earlier tests by this method let the plan promise; prints that differ make it less than specimens alone would."""
    each, prints = counts
    if prints < MEAN_PRINTS or len(groups) < 2 or method.pattern == "staircase":
        return None
    rated = {prop.key for prop in method.properties if prop.rated}
    spreads = {key: spread for key, spread in OtherTests(work).of_method(method).items() if key not in rated}
    differences = {
        key: pct
        for key, spread in spreads.items()
        if (pct := seen_difference_pct(spread, prints, each, len(groups), plan.wanted.power)) is not None
    }
    if not differences:
        return "How far prints differ is not known for this method yet: so small a difference is seen only if they hardly do."
    names = {prop.key: prop.name.lower() for prop in method.properties}
    return "As far as prints differed before, it sees " + ", ".join(
        f"{pct:.0f} % in {names[key]}" for key, pct in differences.items()
    )


def _wants_bound(work: UnitOfWork, method: Method, plan: TestPlan) -> bool:
    brief = briefs.brief(work.db, plan.brief_id) if plan.brief_id else None
    return brief is not None and any(
        line["basis"] == "bound" and line["property"].startswith(f"{method.key}.") for line in brief.requirements
    )


def _cost(method: Method, number: int, group: _Group, each: int, prints: int) -> GroupCost:
    """Plates, seconds and millilitres from the specimen's own geometry; unknown for real parts and what is bought."""
    planned = prints if group.printed and group.printer is not None else 0
    if not group.printed or method.specimen is None or group.printer is None or group.held is None:
        return GroupCost(
            number=number,
            name=group.name,
            printed=group.printed,
            specimens=each,
            prints=planned,
            fits_plate=None,
            plates=planned,
            duration_s=None,
            volume_ml=None,
            cost=None,
        )
    coupon = KINDS[method.specimen](group.printer.pixel_um / 1000, 0.3)
    fits = _fits(coupon, group.printer)
    if fits == 0:
        message = f"A {coupon.title.lower()} of {coupon.width_mm:g} × {coupon.height_mm:g} mm does not fit {group.printer.name}'s plate."
        raise Problem(message, {f"groups.{number - 1}.set_code": message})
    settings = Settings.model_validate(group.held.settings)
    timing = print_time(
        settings.timing(
            layers_of(coupon.thickness_mm, group.held.layer_height_um),
            group.request.exposure_s or group.held.exposure_s,
            group.printer.delay_includes_motion,
            volume_ml=coupon.volume_ml,
        )
    )
    plates = sum(math.ceil(len(numbers) / fits) for numbers in _spread(each, prints))
    volume = each * coupon.volume_ml
    return GroupCost(
        number=number,
        name=group.name,
        printed=True,
        specimens=each,
        prints=prints,
        fits_plate=fits,
        plates=plates,
        duration_s=plates * timing.total_s,
        volume_ml=volume,
        cost=None if group.price_per_l is None else volume * group.price_per_l / 1000,
    )


def _spread(each: int, prints: int) -> list[list[int]]:
    """The numbers of a group's specimens by print: as many in each as can be."""
    return [list(range(first, each + 1, prints)) for first in range(1, prints + 1)]


def _fits(coupon: Coupon, printer: shelf.Printer) -> int:
    """How many lie side by side on the plate, either way round."""
    w, h = coupon.width_mm + GAP_MM, coupon.height_mm + GAP_MM
    x, y = printer.plate_x_mm + GAP_MM, printer.plate_y_mm + GAP_MM
    return max(int(x // w) * int(y // h), int(x // h) * int(y // w))


def _turns(groups: int, each: int, seed: int) -> dict[tuple[int, int], int]:
    """The random order: the turn of each specimen, by group and number."""
    every: Sequence[tuple[int, int]] = [(g, n) for n in range(1, each + 1) for g in range(1, groups + 1)]
    shuffled = random.Random(seed).sample(every, len(every))
    return {index: turn for turn, index in enumerate(shuffled, 1)}


def _seed(work: UnitOfWork) -> int:
    return int(work.new_id()[:8], 16)


def _put_group(
    work: UnitOfWork,
    code: str,
    test_id: str,
    number: int,
    group: _Group,
    cost: GroupCost,
    turns: dict[tuple[int, int], int],
) -> None:
    group_id = work.new_id()
    insert(
        work.db,
        "test_group",
        id=group_id,
        test_id=test_id,
        number=number,
        material_id=group.material.id,
        parameter_set_id=group.held.id if group.held else None,
        printer_id=group.printer.id if group.printer else None,
        finish_route_version_id=group.route.version_id if group.route else None,
        exposure_s=group.request.exposure_s,
        cure_min=group.request.cure_min,
        condition=group.request.condition,
        orientation=group.request.orientation,
        supports=group.request.supports,
        is_reference=group.request.is_reference,
    )
    places = _put_prints(work, f"{code}, group {number}", group_id, group, cost)
    for n in range(1, cost.specimens + 1):
        plate_id, place = places.get(n, (None, f"place {n}" if group.printed else ""))
        insert(
            work.db,
            "specimen",
            id=work.new_id(),
            code=f"{code}-{number}{n:02d}",
            group_id=group_id,
            number=n,
            turn=turns[number, n],
            plate_id=plate_id,
            place=place,
        )


def _put_prints(
    work: UnitOfWork, name: str, group_id: str, group: _Group, cost: GroupCost
) -> dict[int, tuple[str, str]]:
    """Plan a group's prints; the plate and the place of each specimen, by its number."""
    places: dict[int, tuple[str, str]] = {}
    if not cost.prints or group.printer is None:
        return places
    for print_number, numbers in enumerate(_spread(cost.specimens, cost.prints), 1):
        print_id, share = work.new_id(), len(numbers) / cost.specimens
        insert(
            work.db,
            "print",
            id=print_id,
            code=next_code(work.db, "J"),
            printer_id=group.printer.id,
            status="planned",
            planned_at=work.now(),
            volume_ml=share * (cost.volume_ml or 0),
            duration_s=_plates(numbers, cost) / cost.plates * (cost.duration_s or 0),
            technician_id=work.technician_id(),
            parameter_set_id=group.held.id if group.held else None,
            settings_note=name if cost.prints == 1 else f"{name}, print {print_number} of {cost.prints}",
        )
        insert(work.db, "test_print", id=work.new_id(), group_id=group_id, print_id=print_id, number=print_number)
        places |= _put_plates(work, print_id, print_number, numbers, cost)
    return places


def _put_plates(
    work: UnitOfWork, print_id: str, print_number: int, numbers: list[int], cost: GroupCost
) -> dict[int, tuple[str, str]]:
    places, plates = {}, _plates(numbers, cost)
    per_plate = cost.fits_plate or len(numbers)
    for plate in range(plates):
        plate_id = work.new_id()
        insert(work.db, "plate", id=plate_id, print_id=print_id, number=plate + 1)
        for place, n in enumerate(numbers[plate * per_plate : (plate + 1) * per_plate], 1):
            words = [
                f"print {print_number}" if cost.prints > 1 else "",
                f"plate {plate + 1}" if plates > 1 else "",
                f"place {place}",
            ]
            places[n] = (plate_id, ", ".join(word for word in words if word))
    return places


def _plates(numbers: list[int], cost: GroupCost) -> int:
    return math.ceil(len(numbers) / (cost.fits_plate or len(numbers)))
