"""One shape for every error: ``{"error": {"message", "fields", "suggest", "request"}}``; a stale edit brings both versions."""

from __future__ import annotations

import logging
import re
import sqlite3
from typing import Any

from apiflask import APIFlask
from flask import Response, g
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from ..core.contract import Problem
from ..services.both_versions import Stale
from ..services.unit_of_work import AlreadyDone, Conflict, NotFound, RecordedAlready
from .requests import of_this_request
from .wiring import as_json

log = logging.getLogger(__name__)
_SAME_ID = re.compile(r"UNIQUE constraint failed: \w+\.id$")


def error_answer(
    status: int,
    message: str,
    fields: dict[str, str] | None = None,
    suggest: dict[str, float] | None = None,
    more: dict[str, Any] | None = None,
) -> Response:
    """The one shape of an error: words, what is wrong at which field, numbers that would do, and the number in the log; ``more`` is what one kind of error says besides."""
    content = {"message": message, "fields": fields or {}, "suggest": suggest or {}, "request": of_this_request()}
    return as_json({"error": content | (more or {})}, status)


def _damaged(error: sqlite3.Error) -> Response:
    log.error("The database is damaged or gone (request %s)", of_this_request(), exc_info=error)
    message = "The database file is damaged or gone. Nothing was saved. Stop the server and restore a backup."
    return error_answer(503, message)


def _in_the_log() -> str:
    return f"The server's log has the details under {of_this_request()}."


def register(app: APIFlask) -> None:
    """Turn what services raise into answers."""

    @app.errorhandler(Problem)
    def problem(error: Problem) -> Response:
        """Input that cannot be used: 422."""
        return error_answer(422, error.message, error.fields, error.suggest)

    @app.errorhandler(Conflict)
    def conflict(error: Conflict) -> Response:
        """A stale edit, or a rule of the job that forbids the step now: 409."""
        return error_answer(409, error.message, error.fields)

    @app.errorhandler(Stale)
    def stale(error: Stale) -> Response:
        """A stale edit with both versions: 409."""
        both = {"differences": [row.model_dump() for row in error.differences], "over": error.over}
        return error_answer(409, error.message, more=both)

    @app.errorhandler(RecordedAlready)
    def recorded(error: RecordedAlready) -> Response:
        """A repeat of what was done long ago: 409, and whoever waits for it need not send it again."""
        return error_answer(409, error.message, more={"recorded": True})

    @app.errorhandler(NotFound)
    def not_found(error: NotFound) -> Response:
        """What was asked for is not there: 404."""
        return error_answer(404, str(error))

    @app.errorhandler(AlreadyDone)
    def already_done(error: AlreadyDone) -> Response:
        """A create that is repeated gets its first answer; what that one wrote is not known any more."""
        g.was_repeated = True
        return as_json(error.answer)

    @app.errorhandler(RequestEntityTooLarge)
    def too_large(_: RequestEntityTooLarge) -> Response:
        """A file over the limit: 413."""
        message = "This file is too large: 25 MB at most. Take the photo at a lower resolution."
        return error_answer(413, message, {"photo": message})

    @app.errorhandler(sqlite3.OperationalError)
    def busy(error: sqlite3.OperationalError) -> Response:
        """The database is busy: 503; any other refusal of it: 500."""
        if "locked" in str(error) or "busy" in str(error):
            return error_answer(503, "The database is busy. Nothing was saved; try again.")
        if "readonly" in str(error):
            return error_answer(503, "The database may not be written. Everything can be looked at; nothing was saved.")
        if "full" in str(error):
            return error_answer(503, "The disk is full. Everything can be looked at; nothing was saved.")
        if "unable to open" in str(error) or "no such table" in str(error):
            return _damaged(error)
        log.exception("The database refused request %s", of_this_request(), exc_info=error)
        return error_answer(500, f"The database refused this. Nothing was saved. {_in_the_log()}")

    @app.errorhandler(sqlite3.DatabaseError)
    def damaged(error: sqlite3.DatabaseError) -> Response:
        """A record that is there already: 409. The file itself is wrong: 503; any other refusal: 500."""
        if isinstance(error, sqlite3.IntegrityError) and _SAME_ID.search(str(error)):
            return error_answer(409, "This was recorded already. Reload to see it.")
        if type(error) is not sqlite3.DatabaseError:
            return unforeseen(error)
        return _damaged(error)

    @app.errorhandler(HTTPException)
    def plain(error: HTTPException) -> Response:
        """Errors of the framework in our own shape."""
        return error_answer(error.code or 500, error.description or error.name)

    @app.errorhandler(Exception)
    def unforeseen(error: Exception) -> Response:
        """Whatever nobody foresaw: 500, with the details in the log."""
        log.exception("Request %s ended in an error nobody foresaw", of_this_request(), exc_info=error)
        return error_answer(500, f"Something went wrong in Setback. Nothing was saved. {_in_the_log()}")
