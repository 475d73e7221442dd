"""A file, a bundle and a set of the last release (0.1, schema 13): everything opens, and nothing is lost."""

import gzip
import io
import random
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from setback.api.app import create_app
from setback.demo import DEMO_NOW
from setback.services.unit_of_work import seeded_ids
from setback.store import copies
from setback.store.database import MIGRATIONS, migrate
from tests.conftest import MovedClock
from tests.lab import Lab

FIXTURES = Path(__file__).parent.parent.parent / "fixtures"
SCHEMA = 13
PAGES = [
    "/api/board",
    "/api/calibrations",
    "/api/prints",
    "/api/tests",
    "/api/blends",
    "/api/batches",
    "/api/briefs",
    "/api/qualifications",
    "/api/probes",
    "/api/properties",
    "/api/guesses",
]


def rows_of(path):
    """How many rows each table has."""
    with closing(sqlite3.connect(path)) as db:
        names = [row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {name: db.execute(f"SELECT count(*) FROM {name}").fetchone()[0] for name in names}


@pytest.fixture
def released(tmp_path):
    """The lab of the last release, as its file was left."""
    path = tmp_path / "lab.db"
    path.write_bytes(gzip.decompress((FIXTURES / "release.db.gz").read_bytes()))
    return path


@pytest.fixture
def lab_over(application):
    """A lab over a file; its worker is stopped at the end."""
    clock = MovedClock()
    clock.now = DEMO_NOW
    apps = []

    def over(path):
        apps.append(create_app(path, clock=clock, new_id=seeded_ids(9), routes=application))
        return Lab(apps[-1].test_client(), random.Random(4), initials="IM", path=path, clock=clock)

    yield over
    for app in apps:
        app.extensions["jobs"].stop()


def every_record(lab, url, link="id"):
    return [row[link] for row in lab.get(url)["items"]]


def test_the_file_is_brought_up_to_date_with_a_copy_and_no_row_is_lost(released):
    before = rows_of(released)
    applied = migrate(released)
    steps = sorted(entry.name for entry in MIGRATIONS.iterdir() if entry.name.endswith(".sql"))
    assert applied == steps[SCHEMA:]
    after = rows_of(released)
    gone = {"idempotency"}
    assert {name: after[name] for name in before.keys() - gone} == {name: before[name] for name in before.keys() - gone}
    assert after["request"] == before["idempotency"], "answers stand under another name"
    with closing(sqlite3.connect(released)) as db:
        assert db.execute("SELECT DISTINCT driver FROM probe").fetchall() == [("simulated",)]
    [kept] = copies.copies(released)
    assert kept.before == int(applied[0][:4]) and rows_of(kept.path) == before


@pytest.mark.long
def test_every_list_and_every_record_of_it_opens(released, lab_over):
    lab = lab_over(released)
    for url in PAGES:
        lab.get(url)
    for calibration in every_record(lab, "/api/calibrations"):
        lab.get(f"/api/calibrations/{calibration}")
    for kind in ("tests", "blends", "batches", "briefs"):
        for record in every_record(lab, f"/api/{kind}"):
            lab.get(f"/api/{kind}/{record}")
    for kind in ("materials", "printers"):
        for record in every_record(lab, "/api/resins" if kind == "materials" else "/api/printers"):
            lab.get(f"/api/{kind}/{record}/page")
    job = lab.ended(lab.post("/api/jobs", {"kind": "verify"}, 201))
    assert job["result"]["intact"] and job["result"]["sets"] > 3 and job["result"]["qualifications"] > 0


@pytest.mark.long
def test_a_bundle_made_then_comes_into_a_lab_of_today(lab_over, released, tmp_path):
    before, lab = rows_of(released), lab_over(tmp_path / "today.db")
    came = lab.client.post("/api/bundles?name=lab.zip", data=io.BytesIO((FIXTURES / "release.zip").read_bytes()))
    assert came.status_code == 201, came.json
    looked = lab.ended(lab.post("/api/bundles/preview", {"id": came.json["id"]}, 201))["result"]
    assert looked["conflicting"] == 0 and looked["new"] > 5000
    lab.ended(lab.post("/api/bundles/import", {"id": came.json["id"]}, 201))
    after = rows_of(lab.path)
    own = {"job", "idempotency", "probe_file", "code_counter", "setting"}
    assert {name: after[name] for name in before.keys() - own} == {name: before[name] for name in before.keys() - own}
    assert (before["idempotency"], after["request"]) == (1, 0), "what stays on its machine is left behind"
    assert lab.ended(lab.post("/api/jobs", {"kind": "verify"}, 201))["result"]["intact"]


def test_a_set_sent_then_comes_in(lab_over, tmp_path):
    lab = lab_over(tmp_path / "today.db")
    data = (FIXTURES / "release-set.json").read_bytes()
    came = lab.client.post("/api/bundles?name=set.json", data=io.BytesIO(data))
    assert came.status_code == 201, came.json
    result = lab.ended(lab.post("/api/bundles/import", {"id": came.json["id"]}, 201))["result"]
    assert result["conflicting"] == 0 and result["new"] > 5
