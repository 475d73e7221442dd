"""What every blueprint uses: the unit of work of a request, checked input, lists."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

from apiflask import APIBlueprint
from flask import Response, current_app, g, request
from flask_login import current_user
from pydantic import BaseModel, create_model
from werkzeug.exceptions import UnsupportedMediaType

from ..core.calculators import validated
from ..core.contract import Contract, Problem
from ..core.lab_form import answer_in_lab_form
from ..core.reading_json import read_json
from ..services.files.coupon_files import Made
from ..services.lab_settings import number_form
from ..services.unit_of_work import UnitOfWork, View

View_ = TypeVar("View_", bound=Callable[..., Any])


def without_name() -> UnitOfWork:
    """The unit of work of this request before it is known who works: signing in reads the database too."""
    if "work" not in g:
        g.work = current_app.config["MAKE_WORK"](current_app.extensions["connections"].lend())
    return g.work  # type: ignore[no-any-return]


def work() -> UnitOfWork:
    """The unit of work of this request, with a connection that is its own until it ends."""
    unit = without_name()
    if "is_named" in g:
        return unit
    g.is_named = True
    if current_app.config.get("WORKSHOP") is None:
        unit.initials = request.headers.get("Setback-Technician") or None
    elif current_user.is_authenticated:
        unit.initials, unit.sign_in_id = current_user.row.initials, current_user.row.id
    # What it took to know who works is no part of the answer.
    unit.db.forget_statements()
    unit.by_a_person = True
    unit.db.tab = request.headers.get("Setback-Tab") or None
    key = request.headers.get("Idempotency-Key")
    if key:
        unit.request_key = f"{request.method} {request.path} {key}"
        unit.request_content = _what_is_asked(unit.initials)
        unit.new_id = _chosen_first(key, unit.new_id)
    unit.waited_s = _waited_s()
    if request.method == "GET":
        unit.hold()
    return unit


LONGEST_WAIT_S = 60 * 86_400


def _waited_s() -> float:
    """How long a request waited in its device, by the device's own clock, which may be off; nothing sensible counts as none."""
    text = request.headers.get("Setback-Waited", "0")
    return float(min(int(text), LONGEST_WAIT_S)) if text.isascii() and text.isdigit() else 0.0


def kind_of_device() -> str:
    """What sends this request, as far as a list of devices tells them apart."""
    return "phone" if "Mobi" in request.headers.get("User-Agent", "") else "computer"


def _what_is_asked(initials: str | None) -> bytes:
    """The hash of a request's body and of who sends it; of a file that streams, its length alone."""
    content = request.get_data() if request.is_json else str(request.content_length).encode()
    return hashlib.sha256(f"{initials} ".encode() + content).digest()


def _chosen_first(key: str, new_id: Callable[[], str]) -> Callable[[], str]:
    """Ids of which the first is the key of the request, where that is a UUID: whoever sends a record names it."""
    try:
        chosen = iter([str(uuid.UUID(key))])
    except ValueError:
        return new_id
    return lambda: next(chosen, None) or new_id()


def say_tables(answer: Response) -> Response:
    """Say with each answer which tables it was read from, or which were written: a page asks anew only for what a change touched."""
    unit = g.get("work")
    if unit is not None and "is_named" in g and answer.status_code < 400:
        if request.method == "GET":
            answer.headers["Setback-Read"] = " ".join(sorted(unit.db.tables_read()))
        elif "was_repeated" not in g:
            answer.headers["Setback-Written"] = " ".join(sorted(unit.db.tables_written()))
    return answer


CONTRACTS = ("/api/calculators", "/api/openapi.json")
"""Answers in the units of their contract, whatever the lab reads."""


