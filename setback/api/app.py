"""The web application: API, shipped front end, and the spec that documents both sides."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from importlib import import_module
from pathlib import Path
from typing import Any

from apiflask import APIFlask
from flask import Response, send_from_directory

from .. import __version__
from ..services.instruments.watching import Watch
from ..services.lab.address_check import AddressChecks
from ..services.lab.chores import Chores
from ..services.lab.health import checks
from ..services.lab.jobs import Worker
from ..services.lab.together import OpenTabs
from ..services.people.pairing import Pairings
from ..services.reading.photos import LIMIT_BYTES
from ..services.unit_of_work import Clock, UnitOfWork, iso, real_clock, real_ids
from ..store import journal
from ..store.database import Connections, TakesNoWriting, can_be_written, migrate, put_together
from ..store.instruments import instruments as instrument_rows
from ..store.touched import Recorded
from . import (
    access,
    blends,
    climate,
    door,
    earlier,
    errors,
    gauge,
    people,
    plan,
    plate,
    practice,
    prints,
    qualify,
    reading,
    requests,
    shelf,
    testing,
    trace,
)
from .calibrate import calibrations, guesses, stages
from .files import bundles, coupon_files, labels
from .lab import calculators, instruments, jobs, lab_settings, pages, records, timers, together
from .lab import demo as lab_demo
from .sets import board, validity
from .sets import parameter_sets as sets
from .spec import tidy
from .wiring import as_json, close_work, kind_of_device, say_tables, write_in_lab_form

WEB = Path(__file__).parent.parent / "web"


def create_app(
    path: Path,
    *,
    clock: Clock = real_clock,
    new_id: Callable[[], str] = real_ids,
    demo: bool = False,
    worker: bool = True,
    chores: bool = False,
    closes: bool = False,
    workshop: access.Workshop | None = None,
    routes: APIFlask | None = None,
) -> APIFlask:
    """Build the application over one database file, brought up to date first.

    ``chores``: a copy a day, a walk through all records, and clearing up, by the worker. ``closes``: a demo that was opened beside a lab. ``workshop``: people sign in; None serves one person. ``routes`` made before by :func:`every_address` spare making them; their worker over another file must be stopped.
    """
    # Before threads share it: two that import it for the first time at once can find it half made.
    import_module("scipy.stats")
    migrate(path)
    app = routes or every_address()

    def make_work(db: Recorded) -> UnitOfWork:
        """A unit of work over a connection, with this application's clock and ids."""
        return UnitOfWork(db, clock, new_id)

    app.config.update(
        DB_PATH=path,
        DEMO=demo,
        CLOSES=closes,
        CLOCK=clock,
        MAKE_WORK=make_work,
        WORKSHOP=None,
        HOSTS=door.LOCAL_HOSTS,
    )
    app.extensions.update(address_checks=AddressChecks(), tabs=OpenTabs(), pairings=Pairings())
    if "connections" in app.extensions:
        app.extensions["connections"].close()
    app.extensions["connections"] = Connections(path)
    _begin_journal(app.extensions["connections"], clock)
    if workshop is not None:
        db = app.extensions["connections"].lend()
        access.open_to_workshop(app, workshop, make_work(db))
        app.extensions["connections"].take_back(db)
    if "instruments" in app.extensions:
        app.extensions["instruments"].stop()
    app.extensions["instruments"] = Watch()
    if worker and can_be_written(path):
        _watch_instruments(app)
        app.extensions["jobs"] = Worker(path, make_work, Chores() if chores else None)
        app.extensions["jobs"].start()
    return app


def _watch_instruments(app: APIFlask) -> None:
    db = app.extensions["connections"].lend()
    app.extensions["instruments"].follow(instrument_rows(db))
    app.extensions["connections"].take_back(db)


def _begin_journal(connections: Connections, clock: Clock) -> None:
    db = connections.lend()
    db.moment = clock
    with suppress(TakesNoWriting):
        journal.begin(db)
    connections.take_back(db)


def shut(app: APIFlask) -> None:
    """Hand running jobs back, close the file and the demo beside it, and leave all that was written in it alone."""
    if "demo_beside" in app.extensions:
        app.extensions["demo_beside"].close()
    app.extensions["instruments"].stop()
    if "jobs" in app.extensions:
        app.extensions["jobs"].stop()
    app.extensions["connections"].close()
    put_together(app.config["DB_PATH"])


def every_address() -> APIFlask:
    """The application with all its routes, over no file yet."""
    app = APIFlask(
        "setback",
        title="Setback",
        version=__version__,
        spec_path="/api/openapi.json",
        docs_path=None,
    )
    app.config.update(
        OPENAPI_VERSION="3.1.0",
        DESCRIPTION="Calibrate, test and qualify materials for resin printing.",
        MAX_CONTENT_LENGTH=LIMIT_BYTES + 100_000,
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]
    for part in (
        shelf,
        calibrations,
        coupon_files,
        reading,
        gauge,
        sets,
        board,
        calculators,
        instruments,
        jobs,
        records,
        lab_demo,
        labels,
        lab_settings,
        stages,
        plate,
        practice,
        timers,
        together,
        prints,
        trace,
        plan,
        earlier,
        validity,
        guesses,
        pages,
        testing,
        blends,
        climate,
        qualify,
        bundles,
        people,
    ):
        app.register_blueprint(part.blueprint)
    requests.number(app)
    errors.register(app)
    door.guard(app)
    access.guard(app)
    app.spec_processor(tidy)  # type: ignore[arg-type]
    app.after_request(say_tables)
    app.after_request(write_in_lab_form)
    app.teardown_appcontext(close_work)
    _serve_front_end(app)
    return app


def _serve_front_end(app: APIFlask) -> None:
    @app.get("/api/health")
    @app.doc(hide=True)
    def health() -> Any:
        """Says whether the server can do its work, and which version it is; 503 when a check fails."""
        found = checks(
            app.config["DB_PATH"], app.extensions["connections"], app.extensions.get("jobs"), app.config["DEMO"]
        )
        is_well = all(check.ok for check in found)
        body = {
            "ok": is_well,
            "version": __version__,
            "demo": app.config["DEMO"],
            "checks": [check.model_dump() for check in found],
        }
        return as_json(body, 200 if is_well else 503)

    @app.get("/api/docs")
    @app.doc(hide=True)
    def docs() -> Response:
        """The API described, with its scripts in files of their own."""
        return send_from_directory(WEB / "api-page", "docs.html", max_age=0)

    @app.get("/reached/<token>")
    @app.doc(hide=True)
    def reached(token: str) -> Response:
        """Where the code of a check of the address leads: it says so here, and the page that waits hears of it."""
        is_known = app.extensions["address_checks"].reach(token, iso(app.config["CLOCK"]()), kind_of_device())
        words = (
            "This device reached Setback. The address works; go back to the screen with the code."
            if is_known
            else "This check is over. Begin a new one under This lab, Settings."
        )
        return Response(f"{words}\n", status=200 if is_known else 404, mimetype="text/plain")

    @app.get("/")
    @app.get("/<path:place>")
    @app.doc(hide=True)
    def front_end(place: str = "index.html") -> Response:
        """A file of the front end; its page for every other address."""
        if place.startswith("api/"):
            return errors.error_answer(404, "There is no such address in the API.")
        if place != "index.html" and (WEB / place).is_file():
            long = 31_536_000 if place.startswith("assets/") else 0
            return send_from_directory(WEB, place, max_age=long)
        if not (WEB / "index.html").is_file():
            return errors.error_answer(503, "The front end is not built. Run make web.")
        return send_from_directory(WEB, "index.html", max_age=0)
