"""Signing a verdict: kept as it was judged, chained to the one before, and lapsed by later events."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ... import __version__
from ...core.contract import Contract, Problem
from ...core.qualify.status import Verdict
from ...store import briefs as brief_store
from ...store import parameter_sets
from ...store import qualifications as store
from ...store import validity as lives
from ...store.codes import next_code
from ..bench import Bench, Conflict, View, present
from ..cards import SetCard, card
from ..testing.briefs import BriefView, view
from ..validity import states
from . import verdicts
from .verdicts import Candidate


class Seen(Contract):
    """A line as the signer saw it, so that what changed meanwhile can be named."""

    property: str = Field(max_length=80)
    status: str = Field(max_length=20)
    source: str | None = Field(None, max_length=40)


class SignInput(Contract):
    brief_id: str = Field(max_length=40)
    set_code: str = Field(max_length=20)
    evidence_hash: str = Field(max_length=64, description="Of the verdict that was looked at")
    seen: list[Seen] = Field([], max_length=60)
    initials: Annotated[str, StringConstraints(strip_whitespace=True, to_upper=True, max_length=4)] = Field(
        description="Typed by the signer, as a signature"
    )
    scope: Annotated[str, StringConstraints(strip_whitespace=True, max_length=600)] = Field(
        "", description="What it is signed for, and what not"
    )


class SignedView(View):
    """A signed qualification with how it stands now."""

    id: str
    code: str
    brief: BriefView
    candidate: Candidate = Field(description="As it was judged when it was signed")
    card: SetCard = Field(description="Of the set, as issued")
    verdict: Verdict = Field(description="As signed")
    state: Verdict = Field(description="Now: later events may have lapsed it")
    why: list[str] = Field(description="Why it stands so now")
    scope: str
    initials: str
    signed_at: str
    core_version: str
    evidence_hash: str
    hash: str


class SignedLineView(View):
    id: str
    code: str
    brief_id: str
    brief_code: str
    brief: str
    brief_version: int
    set_code: str
    material: str
    printer: str
    verdict: Verdict
    state: Verdict
    why: list[str]
    initials: str
    signed_at: str


def sign(bench: Bench, given: SignInput) -> SignedView:
    """Put a signature under a verdict.

    Raises
    ------
    Problem
        When the initials typed are not those of who works.
    Conflict
        When the evidence changed since it was looked at; what changed is named.
    """
    with bench.write() as answer:
        who = bench.technician()
        if given.initials != who.initials:
            said = f"Type your own initials, {who.initials}: signing is yours to confirm."
            raise Problem(said, {"initials": said})
        judged = verdicts.one(bench, given.brief_id, given.set_code)
        if judged.evidence_hash != given.evidence_hash:
            said = f"The evidence changed since you looked: {_changes(judged, given.seen)}. Look again before you sign."
            raise Conflict(said, {"evidence_hash": said})
        if judged.verdict == Verdict.LAPSED:
            raise Conflict(f"{judged.set_code} has lapsed: nothing can be signed on it. {judged.reasons[0]}")
        brief = present(brief_store.brief(bench.db, given.brief_id), "brief")
        chain, previous = store.last_link(bench.db)
        bare = store.QualificationRow(
            id=bench.new_id(), code=next_code(bench.db, "N"), chain=chain + 1, brief_version_id=brief.version_id,
            parameter_set_id=judged.set_id, verdict=judged.verdict, scope=given.scope, input=_input(bench, brief, judged),
            result=judged.model_dump(mode="json"), evidence_hash=judged.evidence_hash, technician_id=who.id,
            signed_at=bench.now(), core_version=__version__, previous_hash=previous, hash="",
        )  # fmt: skip
        row = store.QualificationRow(**{**vars(bare), "hash": store.hash_of(bare)})
        store.append(bench.db, row)
        return answer(signed(bench, row.id))


def signed(bench: Bench, id_or_code: str) -> SignedView:
    """A signed qualification, as it was signed and as it stands now."""
    row = present(store.qualification(bench.db, id_or_code), "qualification")
    line = present(store.signed_one(bench.db, row.id), "qualification")
    brief = brief_store.versions(bench.db, [row.brief_version_id])[row.brief_version_id]
    state, why = _now(bench, [line])[row.id]
    return SignedView(
        id=row.id, code=row.code, brief=view(brief), candidate=Candidate.model_validate(row.result),
        card=card(bench, row.parameter_set_id), verdict=line.verdict, state=state, why=why, scope=row.scope,
        initials=line.initials, signed_at=row.signed_at, core_version=row.core_version, evidence_hash=row.evidence_hash,
        hash=row.hash,
    )  # fmt: skip


def all_signed(bench: Bench, before: str, limit: int) -> list[SignedLineView]:
    return _lines(bench, store.signed(bench.db, before, limit))


def of_set(bench: Bench, id_or_code: str) -> list[SignedLineView]:
    """What was signed on a set, newest first."""
    held = present(parameter_sets.parameter_set(bench.db, id_or_code), "set")
    return _lines(bench, store.of_sets(bench.db, [held.id]))


def _lines(bench: Bench, lines: list[store.SignedLine]) -> list[SignedLineView]:
    now = _now(bench, lines)
    return [
        SignedLineView(
            **{k: getattr(line, k) for k in SignedLineView.model_fields if k not in ("state", "why")},
            state=now[line.id][0], why=now[line.id][1],
        )
        for line in lines
    ]  # fmt: skip


def _now(bench: Bench, lines: list[store.SignedLine]) -> dict[str, tuple[Verdict, list[str]]]:
    """How signed verdicts stand now: their sets' lives and newer versions, looked up once for all."""
    sets = lives.by_ids(bench.db, sorted({line.parameter_set_id for line in lines}))
    lived = states(bench, list(sets.values()))
    made: dict[str, tuple[Verdict, list[str]]] = {}
    for line in lines:
        state = Verdict(line.verdict)
        why: list[str] = []
        held = sets.get(line.parameter_set_id)
        life = lived.get(line.parameter_set_id)
        if held is None:
            state, why = Verdict.LAPSED, [f"{line.set_code} was followed by a newer version."]
        elif life is not None and life.state == "lapsed":
            state, why = Verdict.LAPSED, [f"{c.name}. {c.detail or ''}".strip() for c in life.causes]
        elif life is not None and life.state == "due" and state == Verdict.QUALIFIED:
            state, why = Verdict.CONDITIONAL, [f"{line.set_code} is due for a check."]
        if line.newest_version > line.brief_version:
            why = [*why, f"The brief has a version {line.newest_version} by now."]
        made[line.id] = (state, why)
    return made


def _input(bench: Bench, brief: brief_store.BriefRow, judged: Candidate) -> dict[str, Any]:
    """What was judged: the brief's lines, the set with its hash, and the evidence that was used."""
    held = present(parameter_sets.parameter_set(bench.db, judged.set_id), "set")
    return {
        "brief": brief.code, "brief_version": brief.version, "requirements": brief.requirements, "set": held.code,
        "set_hash": held.hash, "evidence": sorted({j.used.source for j in judged.judged if j.used}),
    }  # fmt: skip


def _changes(judged: Candidate, seen: list[Seen]) -> str:
    before = {(s.property, i): s for i, s in enumerate(seen)}
    told = []
    for i, now in enumerate(judged.judged):
        was = before.get((now.demand.property, i))
        source = now.used.source if now.used else None
        if was is None or (was.status, was.source) != (now.status, source):
            old = f"was {was.status}, now {now.status}" if was else "is new"
            told.append(f"{now.name} {old}" + (f" by {source}" if source and was and source != was.source else ""))
    return "; ".join(told) or "new readings under the same verdicts"
