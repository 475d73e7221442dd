"""Pours from before: shown with their bottle, marked as imported. What is left in the bottle was counted after them."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract
from ...store import earlier as store
from ...store.rows import insert
from ..unit_of_work import UnitOfWork


class EarlierPourInput(Contract):
    """Resin that was poured out of a bottle."""

    bottle_id: str = Field(max_length=40)
    printer_id: str | None = Field(None, max_length=40)
    volume_ml: float = Field(gt=0, le=5000)
    poured_at: str = Field(max_length=30)
    note: str = Field("", max_length=500)


def keep(work: UnitOfWork, request: EarlierPourInput, table: tuple[str, int]) -> None:
    """Keep a pour inside whoever's transaction, with the table and row it comes from."""
    insert(
        work.db,
        "earlier_pour",
        id=work.new_id(),
        earlier_table_id=table[0],
        table_row=table[1],
        **request.model_dump(),
    )


def of_bottle(work: UnitOfWork, bottle_id: str) -> list[store.EarlierPour]:
    """Those of a bottle, the oldest first."""
    return store.earlier_pours(work.db, bottle_id)
