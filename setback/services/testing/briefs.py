"""Briefs: what an application demands, by property; a change makes a new version."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.methods import PROPERTIES
from ...core.qualify.properties import ASKABLE
from ...core.qualify.templates import TEMPLATES, BriefTemplate
from ...core.qualify.verdict import Demand
from ...core.qualify.words import asked
from ...store import briefs as store
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, View, present, same_version
from ..shelf.entry import Name, Note, Page, Version, free_name, version_of

Requirement = Demand


class BriefInput(Contract):
    name: Name
    use: Note = ""
    requirements: list[Requirement] = Field(min_length=1, max_length=40)
    version: Version = None


class RequirementView(Demand):
    group: str = Field(description="The method, or the parameter set")
    name: str
    unit: str
    asked: str = Field("", description="In words; empty in records kept before")


class BriefView(View):
    id: str
    code: str
    name: str
    use: str
    version: int
    version_id: str
    initials: str
    created_at: str
    retired_at: str | None
    requirements: list[RequirementView]


class ConditionField(View):
    key: str
    label: str
    unit: str
    kind: str
    choices: list[str]


class PropertyView(View):
    """A property that can be asked for."""

    key: str
    group: str
    name: str
    unit: str
    better: Literal["higher", "lower"]
    rated: bool
    with_amount: str | None
    conditions: list[ConditionField] = Field(description="What a test of it can be asked to be made under")


def properties() -> list[PropertyView]:
    made = []
    for key, one in ASKABLE.items():
        setup = PROPERTIES[key][0].setup if key in PROPERTIES else ()
        fields = [
            ConditionField(key=f.key, label=f.label, unit=f.unit, kind=f.kind, choices=list(f.choices)) for f in setup
        ]
        made.append(
            PropertyView(
                key=key, group=one.group, name=one.name, unit=one.unit, better=one.better, rated=one.rated,
                with_amount=one.with_amount, conditions=fields,
            )
        )  # fmt: skip
    return made


def templates() -> list[BriefTemplate]:
    """Briefs to begin from."""
    return TEMPLATES


def briefs(bench: Bench, page: Page) -> list[BriefView]:
    return [view(row) for row in store.briefs(bench.db, page.retired, page.after, page.limit)]


def brief(bench: Bench, id_or_code: str) -> BriefView:
    return view(present(store.brief(bench.db, id_or_code), "brief"))


def history(bench: Bench, brief_id: str) -> list[BriefView]:
    return [view(row) for row in store.history(bench.db, brief_id)]


def add(bench: Bench, given: BriefInput) -> BriefView:
    _check(given.requirements)
    with bench.write() as answer:
        free_name(bench, "brief", given.name, None)
        brief_id = bench.new_id()
        insert(bench.db, "brief", id=brief_id, code=next_code(bench.db, "A"), name=given.name, created_at=bench.now())
        _version(bench, brief_id, 1, given)
        return answer(brief(bench, brief_id))


def change(bench: Bench, brief_id: str, given: BriefInput) -> BriefView:
    """A new version; tests that were planned for the old one keep it."""
    _check(given.requirements)
    with bench.write() as answer:
        held = present(store.brief(bench.db, brief_id), "brief")
        same_version(held.version, version_of(given.version), held.name)
        free_name(bench, "brief", given.name, held.id)
        update(bench.db, "brief", held.id, name=given.name)
        _version(bench, held.id, held.version + 1, given)
        return answer(brief(bench, held.id))


def _version(bench: Bench, brief_id: str, version: int, given: BriefInput) -> None:
    insert(
        bench.db, "brief_version", id=bench.new_id(), brief_id=brief_id, version=version, use=given.use,
        requirements=[r.model_dump() for r in given.requirements], technician_id=bench.technician().id,
        created_at=bench.now(),
    )  # fmt: skip


def retire(bench: Bench, brief_id: str, back: bool = False) -> BriefView:
    with bench.write() as answer:
        held = present(store.brief(bench.db, brief_id), "brief")
        if back:
            free_name(bench, "brief", held.name, held.id)
        update(bench.db, "brief", held.id, retired_at=None if back else bench.now())
        return answer(brief(bench, held.id))


def _check(requirements: list[Requirement]) -> None:
    wrong: dict[str, str] = {}
    seen: set[tuple[str, str, str]] = set()
    for i, one in enumerate(requirements):
        asked = ASKABLE.get(one.property)
        same = (one.property, one.at, one.model_dump_json(include={"conditions"}))
        if asked is None:
            wrong[f"requirements.{i}.property"] = "There is no such property: choose one from the list."
            continue
        if same in seen:
            wrong[f"requirements.{i}.property"] = "This is asked for twice."
        seen.add(same)
        if asked.with_amount and one.amount is None:
            wrong[f"requirements.{i}.amount"] = f"Say the {asked.with_amount} of it."
        if asked.rated and one.basis == "bound":
            wrong[f"requirements.{i}.basis"] = (
                "Ratings are opinions and have no bound: ask for the mean or for every specimen."
            )
        if one.property in PROPERTIES and PROPERTIES[one.property][0].pattern == "staircase" and one.basis != "mean":
            wrong[f"requirements.{i}.basis"] = "A staircase gives a median of all its drops: ask for that."
        known = {f.key for f in PROPERTIES[one.property][0].setup} if one.property in PROPERTIES else set()
        for condition in one.conditions:
            if condition.key not in known:
                wrong[f"requirements.{i}.conditions"] = f"This is not made under a {condition.key!r}."
    if wrong:
        raise Problem("Some requirements cannot be used.", wrong)


def view(row: store.BriefRow) -> BriefView:
    lines = []
    for held in row.requirements:
        one = Demand.model_validate(held)
        found = ASKABLE[one.property]
        lines.append(
            RequirementView(
                **one.model_dump(), group=found.group, name=found.name, unit=found.unit, asked=asked(one, found.unit)
            )
        )
    return BriefView.model_validate(
        {**{k: getattr(row, k) for k in BriefView.model_fields if k != "requirements"}, "requirements": lines}
    )
