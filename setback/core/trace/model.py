"""Which cause a failed print speaks for, and the check that tells the leading causes apart at least cost.

One cause is at work; its probability goes with how often it is met times how likely it makes every sign, fact and answer. Each fact is
weighed against how it usually is, so that what a cause does not speak of leaves it as it was. Signs and facts go together more than a
product of chances allows, so each weight is taken to the power :data:`TEMPER`. *Other* takes what nothing here explains.

Source: the rule of Bayes for causes that exclude each other; a check is worth the entropy it is expected to take away (D. V. Lindley,
Annals of Mathematical Statistics 27, 1956, 986-1005).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..contract import Notice
from ..prints.symptoms import SYMPTOMS
from .contract import (
    AnswerAhead,
    NextCheck,
    RankedCause,
    Reason,
    RemedyTold,
    TraceInput,
    TraceResult,
)
from .knowledge import KNOWLEDGE, OTHER, CauseEntry

TEMPER = 0.95
USUAL_SIGN = 0.03
"""How often a sign is seen where a cause does not speak of it."""
TICKED = 0.5
"""How often a sign that is there is ticked."""
MOVED_BY = 12.0
"""Confirmed causes that weigh as much as what is known of all shops."""
FOR, AGAINST = 1.3, 0.77
"""Weights from which on a reason is told."""
MINUTES_PER_ML, MINUTES_TO_BEGIN = 2.0, 1.0
LEAST_BITS = 0.01
MOST_CHECKS = 6
ON_PART = {
    "details-missing",
    "details-soft",
    "details-grown-shut",
    "brittle",
    "tacky",
    "white-patches",
    "warped",
    "long-in-z",
    "parts-stuck",
}
"""Signs that only a part on the plate can show."""

Array = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class _Ranking:
    keys: list[str]
    probability: Array
    reasons: dict[str, list[Reason]]


def trace(inputs: TraceInput) -> TraceResult:
    """Rank the causes of a failed print, and say which check to make next.

    Raises
    ------
    Problem
        Naming the key of a sign, fact, check or answer that is not known.
    """
    ranking = _ranked(inputs)
    order = sorted(range(len(ranking.keys)), key=lambda at: (-ranking.probability[at], ranking.keys[at]))
    causes = [_told(ranking, at) for at in order]
    return TraceResult(causes=causes, next_checks=_next_checks(inputs, ranking), warnings=_warnings(inputs))


def _ranked(inputs: TraceInput) -> _Ranking:
    keys = [*KNOWLEDGE.causes, OTHER]
    log = np.log(_priors(inputs, keys))
    reasons: dict[str, list[Reason]] = {key: [] for key in keys}
    for at, key in enumerate(keys):
        for reason in _reasons(inputs, KNOWLEDGE.causes.get(key)):
            log[at] += TEMPER * math.log(reason.weight)
            if reason.words:
                reasons[key].append(reason)
    weight = np.exp(log - log.max())
    return _Ranking(keys, weight / weight.sum(), reasons)


def _priors(inputs: TraceInput, keys: list[str]) -> Array:
    """How often each cause is met: what is known of all shops, moved by what this one has confirmed."""
    weights = np.array([KNOWLEDGE.causes[key].prior if key != OTHER else KNOWLEDGE.other.prior for key in keys])
    expected = weights / weights.sum()
    counts = np.array([float(inputs.confirmed.get(key, 0)) for key in keys])
    return np.asarray((MOVED_BY * expected + counts) / (MOVED_BY + counts.sum()), dtype=float)


def _reasons(inputs: TraceInput, cause: CauseEntry | None) -> list[Reason]:
    """Everything that moves a cause, with its weight; what moves without being told has no words."""
    reasons = []
    for key, symptom in SYMPTOMS.items():
        often = _sign(cause, key)
        if key in inputs.symptoms:
            weight = often / USUAL_SIGN
            reasons.append(Reason(key=key, words=symptom.name[0].lower() + symptom.name[1:], weight=weight))
        elif inputs.symptoms:
            weight = (1 - TICKED * often) / (1 - TICKED * USUAL_SIGN)
            reasons.append(Reason(key=key, words="", weight=weight))
    for key, value in _known(inputs.record).items():
        fact = KNOWLEDGE.facts[key]
        if cause is not None and key in cause.record:
            level = fact.level(value)
            reasons.append(
                Reason(key=key, words=fact.words_of(value), weight=cause.record[key][level] / fact.usual[level])
            )
    for key, answer in _known(inputs.answers).items():
        check = KNOWLEDGE.checks[key]
        if cause is not None and key in cause.checks:
            at = list(check.answers).index(answer)
            words = f"{check.name[0].lower()}{check.name[1:]}: {check.answers[answer]}"
            reasons.append(Reason(key=key, words=words, weight=cause.checks[key][at] / check.usual[at]))
    return reasons


def _sign(cause: CauseEntry | None, key: str) -> float:
    return KNOWLEDGE.other.symptom if cause is None else cause.symptoms.get(key, USUAL_SIGN)


def record_weight(cause: str, record: dict[str, float | str]) -> float:
    """How many times likelier a record is under a cause than usually; 1 where the cause does not speak of it."""
    inputs = TraceInput.model_validate({"record": record})
    return math.prod(reason.weight for reason in _reasons(inputs, KNOWLEDGE.causes[cause]))


def leading(
    symptoms: list[str], record: dict[str, float | str], answers: dict[str, str], most: int
) -> list[RankedCause]:
    """The causes that lead for these signs, so many of them, *other* left out."""
    ranking = trace(TraceInput.model_validate({"symptoms": symptoms, "record": record, "answers": answers}))
    return [cause for cause in ranking.causes if cause.key != OTHER][:most]


def _known(values: Any) -> dict[str, Any]:
    return {key: value for key, value in values.model_dump().items() if value is not None}


def _told(ranking: _Ranking, at: int) -> RankedCause:
    key = ranking.keys[at]
    entry = KNOWLEDGE.causes.get(key)
    remedy = entry.remedy if entry else KNOWLEDGE.other.remedy
    reasons = ranking.reasons[key]
    sides = {
        "for": sorted((reason for reason in reasons if reason.weight >= FOR), key=lambda reason: -reason.weight),
        "against": sorted((reason for reason in reasons if reason.weight <= AGAINST), key=lambda reason: reason.weight),
    }
    return RankedCause(
        key=key,
        name=entry.name if entry else KNOWLEDGE.other.name,
        probability=float(ranking.probability[at]),
        remedy=RemedyTold(key=remedy, **KNOWLEDGE.remedies[remedy].model_dump()),
        source=KNOWLEDGE.sources[entry.source if entry else KNOWLEDGE.other.source],
        **sides,
    )


def _next_checks(inputs: TraceInput, ranking: _Ranking) -> list[NextCheck]:
    """Checks that were not made, by the uncertainty they are expected to take away per minute."""
    answered = set(_known(inputs.answers))
    checks = [_ahead(key, ranking) for key in KNOWLEDGE.checks if key not in answered]
    worth = [check for check in checks if check.information_bits >= LEAST_BITS]
    return sorted(worth, key=lambda check: -check.worth)[:MOST_CHECKS]


def _ahead(key: str, ranking: _Ranking) -> NextCheck:
    check = KNOWLEDGE.checks[key]
    table = np.array(
        [KNOWLEDGE.causes[c].checks.get(key, check.usual) if c != OTHER else check.usual for c in ranking.keys]
    )
    of_answer = ranking.probability @ table
    # An answer moves what is known by as much as it will when it is given.
    tempered = ranking.probability[:, None] * (table / np.array(check.usual)) ** TEMPER
    after = tempered / tempered.sum(axis=0)
    bits = _bits(ranking.probability) - float(of_answer @ [_bits(after[:, at]) for at in range(len(of_answer))])
    now = int(ranking.probability.argmax())
    return NextCheck(
        key=key,
        name=check.name,
        how=check.how,
        minutes=check.minutes,
        ml=check.ml,
        information_bits=max(bits, 0.0),
        worth=max(bits, 0.0) / (MINUTES_TO_BEGIN + check.minutes + MINUTES_PER_ML * check.ml),
        tells=[_name(ranking.keys[at]) for at in _told_apart(ranking.probability, table)],
        answers=[
            AnswerAhead(
                key=answer,
                name=words,
                probability=float(of_answer[at]),
                leader=_name(ranking.keys[int(after[:, at].argmax())]),
                leader_probability=float(after[:, at].max()),
                first=float(after[now, at]),
            )
            for at, (answer, words) in enumerate(check.answers.items())
        ],
    )


def _name(key: str) -> str:
    return KNOWLEDGE.causes[key].name if key != OTHER else KNOWLEDGE.other.name


def _told_apart(probability: Array, table: Array) -> tuple[int, int]:
    """The two causes that the answers tell apart best, by how probable both are and how far their answers differ."""
    few = np.argsort(-probability)[:6]
    pairs = [(int(a), int(b)) for n, a in enumerate(few) for b in few[n + 1 :]]
    return max(
        pairs,
        key=lambda pair: probability[pair[0]] * probability[pair[1]] * np.abs(table[pair[0]] - table[pair[1]]).sum(),
    )


def _bits(probability: Array) -> float:
    positive = probability[probability > 0]
    return float(-(positive * np.log2(positive)).sum())


def _warnings(inputs: TraceInput) -> list[Notice]:
    notices = []
    signs = set(inputs.symptoms)
    if not signs:
        notices.append(Notice(code="no-signs", message="No sign is chosen: the ranking rests on the record alone."))
    if not _known(inputs.record):
        message = "Nothing is known of this print but what was seen: a record would tell causes apart that look alike."
        notices.append(Notice(code="no-record", message=message))
    if "nothing-on-plate" in signs and signs & ON_PART:
        names = ", ".join(SYMPTOMS[key].name.lower() for key in SYMPTOMS if key in signs & ON_PART)
        message = f"Nothing on the plate, and yet {names}: these exclude each other on one print. Both count."
        notices.append(Notice(code="exclude-each-other", message=message))
    return notices
