"""Trying the address that QR codes lead to: a code on the screen is scanned, and the page says whether that arrived here."""

from __future__ import annotations

import secrets
import threading
from collections import OrderedDict
from dataclasses import dataclass

from pydantic import Field

from ...store.lab import settings as store
from ..lab_settings import base_address
from ..unit_of_work import Conflict, UnitOfWork, View, present

CHECKED = "address_checked"
MOST = 20
"""Checks that are remembered; older ones are forgotten, and all of them when the server stops."""


class AddressCheckView(View):
    """A check under way, or over."""

    token: str
    link: str = Field(description="What the code leads to")
    reached_at: str | None = Field(description="When something opened it; none yet")
    reached_by: str = Field(description="Kind of device that opened it")


class AddressKept(View):
    """The address that was last scanned with success."""

    address: str = Field(description="What was scanned led to it")
    at: str
    initials: str


@dataclass
class _Check:
    address: str
    reached_at: str | None = None
    reached_by: str = ""


class AddressChecks:
    """Checks of this server, by their tokens."""

    def __init__(self) -> None:
        self._checks: OrderedDict[str, _Check] = OrderedDict()
        self._lock = threading.Lock()

    def begin(self, work: UnitOfWork) -> AddressCheckView:
        """A code of its own for the address of now."""
        token = secrets.token_urlsafe(9)
        with self._lock:
            self._checks[token] = _Check(base_address(work))
            while len(self._checks) > MOST:
                self._checks.popitem(last=False)
        return self.look(token)

    def look(self, token: str) -> AddressCheckView:
        """How a check stands.

        Raises
        ------
        NotFound
            When it was forgotten.
        """
        check = present(self._checks.get(token), "check of the address")
        return AddressCheckView(
            token=token,
            link=f"{check.address}/reached/{token}",
            reached_at=check.reached_at,
            reached_by=check.reached_by,
        )

    def reach(self, token: str, moment: str, device: str) -> bool:
        """Note that a code was followed to here; False where its check was forgotten."""
        with self._lock:
            check = self._checks.get(token)
            if check is None:
                return False
            check.reached_at, check.reached_by = moment, device
            return True

    def keep(self, work: UnitOfWork, token: str) -> AddressKept:
        """Keep that the address works, once something followed it.

        Raises
        ------
        Conflict
            When nothing did, or the address is another one by now.
        """
        check = present(self._checks.get(token), "check of the address")
        with work.write() as answer:
            if check.reached_at is None:
                raise Conflict("Nothing has followed this code yet.")
            if check.address != base_address(work):
                raise Conflict("The address was changed meanwhile. Try the new one.")
            kept = AddressKept(address=check.address, at=check.reached_at, initials=work.technician().initials)
            store.put(work.db, CHECKED, kept.model_dump())
            return answer(kept)


def last_kept(work: UnitOfWork) -> AddressKept | None:
    """The last check of the address that codes lead to now."""
    stored = store.value(work.db, CHECKED)
    kept = AddressKept.model_validate(stored) if stored else None
    return kept if kept and kept.address == base_address(work) else None
