"""Why a print failed: what was seen, the checks that were made, and the cause that was found."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Notice, OneOf, Problem
from ...core.prints.symptoms import SYMPTOMS
from ...core.trace.contract import CauseKey, SymptomKey, TraceInput, TraceResult
from ...core.trace.knowledge import KNOWLEDGE, OTHER
from ...core.trace.model import trace as rank
from ...store import trace as store
from ...store.codes import next_code
from ...store.prints import log
from ...store.rows import insert, update
from ..both_versions import same_version
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .record import RecordFact, facts_of
from .remedies import RemedyLink, links

MOST_LISTED = 1000


class Listing(Contract):
    """How many traces are listed."""

    limit: int = Field(100, ge=1, le=MOST_LISTED)


CheckKey = Annotated[str, OneOf(lambda: KNOWLEDGE.checks)]


class OpenInput(Contract):
    """What a trace is begun with: a failed print, or nothing but what was seen."""

    print_code: str | None = Field(None, max_length=20, description="The print that failed")
    symptoms: list[SymptomKey] | None = Field(
        None, max_length=len(SYMPTOMS), description="What was seen; as the print was reported when not given"
    )


class SymptomsInput(Contract):
    """What was seen, with the version that is edited."""

    version: int
    symptoms: list[SymptomKey] = Field(max_length=len(SYMPTOMS))


class AnswerInput(Contract):
    """A check that was made, and what it said."""

    check: CheckKey
    answer: str = Field(max_length=40)


class CauseInput(Contract):
    """The cause that was found."""

    cause: CauseKey
    note: Note = Field("", description="What it was, where it is none of those here")


class Answered(View):
    """An answer that stands."""

    id: str
    check: str
    name: str = Field(description="The check, in words")
    answer: str
    words: str = Field(description="The answer, in words")
    counts: bool = Field(description="The newest answer of its check counts")
    initials: str | None


class Confirmed(View):
    """How often a cause was found in this shop."""

    key: str
    name: str
    count: int


class FoundCause(View):
    """The cause that was found."""

    key: str
    name: str
    note: str
    confirmed_at: str
    initials: str


class TracedPrint(View):
    """The print that failed."""

    code: str
    printer_id: str
    printer: str
    material: str | None
    set_code: str | None
    printed_at: str | None


class FailureTrace(View):
    """A trace with its ranking as everything stands now."""

    id: str
    code: str
    version: int
    opened_at: str
    print: TracedPrint | None
    symptoms: list[str]
    record: list[RecordFact]
    answers: list[Answered]
    result: TraceResult
    remedies: dict[str, RemedyLink] = Field(description="Where each remedy is started, by its key")
    confirmed: list[Confirmed] = Field(description="Causes found in this shop so far: they weigh in")
    found: FoundCause | None
    notices: list[Notice]


class TraceListed(store.ListedTrace):
    """A trace in a list, with the cause that was found in words."""

    cause: str | None = Field(description="The cause that was found")


def listed(work: UnitOfWork, limit: int) -> list[TraceListed]:
    """Traces, newest first."""
    return [
        TraceListed(**row.model_dump(), cause=_name(row.cause_key) if row.cause_key else None)
        for row in store.listed(work.db, limit)
    ]


def open_trace(work: UnitOfWork, request: OpenInput) -> FailureTrace:
    """Begin to ask why a print failed; of one print there is one trace.

    Raises
    ------
    Conflict
        When the print came out whole.
    """
    with work.write() as answer:
        row = present(log.one_print(work.db, request.print_code), "print") if request.print_code else None
        if row is not None:
            if row.status != "printed" or row.outcome == "whole":
                raise Conflict(f"{row.code} did not fail: there is nothing to trace.")
            begun = store.of_print(work.db, row.id)
            if begun is not None:
                return answer(view(work, begun.id))
        trace_id = work.new_id()
        insert(
            work.db,
            "trace",
            id=trace_id,
            code=next_code(work.db, "Y"),
            print_id=row.id if row else None,
            symptoms=_first_symptoms(work, request, row),
            opened_at=work.now(),
            technician_id=work.technician_id(),
        )
        return answer(view(work, trace_id))


def _first_symptoms(work: UnitOfWork, request: OpenInput, row: log.LoggedPrint | None) -> list[str]:
    if request.symptoms is not None:
        return list(dict.fromkeys(request.symptoms))
    reports = log.reports(work.db, row.id) if row else []
    return reports[0].symptoms if reports else []


def change_symptoms(work: UnitOfWork, trace_id: str, request: SymptomsInput) -> FailureTrace:
    """Choose what was seen anew; the ranking follows."""
    with work.write() as answer:
        row = present(store.trace(work.db, trace_id), "trace")
        same_version(row, request.version, row.code, request)
        symptoms = list(dict.fromkeys(request.symptoms))
        update(work.db, "trace", row.id, symptoms=symptoms, version=row.version + 1)
        return answer(view(work, row.id))


def answer_check(work: UnitOfWork, trace_id: str, request: AnswerInput) -> FailureTrace:
    """Note what a check said; an earlier answer of it stays on record and no longer counts."""
    check = KNOWLEDGE.checks[request.check]
    if request.answer not in check.answers:
        message = f"{check.name} answers: {', '.join(check.answers.values())}."
        raise Problem(message, {"answer": message})
    with work.write() as answer:
        row = present(store.trace(work.db, trace_id), "trace")
        insert(
            work.db,
            "trace_answer",
            id=work.new_id(),
            trace_id=row.id,
            check_key=request.check,
            answer=request.answer,
            answered_at=work.now(),
            technician_id=work.technician_id(),
        )
        return answer(view(work, row.id))


def withdraw_answer(work: UnitOfWork, trace_id: str, answer_id: str) -> FailureTrace:
    """Let an answer no longer count."""
    with work.write() as answer:
        row = present(store.trace(work.db, trace_id), "trace")
        if answer_id not in {answered.id for answered in store.answers(work.db, row.id)}:
            raise Conflict("This answer is withdrawn already.")
        update(work.db, "trace_answer", answer_id, withdrawn_at=work.now())
        return answer(view(work, row.id))


def confirm_cause(work: UnitOfWork, trace_id: str, request: CauseInput) -> FailureTrace:
    """Keep the cause that was found: it moves how often this shop expects it.

    Raises
    ------
    Conflict
        When a cause is kept already.
    Problem
        When it is none of those here and nobody says what it was.
    """
    if request.cause == OTHER and not request.note:
        message = "Say what it was."
        raise Problem(message, {"note": message})
    with work.write() as answer:
        row = present(store.trace(work.db, trace_id), "trace")
        if store.cause(work.db, row.id) is not None:
            raise Conflict(f"A cause of {row.code} is kept already: withdraw it first.")
        insert(
            work.db,
            "trace_cause",
            id=work.new_id(),
            trace_id=row.id,
            cause_key=request.cause,
            note=request.note,
            confirmed_at=work.now(),
            technician_id=work.technician().id,
        )
        return answer(view(work, row.id))


def withdraw_cause(work: UnitOfWork, trace_id: str) -> FailureTrace:
    """Let the cause that was kept no longer count."""
    with work.write() as answer:
        row = present(store.trace(work.db, trace_id), "trace")
        cause = store.cause(work.db, row.id)
        if cause is None:
            raise Conflict(f"No cause of {row.code} is kept.")
        update(work.db, "trace_cause", cause.id, withdrawn_at=work.now())
        return answer(view(work, row.id))


def view(work: UnitOfWork, id_or_code: str) -> FailureTrace:
    """A trace as everything stands now."""
    row = present(store.trace(work.db, id_or_code), "trace")
    printed = log.one_print(work.db, row.print_id) if row.print_id else None
    record = facts_of(work, printed) if printed else []
    answers = _answers(work, row.id)
    counts = store.confirmed(work.db, row.id)
    result = rank(
        TraceInput.model_validate(
            {
                "symptoms": row.symptoms,
                "record": {fact.key: fact.value for fact in record},
                "answers": {answered.check: answered.answer for answered in answers if answered.counts},
                "confirmed": {key: count for key, count in counts.items() if key in KNOWLEDGE.causes or key == OTHER},
            }
        )
    )
    return FailureTrace(
        id=row.id,
        code=row.code,
        version=row.version,
        opened_at=row.opened_at,
        print=TracedPrint.model_validate(printed.model_dump(include=set(TracedPrint.model_fields)))
        if printed
        else None,
        symptoms=row.symptoms,
        record=record,
        answers=answers,
        result=result,
        remedies=links(work, printed),
        confirmed=[Confirmed(key=key, name=_name(key), count=count) for key, count in counts.items()],
        found=_found(work, row.id),
        notices=_answered_twice(answers),
    )


def _answers(work: UnitOfWork, trace_id: str) -> list[Answered]:
    rows = [row for row in store.answers(work.db, trace_id) if row.check_key in KNOWLEDGE.checks]
    newest = {row.check_key: row.id for row in rows}
    return [
        Answered(
            id=row.id,
            check=row.check_key,
            name=KNOWLEDGE.checks[row.check_key].name,
            answer=row.answer,
            words=KNOWLEDGE.checks[row.check_key].answers.get(row.answer, row.answer),
            counts=newest[row.check_key] == row.id,
            initials=row.initials,
        )
        for row in rows
    ]


def _answered_twice(answers: list[Answered]) -> list[Notice]:
    notices = []
    for newest in answers:
        earlier = {other.answer for other in answers if other.check == newest.check and not other.counts}
        if newest.counts and earlier - {newest.answer}:
            message = f"{newest.name} was answered twice differently: the newer answer counts, {newest.words}. Look once more, or withdraw one."
            notices.append(Notice(code="answered-twice", message=message))
    return notices


def _found(work: UnitOfWork, trace_id: str) -> FoundCause | None:
    row = store.cause(work.db, trace_id)
    if row is None:
        return None
    return FoundCause(
        key=row.cause_key,
        name=_name(row.cause_key),
        note=row.note,
        confirmed_at=row.confirmed_at,
        initials=row.initials,
    )


def _name(key: str) -> str:
    return KNOWLEDGE.causes[key].name if key in KNOWLEDGE.causes else KNOWLEDGE.other.name
