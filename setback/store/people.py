"""Accounts, devices, PINs and sign-ins."""

from __future__ import annotations

import sqlite3
from typing import Literal

from .rows import Row, first, many, one

RoleName = Literal["viewer", "technician", "lead"]


class Account(Row):
    """Somebody who may sign in, with the initials they work under."""

    id: str
    technician_id: str
    initials: str
    role: RoleName
    password_hash: str
    password_set_at: str
    must_change: bool
    created_at: str
    revoked_at: str | None
    retired_at: str | None
    last_used_at: str | None


class SignIn(Row):
    """A sign-in that has not ended, with its account and device."""

    id: str
    account_id: str
    device_id: str
    by: Literal["password", "pin", "pairing"]
    began_at: str
    last_used_at: str
    confirmed_at: str | None
    initials: str
    role: RoleName
    must_change: bool


class Device(Row):
    """A browser that somebody signed in at."""

    id: str
    name: str
    first_used_at: str
    last_used_at: str
    initials: list[str]
    """Of those who signed in at it, the newest first."""


class DevicePin(Row):
    """A PIN at a device."""

    id: str
    device_id: str
    account_id: str
    initials: str
    pin_hash: str
    wrong_tries: int


_ACCOUNTS = """SELECT a.*, t.initials, t.retired_at,
    (SELECT max(s.last_used_at) FROM sign_in s WHERE s.account_id = a.id) AS last_used_at
  FROM account a JOIN technician t ON t.id = a.technician_id"""


def accounts(db: sqlite3.Connection) -> list[Account]:
    """Everybody with an account, also those whose account was revoked, by initials."""
    return many(db, Account, f"{_ACCOUNTS} ORDER BY t.initials")


def account(db: sqlite3.Connection, account_id: str) -> Account | None:
    return one(db, Account, f"{_ACCOUNTS} WHERE a.id = ?", (account_id,))


def account_of(db: sqlite3.Connection, initials: str) -> Account | None:
    """The account of initials, revoked or not."""
    return one(db, Account, f"{_ACCOUNTS} WHERE t.initials = ?", (initials.strip().upper(),))


def has_lead(db: sqlite3.Connection) -> bool:
    """Whether somebody can sign in who may change people."""
    return leads(db) > 0


def leads(db: sqlite3.Connection) -> int:
    """How many leads can sign in."""
    sql = """SELECT count(*) FROM account a JOIN technician t ON t.id = a.technician_id
      WHERE a.role = 'lead' AND a.revoked_at IS NULL AND t.retired_at IS NULL"""
    return int(first(db, sql))


def sign_in(db: sqlite3.Connection, secret_hash: str) -> SignIn | None:
    """The sign-in behind a secret; none where it, its device, its account or its technician is gone."""
    sql = """SELECT s.*, t.initials, a.role, a.must_change FROM sign_in s
      JOIN account a ON a.id = s.account_id JOIN technician t ON t.id = a.technician_id JOIN device d ON d.id = s.device_id
      WHERE s.secret_hash = ? AND s.ended_at IS NULL AND a.revoked_at IS NULL AND d.revoked_at IS NULL AND t.retired_at IS NULL"""
    return one(db, SignIn, sql, (secret_hash,))


def confirmed_at(db: sqlite3.Connection, sign_in_id: str) -> str | None:
    """When the password was last given again in a sign-in, unless a signature used that up."""
    moment = first(db, "SELECT confirmed_at FROM sign_in WHERE id = ?", (sign_in_id,))
    return None if moment is None else str(moment)


def end_sign_ins(db: sqlite3.Connection, now: str, *, account_id: str = "", device_id: str = "", but: str = "") -> None:
    """End what is signed in of an account or at a device, but for one sign-in."""
    sql = """UPDATE sign_in SET ended_at = ? WHERE ended_at IS NULL AND id <> ?
      AND (? = '' OR account_id = ?) AND (? = '' OR device_id = ?)"""
    db.execute(sql, (now, but, account_id, account_id, device_id, device_id))


def device_by_secret(db: sqlite3.Connection, secret_hash: str) -> str | None:
    """The id of the device behind a secret, unless it was revoked."""
    device_id = first(db, "SELECT id FROM device WHERE secret_hash = ? AND revoked_at IS NULL", (secret_hash,))
    return None if device_id is None else str(device_id)


def devices(db: sqlite3.Connection, account_id: str = "") -> list[Device]:
    """Devices that were not revoked, the last used first; of one account, where that is named."""
    sql = """SELECT d.id, d.name, d.first_used_at, d.last_used_at, (
        SELECT json_group_array(initials) FROM (
          SELECT t.initials FROM sign_in s JOIN account a ON a.id = s.account_id JOIN technician t ON t.id = a.technician_id
          WHERE s.device_id = d.id GROUP BY t.initials ORDER BY max(s.last_used_at) DESC)) AS initials
      FROM device d WHERE d.revoked_at IS NULL
        AND (? = '' OR EXISTS (SELECT 1 FROM sign_in s WHERE s.device_id = d.id AND s.account_id = ?))
      ORDER BY d.last_used_at DESC"""
    return many(db, Device, sql, (account_id, account_id))


_PINS = """SELECT p.*, t.initials FROM device_pin p
  JOIN account a ON a.id = p.account_id JOIN technician t ON t.id = a.technician_id
  WHERE a.revoked_at IS NULL AND t.retired_at IS NULL"""


def pins_at(db: sqlite3.Connection, device_id: str) -> list[DevicePin]:
    """PINs that stand at a device, by initials."""
    return many(db, DevicePin, f"{_PINS} AND p.device_id = ? ORDER BY t.initials", (device_id,))


def pin_of(db: sqlite3.Connection, device_id: str, account_id: str) -> DevicePin | None:
    """Somebody's PIN at a device."""
    return one(db, DevicePin, f"{_PINS} AND p.device_id = ? AND p.account_id = ?", (device_id, account_id))


def forget_pins(db: sqlite3.Connection, *, account_id: str = "", device_id: str = "") -> None:
    """Remove PINs of an account, at a device, or both."""
    sql = "DELETE FROM device_pin WHERE (? = '' OR account_id = ?) AND (? = '' OR device_id = ?)"
    db.execute(sql, (account_id, account_id, device_id, device_id))
