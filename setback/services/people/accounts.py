"""Accounts: added, given another role, revoked and taken back, always with a lead left."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.people.access import ROLE_WORDS, Role, password_fault
from ...store import people as store
from ...store.rows import insert, update
from ..shelf.entry import Initials
from ..shelf.technicians import TechnicianInput, put_technician
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .secrets_at_rest import fits, hashed

Password = Annotated[str, Field(max_length=1000, description="At least ten characters where it is chosen")]


class AccountInput(Contract):
    """Somebody who may sign in from now on."""

    initials: Initials
    role: Role
    password: Password = Field(description="For the first sign-in; its owner chooses another then")


class RoleInput(Contract):
    """Another role."""

    role: Role


class NewPasswordInput(Contract):
    """A password set by a lead; its owner chooses another at the next sign-in."""

    password: Password


class OwnPasswordInput(Contract):
    """Another password for oneself."""

    password: Password = Field(description="The password until now")
    new_password: Password = Field(description="The password from now on")


class AccountView(View):
    """Somebody who may sign in, or might until it was revoked."""

    id: str
    initials: str
    role: Role
    role_words: str = Field(description="What the role may do, in words")
    must_change: bool = Field(description="A lead set the password: its owner chooses another at the next sign-in")
    created_at: str
    last_used_at: str | None = Field(description="When they last did something")
    revoked_at: str | None = Field(description="Since when they may sign in no more")


class People(View):
    """Everybody with an account, and the roles there are."""

    items: list[AccountView]
    roles: dict[str, str] = Field(description="What each role may do, in words")


def people(work: UnitOfWork) -> People:
    """Everybody with an account."""
    roles = {role.value: words for role, words in ROLE_WORDS.items()}
    return People(items=[_view(row) for row in store.accounts(work.db)], roles=roles)


def add(work: UnitOfWork, request: AccountInput, *, is_own: bool = False) -> AccountView:
    """Let somebody sign in; initials that worked here before keep all their history.

    ``is_own``: the password was typed by whom it is for.

    Raises
    ------
    Problem
        When these initials have an account, or the password will not do.
    """
    if fault := password_fault(request.password, request.initials):
        raise Problem(fault, {"password": fault})
    password_hash = hashed(request.password)
    with work.write(by_anybody=not work.by_a_person):
        if store.account_of(work.db, request.initials) is not None:
            message = f"{request.initials} has an account already."
            raise Problem(message, {"initials": message})
        technician = put_technician(work, TechnicianInput(initials=request.initials))
        account_id = work.new_id()
        insert(
            work.db,
            "account",
            id=account_id,
            technician_id=technician.id,
            role=request.role.value,
            password_hash=password_hash,
            password_set_at=work.now(),
            must_change=not is_own,
            created_at=work.now(),
        )
        return _view(present(store.account(work.db, account_id), "account"))


def change_role(work: UnitOfWork, account_id: str, request: RoleInput) -> AccountView:
    """Give somebody another role; it holds from their next request on.

    Raises
    ------
    Conflict
        When no lead would be left.
    """
    with work.write(by_anybody=not work.by_a_person):
        account = present(store.account(work.db, account_id), "account")
        if request.role != Role.LEAD:
            _leads_stay(work, account)
        update(work.db, "account", account_id, role=request.role.value)
        return _view(present(store.account(work.db, account_id), "account"))


def revoke(work: UnitOfWork, account_id: str) -> AccountView:
    """Let somebody sign in no more: they are out at once on every device. What they recorded stays.

    Raises
    ------
    Conflict
        When no lead would be left.
    """
    with work.write(by_anybody=not work.by_a_person):
        account = present(store.account(work.db, account_id), "account")
        _leads_stay(work, account)
        update(work.db, "account", account_id, revoked_at=account.revoked_at or work.now())
        store.end_sign_ins(work.db, work.now(), account_id=account_id)
        store.forget_pins(work.db, account_id=account_id)
        return _view(present(store.account(work.db, account_id), "account"))


def restore(work: UnitOfWork, account_id: str) -> AccountView:
    """Let somebody sign in again, with the password they had."""
    with work.write(by_anybody=not work.by_a_person):
        account = present(store.account(work.db, account_id), "account")
        put_technician(work, TechnicianInput(initials=account.initials))
        update(work.db, "account", account_id, revoked_at=None)
        return _view(present(store.account(work.db, account_id), "account"))


def set_password(work: UnitOfWork, account_id: str, request: NewPasswordInput, *, is_own: bool = False) -> AccountView:
    """Set somebody's password where theirs is lost: they are signed out everywhere, and their PINs are gone."""
    initials = present(store.account(work.db, account_id), "account").initials
    if fault := password_fault(request.password, initials):
        raise Problem(fault, {"password": fault})
    password_hash = hashed(request.password)
    with work.write(by_anybody=not work.by_a_person):
        update(
            work.db,
            "account",
            account_id,
            password_hash=password_hash,
            password_set_at=work.now(),
            must_change=not is_own,
        )
        store.end_sign_ins(work.db, work.now(), account_id=account_id)
        store.forget_pins(work.db, account_id=account_id)
        return _view(present(store.account(work.db, account_id), "account"))


def change_own_password(work: UnitOfWork, request: OwnPasswordInput) -> AccountView:
    """Choose another password for oneself: every other device is signed out.

    Raises
    ------
    Problem
        When the password until now is wrong, or the new one will not do.
    """
    account = present(store.account_of(work.db, work.initials or ""), "account")
    if not fits(request.password, account.password_hash):
        message = "This is not your password until now."
        raise Problem(message, {"password": message})
    fault = password_fault(request.new_password, account.initials)
    if request.new_password == request.password:
        fault = "This is your password already. Choose another."
    if fault:
        raise Problem(fault, {"new_password": fault})
    password_hash = hashed(request.new_password)
    with work.write():
        update(
            work.db, "account", account.id, password_hash=password_hash, password_set_at=work.now(), must_change=False
        )
        store.end_sign_ins(work.db, work.now(), account_id=account.id, but=work.sign_in_id or "")
        return _view(present(store.account(work.db, account.id), "account"))


def _leads_stay(work: UnitOfWork, account: store.Account) -> None:
    is_a_lead = Role(account.role) == Role.LEAD and account.revoked_at is None and account.retired_at is None
    if is_a_lead and store.leads(work.db) == 1:
        raise Conflict(f"{account.initials} is the only lead. Make somebody else a lead first.")


def _view(row: store.Account) -> AccountView:
    return AccountView.model_validate({**row.model_dump(), "role_words": ROLE_WORDS[Role(row.role)]})
