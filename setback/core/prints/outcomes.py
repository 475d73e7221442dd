"""How parts of real prints came out, and what is told of it: the contract of :func:`~setback.core.prints.success.print_success`."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Interval, Millimetres, Notice, Probability, Seconds

Side = Literal["under", "over"]
FailedAs = Literal["under", "over", "other"]


class FailedParts(Contract):
    """Failed parts of one print by how they failed."""

    under: Annotated[int, Field(ge=0, le=100_000)] = 0
    over: Annotated[int, Field(ge=0, le=100_000)] = 0
    other: Annotated[int, Field(ge=0, le=100_000)] = 0


class PrintOutcome(Contract):
    """Parts of one kind in one print, its conditions, and how they came out."""

    exposure_s: Seconds
    temp_c: float | None = Field(None, ge=-20, le=80, description="Of the resin at the start, °C")
    rest_s: float | None = Field(None, ge=0, le=600, description="Before exposure, s")
    tip_mm: Millimetres | None = Field(None, description="Support tip")
    place: str | None = Field(None, max_length=40, description="Where on the plate, in words")
    parts: int = Field(ge=1, le=100_000)
    whole: int = Field(ge=0, le=100_000)
    failed_as: FailedAs | None = Field(None, description="How those that are not whole failed, when all failed alike")
    failed: FailedParts | None = Field(None, description="Or how many failed in which way")
    print: str | None = Field(None, max_length=40, description="Rows of one print share it; else each is a print")


class PrintSuccessInput(Contract):
    """Outcomes of prints of one material on one printer, and the share of whole parts that is wanted."""

    prints: list[PrintOutcome] = Field(min_length=1, max_length=20_000)
    target: Probability = Field(0.95, description="Share of parts that should come out whole")
    now_s: Seconds | None = Field(None, description="Exposure in use; the newest print's when not given")


class SeenAt(Contract):
    """All prints at one exposure."""

    exposure_s: float
    prints: int
    parts: int
    whole: int
    under: int
    over: int
    other: int


class SuccessOverExposure(Contract):
    """Share of whole parts over exposure at the usual values of the other factors, with 95 % limits."""

    exposure_s: list[float]
    whole: list[float]
    low: list[float]
    high: list[float]
    not_under: list[float] | None = Field(description="Share without too little light; null where none had")
    not_over: list[float] | None = Field(description="Share without too much light; null where none had")


class SuccessEnd(Contract):
    """An exposure at which the wanted share of parts comes out whole."""

    exposure_s: float
    ci_s: tuple[float | None, float | None] = Field(
        description="95 % interval; null where an end lies outside what was printed"
    )


class FactorEffect(Contract):
    """What one factor does to the odds that a part does not fail in one way."""

    factor: str
    side: Side
    per: str = Field(description="The step it is told for; for a place, the place it is compared with")
    odds_ratio: float
    ci: Interval
    shown: bool = Field(description="Whether the penalised likelihood tells it from no effect")


class Together(Contract):
    """Factors that moved together, or one that never moved, so that nothing can be said of it."""

    factors: list[str]
    r: float | None = Field(description="Their correlation over prints; null for a factor of one value only")


class Advice(Contract):
    """What another exposure is expected to do."""

    from_s: float
    from_share: float
    to_s: float
    share: float
    ci: Interval


class PrintSuccessResult(Contract):
    """Success against exposure, the effects of the other factors, and what cannot be told."""

    seen: list[SeenAt]
    share: float = Field(description="Of parts that came out whole, those that failed otherwise left out")
    curve: SuccessOverExposure | None
    exposure_for: SuccessEnd | None = Field(description="The least exposure for the wanted share")
    upper: SuccessEnd | None = Field(description="The most exposure for the wanted share")
    span_s: Interval | None = Field(
        None, description="Exposures from which to which the wanted share is expected, inside what was printed"
    )
    advice: Advice | None
    effects: list[FactorEffect]
    confounded: list[Together]
    warnings: list[Notice]
