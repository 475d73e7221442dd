"""A lab that is served to a workshop: people with accounts, each at a browser of their own."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any
from unittest.mock import patch

from apiflask import APIFlask
from flask.testing import FlaskClient

from setback.api.access import Workshop
from setback.api.app import create_app
from setback.core.people.access import Role
from setback.services.people import accounts, secrets_at_rest
from setback.services.unit_of_work import UnitOfWork, seeded_ids
from setback.store.database import connect

PASSWORDS = {"RB": "kelp forest at low tide", "IM": "three grey cormorants", "LO": "looks through a window"}
ROLES = {"RB": Role.LEAD, "IM": Role.TECHNICIAN, "LO": Role.VIEWER}
HOST = "bench.local"


HASHED = cache(secrets_at_rest.hashed)
"""A password is hashed slowly on purpose; these are hashed once in each process."""


def add_people(path: Path, clock: Any) -> None:
    """RB a lead, IM a technician, LO a viewer, each with a password of their own."""
    db = connect(path)
    work = UnitOfWork(db, clock, seeded_ids(40))
    with patch.object(accounts, "hashed", HASHED):
        for initials, role in ROLES.items():
            request = accounts.AccountInput(initials=initials, role=role, password=PASSWORDS[initials])
            accounts.add(work, request, is_own=True)
    db.close()


@dataclass
class Browser:
    """Somebody's browser: it keeps its cookies, and sends what our own pages send."""

    client: FlaskClient
    url: str = f"https://{HOST}"
    headers: dict[str, str] = field(default_factory=dict)

    def ask(self, method: str, url: str, body: Any = None, expected: int = 200, **headers: str) -> Any:
        """The body of an answer of the expected status."""
        answer = self.client.open(url, base_url=self.url, method=method, json=body, headers={**self.headers, **headers})
        assert answer.status_code == expected, f"{method} {url}: {answer.status_code} {answer.get_data(as_text=True)}"
        return answer.get_json()

    def get(self, url: str, expected: int = 200) -> Any:
        return self.ask("GET", url, None, expected)

    def post(self, url: str, body: Any = None, expected: int = 200, **headers: str) -> Any:
        return self.ask("POST", url, {} if body is None else body, expected, **headers)

    def put(self, url: str, body: Any, expected: int = 200) -> Any:
        return self.ask("PUT", url, body, expected)

    def sign_in(self, initials: str, password: str | None = None, expected: int = 200) -> Any:
        body = {"initials": initials, "password": PASSWORDS[initials] if password is None else password}
        return self.post("/api/session/sign-in", body, expected)


@dataclass
class Shop:
    """The application, its file and clock, and browsers at it."""

    app: APIFlask
    path: Path
    clock: Any

    def browser(self, initials: str | None = None) -> Browser:
        """A browser that was never here, at which somebody signs in."""
        made = Browser(self.app.test_client())
        if initials:
            made.sign_in(initials)
        return made


def opened(path: Path, clock: Any, routes: APIFlask | None = None, **workshop: Any) -> Iterator[Shop]:
    """A lab's file with people, served to them."""
    add_people(path, clock)
    named = Workshop(frozenset({HOST}), **workshop)
    app = create_app(path, clock=clock, new_id=seeded_ids(41), worker=False, workshop=named, routes=routes)
    yield Shop(app, path, clock)
    app.extensions["connections"].close()
