"""Briefs to begin from: what parts of a kind usually have to stand."""

from __future__ import annotations

from ..contract import Contract
from .verdict import Condition, Requirement


class BriefTemplate(Contract):
    """A brief to begin from: a kind of part and what it usually asks of a material."""

    name: str
    use: str
    requirements: list[Requirement]


def _ask(property: str, limit: float, at: str = "least", kind: str = "must", **more: object) -> Requirement:
    return Requirement.model_validate({"property": property, "limit": limit, "at": at, "kind": kind, **more})


TEMPLATES: list[BriefTemplate] = [
    BriefTemplate(
        name="Part with fine openings",
        use="Slots stay open and sizes true: filters, sieves, nozzles.",
        requirements=[
            _ask("set.slot", 0.4, "most"),
            _ask("set.growth", 60, "most"),
            _ask("set.latitude", 10),
            _ask("set.plate", 60, kind="should"),
            _ask("looks.residue", 4, kind="should"),
        ],
    ),
    BriefTemplate(
        name="Part that flexes",
        use="Bent again and again, cold and wet.",
        requirements=[
            _ask("flexing.cycles", 300, basis="every", conditions=[Condition(key="soak", value="sea water")]),
            _ask("flexing.set", 5, "most", "should"),
            _ask("set.tip", 0.5, "most"),
        ],
    ),
    BriefTemplate(
        name="Part that carries load",
        use="Stiff and strong, nine parts in ten.",
        requirements=[
            _ask("cantilever-bend.strength", 50, basis="bound"),
            _ask("cantilever-bend.modulus", 1500),
            _ask("hardness-core.reached", 90, kind="should"),
        ],
    ),
    BriefTemplate(
        name="Part that turns in another",
        use="A joint that wears.",
        requirements=[
            _ask("joint-wear.cycles", 2000, basis="every"),
            _ask("joint-wear.rating", 2, "most"),
            _ask("fit.slide", 0.25, "most", "should"),
        ],
    ),
    BriefTemplate(
        name="Part that falls",
        use="Dropped on stone.",
        requirements=[_ask("drop.height", 1.2), _ask("notched-impact.per_area", 2, kind="should")],
    ),
]
