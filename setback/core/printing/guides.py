"""Steps for what goes wrong when it is done in a hurry: a change of resin, a leak or a spill.

To add one, write an entry in ``guides.json``; its steps are done in order, and those that change a record say which.
"""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Literal

from pydantic import Field, TypeAdapter, model_validator

from ..contract import Contract

Records = Literal["vat-emptied", "film-replaced"]


class GuideStep(Contract):
    """One step, with its caution, its waiting time, and the record that follows it."""

    key: str = Field(description="Stable name of the step")
    words: str = Field(description="What is done")
    caution: str | None = Field(None, description="What can hurt, at the step where it can")
    minutes: float | None = Field(None, gt=0, le=600, description="How long it takes by itself, for a timer")
    records: Records | None = Field(None, description="The record that follows the step")
    leads: Literal["vat"] | None = Field(None, description="The page on which it is noted")


class Guide(Contract):
    """Steps in their order."""

    name: str
    purpose: str = Field(description="What it comes to")
    steps: list[GuideStep] = Field(min_length=2)

    @model_validator(mode="after")
    def _names_are_its_own(self) -> Guide:
        keys = [step.key for step in self.steps]
        if len(set(keys)) < len(keys):
            raise ValueError("steps have names of their own")
        return self


GUIDES: dict[str, Guide] = TypeAdapter(dict[str, Guide]).validate_python(
    json.loads((files("setback.core.printing") / "guides.json").read_text(encoding="utf-8"))
)
