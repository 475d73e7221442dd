"""What was printed since a film, a screen or a plate was renewed."""

from __future__ import annotations

from pydantic import Field

from ...core.status.validity import shipped_rules
from ...store import shelf
from ...store.prints import log
from ..unit_of_work import UnitOfWork, View, present

RENEWED = ("film-replaced", "screen-replaced", "plate-sanded", "plate-levelled")
"""Kinds of event from which on prints are counted."""


class WearView(View):
    """Prints and litres since the newest event of a kind on a printer."""

    kind: str = Field(description="Kind of the event")
    name: str = Field(description="What happened then")
    event_id: str = Field(description="The event; prints can be listed from it on")
    since: str = Field(description="When it happened, ISO 8601")
    prints: int = Field(description="Prints that came out since")
    litres: float = Field(description="Resin printed since, l")


def wear(work: UnitOfWork, printer_id: str) -> list[WearView]:
    """Prints since each part of a printer was renewed, of those that ever were."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    names = {rule.key: rule.name for rule in shipped_rules().values()}
    rows = log.wear(work.db, printer.id, list(RENEWED))
    return [WearView(**row.model_dump(), name=names.get(row.kind, row.kind)) for row in rows]
