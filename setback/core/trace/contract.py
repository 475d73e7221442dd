"""What the trace takes and gives; its keys are those of the knowledge file."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, create_model

from ..contract import Contract, Notice, OneOf, Probability
from ..prints.symptoms import SYMPTOMS
from .knowledge import KNOWLEDGE, OTHER, Fact

SymptomKey = Annotated[str, OneOf(lambda: SYMPTOMS)]
CauseKey = Annotated[str, OneOf(lambda: [*KNOWLEDGE.causes, OTHER])]


def _fact_type(fact: Fact) -> Any:
    return float if fact.bounds is not None else Literal[tuple(fact.levels)]


_FACTS: dict[str, Any] = {
    key: (_fact_type(fact) | None, Field(None, description=f"{fact.name}{f', {fact.unit}' if fact.unit else ''}"))
    for key, fact in KNOWLEDGE.facts.items()
}
_CHECKS: dict[str, Any] = {
    key: (Literal[tuple(check.answers)] | None, Field(None, description=check.name))
    for key, check in KNOWLEDGE.checks.items()
}
Record = create_model(
    "Record", __base__=Contract, __doc__="What the record says of a print; what is not known is left out.", **_FACTS
)
Answers = create_model("Answers", __base__=Contract, __doc__="Answers of checks that were made.", **_CHECKS)


class TraceInput(Contract):
    """Signs, what the record says, answers of checks, and this shop's confirmed causes."""

    symptoms: list[SymptomKey] = Field(default_factory=list, max_length=len(SYMPTOMS))
    record: Record = Field(default_factory=Record)
    answers: Answers = Field(default_factory=Answers)
    confirmed: dict[CauseKey, Annotated[int, Field(ge=0, le=100_000)]] = Field(
        default_factory=dict,
        description="How often each cause was confirmed in this shop: it moves what is met how often",
    )


class Reason(Contract):
    """A sign, a fact or an answer, and how much it speaks for a cause."""

    key: str
    words: str
    weight: float = Field(description="How many times likelier it is under this cause than usually")


class RemedyTold(Contract):
    """What puts a cause right."""

    key: str
    name: str
    how: str


class RankedCause(Contract):
    """A cause with its probability and the reasons for and against it."""

    # "for" is a word of Python's own.
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, serialize_by_alias=True)

    key: str
    name: str
    probability: Probability
    for_: list[Reason] = Field(alias="for", description="What speaks for it, the strongest first")
    against: list[Reason] = Field(description="What speaks against it, the strongest first")
    remedy: RemedyTold
    source: str = Field(description="Where what is known of it comes from")


class AnswerAhead(Contract):
    """An answer a check may have, and what the leaders would come to."""

    key: str
    name: str
    probability: Probability
    leader: str = Field(description="The cause that would lead")
    leader_probability: Probability
    first: Probability = Field(description="What the cause that leads now would come to")


class NextCheck(Contract):
    """A check that was not made yet, and what it is worth."""

    key: str
    name: str
    how: str
    minutes: float
    ml: float
    information_bits: float = Field(description="Uncertainty it is expected to take away")
    worth: float = Field(description="Bits per minute, millilitres counted as two minutes each")
    tells: list[str] = Field(description="The two causes it tells apart best, by name")
    answers: list[AnswerAhead]


class TraceResult(Contract):
    """Causes ranked, and the checks worth making, the best first."""

    causes: list[RankedCause]
    next_checks: list[NextCheck]
    warnings: list[Notice]
