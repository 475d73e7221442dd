"""Verdicts: one set against one brief, and all candidates side by side."""

from __future__ import annotations

import hashlib
import json
from typing import Literal

from pydantic import Field

from ... import __version__
from ...core.qualify.properties import ASKABLE
from ...core.qualify.status import Verdict
from ...core.qualify.verdict import Demand, Judged, judge, overall
from ...core.validity import Validity
from ...store import briefs as store
from ...store import shelf
from ...store import validity as lives
from ..bench import Bench, View, present
from ..testing.briefs import BriefView, view
from ..validity import states
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


def standing(bench: Bench, id_or_code: str) -> BriefStanding:
    """Every living set judged against a brief: a fixed number of queries, whatever their number."""
    row = present(store.brief(bench.db, id_or_code), "brief")
    return BriefStanding(brief=view(row), candidates=_judged(bench, [row], None)[row.id])


def lines(bench: Bench) -> list[BriefLine]:
    """All briefs with how the shop stands to each."""
    rows = store.briefs(bench.db, False, "", 200)
    found = _judged(bench, rows, None)
    made = []
    for row in rows:
        held = found[row.id]
        best = next((c for c in held if c.cheapest), None)
        made.append(
            BriefLine(
                id=row.id, code=row.code, name=row.name, use=row.use, version=row.version, asked=len(row.requirements),
                counts={v: n for v in Verdict if (n := sum(c.verdict == v for c in held))},
                best=f"{best.material} on {best.printer}" if best else None,
            )
        )  # fmt: skip
    return made


def one(bench: Bench, brief: str, set_code: str) -> Candidate:
    """One set against the newest version of a brief."""
    row = present(store.brief(bench.db, brief), "brief")
    held = present(lives.living_set(bench.db, set_code), "set")
    return _judged(bench, [row], [held])[row.id][0]


def _judged(bench: Bench, rows: list[store.BriefRow], only: list[lives.LivingSet] | None) -> dict[str, list[Candidate]]:
    if not rows:
        return {}
    sets = lives.all_sets(bench.db, MOST_SETS) if only is None else only
    demands = {row.id: [Demand.model_validate(r) for r in row.requirements] for row in rows}
    held = known(bench, sets, {d.property for asked in demands.values() for d in asked})
    lived = states(bench, sets)
    names = shelf.material_names(bench.db, sorted({s.material_id for s in sets}))
    printers = {p.id: p.name for p in shelf.printers_by_id(bench.db, sorted({s.printer_id for s in sets}))}
    made = {}
    for row in rows:
        found = [
            _candidate(
                bench, held, one, demands[row.id], lived[one.id], names[one.material_id], printers[one.printer_id]
            )
            for one in sets
        ]
        made[row.id] = _ranked(found)
    return made


_ORDER = {verdict: place for place, verdict in enumerate(Verdict)}


def _ranked(found: list[Candidate]) -> list[Candidate]:
    """The best verdict first, the cheaper first among equals; the cheapest that qualifies is marked."""
    found.sort(key=lambda c: (_ORDER[c.verdict], c.price_per_l is None, c.price_per_l or 0, c.material, c.printer))
    # Where nothing is known of the price, nothing is the cheapest.
    if found and found[0].verdict == Verdict.QUALIFIED and found[0].price_per_l is not None:
        found[0] = found[0].model_copy(update={"cheapest": True})
    return found


def _candidate(
    bench: Bench, held: Known, one: lives.LivingSet, demands: list[Demand], life: Validity, material: str, printer: str
) -> Candidate:
    judged = []
    for demand in demands:
        asked = ASKABLE[demand.property]
        judged.append(judge(demand, asked.name, asked.unit, asked.how, asked.stage, offered(bench, held, one, demand)))
    verdict, reasons = overall(judged, life.state, [_words(c.name, c.detail) for c in life.causes], one.outside_reason)
    return Candidate(
        set_id=one.id, set_code=one.code, set_version=one.version, material_id=one.material_id, material=material,
        printer_id=one.printer_id, printer=printer, layer_height_um=one.layer_height_um, exposure_s=one.exposure_s,
        state=life.state, verdict=verdict, reasons=reasons, price_per_l=held.prices.get(one.material_id), judged=judged,
        evidence_hash=fingerprint(one.id, judged, life.state),
    )  # fmt: skip


def _words(name: str, detail: str | None) -> str:
    return f"{name}. {detail}".strip() if detail else f"{name}."


def fingerprint(set_id: str, judged: list[Judged], state: str) -> str:
    """SHA-256 of all that a signature is put under."""
    held = {"set": set_id, "state": state, "core": __version__, "judged": [j.model_dump(mode="json") for j in judged]}
    return hashlib.sha256(json.dumps(held, sort_keys=True, separators=(",", ":")).encode()).hexdigest()
