"""People: signing in, and accounts, PINs and devices."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response, current_app, session
from flask_login import login_user, logout_user

from ..core.contract import Problem
from ..report.paper import code_drawing
from ..services.people import accounts, devices, pairing, sign_ins
from ..services.unit_of_work import Conflict
from ..store.people import SignIn
from .access import DEVICE, SomebodySignedIn, asks, device_secret, note_failed_try, signed_in_row, too_many_tries
from .errors import error_answer
from .wiring import Blueprint, kind_of_device, takes, work

blueprint = Blueprint("people", __name__, url_prefix="/api", tag="People")


def _mine() -> SignIn:
    """The sign-in of this request.

    Raises
    ------
    Conflict
        Where nobody signs in.
    """
    row = signed_in_row()
    if row is None:
        raise Conflict(
            "Nobody signs in at this server: it serves one person. docs/operations.md tells how to serve a workshop."
        )
    return row


def _session(row: SignIn | None) -> sign_ins.SessionView:
    workshop = current_app.config.get("WORKSHOP")
    return sign_ins.session(
        work(),
        asks=asks(),
        row=row,
        device_secret=device_secret() if asks() else "",
        certificate_ends=workshop.certificate_ends if workshop else None,
    )


@blueprint.get("/session")
@blueprint.output(sign_ins.SessionView)
def session_now() -> Any:
    """Whether people sign in at this server, and who is signed in here."""
    return _session(signed_in_row())


@blueprint.post("/session/sign-in")
@takes(blueprint, sign_ins.SignInInput)
@blueprint.output(sign_ins.SessionView)
def sign_in(body: sign_ins.SignInInput) -> Any:
    """Sign in by password."""
    _asks()
    return _tried(
        body.initials,
        lambda: _enter(sign_ins.by_password(work(), body, device_secret(), kind_of_device())),
    )


@blueprint.post("/session/switch")
@takes(blueprint, sign_ins.SwitchInput)
@blueprint.output(sign_ins.SessionView)
def switch(body: sign_ins.SwitchInput) -> Any:
    """Work at this device from now on, by PIN."""
    _asks()
    return _tried(body.initials, lambda: _enter(sign_ins.by_pin(work(), body, device_secret())))


def _asks() -> None:
    if not asks():
        raise Conflict("Nobody signs in at this server: it serves one person.")


def _tried(initials: str, attempt: Callable[[], Any]) -> Any:
    """What an attempt with a password or PIN comes to; wrong ones are counted, and after too many the next has to wait."""
    if too_many_tries(initials):
        message = "Too many wrong tries. Wait a minute, then try again."
        answer = error_answer(429, message, {"password": message, "pin": message})
        answer.headers["Retry-After"] = "60"
        return answer
    try:
        return attempt()
    except Problem:
        note_failed_try(initials)
        raise


def _enter(entered: sign_ins.Entered) -> sign_ins.SessionView:
    """Give the browser its secrets, never again those it came with."""
    session.clear()
    session.permanent = True
    session[DEVICE] = entered.device_secret
    row = sign_ins.current(work(), entered.sign_in_secret)
    if row is None:
        raise Conflict("The account was revoked this moment.")
    login_user(SomebodySignedIn(entered.sign_in_secret, row))
    return _session(row)


@blueprint.post("/session/sign-out")
@blueprint.output(sign_ins.SessionView)
def sign_out() -> Any:
    """Sign out at this device; PINs chosen at it stay."""
    sign_ins.sign_out(work(), _mine())
    logout_user()
    return _session(None)


@blueprint.post("/session/confirm")
@takes(blueprint, sign_ins.PasswordAgainInput)
@blueprint.output(sign_ins.SessionView)
def confirm(body: sign_ins.PasswordAgainInput) -> Any:
    """Give the password again, for the one signature that follows within two minutes."""
    row = _mine()

    def attempt() -> sign_ins.SessionView:
        sign_ins.confirm(work(), body, row)
        return _session(row)

    return _tried(row.initials, attempt)


@blueprint.post("/session/pairings")
@blueprint.output(pairing.PairingView, status_code=201)
def begin_pairing() -> Any:
    """A code by which a phone signs in as whoever is signed in here, once."""
    return _pairings().begin(work(), _mine())


@blueprint.get("/session/pairings/<pairing_id>")
@blueprint.output(pairing.PairingView)
def look_at_pairing(pairing_id: str) -> Any:
    """Whether a phone has used the code."""
    return _pairings().look(work(), pairing_id, _mine())


@blueprint.get("/session/pairings/<pairing_id>/code.svg")
@blueprint.doc(description="The code of a pairing, as a drawing.")
def code_of_pairing(pairing_id: str) -> Any:
    """The code as a drawing."""
    link = _pairings().look(work(), pairing_id, _mine()).link
    return Response(code_drawing(link), mimetype="image/svg+xml", headers={"Cache-Control": "no-store"})


@blueprint.post("/session/pair")
@takes(blueprint, pairing.PairInput)
@blueprint.output(sign_ins.SessionView)
def pair(body: pairing.PairInput) -> Any:
    """Sign this device in by the code it scanned."""
    _asks()
    return _tried("", lambda: _enter(_pairings().redeem(work(), body.token, device_secret(), kind_of_device())))


def _pairings() -> pairing.Pairings:
    return current_app.extensions["pairings"]  # type: ignore[no-any-return]


@blueprint.put("/session/password")
@takes(blueprint, accounts.OwnPasswordInput)
@blueprint.output(accounts.AccountView)
def change_own_password(body: accounts.OwnPasswordInput) -> Any:
    """Choose another password for oneself."""
    return _tried(_mine().initials, lambda: accounts.change_own_password(work(), body))


@blueprint.put("/session/pin")
@takes(blueprint, sign_ins.PinInput)
@blueprint.output(sign_ins.SessionView)
def set_pin(body: sign_ins.PinInput) -> Any:
    """Choose a PIN to come back by at this device."""
    row = _mine()

    def attempt() -> sign_ins.SessionView:
        sign_ins.set_pin(work(), body, row, device_secret())
        return _session(row)

    return _tried(row.initials, attempt)


@blueprint.post("/session/pin/remove")
@blueprint.output(sign_ins.SessionView)
def remove_pin() -> Any:
    """Have no PIN at this device any more."""
    row = _mine()
    sign_ins.remove_pin(work(), row)
    return _session(row)


@blueprint.get("/people")
@blueprint.output(accounts.People)
def people() -> Any:
    """Everybody with an account."""
    return accounts.people(work())


@blueprint.post("/people")
@takes(blueprint, accounts.AccountInput)
@blueprint.output(accounts.AccountView, status_code=201)
def add_person(body: accounts.AccountInput) -> Any:
    """Let somebody sign in, with a password for the first time."""
    _mine()
    return accounts.add(work(), body)


@blueprint.put("/people/<account_id>/role")
@takes(blueprint, accounts.RoleInput)
@blueprint.output(accounts.AccountView)
def change_role(account_id: str, body: accounts.RoleInput) -> Any:
    """Give somebody another role."""
    _mine()
    return accounts.change_role(work(), account_id, body)


@blueprint.put("/people/<account_id>/password")
@takes(blueprint, accounts.NewPasswordInput)
@blueprint.output(accounts.AccountView)
def set_password(account_id: str, body: accounts.NewPasswordInput) -> Any:
    """Set the password of somebody who lost theirs."""
    _mine()
    return accounts.set_password(work(), account_id, body)


@blueprint.post("/people/<account_id>/revoke")
@blueprint.output(accounts.AccountView)
def revoke_person(account_id: str) -> Any:
    """Let somebody sign in no more; they are out at once."""
    _mine()
    return accounts.revoke(work(), account_id)


@blueprint.post("/people/<account_id>/restore")
@blueprint.output(accounts.AccountView)
def restore_person(account_id: str) -> Any:
    """Let somebody sign in again."""
    _mine()
    return accounts.restore(work(), account_id)


@blueprint.get("/devices")
@blueprint.output(devices.Devices)
def signed_in_devices() -> Any:
    """Devices somebody signed in at: all of them for a lead, one's own for anybody else."""
    return devices.devices(work(), _mine())


@blueprint.put("/devices/<device_id>")
@takes(blueprint, devices.DeviceName)
@blueprint.output(devices.Devices)
def rename_device(device_id: str, body: devices.DeviceName) -> Any:
    """Call a device something that tells it apart."""
    return devices.rename(work(), device_id, body, _mine())


@blueprint.post("/devices/<device_id>/revoke")
@blueprint.output(devices.Devices)
def revoke_device(device_id: str) -> Any:
    """Let a device in no more; whoever is signed in at it is out at once."""
    return devices.revoke(work(), device_id, _mine())
