"""Health says what is wrong, and 503 when something is."""

import sqlite3
import time
from contextlib import closing

import pytest

from setback.services.lab import health
from setback.store.maintenance import files_of


def state(lab):
    answer = lab.client.get("/api/health")
    return answer.status_code, {check["name"]: check["ok"] for check in answer.json["checks"]}, answer.json


def test_all_is_well(lab):
    status, checks, body = state(lab)
    assert status == 200 and body["ok"] and body["version"] and checks == {"write": True, "disk": True, "worker": True}


def test_a_database_that_takes_no_writing(lab):
    with closing(sqlite3.connect(lab.path, isolation_level=None)) as other:
        other.execute("BEGIN EXCLUSIVE")
        began = time.monotonic()
        status, checks, body = state(lab)
        assert time.monotonic() - began < 5
        other.execute("ROLLBACK")
    assert status == 503 and not body["ok"] and not checks["write"]
    assert state(lab)[0] == 200


@pytest.mark.parametrize(
    ("name", "value", "which"), [("LEAST_FREE_BYTES", 10**18, "disk"), ("LONGEST_SILENCE_S", -1.0, "worker")]
)
def test_a_full_disk_and_a_worker_that_is_silent(lab, monkeypatch, name, value, which):
    monkeypatch.setattr(health, name, value)
    status, checks, body = state(lab)
    assert status == 503 and not checks[which]
    assert next(check["words"] for check in body["checks"] if check["name"] == which)


def test_a_worker_that_ended(lab):
    worker = lab.client.application.extensions["jobs"]
    worker.stop()
    assert worker.silent_s() is None and state(lab)[0] == 503


def test_a_file_that_vanishes_is_said_so_and_not_made_anew(lab):
    lab.get("/api/resins")
    for part in files_of(lab.path):
        part.unlink(missing_ok=True)
    answer = lab.client.get("/api/resins")
    assert answer.status_code == 503 and "damaged or gone" in answer.json["error"]["message"]
    assert lab.client.post("/api/heaters", json={"name": "A", "watts": 50, "cut_out": True}).status_code == 503
    assert not lab.path.exists()
    assert lab.client.get("/api/health").status_code == 503
