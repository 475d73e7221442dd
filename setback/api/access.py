"""Who is let in where people sign in, and what each role reaches. Where one person works at their own machine it asks nothing.

A sign-in is a random secret in a signed cookie that no script can read; the database has its hash. It is looked up with every request,
so that what is revoked is out at once. Tries are slowed by address and by initials.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from apiflask import APIFlask
from flask import Response, current_app, request, session
from flask.sessions import SecureCookieSessionInterface
from flask_login import LoginManager, UserMixin, current_user
from limits import RateLimitItem, RateLimitItemPerHour, RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter
from werkzeug.middleware.proxy_fix import ProxyFix

from ..core.people.access import LONGEST, Role, may
from ..services.lab_settings import cookie_secret
from ..services.people.sign_ins import current
from ..services.plan.calendar_feed import is_feed
from ..services.unit_of_work import UnitOfWork
from ..store.people import SignIn
from .door import LOCAL_HOSTS, WRITES
from .errors import error_answer
from .wiring import without_name

DEVICE = "device"
"""The name in the cookie of the secret a device is known by; it outlives a sign-in."""
DEVICE_KEPT = timedelta(days=400)
OPEN = frozenset({"people.pair", "people.session_now", "people.sign_in", "people.switch"})
"""Answered to whoever asks: without them nobody could sign in."""
CALENDAR = "plan.read_feed"
"""Let in by a secret in its address, which calendar programs have in the place of a sign-in."""
ASK_ONLY = frozenset(
    {
        "blends.poured_about",
        "blends.preview_vat",
        "blends.quote_blend",
        "blends.reach",
        "calculators.run",
        "calibrations.quote",
        "calibrations.quote_ladder",
        "climate.quote_warm_start",
        "coupons.preview",
        "testing.preview_specimen",
        "testing.quote_test",
        "testing.weighted_index",
        "validity.preview",
    }
)
"""Questions that are sent as a body and change nothing."""
ONES_OWN = frozenset(
    {
        "people.begin_pairing",
        "people.change_own_password",
        "people.confirm",
        "people.remove_pin",
        "people.rename_device",
        "people.revoke_device",
        "people.set_pin",
        "people.sign_out",
    }
)
"""What everybody does for themselves."""
LEADS = frozenset(
    {
        "bundles.take_in",
        "calibrations.change_cut_offs",
        "calibrations.change_limits",
        "instruments.add_instrument",
        "instruments.change_instrument",
        "instruments.take_out_instrument",
        "lab_settings.change_lab_settings",
        "lab_settings.begin_address_check",
        "lab_settings.keep_address_check",
        "people.add_person",
        "people.change_role",
        "people.people",
        "people.restore_person",
        "people.revoke_person",
        "people.set_password",
        "qualify.sign",
        "shelf.add_technician",
        "stages.change_rules_of_base",
        "testing.change_brief",
        "testing.restore_brief",
        "testing.retire_brief",
        "validity.add_rule",
        "validity.change_limit",
        "validity.forget_rule",
    }
)
"""Signatures, limits that a result is judged by, settings and people."""
ASKED_BY_ITSELF = frozenset(
    {
        "board.board",
        "climate.room",
        "demo.demo",
        "instruments.instruments",
        "jobs.job",
        "people.look_at_pairing",
        "people.session_now",
        "plan.plan",
        "records.standing",
        "timers.timers",
        "together.together",
    }
)
"""What an open page asks again and again: that alone does not keep a sign-in from ending."""
BEFORE_CHOOSING = frozenset({"people.change_own_password", "people.sign_out"})
"""What is left to somebody whose password a lead set, until they choose their own."""
TRIES = (RateLimitItemPerMinute(8), RateLimitItemPerHour(60))
"""Wrong passwords and PINs from one address, and for one account, before the next one has to wait."""


@dataclass(frozen=True)
class Workshop:
    """How a lab is served to more than one person: under which names, over which certificate, behind which proxy."""

    hosts: frozenset[str] = field(default_factory=frozenset)
    behind_proxy: bool = False
    certificate_ends: str | None = None


class SomebodySignedIn(UserMixin):  # type: ignore[misc]
    """A sign-in as the framework wants it."""

    def __init__(self, secret: str, row: SignIn) -> None:
        self.id = secret
        self.row = row


class _CookieOfItsWay(SecureCookieSessionInterface):
    """A cookie that goes over TLS alone, where it came over TLS."""

    def get_cookie_secure(self, app: Any) -> bool:
        """Whether the request came over TLS, here or at the proxy."""
        return bool(request.is_secure)


def guard(app: APIFlask) -> None:
    """Let people in by their sign-in, where :func:`open_to_workshop` was called; anybody else only where nobody signs in."""
    login = LoginManager(app)
    login.session_protection = None
    login.user_loader(_signed_in)
    app.before_request(_let_in)


def open_to_workshop(app: APIFlask, workshop: Workshop, unit: UnitOfWork) -> None:
    """Ask people to sign in from here on."""
    secret = cookie_secret(unit)
    app.config.update(
        WORKSHOP=workshop,
        HOSTS=LOCAL_HOSTS | workshop.hosts,
        SECRET_KEY=secret,
        SESSION_COOKIE_NAME=f"setback-{secret[:6]}",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_REFRESH_EACH_REQUEST=False,
        PERMANENT_SESSION_LIFETIME=max(DEVICE_KEPT, LONGEST),
    )
    app.session_interface = _CookieOfItsWay()
    app.extensions["tries"] = MovingWindowRateLimiter(MemoryStorage())
    if workshop.behind_proxy:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=1, x_proto=1, x_host=1)  # type: ignore[method-assign]


def asks() -> bool:
    """Whether people sign in here."""
    return current_app.config.get("WORKSHOP") is not None


def _signed_in(secret: str) -> SomebodySignedIn | None:
    row = current(without_name(), secret, is_used=request.endpoint not in ASKED_BY_ITSELF)
    return SomebodySignedIn(secret, row) if row else None


def signed_in_row() -> SignIn | None:
    """The sign-in of this request; None where nobody is signed in, or nobody has to be."""
    if not asks() or not current_user.is_authenticated:
        return None
    return current_user.row  # type: ignore[no-any-return]


def device_secret() -> str:
    """The secret this device is known by; empty at a new one."""
    return str(session.get(DEVICE, ""))


def too_many_tries(initials: str) -> bool:
    """Whether so many tries failed from this address, or for these initials from it, that the next one has to wait."""
    tries = current_app.extensions["tries"]
    return not all(tries.test(item, key) for item, key in _counted(initials))


def note_failed_try(initials: str) -> None:
    """Count a password or PIN that was wrong."""
    for item, key in _counted(initials):
        current_app.extensions["tries"].hit(item, key)


def _counted(initials: str) -> list[tuple[RateLimitItem, str]]:
    keys = (f"address {request.remote_addr}", f"initials {initials.strip().upper()[:20]} {request.remote_addr}")
    return [(item, key) for item in TRIES for key in keys]


def _let_in() -> Response | None:
    endpoint = request.endpoint or ""
    is_api = request.path.startswith("/api/")
    if not asks() or not is_api or endpoint in OPEN:
        return None
    if endpoint == CALENDAR and is_feed(without_name(), (request.view_args or {})["token"]):
        return None
    row = signed_in_row()
    if row is None:
        return error_answer(401, "Sign in first. What you typed is still here.", {"sign_in": "Sign in first."})
    role, needed = Role(row.role), _needed(endpoint)
    if not may(role, needed):
        return error_answer(403, _refusal(row, needed))
    if row.must_change and request.method in WRITES and endpoint not in BEFORE_CHOOSING:
        return error_answer(403, "Choose a password of your own first: a lead set the one you have.")
    return None


def _needed(endpoint: str) -> Role:
    is_about_people = (request.view_args or {}).get("kind") == "technicians"
    if endpoint in LEADS or is_about_people:
        return Role.LEAD
    if request.method in WRITES and endpoint not in ASK_ONLY | ONES_OWN:
        return Role.TECHNICIAN
    return Role.VIEWER


def _refusal(row: SignIn, needed: Role) -> str:
    if needed == Role.LEAD:
        return f"This is for a lead, and {row.initials} is a {row.role}. Nothing was changed."
    return f"{row.initials} may look at everything and change nothing. A lead can change that."
