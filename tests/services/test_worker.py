"""The worker goes on, whatever one job, one probe or the file does; a stop hands back what is under way."""

from __future__ import annotations

import dataclasses
import sqlite3
import threading
import time
from contextlib import closing

import pytest

from setback.services.lab import jobs
from setback.services.unit_of_work import UnitOfWork
from setback.store.database import connect, migrate
from setback.store.lab import jobs as store


def until(true, seconds=20.0):
    deadline = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < deadline, "it never happened"
        time.sleep(0.02)


@pytest.fixture
def worker(small_path, monkeypatch):
    monkeypatch.setattr(jobs, "PROBES_EVERY_S", 0.05)
    monkeypatch.setattr(jobs, "AGAIN_AFTER_S", 0.05)
    migrate(small_path)
    one = jobs.Worker(small_path, UnitOfWork)
    yield one
    one.stop()


def queued(path, kind="verify") -> str:
    with closing(connect(path)) as db:
        return jobs.queue(UnitOfWork(db), kind, {}).id


def state(path, job_id):
    with closing(connect(path)) as db:
        return store.job(db, job_id).state


def test_one_failing_probe_does_not_end_all_jobs(worker, small_path, monkeypatch):
    looked = threading.Event()

    def fails(_):
        looked.set()
        raise OSError("the probe is unplugged")

    monkeypatch.setattr(jobs.probes, "read_all", fails)
    worker.start()
    assert looked.wait(20)
    job = queued(small_path)
    until(lambda: state(small_path, job) == "done")


def test_a_job_that_raises_what_nobody_foresaw_fails_alone(worker, small_path, monkeypatch):
    monkeypatch.setitem(jobs.WORK, "export-lab", lambda *_: 1 / 0)
    bad, good = queued(small_path, "export-lab"), queued(small_path)
    worker.start()
    until(lambda: state(small_path, good) == "done")
    assert state(small_path, bad) == "failed"


def test_a_file_that_is_locked_for_a_while_is_waited_for(worker, small_path, monkeypatch):
    """A lock that outlasts the connection's own patience; a second instead of ten here."""
    short = lambda path: _impatient(path)  # noqa: E731
    monkeypatch.setattr(jobs, "connect", short)
    job = queued(small_path)
    with closing(sqlite3.connect(small_path, isolation_level=None)) as other:
        other.execute("BEGIN EXCLUSIVE")
        worker.start()
        time.sleep(0.6)
        other.execute("ROLLBACK")
    until(lambda: state(small_path, job) == "done", 10)


def _impatient(path):
    db = connect(path)
    db.execute("PRAGMA busy_timeout = 50")
    return db


def test_two_workers_never_take_one_job(small_path):
    ids = {queued(small_path) for _ in range(12)}
    taken, lock = [], threading.Lock()

    def take():
        with closing(connect(small_path)) as db:
            while (row := store.claim(db)) is not None:
                with lock:
                    taken.append(row.id)

    threads = [threading.Thread(target=take) for _ in range(4)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert sorted(taken) == sorted(ids)


def test_a_stop_hands_back_what_is_under_way(worker, small_path, monkeypatch):
    under_way = threading.Event()

    def long(_, progress, __):
        while True:
            progress(0.5, "half way")
            under_way.set()
            time.sleep(0.01)

    monkeypatch.setitem(jobs.WORK, "verify", long)
    job = queued(small_path)
    worker.start()
    assert under_way.wait(20)
    worker.stop()
    assert state(small_path, job) == "queued"


def test_a_probe_that_fails_keeps_none_of_the_others(lab, monkeypatch):
    """Nor does a slow one keep anybody from writing: devices are asked outside the write."""
    for name in ("Wall", "Shelf", "Door"):
        lab.post("/api/probes", {"name": name, "place": "room", "driver": "simulated"}, 201)
    asked = []

    class Device:
        def read(self, at):
            asked.append(at)
            # The lab's own worker may write for a moment; a write this reading held itself would never end.
            with closing(sqlite3.connect(lab.path, timeout=5, isolation_level=None)) as other:
                other.execute("BEGIN IMMEDIATE")
                other.execute("ROLLBACK")
            if len(asked) == 2:
                raise OSError("unplugged")
            return jobs.probes.ProbeReading(21.5, None)

    driver = jobs.probes.PROBE_DRIVERS["simulated"]
    monkeypatch.setitem(jobs.probes.PROBE_DRIVERS, "simulated", _like(driver, lambda _: Device()))
    with closing(connect(lab.path)) as db:
        assert jobs.probes.read_all(UnitOfWork(db, lab.clock)) == 2
        kept = db.execute("SELECT count(*) FROM probe_sample").fetchone()[0]
    # Each was read once when it was added, by the stand-in itself.
    assert len(asked) == 3 and kept == 3 + 2


def _like(driver, make):
    """The same driver with another device behind it."""
    return dataclasses.replace(driver, make=make)
