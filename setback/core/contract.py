"""What every calculator's input and output have in common."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, core_schema

# Nothing here is set or measured below these; smaller numbers are slips, and overflow the arithmetic.
SHORTEST_S, LONGEST_S = 0.0001, 100_000
"""Exposures beyond these are slips, s."""
Seconds = Annotated[float, Field(ge=SHORTEST_S, le=LONGEST_S)]
Millimetres = Annotated[float, Field(ge=0.0001, le=10_000)]
Probability = Annotated[float, Field(gt=0, lt=1)]
Interval = tuple[float, float]


@dataclass(frozen=True)
class OneOf:
    """Text that is a key of a registry: ``Annotated[str, OneOf(lambda: FORMULAS)]``. An entry more is a key more, and nothing else changes."""

    keys: Callable[[], Iterable[str]]

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self._check, handler(source))

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {**handler(schema), "enum": list(self.keys())}

    def _check(self, key: str) -> str:
        if key not in self.keys():
            raise ValueError(f"give one of {', '.join(self.keys())}")
        return key


class Contract(BaseModel):
    """Base of all inputs and outputs: unknown keys, NaN and infinity are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Notice(Contract):
    """Something a person must know about a result: the numbers lean on too little, or disagree."""

    code: str = Field(description="Short stable name of the warning")
    message: str = Field(description="What it means and what to do")


class Problem(ValueError):
    """Input that cannot be computed on.

    Parameters
    ----------
    message : str
        What is wrong and how to put it right, for a person.
    fields : dict, optional
        Message per input field, keyed by dotted path such as ``coupons.2.exposure_s``.
    suggest : dict, optional
        The value that was likely meant, by the same paths.
    """

    def __init__(
        self, message: str, fields: dict[str, str] | None = None, suggest: dict[str, float] | None = None
    ) -> None:
        # All of it, so that it can be sent from one process to another.
        super().__init__(message, fields, suggest)
        self.message = message
        self.fields = fields or {}
        self.suggest = suggest or {}

    def __str__(self) -> str:
        return self.message
