"""Verdicts: one set against one brief, and all candidates side by side."""

from __future__ import annotations

import hashlib
import json
from typing import Literal

from pydantic import Field

from ... import __version__
from ...core.qualify.properties import ASKABLE
from ...core.qualify.status import Verdict
from ...core.qualify.verdict import Judged, Requirement, judge, overall
from ...core.status.validity import Validity
from ...store import shelf
from ...store.qualify import briefs as store
from ...store.sets import validity as lives
from ..sets.validity import states
from ..testing.briefs import BriefView, view
from ..unit_of_work import UnitOfWork, View, present
from .evidence import Known, known, offered

MOST_SETS = 300


class Candidate(View):
    """A set held against a brief."""

    set_id: str
    set_code: str
    set_version: int
    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    state: Literal["valid", "due", "lapsed"]
    verdict: Verdict
    reasons: list[str]
    price_per_l: float | None
    cheapest: bool = Field(False, description="The cheapest that qualifies")
    judged: list[Judged]
    evidence_hash: str = Field(description="Changes when anything that was judged does")


class BriefStanding(View):
    """A brief with every set that could be qualified for it."""

    brief: BriefView
    candidates: list[Candidate]


class BriefLine(View):
    """A brief as the list shows it."""

    id: str
    code: str
    name: str
    use: str
    version: int
    asked: int
    counts: dict[str, int] = Field(description="Sets by verdict")
    best: str | None = Field(description="The cheapest that qualifies")


def standing(work: UnitOfWork, id_or_code: str) -> BriefStanding:
    """Every living set judged against a brief: a fixed number of queries, whatever their number."""
    row = present(store.brief(work.db, id_or_code), "brief")
    return BriefStanding(brief=view(row), candidates=_judged(work, [row], None)[row.id])


def lines(work: UnitOfWork) -> list[BriefLine]:
    """All briefs with how the shop stands to each."""
    rows = store.briefs(work.db, False, "", 200)
    by_brief = _judged(work, rows, None)
    brief_lines = []
    for row in rows:
        candidates = by_brief[row.id]
        best = next((c for c in candidates if c.cheapest), None)
        brief_lines.append(
            BriefLine(
                id=row.id,
                code=row.code,
                name=row.name,
                use=row.use,
                version=row.version,
                asked=len(row.requirements),
                counts={v: n for v in Verdict if (n := sum(c.verdict == v for c in candidates))},
                best=f"{best.material} on {best.printer}" if best else None,
            )
        )
    return brief_lines


def best_candidates(work: UnitOfWork) -> list[tuple[store.BriefRow, Candidate]]:
    """Of each brief that no set qualifies for, the candidate that comes nearest."""
    rows = store.briefs(work.db, False, "", 200)
    by_brief = _judged(work, rows, None)
    return [
        (row, by_brief[row.id][0])
        for row in rows
        if by_brief[row.id] and by_brief[row.id][0].verdict != Verdict.QUALIFIED
    ]


def one(work: UnitOfWork, brief: str, set_code: str) -> Candidate:
    """One set against the newest version of a brief."""
    row = present(store.brief(work.db, brief), "brief")
    living_set = present(lives.living_set(work.db, set_code), "set")
    return _judged(work, [row], [living_set])[row.id][0]


def _judged(
    work: UnitOfWork, rows: list[store.BriefRow], only: list[lives.LivingSet] | None
) -> dict[str, list[Candidate]]:
    if not rows:
        return {}
    sets = lives.all_sets(work.db, MOST_SETS) if only is None else only
    requirements = {row.id: [Requirement.model_validate(r) for r in row.requirements] for row in rows}
    evidence = known(work, sets, {d.property for of_brief in requirements.values() for d in of_brief})
    lived = states(work, sets)
    names = shelf.material_names(work.db, sorted({s.material_id for s in sets}))
    printers = {p.id: p.name for p in shelf.printers_by_id(work.db, sorted({s.printer_id for s in sets}))}
    candidates = {}
    for row in rows:
        of_row = [
            _candidate(
                work,
                evidence,
                living_set,
                requirements[row.id],
                lived[living_set.id],
                names[living_set.material_id],
                printers[living_set.printer_id],
            )
            for living_set in sets
        ]
        candidates[row.id] = _ranked(of_row)
    return candidates


_ORDER = {verdict: place for place, verdict in enumerate(Verdict)}


def _ranked(candidates: list[Candidate]) -> list[Candidate]:
    """The best verdict first, the cheaper first among equals; the cheapest that qualifies is marked."""
    candidates.sort(key=lambda c: (_ORDER[c.verdict], c.price_per_l is None, c.price_per_l or 0, c.material, c.printer))
    # Where nothing is known of the price, nothing is the cheapest.
    if candidates and candidates[0].verdict == Verdict.QUALIFIED and candidates[0].price_per_l is not None:
        candidates[0] = candidates[0].model_copy(update={"cheapest": True})
    return candidates


def _candidate(
    work: UnitOfWork,
    evidence: Known,
    living_set: lives.LivingSet,
    requirements: list[Requirement],
    life: Validity,
    material: str,
    printer: str,
) -> Candidate:
    lines = []
    for requirement in requirements:
        requirable = ASKABLE[requirement.property]
        lines.append(
            judge(
                requirement,
                requirable.name,
                requirable.unit,
                requirable.how,
                requirable.stage,
                offered(work, evidence, living_set, requirement),
            )
        )
    verdict, reasons = overall(
        lines, life.state, [_words(c.name, c.detail) for c in life.causes], living_set.outside_reason
    )
    return Candidate(
        set_id=living_set.id,
        set_code=living_set.code,
        set_version=living_set.version,
        material_id=living_set.material_id,
        material=material,
        printer_id=living_set.printer_id,
        printer=printer,
        layer_height_um=living_set.layer_height_um,
        exposure_s=living_set.exposure_s,
        state=life.state,
        verdict=verdict,
        reasons=reasons,
        price_per_l=evidence.prices.get(living_set.material_id),
        judged=lines,
        evidence_hash=fingerprint(living_set.id, lines, life.state),
    )


def _words(name: str, detail: str | None) -> str:
    return f"{name}. {detail}".strip() if detail else f"{name}."


def fingerprint(set_id: str, lines: list[Judged], state: str) -> str:
    """SHA-256 of all that a signature is put under."""
    content = {"set": set_id, "state": state, "core": __version__, "judged": [j.model_dump(mode="json") for j in lines]}
    return hashlib.sha256(json.dumps(content, sort_keys=True, separators=(",", ":")).encode()).hexdigest()
