"""Every request has a number: it stands in the log, in the answer, and in every message of an error."""

from __future__ import annotations

import logging
import secrets
import time

from apiflask import APIFlask
from flask import Response, g, request

from ..logs import REQUESTS

log = logging.getLogger(REQUESTS)
HEADER = "Setback-Request"


def number(app: APIFlask) -> None:
    """Give each request of an application its number, and write it down when it is answered."""
    app.before_request(_begin)
    app.after_request(_end)


def of_this_request() -> str:
    """The number of the request at hand."""
    if "request_number" not in g:
        _begin()
    return str(g.request_number)


def _begin() -> None:
    g.request_number = secrets.token_hex(4)
    g.request_begun = time.perf_counter()


def _end(answer: Response) -> Response:
    answer.headers[HEADER] = of_this_request()
    took_ms = 1000 * (time.perf_counter() - g.request_begun)
    # A path may hold anything: as repr it stays one line.
    path = request.path[:300].encode("unicode_escape").decode("ascii")
    log.info("%s %s %s %d %.0f ms", of_this_request(), request.method, path, answer.status_code, took_ms)
    return answer
