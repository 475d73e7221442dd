"""A plan made in this process and the same every time: the server's own way starts another process and looks for seconds."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from setback.core.plan.contract import PlanDayInput
from setback.services.plan import planning

EFFORT = 0.15
"""The solver's own measure: a second or less."""


def solved_here(patch: pytest.MonkeyPatch, effort: float = EFFORT) -> None:
    """Let plans be made here from now on."""

    def run(function: Callable[..., dict[str, Any]], inputs: str, best_so_far: str, **_: Any) -> dict[str, Any]:
        plan_input = PlanDayInput.model_validate_json(inputs)
        return function(plan_input.model_copy(update={"deterministic": effort}).model_dump_json(), best_so_far)

    patch.setattr(planning, "in_a_child", run)
