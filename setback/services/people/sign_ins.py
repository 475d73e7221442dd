"""Signing in by password, changing places at a shared bench by PIN, and giving the password again before signing."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.people.access import CERTIFICATE_SOON, PIN_TRIES, Role, has_ended, is_confirmed, may, pin_fault
from ...store import people as store
from ...store.rows import insert, update
from ..unit_of_work import UnitOfWork, View, iso
from .accounts import Password
from .secrets_at_rest import fits, hashed, new_secret, seal

NOTED_EVERY = timedelta(minutes=1)
"""The last use of a sign-in is written this often at most."""
WRONG = "These initials and this password do not belong together."
SIGN_AGAIN = "Give your password again: a signature is yours alone."


class SignInInput(Contract):
    """Who signs in."""

    initials: str = Field(max_length=20)
    password: Password


class SwitchInput(Contract):
    """Who works at this device from now on."""

    initials: str = Field(max_length=20)
    pin: str = Field(max_length=40, description="PIN of four to eight digits, chosen at this device")


class PasswordAgainInput(Contract):
    """The password, given again."""

    password: Password


class PinInput(Contract):
    """A PIN for this device; it is set by whoever knows the password."""

    password: Password
    pin: str = Field(max_length=40, description="PIN of four to eight digits")


class WorksNow(View):
    """Who is signed in here."""

    initials: str
    role: Role
    by: Literal["password", "pin", "pairing"] = Field(description="How they signed in")
    must_change: bool = Field(description="They choose a password of their own before they change anything")
    may_write: bool = Field(description="Whether the role changes anything")
    may_lead: bool = Field(description="Whether the role signs, and changes limits, settings and people")
    has_pin: bool = Field(description="Whether they can come back at this device by PIN")


class PersonHere(View):
    """Somebody with a PIN at this device."""

    initials: str
    is_locked: bool = Field(description="Too many wrong PINs: the password opens it again")


class SessionView(View):
    """Whether this server asks people to sign in, and who is at this device."""

    asks: bool = Field(description="Whether people sign in; false where one person works at their own machine")
    signed_in: WorksNow | None = Field(description="None where nobody is, or nobody has to be")
    people_here: list[PersonHere] = Field(description="Those who can come back at this device by PIN")
    now: str = Field(description="The server's clock")
    certificate_ends: str | None = Field(description="When the certificate of this server runs out; told to leads")
    certificate_is_near: bool = Field(description="It runs out within three weeks, or has")


@dataclass(frozen=True)
class Entered:
    """Secrets of a sign-in for the browser to keep."""

    sign_in_secret: str
    device_secret: str


def current(work: UnitOfWork, secret: str, *, is_used: bool = True) -> store.SignIn | None:
    """The sign-in behind a secret, if it has not ended; that it is used is noted, unless a page asks by itself."""
    row = store.sign_in(work.db, seal(secret))
    if row is None:
        return None
    now, last_used = work.clock(), datetime.fromisoformat(row.last_used_at)
    if has_ended(datetime.fromisoformat(row.began_at), last_used, now):
        work.keep(lambda: update(work.db, "sign_in", row.id, ended_at=iso(now)))
        return None
    if is_used and abs(now - last_used) >= NOTED_EVERY:
        work.keep(lambda: _note_use(work, row))
    return row


def _note_use(work: UnitOfWork, row: store.SignIn) -> None:
    update(work.db, "sign_in", row.id, last_used_at=work.now())
    update(work.db, "device", row.device_id, last_used_at=work.now())


def session(
    work: UnitOfWork, *, asks: bool, row: store.SignIn | None, device_secret: str, certificate_ends: str | None
) -> SessionView:
    """Who is at this device."""
    device_id = store.device_by_secret(work.db, seal(device_secret)) if asks and device_secret else None
    pins = store.pins_at(work.db, device_id) if device_id else []
    signed_in = None
    if row is not None:
        role = Role(row.role)
        signed_in = WorksNow(
            initials=row.initials,
            role=role,
            by=row.by,
            must_change=row.must_change,
            may_write=may(role, Role.TECHNICIAN),
            may_lead=may(role, Role.LEAD),
            has_pin=row.account_id in {pin.account_id for pin in pins},
        )
    told_to_lead = certificate_ends if signed_in and signed_in.may_lead else None
    return SessionView(
        asks=asks,
        signed_in=signed_in,
        people_here=[PersonHere(initials=pin.initials, is_locked=pin.wrong_tries >= PIN_TRIES) for pin in pins],
        now=work.now(),
        certificate_ends=told_to_lead,
        certificate_is_near=told_to_lead is not None
        and datetime.fromisoformat(told_to_lead) - work.clock() < CERTIFICATE_SOON,
    )


def by_password(work: UnitOfWork, request: SignInInput, device_secret: str, device_kind: str) -> Entered:
    """Sign in by password, at a device known before or a new one.

    Raises
    ------
    Problem
        When initials and password do not belong together, or the account was revoked; which of them is not said.
    """
    account = store.account_of(work.db, request.initials)
    is_open = account is not None and account.revoked_at is None and account.retired_at is None
    if not fits(request.password, account.password_hash if account and is_open else None) or account is None:
        raise Problem(WRONG, {"password": WRONG})
    with work.write(by_anybody=True):
        device_id, device_secret = at_device(work, device_secret, device_kind, account.initials)
        pin = store.pin_of(work.db, device_id, account.id)
        if pin is not None:
            update(work.db, "device_pin", pin.id, wrong_tries=0)
        return begin(work, account.id, device_id, device_secret, "password")


def by_pin(work: UnitOfWork, request: SwitchInput, device_secret: str) -> Entered:
    """Come back at a device where one signed in by password and chose a PIN.

    Raises
    ------
    Problem
        When the PIN is wrong, not known at this device, or locked after too many wrong ones.
    """
    device_id = store.device_by_secret(work.db, seal(device_secret)) if device_secret else None
    account = store.account_of(work.db, request.initials)
    pin = store.pin_of(work.db, device_id, account.id) if device_id and account else None
    if pin is None or account is None or device_id is None:
        message = f"{request.initials.upper()} has no PIN at this device. Sign in by password."
        raise Problem(message, {"pin": message})
    locked = f"The PIN of {pin.initials} is locked after {PIN_TRIES} wrong tries. Sign in by password: that opens it."
    if pin.wrong_tries >= PIN_TRIES:
        raise Problem(locked, {"pin": locked})
    # Counted before it is compared: tries side by side count too.
    with work.write(by_anybody=True):
        latest = store.pin_of(work.db, device_id, account.id)
        tries = (latest.wrong_tries if latest else PIN_TRIES) + 1
        update(work.db, "device_pin", pin.id, wrong_tries=tries)
    if tries > PIN_TRIES:
        raise Problem(locked, {"pin": locked})
    if not fits(_at_device(request.pin, device_secret), pin.pin_hash):
        tries_left = PIN_TRIES - tries
        message = (
            f"This PIN is wrong. {tries_left} {'tries are' if tries_left > 1 else 'try is'} left."
            if tries_left
            else locked
        )
        raise Problem(message, {"pin": message})
    with work.write(by_anybody=True):
        update(work.db, "device_pin", pin.id, wrong_tries=0)
        return begin(work, account.id, device_id, device_secret, "pin")


def at_device(work: UnitOfWork, device_secret: str, device_kind: str, initials: str) -> tuple[str, str]:
    """The id and secret of the device at hand: known by its secret, or new here from now on."""
    device_id = store.device_by_secret(work.db, seal(device_secret)) if device_secret else None
    if device_id is not None:
        return device_id, device_secret
    device_id, device_secret = work.new_id(), new_secret()
    insert(
        work.db,
        "device",
        id=device_id,
        secret_hash=seal(device_secret),
        name=f"{device_kind} of {initials}",
        first_used_at=work.now(),
        last_used_at=work.now(),
    )
    return device_id, device_secret


def begin(
    work: UnitOfWork, account_id: str, device_id: str, device_secret: str, by: Literal["password", "pin", "pairing"]
) -> Entered:
    """One person is at a device at a time: whoever was there before is signed out."""
    now, secret = work.now(), new_secret()
    store.end_sign_ins(work.db, now, device_id=device_id)
    insert(
        work.db,
        "sign_in",
        id=work.new_id(),
        secret_hash=seal(secret),
        account_id=account_id,
        device_id=device_id,
        by=by,
        began_at=now,
        last_used_at=now,
    )
    update(work.db, "device", device_id, last_used_at=now)
    return Entered(secret, device_secret)


def sign_out(work: UnitOfWork, row: store.SignIn) -> None:
    """End a sign-in; PINs at the device stay."""
    with work.write(by_anybody=True):
        update(work.db, "sign_in", row.id, ended_at=work.now())


def set_pin(work: UnitOfWork, request: PinInput, row: store.SignIn, device_secret: str) -> None:
    """Choose a PIN for this device.

    Raises
    ------
    Problem
        When the password is wrong, or the PIN will not do.
    """
    _own_password(work, row, request.password)
    if fault := pin_fault(request.pin):
        raise Problem(fault, {"pin": fault})
    pin_hash = hashed(_at_device(request.pin, device_secret))
    with work.write(by_anybody=True):
        store.forget_pins(work.db, account_id=row.account_id, device_id=row.device_id)
        insert(
            work.db,
            "device_pin",
            id=work.new_id(),
            device_id=row.device_id,
            account_id=row.account_id,
            pin_hash=pin_hash,
            set_at=work.now(),
        )


def remove_pin(work: UnitOfWork, row: store.SignIn) -> None:
    """Have no PIN at this device any more."""
    with work.write(by_anybody=True):
        store.forget_pins(work.db, account_id=row.account_id, device_id=row.device_id)


def confirm(work: UnitOfWork, request: PasswordAgainInput, row: store.SignIn) -> None:
    """Give the password again, for the one signature that follows.

    Raises
    ------
    Problem
        When it is wrong.
    """
    _own_password(work, row, request.password)
    with work.write(by_anybody=True):
        update(work.db, "sign_in", row.id, confirmed_at=work.now())


def use_confirmation(work: UnitOfWork) -> None:
    """Take the password that was given again for a signature; inside its transaction, so that one that fails leaves it.

    Raises
    ------
    Problem
        When people sign in here and it was not given, or too long ago.
    """
    if work.sign_in_id is None:
        return
    confirmed_at = store.confirmed_at(work.db, work.sign_in_id)
    if not is_confirmed(datetime.fromisoformat(confirmed_at) if confirmed_at else None, work.clock()):
        raise Problem(SIGN_AGAIN, {"confirmation": SIGN_AGAIN})
    update(work.db, "sign_in", work.sign_in_id, confirmed_at=None)


def _own_password(work: UnitOfWork, row: store.SignIn, password: str) -> None:
    account = store.account(work.db, row.account_id)
    if account is None or not fits(password, account.password_hash):
        message = "This is not your password."
        raise Problem(message, {"password": message})


def _at_device(pin: str, device_secret: str) -> str:
    """What of a PIN is hashed. Its few digits could be tried out on a stolen database; with the device's secret they cannot."""
    return f"{pin} {device_secret}"
