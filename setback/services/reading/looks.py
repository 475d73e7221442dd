"""One look at a coupon: under, right or over. It seeds a range and counts as what it is; a reading says more."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract
from ...store.calibrate import calibrations as store
from ...store.reading import looks
from ...store.rows import insert, update
from ...store.terms import LookVerdict
from ..unit_of_work import Conflict, UnitOfWork, View, present


class LookInput(Contract):
    """What one look said."""

    verdict: LookVerdict


class LookView(looks.Look):
    """A look with the code of its coupon."""

    code: str


class LookGone(View):
    """A coupon without a look."""

    code: str = Field(description="Code of the coupon")


def put(work: UnitOfWork, id_or_code: str, request: LookInput) -> LookView:
    """Keep a look; one that was there before is withdrawn for it.

    Raises
    ------
    Conflict
        When the coupon is not printed, or is gone.
    """
    with work.write() as answer:
        technician = work.technician()
        row = present(store.coupon(work.db, id_or_code), "coupon")
        if row.gone_at is not None:
            raise Conflict(f"Coupon {row.code} is gone ({row.gone_reason}).")
        if row.status != "printed":
            raise Conflict(f"Coupon {row.code} is not printed yet. Mark its print as done first.")
        _withdraw(work, row.id)
        insert(
            work.db,
            "coupon_look",
            id=work.new_id(),
            coupon_id=row.id,
            verdict=request.verdict,
            technician_id=technician.id,
            looked_at=work.now(),
        )
        kept = present(looks.look(work.db, row.id), "look")
        return answer(LookView(**kept.model_dump(), code=row.code))


def withdraw(work: UnitOfWork, id_or_code: str) -> LookGone:
    """Let the look at a coupon no longer count."""
    with work.write() as answer:
        row = present(store.coupon(work.db, id_or_code), "coupon")
        _withdraw(work, row.id)
        return answer(LookGone(code=row.code))


def _withdraw(work: UnitOfWork, coupon_id: str) -> None:
    before = looks.look(work.db, coupon_id)
    if before is not None:
        update(work.db, "coupon_look", before.id, withdrawn_at=work.now())
