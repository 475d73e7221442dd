"""The lab's own way to a first base exposure, for all printers and for single ones."""

from __future__ import annotations

from pydantic import Field

from ...core.calibrate.starting_settings import BaseRule
from ...core.contract import Problem
from ...store import shelf
from ...store.lab import settings as lab_settings
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork

NAME = "base_rules"
MOST_PRINTERS = 500


class BaseRules(BaseRule):
    """The rule of the lab, and those of printers that have one of their own, by id."""

    printers: dict[str, BaseRule] = Field({}, max_length=MOST_PRINTERS)
    version: int = Field(0, ge=0, description="Counts the changes; 0 while nobody set them")


def view(work: UnitOfWork) -> BaseRules:
    """The rules as they are edited."""
    return BaseRules.model_validate(lab_settings.value(work.db, NAME) or {})


def change(work: UnitOfWork, request: BaseRules) -> BaseRules:
    """Set them; base tries and settings that are there already stay what they are.

    Raises
    ------
    Problem
        Naming a printer that is not on the shelf.
    """
    known = {printer.id for printer in shelf.printers_by_id(work.db, list(request.printers))}
    for printer_id in request.printers:
        if printer_id not in known:
            message = "This printer is not on the shelf."
            raise Problem(message, {f"printers.{printer_id}": message})
    with work.write() as answer:
        work.technician()
        same_version(view(work), request.version, "The rule of base exposures", request)
        kept = {key: rule for key, rule in request.printers.items() if rule.multiple or rule.seconds}
        changed = request.model_copy(update={"printers": kept, "version": request.version + 1})
        lab_settings.put(work.db, NAME, changed.model_dump())
        return answer(view(work))


def rule_for(work: UnitOfWork, printer_id: str) -> tuple[BaseRule, str]:
    """The rule that holds on a printer, and whose it is in words."""
    rules = view(work)
    own = rules.printers.get(printer_id)
    return (
        (own, "this printer’s own rule")
        if own is not None
        else (BaseRule(multiple=rules.multiple, seconds=rules.seconds), "this lab’s rule")
    )
