"""Briefs: what an application requires, by property; a change makes a new version."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.qualify.properties import ASKABLE
from ...core.qualify.templates import TEMPLATES, BriefTemplate
from ...core.qualify.verdict import Requirement
from ...core.qualify.words import asked
from ...core.testing.methods import PROPERTIES
from ...store.codes import next_code
from ...store.qualify import briefs as store
from ...store.rows import insert, update
from ..both_versions import same_version
from ..shelf.entry import Name, Note, Page, Version, free_name, version_of
from ..unit_of_work import UnitOfWork, View, present


class BriefInput(Contract):
    """A brief: its use and what it asks of a material."""

    name: Name
    use: Note = ""
    requirements: list[Requirement] = Field(min_length=1, max_length=40)
    version: Version = None


class RequirementView(Requirement):
    """A requirement, also in words."""

    group: str = Field(description="The method, or the parameter set")
    name: str
    unit: str
    asked: str = Field("", description="In words; empty in records kept before")


class BriefView(View):
    """A brief with its requirements."""

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
    """A condition that a requirement may name."""

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
    """Properties a brief may ask for, with their units and conditions."""
    property_views = []
    for key, requirable in ASKABLE.items():
        setup = PROPERTIES[key][0].setup if key in PROPERTIES else ()
        fields = [
            ConditionField(key=f.key, label=f.label, unit=f.unit, kind=f.kind, choices=list(f.choices)) for f in setup
        ]
        property_views.append(
            PropertyView(
                key=key,
                group=requirable.group,
                name=requirable.name,
                unit=requirable.unit,
                better=requirable.better,
                rated=requirable.rated,
                with_amount=requirable.with_amount,
                conditions=fields,
            )
        )
    return property_views


def templates() -> list[BriefTemplate]:
    """Briefs to begin from."""
    return TEMPLATES


def briefs(work: UnitOfWork, page: Page) -> list[BriefView]:
    """Briefs in their newest versions, by name."""
    return [view(row) for row in store.briefs(work.db, page.retired, page.after, page.limit)]


def brief(work: UnitOfWork, id_or_code: str) -> BriefView:
    """One brief by its id or code."""
    return view(present(store.brief(work.db, id_or_code), "brief"))


def history(work: UnitOfWork, brief_id: str) -> list[BriefView]:
    """All versions of a brief, newest first."""
    return [view(row) for row in store.history(work.db, brief_id)]


def add(work: UnitOfWork, request: BriefInput) -> BriefView:
    """Keep a brief."""
    _check(request.requirements)
    with work.write() as answer:
        free_name(work, "brief", request.name, None)
        brief_id = work.new_id()
        insert(work.db, "brief", id=brief_id, code=next_code(work.db, "A"), name=request.name, created_at=work.now())
        _version(work, brief_id, 1, request)
        return answer(brief(work, brief_id))


def change(work: UnitOfWork, brief_id: str, request: BriefInput) -> BriefView:
    """A new version; tests that were planned for the old one keep it."""
    _check(request.requirements)
    with work.write() as answer:
        stored = present(store.brief(work.db, brief_id), "brief")
        same_version(stored, version_of(request.version), stored.name, request)
        free_name(work, "brief", request.name, stored.id)
        update(work.db, "brief", stored.id, name=request.name)
        _version(work, stored.id, stored.version + 1, request)
        return answer(brief(work, stored.id))


def _version(work: UnitOfWork, brief_id: str, version: int, request: BriefInput) -> None:
    insert(
        work.db,
        "brief_version",
        id=work.new_id(),
        brief_id=brief_id,
        version=version,
        use=request.use,
        requirements=[r.model_dump() for r in request.requirements],
        technician_id=work.technician().id,
        created_at=work.now(),
    )


def retire(work: UnitOfWork, brief_id: str, back: bool = False) -> BriefView:
    """Take a brief out of the lists, or bring it back."""
    with work.write() as answer:
        stored = present(store.brief(work.db, brief_id), "brief")
        if back:
            free_name(work, "brief", stored.name, stored.id)
        update(work.db, "brief", stored.id, retired_at=None if back else work.now())
        return answer(brief(work, stored.id))


def _check(requirements: list[Requirement]) -> None:
    problems: dict[str, str] = {}
    already: set[tuple[str, str, str]] = set()
    for i, requirement in enumerate(requirements):
        requirable = ASKABLE.get(requirement.property)
        same = (requirement.property, requirement.at, requirement.model_dump_json(include={"conditions"}))
        if requirable is None:
            problems[f"requirements.{i}.property"] = "There is no such property: choose one from the list."
            continue
        if same in already:
            problems[f"requirements.{i}.property"] = "This is asked for twice."
        already.add(same)
        if requirable.with_amount and requirement.amount is None:
            problems[f"requirements.{i}.amount"] = f"Say the {requirable.with_amount} of it."
        if requirable.rated and requirement.basis == "bound":
            problems[f"requirements.{i}.basis"] = (
                "Ratings are opinions and have no bound: ask for the mean or for every specimen."
            )
        if (
            requirement.property in PROPERTIES
            and PROPERTIES[requirement.property][0].pattern == "staircase"
            and requirement.basis != "mean"
        ):
            problems[f"requirements.{i}.basis"] = "A staircase gives a median of all its drops: ask for that."
        setup_keys = (
            {f.key for f in PROPERTIES[requirement.property][0].setup} if requirement.property in PROPERTIES else set()
        )
        for condition in requirement.conditions:
            if condition.key not in setup_keys:
                problems[f"requirements.{i}.conditions"] = f"This is not made under a {condition.key!r}."
    if problems:
        raise Problem("Some requirements cannot be used.", problems)


def view(row: store.BriefRow) -> BriefView:
    """A stored brief with its requirements in words."""
    lines = []
    for stored in row.requirements:
        requirement = Requirement.model_validate(stored)
        requirable = ASKABLE[requirement.property]
        lines.append(
            RequirementView(
                **requirement.model_dump(),
                group=requirable.group,
                name=requirable.name,
                unit=requirable.unit,
                asked=asked(requirement, requirable.unit),
            )
        )
    return BriefView.model_validate(
        {**{k: getattr(row, k) for k in BriefView.model_fields if k != "requirements"}, "requirements": lines}
    )
