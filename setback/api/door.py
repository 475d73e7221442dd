"""The door: this app's own pages come in, other pages that are open in the same browser do not.

A page from elsewhere can make a browser send requests here, or give its own name this machine's address. So the name a request
is sent to must be one of ours, whatever writes must come from our own pages, and answers may be framed or read by nobody else.
"""

from __future__ import annotations

from urllib.parse import urlsplit

from apiflask import APIFlask
from flask import Response, current_app, request

from .errors import error_answer

LOCAL_HOSTS = frozenset({"localhost", "127.0.0.1", "::1"})
WRITES = frozenset({"POST", "PUT", "PATCH", "DELETE"})
OWN_PAGES = frozenset({"same-origin", "none"})
"""What a browser says of a request from our own page, or typed by the person."""
POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


def guard(app: APIFlask) -> None:
    """Watch the door of an application; the names it answers to are ``HOSTS`` in its settings."""
    app.config.setdefault("HOSTS", LOCAL_HOSTS)
    app.before_request(_refuse)
    app.after_request(_close_behind)


def _refuse() -> Response | None:
    if _host_name() not in current_app.config["HOSTS"]:
        return error_answer(421, "This server does not answer to that name. Open it by its own address.")
    if request.method in WRITES and not _from_our_pages():
        return error_answer(403, "This came from a page that is not Setback's own. Nothing was changed.")
    return None


def _host_name() -> str | None:
    try:
        return urlsplit(f"//{request.host}").hostname
    except ValueError:
        return None


def _from_our_pages() -> bool:
    """Programs that are no browser send neither header."""
    origin, site = request.headers.get("Origin"), request.headers.get("Sec-Fetch-Site")
    return (origin is None or origin == request.host_url.rstrip("/")) and (site is None or site in OWN_PAGES)


def _close_behind(answer: Response) -> Response:
    for name, value in HEADERS.items():
        answer.headers.setdefault(name, value)
    return answer
