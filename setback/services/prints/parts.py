"""Parts of a print: as planned, and as they were counted when it came out."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from ...core.contract import Contract, OneOf, Problem
from ...core.prints.symptoms import SYMPTOMS, failed_as
from ...store.prints import log
from ...store.rows import insert
from ...store.terms import Outcome, PartOutcome
from ..unit_of_work import UnitOfWork

SymptomKey = Annotated[str, OneOf(lambda: SYMPTOMS)]


class PlannedPart(Contract):
    """Parts of one kind on the plate, and where they stand."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    place: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = ""
    printed: int = Field(1, ge=1, le=10_000, description="How many of them")
    x_mm: float | None = Field(None, ge=0, le=10_000, description="Where on the plate, from its left")
    y_mm: float | None = Field(None, ge=0, le=10_000, description="Where on the plate, from its front")


class CountedPart(PlannedPart):
    """Parts of one kind, and how many came out how."""

    outcome: PartOutcome = Field("whole", description="Of all of them, where nobody counts")
    whole: int | None = Field(None, ge=0, le=10_000, description="How many are whole; by the outcome when not given")
    under: int = Field(0, ge=0, le=10_000, description="How many had too little light")
    over: int = Field(0, ge=0, le=10_000, description="How many had too much light")


def counted(parts: Sequence[CountedPart], symptoms: list[str]) -> list[CountedPart]:
    """Parts with all their counts: failed ones that nobody sorted are sorted by what was seen.

    Raises
    ------
    Problem
        At a part of which more came out whole, or failed, than were printed.
    """
    side = failed_as(symptoms)
    done, problems = [], {}
    for number, part in enumerate(parts):
        whole = part.whole if part.whole is not None else (part.printed if part.outcome == "whole" else 0)
        failed = part.printed - whole
        if failed < 0:
            problems[f"parts.{number}.whole"] = f"{whole} whole of {part.printed}: more than were printed."
        elif part.under + part.over > failed:
            problems[f"parts.{number}.under"] = f"Only {failed} of {part.printed} failed."
        under, over = part.under, part.over
        if failed > 0 and not under and not over:
            under, over = (failed if side == "under" else 0), (failed if side == "over" else 0)
        done.append(
            part.model_copy(update={"whole": whole, "under": under, "over": over, "outcome": _outcome_of(part, whole)})
        )
    if problems:
        raise Problem(next(iter(problems.values())), problems)
    return done


def _outcome_of(part: CountedPart, whole: int) -> PartOutcome:
    if part.whole is None:
        return part.outcome
    return "whole" if whole == part.printed else "in part" if whole else "missing"


def outcome_of(parts: Sequence[CountedPart]) -> Outcome:
    """How a print came out, by its counted parts."""
    if all(part.outcome == "whole" for part in parts):
        return "whole"
    return "failed" if all(part.outcome == "missing" for part in parts) else "missing parts"


def keep_parts(work: UnitOfWork, print_id: str, report_id: str | None, parts: Sequence[PlannedPart]) -> None:
    """Keep the parts of a print, of a report or as planned, inside whoever's transaction."""
    for part in parts:
        insert(work.db, "print_part", id=work.new_id(), print_id=print_id, report_id=report_id, **_columns(part))


def _columns(part: PlannedPart) -> dict[str, Any]:
    planned = {"outcome": "whole"} if not isinstance(part, CountedPart) else {}
    return {**part.model_dump(), **planned}


def as_counted(part: log.Part) -> CountedPart:
    """A part that is kept, to be counted anew."""
    return CountedPart.model_validate(part.model_dump(include=set(CountedPart.model_fields)))
