"""The web application: API, shipped front end, and the spec that documents both sides."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from apiflask import APIFlask
from flask import Response, send_from_directory

from .. import __version__
from ..services.lab.jobs import Worker
from ..services.reading.photos import LIMIT_BYTES
from ..services.unit_of_work import Clock, UnitOfWork, real_clock, real_ids
from ..store.database import Connections, migrate
from ..store.touched import Recorded
from . import blends, climate, errors, plate, prints, qualify, reading, shelf, testing
from .calibrate import calibrations, guesses, stages
from .files import bundles, coupon_files, labels
from .lab import calculators, jobs, pages, timers
from .sets import board, validity
from .sets import parameter_sets as sets
from .spec import tidy
from .wiring import as_json, close_work, say_tables

WEB = Path(__file__).parent.parent / "web"


def create_app(
    path: Path,
    *,
    clock: Clock = real_clock,
    new_id: Callable[[], str] = real_ids,
    demo: bool = False,
    worker: bool = True,
    routes: APIFlask | None = None,
) -> APIFlask:
    """Build the application over one database file, brought up to date first.

    ``routes`` made before by :func:`every_address` spare making them; their worker over another file must be stopped.
    """
    migrate(path)
    app = routes or every_address()

    def make_work(db: Recorded) -> UnitOfWork:
        """A unit of work over a connection, with this application's clock and ids."""
        return UnitOfWork(db, clock, new_id)

    app.config.update(DB_PATH=path, DEMO=demo, MAKE_WORK=make_work)
    if "connections" in app.extensions:
        app.extensions["connections"].close()
    app.extensions["connections"] = Connections(path)
    if worker:
        app.extensions["jobs"] = Worker(path, make_work)
        app.extensions["jobs"].start()
    return app


def every_address() -> APIFlask:
    """The application with all its routes, over no file yet."""
    app = APIFlask(
        "setback",
        title="Setback",
        version=__version__,
        spec_path="/api/openapi.json",
        docs_path="/api/docs",
        docs_ui="swagger-ui",
    )
    app.config.update(
        OPENAPI_VERSION="3.1.0",
        DESCRIPTION="Calibrate, test and qualify materials for resin printing.",
        MAX_CONTENT_LENGTH=LIMIT_BYTES + 100_000,
        DOCS_FAVICON="/favicon.svg",
        SWAGGER_UI_CSS="/api-page/swagger-ui.css",
        SWAGGER_UI_BUNDLE_JS="/api-page/swagger-ui-bundle.js",
        SWAGGER_UI_STANDALONE_PRESET_JS="/api-page/swagger-ui-standalone-preset.js",
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]
    for part in (
        shelf,
        calibrations,
        coupon_files,
        reading,
        sets,
        board,
        calculators,
        jobs,
        labels,
        stages,
        plate,
        timers,
        prints,
        validity,
        guesses,
        pages,
        testing,
        blends,
        climate,
        qualify,
        bundles,
    ):
        app.register_blueprint(part.blueprint)
    errors.register(app)
    app.spec_processor(tidy)  # type: ignore[arg-type]
    app.after_request(say_tables)
    app.teardown_appcontext(close_work)
    _serve_front_end(app)
    return app


def _serve_front_end(app: APIFlask) -> None:
    @app.get("/api/health")
    @app.doc(hide=True)
    def health() -> Any:
        """Says that the server answers, and which version it is."""
        return as_json({"ok": True, "version": __version__, "demo": app.config["DEMO"]})

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
