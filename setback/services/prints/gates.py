"""The gates a print leaves: until each is cleared, its printer takes no other print."""

from __future__ import annotations

from typing import Literal

from ...store.prints import prints
from ..unit_of_work import Conflict, UnitOfWork, View

_SAID = {
    "vat": "{code} left parts missing on {printer}: search the vat and check the film before anything else starts.",
    "lift": "{code} was printed with the lift suppressed on {printer}: switch the lift back on before a normal print.",
}


class GateView(View):
    """A print that holds up the next one."""

    kind: Literal["vat", "lift"]
    print_id: str
    code: str
    message: str


def gates(work: UnitOfWork, printer_id: str | None = None) -> list[GateView]:
    """What must be cleared before the next print, on one printer or on all of them."""
    return [
        GateView(
            kind=row.kind,
            print_id=row.id,
            code=row.code,
            message=_SAID[row.kind].format(code=row.code, printer=row.printer),
        )
        for row in prints.gates(work.db, printer_id)
    ]


def check_gates(work: UnitOfWork, printer_id: str, lift_suppressed: bool = False) -> None:
    """Refuse a print while something about the one before is not cleared.

    Raises
    ------
    Conflict
        Under ``vat`` or ``lift``: what to do first. Another print with its lift suppressed may follow one.
    """
    for gate in gates(work, printer_id):
        if gate.kind == "vat" or not lift_suppressed:
            raise Conflict(gate.message, {gate.kind: gate.message})
