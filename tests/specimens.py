"""Readings for any method of the registry, from its own fields: a new method is covered without a change here."""

from __future__ import annotations

import random

from setback.core.testing.methods import Method
from setback.core.testing.methods.method import Field

SETUP = {"pendulum_kg": 0.82, "radius_m": 0.24, "release_deg": 120.0, "free_rise_deg": 118.6}


def setup_of(method: Method) -> dict[str, object]:
    """The usual setup, with numbers where there is none usual."""
    return {f.key: f.usual if f.usual is not None else SETUP.get(f.key, 10.0) for f in method.setup}


def readings(method: Method, setup: dict[str, object], count: int, seed: int) -> list[list[dict[str, object]]]:
    """Rows of ``count`` specimens; a series has three rows each, a staircase goes up and down."""
    chance = random.Random(seed)
    made: list[list[dict[str, object]]] = []
    height = float(setup.get("start_m", 0))
    for i in range(count):
        row = {f.key: _value(f, chance, i) for f in method.reads}
        row |= _graded([f for f in method.reads if f.kind == "choice"])
        if method.pattern == "staircase":
            broke = height > 0.75 - 0.1 * (i % 2)
            row = {"height_m": round(height, 3), "broke": broke}
            height += -float(setup["step_m"]) if broke else float(setup["step_m"])
        if method.against is not None:
            made.append([row | {method.against.key: at} for at in (100, 200, 400)])
        else:
            made.append([row])
    return made


def _graded(fields: list[Field]) -> dict[str, object]:
    """Choices from the first to the last over the fields that ask for one."""
    return {f.key: f.choices[i * len(f.choices) // len(fields)] for i, f in enumerate(fields)}


def _value(field: Field, chance: random.Random, i: int) -> object:
    if field.kind == "yes":
        return True
    if field.kind == "rating":
        return int(min(max(field.low, 2 + i % 2), field.high))
    if field.kind == "numbers":
        return [round(chance.gauss(70, 2), 1) for _ in range(3)]
    if field.kind == "count":
        return int(chance.gauss(40, 6))
    middle = {"°": 90.0, "mm": 10.0, "N": 60.0}.get(field.unit, 10.0)
    value = chance.gauss(middle, 0.04 * middle)
    return round(min(max(value, field.low), field.high), 3)


def plan_of(method, issued, each=3, **more):
    return {
        "method": method.key,
        "setup": setup_of(method),
        "each": each,
        "groups": [
            {"material_id": issued["sheet_id"], "is_reference": True},
            {"material_id": issued["material_id"], "set_code": issued["set_code"], "orientation": "flat"},
        ],
        **more,
    }


def make_all(lab, test):
    for one in [one for group in test["groups"] for one in group["prints"] if one["cured_at"] is None]:
        test = lab.post(f"/api/test-prints/{one['id']}/made", {"temp_c": 23, "temp_place": "resin"})
    return test


def read_all(lab, method, test):
    """Read every specimen in its turn, as the bench asks for them."""
    made = {g["number"]: readings(method, setup_of(method), 40, g["number"]) for g in test["groups"]}
    while test["next_code"]:
        one = next(s for s in test["specimens"] if s["code"] == test["next_code"])
        for row in made[one["group"]].pop(0):
            test = lab.post(f"/api/specimens/{one['code']}/readings", {"read": row}, 201)
    return test
