"""Retiring and bringing back, the same for everything on the shelf."""

from __future__ import annotations

from typing import Literal

from ...store.calibrate.calibrations import open_code
from ...store.people import account_of
from ...store.rows import update
from ...store.shelf import name_of
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .entry import free_name

Kind = Literal["technicians", "resins", "bottles", "printers", "finish-routes", "wash-baths"]
_TABLES = {
    "technicians": ("technician", "initials"),
    "resins": ("material", "name"),
    "bottles": ("bottle", "code"),
    "printers": ("printer", "name"),
    "finish-routes": ("finish_route", "name"),
    "wash-baths": ("wash_bath", "name"),
}
_IN_WORK: dict[str, Literal["material_id", "printer_id"]] = {"resins": "material_id", "printers": "printer_id"}


class Retired(View):
    """Whether a thing is on the shelf."""

    id: str
    retired_at: str | None


def retire(work: UnitOfWork, kind: Kind, row_id: str) -> Retired:
    """Take something off the shelf; what was measured with it stays."""
    table, _ = _TABLES[kind]
    with work.write() as answer:
        name = _held(work, kind, row_id)
        if kind == "technicians":
            _no_account(work, name)
        if kind in _IN_WORK:
            code = open_code(work.db, _IN_WORK[kind], row_id)
            if code is not None:
                raise Conflict(f"Calibration {code} is still open on it. Close that first.")
        update(work.db, table, row_id, retired_at=work.now())
        return answer(Retired(id=row_id, retired_at=work.now()))


def _no_account(work: UnitOfWork, initials: str) -> None:
    account = account_of(work.db, initials)
    if account is not None and account.revoked_at is None:
        raise Conflict(f"{initials} has an account. Revoke that first, under This lab, People.")


def restore(work: UnitOfWork, kind: Kind, row_id: str) -> Retired:
    """Bring something back to the shelf."""
    table, column = _TABLES[kind]
    with work.write() as answer:
        name = _held(work, kind, row_id)
        if column == "name":
            free_name(work, table, name, row_id)
        update(work.db, table, row_id, retired_at=None)
        return answer(Retired(id=row_id, retired_at=None))


def _held(work: UnitOfWork, kind: Kind, row_id: str) -> str:
    table, column = _TABLES[kind]
    name = name_of(work.db, table, column, row_id)
    return present(name, kind.removesuffix("s").replace("-", " "))
