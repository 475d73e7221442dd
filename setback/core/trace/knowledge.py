"""What the trace knows: signs, facts of the record, causes, checks and remedies, all in one file with its sources.

To add a cause, write one entry under ``causes``: how often it is met, how often it shows each sign, and what it makes of the facts and
checks that tell it from others. Everything it does not speak of is as usual. Nothing else knows of it.
"""

from __future__ import annotations

import json
from importlib.resources import files

from pydantic import Field, model_validator

from ..contract import Contract
from ..prints.symptoms import SYMPTOMS

OTHER = "other"


class Fact(Contract):
    """Something the record may say of a print, in levels from low to high or by name."""

    name: str
    unit: str = ""
    levels: list[str] = Field(min_length=2)
    bounds: list[float] | None = Field(None, description="Between the levels of a number, rising")
    usual: list[float] = Field(description="Share of prints at each level, whatever failed")
    words: list[str] = Field(description="What each level says as a reason; {value} is the number")

    def level(self, value: float | str) -> int:
        """The level of a value."""
        if self.bounds is None:
            return self.levels.index(str(value))
        return sum(float(value) >= bound for bound in self.bounds)

    def words_of(self, value: float | str) -> str:
        """A value as a reason, in words."""
        text = f"{value:.3g}" if isinstance(value, float | int) else str(value)
        return self.words[self.level(value)].format(value=text.replace("-", "−"))


class Check(Contract):
    """Something that can be looked at or tried, its answers, and what it costs."""

    name: str
    how: str
    minutes: float = Field(gt=0)
    ml: float = Field(ge=0)
    answers: dict[str, str] = Field(min_length=2, description="Each answer in words")
    usual: list[float] = Field(description="Chance of each answer, whatever failed")


class Remedy(Contract):
    """What puts a cause right."""

    name: str
    how: str


class CauseEntry(Contract):
    """A cause: how often it is met, and what it does to signs, facts and checks."""

    name: str
    prior: float = Field(gt=0, description="How often it is met, against the others")
    source: str
    remedy: str
    symptoms: dict[str, float] = Field(min_length=1, description="How often it shows each sign")
    record: dict[str, list[float]] = Field(description="Share of its prints at each level of a fact")
    checks: dict[str, list[float]] = Field(description="Chance of each answer of a check")


class OtherCause(Contract):
    """What nothing here explains: it takes every sign a little, and the record as usual."""

    name: str
    prior: float = Field(gt=0)
    symptom: float = Field(gt=0, lt=1)
    source: str
    remedy: str


class Knowledge(Contract):
    """The whole file; every share adds up and every name is known, or it is refused when it is read."""

    sources: dict[str, str]
    facts: dict[str, Fact]
    checks: dict[str, Check]
    remedies: dict[str, Remedy]
    other: OtherCause
    causes: dict[str, CauseEntry]

    @model_validator(mode="after")
    def _fits_together(self) -> Knowledge:
        for key, fact in self.facts.items():
            _adds_up(f"facts.{key}", fact.usual, len(fact.levels))
            _is(len(fact.words) == len(fact.levels), f"facts.{key}: words for every level")
            _is(
                fact.bounds is None or len(fact.bounds) == len(fact.levels) - 1,
                f"facts.{key}: one bound between levels",
            )
        for key, check in self.checks.items():
            _adds_up(f"checks.{key}", check.usual, len(check.answers))
        for key, cause in self.causes.items():
            _is(
                cause.source in self.sources and cause.remedy in self.remedies,
                f"causes.{key}: source and remedy are known",
            )
            _is(set(cause.symptoms) <= set(SYMPTOMS), f"causes.{key}: every sign is known")
            for name, shares in cause.record.items():
                _adds_up(f"causes.{key}.{name}", shares, len(self.facts[name].levels))
            for name, chances in cause.checks.items():
                _adds_up(f"causes.{key}.{name}", chances, len(self.checks[name].answers))
        return self


def _adds_up(where: str, shares: list[float], count: int) -> None:
    _is(len(shares) == count, f"{where}: {count} shares")
    _is(abs(sum(shares) - 1) < 1e-6 and min(shares) > 0, f"{where}: shares above 0 that add up to 1")


def _is(holds: bool, message: str) -> None:
    if not holds:
        raise ValueError(message)


KNOWLEDGE = Knowledge.model_validate(
    json.loads((files("setback.core.trace") / "knowledge.json").read_text(encoding="utf-8"))
)
