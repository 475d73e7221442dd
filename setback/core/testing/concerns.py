"""What makes a comparison unfair: sets that are borrowed, lapsed or missing, and cures that differ."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..contract import Contract


@dataclass(frozen=True)
class Standing:
    """How one group of a test stands beside the others."""

    name: str
    material_id: str
    printed: bool
    own_set: bool = True
    set_code: str | None = None
    set_state: str | None = None
    own_route: bool = True
    cure_min: float | None = None


class Concern(Contract):
    """One thing that makes a comparison unfair, and how much it weighs."""

    code: str
    message: str
    groups: list[str]
    must_confirm: bool


def concerns(groups: Sequence[Standing]) -> list[Concern]:
    """What must be said, and what only goes on with a reason."""
    concerns_found: list[Concern] = []
    printed = [g for g in groups if g.printed]
    without = [g.name for g in printed if g.set_code is None]
    if without:
        message = f"{_and(without)}: no issued set. Exposure and hardness are not known, so strength is not either."
        concerns_found.append(Concern(code="no-set", message=message, groups=without, must_confirm=True))
    borrowed = [g for g in printed if g.set_code is not None and not g.own_set]
    if borrowed:
        names_on_sets = ", ".join(f"{g.name} on {g.set_code}" for g in borrowed)
        message = f"{names_on_sets}: another material's numbers. A comparison that does so is named as such."
        concerns_found.append(
            Concern(code="borrowed-set", message=message, groups=[g.name for g in borrowed], must_confirm=True)
        )
    lapsed = [g for g in printed if g.set_state == "lapsed"]
    if lapsed:
        names_on_sets = ", ".join(f"{g.set_code} of {g.name}" for g in lapsed)
        message = (
            f"{names_on_sets} has lapsed: what it prints now is not known."
            if len(lapsed) == 1
            else f"{names_on_sets} have lapsed."
        )
        concerns_found.append(
            Concern(code="lapsed-set", message=message, groups=[g.name for g in lapsed], must_confirm=True)
        )
    due = [g for g in printed if g.set_state == "due"]
    if due:
        message = f"{_and([g.name for g in due])}: due for a check coupon. Print it on the same plate."
        concerns_found.append(
            Concern(code="due-set", message=message, groups=[g.name for g in due], must_confirm=False)
        )
    cures = {(g.material_id, g.cure_min) for g in printed if g.cure_min is not None}
    if len({cure for _, cure in cures}) > 1 and len({material for material, _ in cures}) > 1:
        names_on_sets = ", ".join(f"{g.name} {g.cure_min:g} min" for g in printed if g.cure_min is not None)
        all_own_routes = all(g.own_route for g in printed)
        message = f"Cure differs: {names_on_sets}. " + (
            "Each has its own finish route, as parts will get."
            if all_own_routes
            else "Part of any difference may be the cure."
        )
        concerns_found.append(
            Concern(
                code="mixed-cure", message=message, groups=[g.name for g in printed], must_confirm=not all_own_routes
            )
        )
    return concerns_found


def _and(names: Sequence[str]) -> str:
    unique = list(dict.fromkeys(names))
    return unique[0] if len(unique) == 1 else f"{', '.join(unique[:-1])} and {unique[-1]}"