def write_in_lab_form(answer: Response) -> Response:
    """Rewrite the words of an answer in the lab's units and decimal mark; its numbers and files stay as they are kept."""
    is_file = "Content-Disposition" in answer.headers
    if "work" not in g or not answer.is_json or is_file or request.path.startswith(CONTRACTS):
        return answer
    form = number_form(g.work.db)
    if not form.is_usual:
        answer.set_data(json.dumps(answer_in_lab_form(answer.get_json(), form), allow_nan=False, ensure_ascii=False))
    return answer


def close_work(_: BaseException | None = None) -> None:
    """Give the connection of this request back."""
    unit = g.pop("work", None)
    if unit is not None:
        current_app.extensions["connections"].take_back(unit.db)


class Blueprint(APIBlueprint):
    """Some addresses of the API. A model goes out as JSON in one step, several times as fast as by way of plain objects."""

    def output(self, schema: Any, status_code: int = 200, *more: Any, **options: Any) -> Any:
        """Document what a view answers with, and write its model out; a file or a list goes out as it is."""
        documented = super().output(schema, status_code, *more, **options)

        def decorate(view: Callable[..., Any]) -> Any:
            """The view that answers with JSON."""

            @wraps(view)
            def written(*args: Any, **kwargs: Any) -> Any:
                """The answer of the view, written out."""
                answer = view(*args, **kwargs)
                if not isinstance(answer, BaseModel):
                    return answer
                return Response(answer.model_dump_json(by_alias=True), status_code, mimetype="application/json")

            return documented(written)

        return decorate


def takes(blueprint: Blueprint, model: type[Contract], location: str = "json") -> Callable[[View_], View_]:
    """Check the body or query against a contract and pass it to the view as ``body`` or ``query``.

    The framework's own check is used for documentation only: its messages speak of types, ours of what to do.
    """

    name = "query" if location == "query" else "body"

    def decorate(view: View_) -> View_:
        """Document the input and check it before the view runs."""
        blueprint.input(model, location=location)(view)

        @wraps(view)
        def checked(*args: Any, **kwargs: Any) -> Any:
            """The view, called with what was checked."""
            raw = request.args.to_dict() if location == "query" else _body()
            return view(*args, **{name: validated(model, raw)}, **kwargs)

        return checked  # type: ignore[return-value]

    return decorate


def uploaded(name: str) -> bytes:
    """The one file of a multipart form.

    Raises
    ------
    Problem
        When there is none of this name.
    """
    upload = request.files.get(name)
    if upload is None:
        message = f"Send one file named {name}."
        raise Problem(message, {name: message})
    content: bytes = upload.read()
    return content


def json_text() -> str:
    """The body of a request that says it is JSON.

    Raises
    ------
    UnsupportedMediaType
        When it says it is something else: a form of another page can send that without being asked.
    """
    text = request.get_data(as_text=True)
    if text and not request.is_json:
        raise UnsupportedMediaType("Send JSON, and say so: Content-Type: application/json.")
    return text


def _body() -> Any:
    text = json_text()
    return read_json(text or "{}")


def list_of(view: type[BaseModel]) -> type[BaseModel]:
    """A page of views or rows: ``{"items": [...]}``."""
    return create_model(f"{view.__name__}List", __base__=View, items=(list[view], ...))  # type: ignore[valid-type]


def page_of(view: type[BaseModel]) -> type[BaseModel]:
    """Some of a long list, and how many there are: ``{"items": [...], "total": 1204}``."""
    name = f"{view.__name__}Page"
    return create_model(name, __base__=View, items=(list[view], ...), total=(int, ...))  # type: ignore[valid-type]


def as_json(body: Any, status: int = 200) -> Response:
    """Plain objects as JSON, for answers that have no model of their own."""
    return Response(json.dumps(body, allow_nan=False), status=status, mimetype="application/json")


def file_response(file: Made) -> Response:
    """A made file as an answer, with its name."""
    answer = Response(file.content, mimetype=file.mime)
    answer.headers["Content-Disposition"] = f'attachment; filename="{file.name}"'
    return answer
