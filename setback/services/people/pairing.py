"""Pairing a phone: a code on a screen at which somebody is signed in signs the phone in as them, once."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass
from datetime import datetime, timedelta
from secrets import compare_digest

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import people as store
from ..lab_settings import base_address
from ..unit_of_work import Conflict, NotFound, UnitOfWork, View, iso
from .secrets_at_rest import new_secret
from .sign_ins import Entered, at_device, begin

LASTS = timedelta(minutes=3)
MOST = 50
OVER = "This code was used already, or it is older than three minutes. Show a new one on the screen."


class PairingView(View):
    """A code to be scanned by a phone."""

    id: str = Field(description="By which the screen asks how it stands; it opens nothing")
    link: str = Field(description="What the code leads to; its secret stands where no server writes it into a log")
    ends_at: str = Field(description="Until when it can be used")
    paired: bool = Field(description="A phone has used it")


class PairInput(Contract):
    """The secret that a code carries."""

    token: str = Field(max_length=100)


@dataclass
class _Code:
    token: str
    account_id: str
    ends: datetime
    used: bool = False


class Pairings:
    """Codes that were shown lately, in memory: they end with the server, or after three minutes."""

    def __init__(self) -> None:
        self._codes: OrderedDict[str, _Code] = OrderedDict()
        self._lock = threading.Lock()

    def begin(self, work: UnitOfWork, row: store.SignIn) -> PairingView:
        """A code for a phone of whoever is signed in here.

        Raises
        ------
        Conflict
            When they came back by PIN: four digits must not become a device of their own.
        """
        if row.by == "pin":
            raise Conflict("You came back by PIN. Sign in by password to pair a phone.")
        pairing_id = work.new_id()
        with self._lock:
            self._codes[pairing_id] = _Code(new_secret(), row.account_id, work.clock() + LASTS)
            while len(self._codes) > MOST:
                self._codes.popitem(last=False)
        return self.look(work, pairing_id, row)

    def look(self, work: UnitOfWork, pairing_id: str, row: store.SignIn) -> PairingView:
        """How a code of one's own stands.

        Raises
        ------
        NotFound
            When it is none, or somebody else's.
        """
        code = self._codes.get(pairing_id)
        if code is None or code.account_id != row.account_id:
            raise NotFound("There is no such code.")
        return PairingView(
            id=pairing_id, link=f"{base_address(work)}/pair#{code.token}", ends_at=iso(code.ends), paired=code.used
        )

    def redeem(self, work: UnitOfWork, token: str, device_secret: str, device_kind: str) -> Entered:
        """Sign a phone in by the code it scanned.

        Raises
        ------
        Problem
            When the code was used, is too old, or its account was revoked.
        """
        with self._lock:
            code = next((code for code in self._codes.values() if compare_digest(code.token, token)), None)
            if code is None or code.used or work.clock() > code.ends:
                raise Problem(OVER, {"token": OVER})
            code.used = True
        account = store.account(work.db, code.account_id)
        if account is None or account.revoked_at is not None or account.retired_at is not None:
            raise Problem(OVER, {"token": OVER})
        with work.write(by_anybody=True):
            device_id, device_secret = at_device(work, device_secret, device_kind, account.initials)
            return begin(work, account.id, device_id, device_secret, "pairing")
