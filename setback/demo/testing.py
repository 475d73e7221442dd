"""Strength and detail tests at Skerry Point: some read to the end, one at the bench, one planned."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from typing import Any

from ..core.qualify.verdict import Requirement
from ..services.testing import briefs, planning, references
from ..services.testing import entry as test_entry
from ..services.testing.entry import GroupView, TestView
from .shed import Shed

# The last is how this print turned out beside others of its kind, in standard deviations.
Reader = Callable[[GroupView, random.Random, TestView, float], list[dict[str, Any]]]

# What each material really takes: bending MPa, drop height m, flexes, hardness at full cure.
STRONG = {
    "Cast sheet": {"bend": 98, "drop": 0.55, "flex": 140},
    "Slate 2": {"bend": 71, "drop": 0.62, "flex": 190},
    "Rinsewell": {"bend": 62, "drop": 0.50, "flex": 120},
    "Hullform": {"bend": 60, "drop": 0.93, "flex": 520},
}
SPREAD = {"bend": 0.045, "drop": 0.08, "flex": 0.3}
# From print to print, as a share of the mean.
PRINT_SPREAD = {"bend": 0.012, "drop": 0.02, "flex": 0.08}

BRIEFS: tuple[tuple[str, str, tuple[tuple[str, str, float, str], ...]], ...] = (
    (
        "Sensor clip",
        "Snapped over a probe cable: 300 flexes, sea water of 10 °C, dropped on deck.",
        (
            ("flexing.cycles", "least", 300, "must"),
            ("drop.height", "least", 0.8, "must"),
            ("flexing.set", "most", 6, "should"),
        ),
    ),
    (
        "Filter baffle",
        "Slots of 0.4 mm stay open; sizes within 60 µm.",
        (
            ("set.slot", "most", 0.4, "must"),
            ("set.growth", "most", 60, "must"),
            ("set.latitude", "least", 10, "must"),
            ("size.off", "most", 60, "should"),
            ("looks.residue", "least", 4, "should"),
        ),
    ),
    (
        "Hinge",
        "A drifter's hinge: 2,000 swings without marks.",
        (("joint-wear.cycles", "least", 2000, "must"), ("joint-wear.rating", "most", 2, "should")),
    ),
    (
        "Tough hinge",
        "A hinge that is bent by hand: 600 flexes, still stiff.",
        (("flexing.cycles", "least", 600, "must"), ("cantilever-bend.strength", "least", 50, "must")),
    ),
    (
        "Impeller",
        "Stiff and balanced: bends little, sizes within 80 µm.",
        (
            ("cantilever-bend.strength", "least", 55, "must"),
            ("cantilever-bend.modulus", "least", 1800, "should"),
            ("size.off", "most", 80, "must"),
        ),
    ),
)


def tests(lab: Shed, ids: dict[str, str]) -> None:
    """Briefs, a bought-in reference, and five tests in five states."""
    now = lab.time
    lab.time = lab.on_day(-7, 9, 40)
    lab.work_as("TO")
    for name, use, requirements in BRIEFS:
        lines = [Requirement(property=p, at=at, limit=limit, kind=kind) for p, at, limit, kind in requirements]
        ids[f"brief {name}"] = briefs.add(lab.work, briefs.BriefInput(name=name, use=use, requirements=lines)).id
    sheet = references.ReferenceInput(name="Cast sheet", what="4 mm sheet, sawn and filed", price_per_l=31)
    ids["Cast sheet"] = references.add(lab.work, sheet).id
    _bend(lab, ids)
    _hardness(lab, ids)
    _drop(lab, ids)
    _flex(lab, ids)
    _wear(lab, ids)
    lab.time = max(now, lab.time)


def _group(ids: dict[str, str], material: str, set_code: str | None = None, **more: Any) -> planning.GroupInput:
    return planning.GroupInput(material_id=ids[material], set_code=set_code, **more)


def _made(lab: Shed, plan: planning.TestPlan, printed: bool = True) -> TestView:
    test = test_entry.add(lab.work, plan)
    for group in test.groups if printed else []:
        lab.pass_time(minutes=20)
        for one in group.prints:
            lab.pass_time(minutes=50)
            request = test_entry.MadeInput(temp_c=22.5 if group.printer == "Cormorant" else 21.5, temp_place="resin")
            test = test_entry.made(lab.work, one.id, request)
    lab.pass_time(hours=24)
    return test


def _read(lab: Shed, test: TestView, reader: Reader, stop_after: int | None = None) -> None:
    """Read specimens in their turn, as the bench asks for them."""
    done = 0
    of_print: dict[tuple[int, int | None], float] = {}
    while test.next_code is not None and done != stop_after:
        specimen = next(s for s in test.specimens if s.code == test.next_code)
        group = next(g for g in test.groups if g.number == specimen.group)
        print_of_it = of_print.setdefault((group.number, specimen.print), lab.noise.gauss(0, 1))
        for row in reader(group, lab.noise, test, print_of_it):
            lab.pass_time(minutes=3)
            test = test_entry.read(lab.work, specimen.code, test_entry.SpecimenReadingInput(read=row))
        done += 1


def _bend(lab: Shed, ids: dict[str, str]) -> None:
    plan = planning.TestPlan(
        method="cantilever-bend",
        brief_id=ids["brief Impeller"],
        setup={"arm_mm": 50.0},
        age_h=24,
        groups=[
            _group(ids, "Cast sheet", is_reference=True),
            _group(ids, "Slate 2", "S-001", orientation="flat", supports="none, on the plate"),
            _group(ids, "Rinsewell", "S-003", orientation="flat", supports="none, on the plate"),
            _group(ids, "Hullform", "S-006", orientation="flat", supports="none, on the plate"),
        ],
        wanted=planning.WantedInput(detect_pct=12, cv_pct=8),
        prints=4,
        concerns_reason="The impeller cannot wait for Gannet's new set.",
    )

    def reader(group: GroupView, noise: random.Random, test: TestView, of_print: float) -> list[dict[str, Any]]:
        width, height = round(noise.gauss(10.05, 0.04), 2), round(noise.gauss(4.04, 0.03), 2)
        stress = STRONG[group.material]["bend"] * noise.gauss(1, SPREAD["bend"]) * (1 + PRINT_SPREAD["bend"] * of_print)
        force = stress * width * height**2 / (6 * 50)
        modulus = 31 * STRONG[group.material]["bend"] * noise.gauss(1, 0.05)
        deflection = 4 * force * 50**3 / (width * height**3 * modulus)
        outside = group.material == "Rinsewell" and noise.random() < 0.12
        row = {
            "width_mm": width,
            "height_mm": height,
            "force_n": round(force, 1),
            "broke": True,
            "deflection_mm": round(deflection, 2),
        }
        return [row | ({"outside": True} if outside else {})]

    _read(lab, _made(lab, plan), reader)


def _hardness(lab: Shed, ids: dict[str, str]) -> None:
    lab.work_as("RB")
    plan = planning.TestPlan(
        method="hardness-cure",
        setup={"scale": "Shore D"},
        each=3,
        age_h=24,
        groups=[_group(ids, "Slate 2", "S-001", cure_min=float(minutes)) for minutes in (1, 2, 4, 8, 16, 30)],
    )

    def reader(group: GroupView, noise: random.Random, test: TestView, of_print: float) -> list[dict[str, Any]]:
        hard = 81.5 - 24 * math.exp(-(group.cure_min or 0) / 4.6)
        return [{"readings": [round(noise.gauss(hard, 0.7), 1) for _ in range(5)]}]

    _read(lab, _made(lab, plan), reader)


def _drop(lab: Shed, ids: dict[str, str]) -> None:
    plan = planning.TestPlan(
        method="drop",
        brief_id=ids["brief Sensor clip"],
        setup={"mass_kg": 0.25, "start_m": 0.6, "step_m": 0.1},
        age_h=24,
        each=14,
        groups=[
            _group(ids, "Slate 2", "S-001", is_reference=True, orientation="flat"),
            _group(ids, "Hullform", "S-006", orientation="flat"),
        ],
        concerns_reason="To see the order of size while Gannet is down.",
    )

    def reader(group: GroupView, noise: random.Random, test: TestView, of_print: float) -> list[dict[str, Any]]:
        height = group.next_height_m or 0.6
        strength = (
            STRONG[group.material]["drop"] * noise.gauss(1, SPREAD["drop"]) * (1 + PRINT_SPREAD["drop"] * of_print)
        )
        return [{"height_m": height, "broke": height > strength}]

    _read(lab, _made(lab, plan), reader, stop_after=23)


def _flex(lab: Shed, ids: dict[str, str]) -> None:
    lab.work_as("IM")
    setup = {"angle_deg": 45.0, "radius_mm": 10.0, "temp_c": 10.0, "soak": "sea water", "soak_h": 24.0, "most": 1500.0}
    plan = planning.TestPlan(
        method="flexing",
        brief_id=ids["brief Sensor clip"],
        setup=setup,
        each=6,
        prints=3,
        age_h=48,
        groups=[
            _group(ids, "Slate 2", "S-001", is_reference=True),
            _group(ids, "Rinsewell", "S-003"),
            _group(ids, "Hullform", "S-006"),
        ],
        concerns_reason="Hullform's set lapsed; printed with its check coupon on the plate.",
    )

    def reader(group: GroupView, noise: random.Random, test: TestView, of_print: float) -> list[dict[str, Any]]:
        cycles = STRONG[group.material]["flex"] * math.exp(
            noise.gauss(0, SPREAD["flex"]) + PRINT_SPREAD["flex"] * of_print
        )
        set_mm = round(abs(noise.gauss(3 if group.material == "Hullform" else 6, 1)), 1)
        return [{"set_deg": set_mm, "cycles": int(min(cycles, 1500)), "broke": cycles < 1500}]

    _read(lab, _made(lab, plan), reader)


def _wear(lab: Shed, ids: dict[str, str]) -> None:
    plan = planning.TestPlan(
        method="joint-wear",
        brief_id=ids["brief Hinge"],
        setup={"load_n": 5.0, "wet": "in sea water"},
        each=3,
        groups=[
            _group(ids, "Slate 2", "S-001", condition="burr removed", is_reference=True),
            _group(ids, "Slate 2", "S-001", condition="burr left on"),
        ],
    )

    def reader(group: GroupView, noise: random.Random, test: TestView, of_print: float) -> list[dict[str, Any]]:
        fast = 1.6 if group.condition == "burr left on" else 1.0
        return [
            {
                "cycles": cycles,
                "pin": min(int(cycles * fast / 900 + noise.random()), 4),
                "bore": min(int(cycles * fast / 1100 + noise.random()), 4),
                "marks": cycles * fast > 1200,
                "powder": group.condition == "burr left on",
            }
            for cycles in (500, 1000, 2000)
        ]

    _read(lab, _made(lab, plan), reader, stop_after=4)
