"""A lab in a temporary file, with a clock moved by hand and ids from a seed."""

from __future__ import annotations

import gc
import os
import random
import shutil
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from argon2.profiles import CHEAPEST
from hypothesis import settings

from setback.api.app import create_app, every_address
from setback.demo import DEMO_NOW
from setback.services.people import secrets_at_rest
from setback.services.unit_of_work import UnitOfWork, seeded_ids
from setback.store import journal
from setback.store.database import connect, migrate
from setback.store.maintenance import copy_to
from tests.kept_demo import kept_demo, make_key
from tests.lab import Lab, Prepared, brief, sign

# How long an example takes is measured in the bench, never in a test: a machine may pause at any time.
# The same examples in every run, so that what lands is what was checked; HYPOTHESIS_PROFILE=explore draws others.
settings.register_profile("checked", deadline=None, derandomize=True)
settings.register_profile("explore", deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "checked"))

# What takes longest, started first so that no worker is left with it at the end.
LONG = (
    "test_five_at_once",
    "test_days",
    "test_walks",
    "test_seven_stages",
    "test_fuzz",
    "test_heavy",
    "test_demo",
    "browser/test_workshop_day",
    "browser/test_own_records",
    "browser/test_phone",
    "browser/test_people",
    "browser/test_plan",
    "browser/test_whole_job",
    "browser/test_blends",
    "browser/test_climate",
    "trace/test_planted",
    "reading/test_pictures",
    "window/test_next_coupon",
    "services/test_bundles",
)


def pytest_configure() -> None:
    """What the imports left stays: it is not gone through again with each collection of garbage."""
    gc.freeze()
    gc.set_threshold(50_000, 50, 100)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Each worker begins with its share of the long tests: it takes an equal run of the list, and steals from the end of others' runs."""
    workers = int(os.environ.get("PYTEST_XDIST_WORKER_COUNT", "1"))
    long = [item for item in items if any(name in item.nodeid for name in LONG)]
    short = [item for item in items if item not in set(long)]
    ordered: list[pytest.Item] = []
    for worker in range(workers):
        room = (len(items) - len(ordered)) // (workers - worker)
        own = long[worker::workers]
        ordered += own + short[: room - len(own)]
        del short[: room - len(own)]
    items[:] = ordered


class MovedClock:
    def __init__(self) -> None:
        self.now = datetime(2026, 1, 21, 9, 0, tzinfo=UTC)

    def __call__(self) -> datetime:
        self.now += timedelta(seconds=1)
        return self.now


@pytest.fixture
def db_path(tmp_path: Path) -> Path:
    return tmp_path / "lab.db"


@pytest.fixture(scope="session", autouse=True)
def key_of_the_tests() -> None:
    """Made by whichever worker comes first."""
    make_key()


@pytest.fixture(scope="session", autouse=True)
def quick_hashes():
    """Passwords of tests are guarded from nobody: a third of a second for each is saved. What the app takes is tested by itself."""
    as_in_the_app = secrets_at_rest._hasher
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(secrets_at_rest, "_hasher", lambda: PasswordHasher.from_parameters(CHEAPEST))
        yield as_in_the_app


@pytest.fixture(scope="session")
def empty_lab(tmp_path_factory, key_of_the_tests) -> Path:
    """A file with every table and nothing in them, made once: copied, it is ready sooner than migrated anew."""
    path = tmp_path_factory.mktemp("empty") / "lab.db"
    migrate(path)
    db = connect(path)
    db.moment = MovedClock()
    journal.begin(db)
    db.close()
    return path


@pytest.fixture(scope="session")
def staffed_lab(empty_lab, application, tmp_path_factory) -> tuple[Path, datetime, int]:
    """The same with the technician each test begins with; the moment after it was entered, and how many ids that took."""
    path = tmp_path_factory.mktemp("staffed") / "lab.db"
    shutil.copyfile(empty_lab, path)
    clock, ids, taken = MovedClock(), seeded_ids(1), []

    def new_id() -> str:
        taken.append(ids())
        return taken[-1]

    app = create_app(path, clock=clock, new_id=new_id, routes=application, worker=False)
    Lab(app.test_client(), random.Random(3), clock=clock, path=path).post("/api/technicians", {"initials": "IM"}, 201)
    app.extensions["connections"].close()
    return path, clock.now, len(taken)


@pytest.fixture(scope="session")
def built_demo() -> Path:
    """The demo file, one for all workers; copy it before changing it."""
    return kept_demo()


@pytest.fixture
def demo_path(built_demo, tmp_path) -> Path:
    path = tmp_path / "demo.db"
    copy_to(built_demo, path)
    return path


@pytest.fixture
def work(db_path, empty_lab):
    shutil.copyfile(empty_lab, db_path)
    db = connect(db_path)
    yield UnitOfWork(db, MovedClock(), seeded_ids(1), "IM")
    db.close()


@pytest.fixture(scope="session")
def application():
    """All routes, compiled once: each test lays them over its own file."""
    app = every_address()
    app.testing = False
    app.config["PROPAGATE_EXCEPTIONS"] = False
    return app


@pytest.fixture(scope="session")
def prepared(empty_lab, tmp_path_factory) -> Callable[[], Prepared]:
    """A lab with a calibration that is decided, made when it is first asked for."""

    @lru_cache
    def make() -> Prepared:
        path = tmp_path_factory.mktemp("prepared") / "lab.db"
        copy_to(empty_lab, path)
        clock = MovedClock()
        app = create_app(path, clock=clock, new_id=seeded_ids(101), worker=False)
        made = Lab(app.test_client(), random.Random(3), clock=clock)
        made.post("/api/technicians", {"initials": "IM"}, 201)
        return Prepared(path, made.decide()["id"], clock.now, made.noise.getstate())

    return make


@pytest.fixture
def lab(db_path, staffed_lab, application, prepared):
    path, now, ids_taken = staffed_lab
    shutil.copyfile(path, db_path)
    clock, ids = MovedClock(), seeded_ids(1)
    for _ in range(ids_taken):
        ids()
    app = create_app(db_path, clock=clock, new_id=ids, routes=application)
    clock.now = now
    yield Lab(app.test_client(), random.Random(3), clock=clock, path=db_path, prepared=prepared, changes=1)
    app.extensions["jobs"].stop()
    app.extensions["connections"].close()


@pytest.fixture
def demo_lab(demo_path, application):
    """The demo through its API, on the day its story ends."""
    clock = MovedClock()
    clock.now = DEMO_NOW
    app = create_app(demo_path, clock=clock, new_id=seeded_ids(1), routes=application)
    yield Lab(app.test_client(), random.Random(3), clock=clock, path=demo_path)
    app.extensions["jobs"].stop()
    app.extensions["connections"].close()


@pytest.fixture(scope="session")
def small_lab(prepared, empty_lab, tmp_path_factory) -> Path:
    """The file of a lab with one issued set and one signed qualification; copy it before changing it."""
    path = tmp_path_factory.mktemp("small") / "lab.db"
    copy_to(empty_lab, path)
    clock = MovedClock()
    app = create_app(path, clock=clock, new_id=seeded_ids(11), worker=False)
    made = Lab(app.test_client(), random.Random(3), clock=clock, path=path, prepared=prepared)
    made.post("/api/technicians", {"initials": "IM"}, 201)
    card = made.issue(made.decided(), temp_low_c=21, temp_high_c=27)
    sign(made, brief(made), card, scope="Covers of up to 120 mm")
    return path


@pytest.fixture
def small_path(small_lab, tmp_path) -> Path:
    path = tmp_path / "small.db"
    copy_to(small_lab, path)
    return path
