"""Signing a verdict: kept as it was judged, chained to the one before, and lapsed by later events."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ... import __version__
from ...core.contract import Contract, Problem
from ...core.qualify.status import Verdict
from ...store.codes import next_code
from ...store.qualify import briefs as brief_store
from ...store.qualify import qualifications as store
from ...store.rows import count_of
from ...store.sets import parameter_sets
from ...store.sets import validity as lives
from ..people.sign_ins import use_confirmation
from ..sets.cards import SetCard, card
from ..sets.validity import states
from ..testing.briefs import BriefView, view
from ..unit_of_work import Conflict, UnitOfWork, View, present
from . import verdicts
from .verdicts import Candidate


class Seen(Contract):
    """A line as the signer saw it, so that what changed meanwhile can be named."""

    property: str = Field(max_length=80)
    status: str = Field(max_length=20)
    source: str | None = Field(None, max_length=40)


class SignInput(Contract):
    """What is signed: brief, set, scope, initials, and the lines that were seen."""

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
    """A signed record in the list, and how it stands now."""

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


def sign(work: UnitOfWork, request: SignInput) -> SignedView:
    """Put a signature under a verdict.

    Raises
    ------
    Problem
        When the initials typed are not those of who works, or where people sign in and the password was not given again.
    Conflict
        When the evidence changed since it was looked at; what changed is named.
    """
    with work.write() as answer:
        technician = work.technician()
        if request.initials != technician.initials:
            message = f"Type your own initials, {technician.initials}: signing is yours to confirm."
            raise Problem(message, {"initials": message})
        use_confirmation(work)
        candidate = verdicts.one(work, request.brief_id, request.set_code)
        if candidate.evidence_hash != request.evidence_hash:
            message = f"The evidence changed since you looked: {_changes(candidate, request.seen)}. Look again before you sign."
            raise Conflict(message, {"evidence_hash": message})
        if candidate.verdict == Verdict.LAPSED:
            raise Conflict(f"{candidate.set_code} has lapsed: nothing can be signed on it. {candidate.reasons[0]}")
        brief = present(brief_store.brief(work.db, request.brief_id), "brief")
        chain, previous = store.last_link(work.db)
        bare = store.QualificationRow(
            id=work.new_id(),
            code=next_code(work.db, "N"),
            chain=chain + 1,
            brief_version_id=brief.version_id,
            parameter_set_id=candidate.set_id,
            verdict=candidate.verdict,
            scope=request.scope,
            input=_input(work, brief, candidate),
            result=candidate.model_dump(mode="json"),
            evidence_hash=candidate.evidence_hash,
            technician_id=technician.id,
            signed_at=work.now(),
            core_version=__version__,
            previous_hash=previous,
            hash="",
        )
        row = store.QualificationRow(**{**vars(bare), "hash": store.hash_of(bare)})
        store.append(work.db, row)
        return answer(signed(work, row.id))


def signed(work: UnitOfWork, id_or_code: str) -> SignedView:
    """A signed qualification, as it was signed and as it stands now."""
    row = present(store.qualification(work.db, id_or_code), "qualification")
    line = present(store.signed_one(work.db, row.id), "qualification")
    brief = brief_store.versions(work.db, [row.brief_version_id])[row.brief_version_id]
    state, reasons = _now(work, [line])[row.id]
    return SignedView(
        id=row.id,
        code=row.code,
        brief=view(brief),
        candidate=Candidate.model_validate(row.result),
        card=card(work, row.parameter_set_id),
        verdict=line.verdict,
        state=state,
        why=reasons,
        scope=row.scope,
        initials=line.initials,
        signed_at=row.signed_at,
        core_version=row.core_version,
        evidence_hash=row.evidence_hash,
        hash=row.hash,
    )


def how_many(work: UnitOfWork) -> int:
    """All signed records of the lab."""
    return count_of(work.db, "qualification")


def all_signed(work: UnitOfWork, before: str, limit: int) -> list[SignedLineView]:
    """Signed records before a code, newest first."""
    return _lines(work, store.signed(work.db, before, limit))


def of_set(work: UnitOfWork, id_or_code: str) -> list[SignedLineView]:
    """What was signed on a set, newest first."""
    set_row = present(parameter_sets.parameter_set(work.db, id_or_code), "set")
    return _lines(work, store.of_sets(work.db, [set_row.id]))


def _lines(work: UnitOfWork, lines: list[store.SignedLine]) -> list[SignedLineView]:
    now = _now(work, lines)
    return [
        SignedLineView(
            **{k: getattr(line, k) for k in SignedLineView.model_fields if k not in ("state", "why")},
            state=now[line.id][0],
            why=now[line.id][1],
        )
        for line in lines
    ]


def _now(work: UnitOfWork, lines: list[store.SignedLine]) -> dict[str, tuple[Verdict, list[str]]]:
    """How signed verdicts stand now: their sets' lives and newer versions, looked up once for all."""
    sets = lives.by_ids(work.db, sorted({line.parameter_set_id for line in lines}))
    lived = states(work, list(sets.values()))
    states_now: dict[str, tuple[Verdict, list[str]]] = {}
    for line in lines:
        state = Verdict(line.verdict)
        reasons: list[str] = []
        set_row = sets.get(line.parameter_set_id)
        life = lived.get(line.parameter_set_id)
        if set_row is None:
            state, reasons = Verdict.LAPSED, [f"{line.set_code} was followed by a newer version."]
        elif life is not None and life.state == "lapsed":
            state, reasons = Verdict.LAPSED, [f"{c.name}. {c.detail or ''}".strip() for c in life.causes]
        elif life is not None and life.state == "due" and state == Verdict.QUALIFIED:
            state, reasons = Verdict.CONDITIONAL, [f"{line.set_code} is due for a check."]
        if line.newest_version > line.brief_version:
            reasons = [*reasons, f"The brief has a version {line.newest_version} by now."]
        states_now[line.id] = (state, reasons)
    return states_now


def _input(work: UnitOfWork, brief: brief_store.BriefRow, candidate: Candidate) -> dict[str, Any]:
    """What was judged: the brief's lines, the set with its hash, and the evidence that was used."""
    set_row = present(parameter_sets.parameter_set(work.db, candidate.set_id), "set")
    return {
        "brief": brief.code,
        "brief_version": brief.version,
        "requirements": brief.requirements,
        "set": set_row.code,
        "set_hash": set_row.hash,
        "evidence": sorted({j.used.source for j in candidate.judged if j.used}),
    }


def _changes(candidate: Candidate, seen_lines: list[Seen]) -> str:
    before = {(s.property, i): s for i, s in enumerate(seen_lines)}
    changes = []
    for i, now in enumerate(candidate.judged):
        was = before.get((now.demand.property, i))
        source = now.used.source if now.used else None
        if was is None or (was.status, was.source) != (now.status, source):
            old = f"was {was.status}, now {now.status}" if was else "is new"
            changes.append(f"{now.name} {old}" + (f" by {source}" if source and was and source != was.source else ""))
    return "; ".join(changes) or "new readings under the same verdicts"
