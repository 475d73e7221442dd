"""Roles, what each of them may do, and what a password and a PIN must be like."""

from __future__ import annotations

from datetime import datetime, timedelta
from enum import StrEnum
from itertools import pairwise


class Role(StrEnum):
    """What somebody may do, each more than the one before."""

    VIEWER = "viewer"
    TECHNICIAN = "technician"
    LEAD = "lead"


ROLE_WORDS = {
    Role.VIEWER: "looks at everything, changes nothing",
    Role.TECHNICIAN: "works: prints, reads, tests, blends, issues sets",
    Role.LEAD: "signs too, and changes limits, briefs, settings and people",
}
_RANK = {Role.VIEWER: 0, Role.TECHNICIAN: 1, Role.LEAD: 2}

UNUSED_FOR = timedelta(hours=12)
"""A sign-in ends when nothing was done with it for so long."""
LONGEST = timedelta(days=30)
"""A sign-in ends after this, however much it was used."""
CONFIRMED_FOR = timedelta(minutes=2)
"""A password that was asked again stands for one signature, within this."""
CERTIFICATE_SOON = timedelta(days=21)
"""Before a certificate ends, leads are told for so long."""
PIN_TRIES = 5
"""Wrong PINs in a row after which a PIN is locked until the password is given."""
PASSWORD_LENGTH = (10, 200)
PIN_LENGTH = (4, 8)


def may(role: Role, needed: Role) -> bool:
    """Whether a role reaches what needs another one."""
    return _RANK[role] >= _RANK[needed]


def has_ended(began: datetime, last_used: datetime, now: datetime) -> bool:
    """Whether a sign-in is over: unused for half a day, or a month old.

    A clock that was set back makes moments lie ahead of now; that ends nothing.
    """
    return now - last_used > UNUSED_FOR or now - began > LONGEST


def is_confirmed(confirmed: datetime | None, now: datetime) -> bool:
    """Whether the password was given again just now."""
    return confirmed is not None and timedelta(0) <= now - confirmed <= CONFIRMED_FOR


def password_fault(password: str, initials: str) -> str | None:
    """What is wrong with a new password, in a sentence; None when nothing is.

    Length counts, not kinds of characters (NIST SP 800-63B, 5.1.1).
    """
    least, most = PASSWORD_LENGTH
    if len(password) < least:
        return f"A password has at least {least} characters. A few words together do well."
    if len(password) > most:
        return f"A password has at most {most} characters."
    if len(set(password)) < 4:
        return "This repeats the same few characters. A few words together do well."
    if password.strip().lower() in {"setback setback", "password password", f"{initials.lower()}{initials.lower()}"}:
        return "This is among the first that anybody would try."
    return None


def pin_fault(pin: str) -> str | None:
    """What is wrong with a new PIN, in a sentence; None when nothing is."""
    least, most = PIN_LENGTH
    if not (pin.isascii() and pin.isdigit() and least <= len(pin) <= most):
        return f"A PIN has {least} to {most} digits."
    steps = {int(after) - int(before) for before, after in pairwise(pin)}
    if steps in ({0}, {1}, {-1}):
        return "Digits all alike or in a row are tried first. Choose others."
    return None
