"""The server is killed again and again in the midst of writing: what was acknowledged is there, nothing is half there, the journal holds."""

from __future__ import annotations

import random
import shutil
import sqlite3
import threading
import time
import uuid
from contextlib import closing
from http.client import HTTPException

import pytest

from setback.services.lab import records
from setback.store.database import connect
from tests.length import FULL

from .process import get, post, send, served

ROUNDS = 200 if FULL else 3
ROWS = 60_000 if FULL else 20_000
GONE = (OSError, ValueError, HTTPException)
"""What a request ends in when the server is killed; an address that does not answer is an OSError too."""
LINE = {"property": "drop.height", "at": "least", "limit": 1}


def write_until_it_is_gone(url, number, acknowledged):
    """Briefs, samples and samples of one moment, until nobody answers."""
    chance = random.Random(number)
    while True:
        key = str(uuid.uuid4())
        try:
            post(f"{url}/api/briefs", {"name": key, "requirements": [LINE]}, Idempotency_Key=key)
            acknowledged.append(key)
        except GONE:
            return
        time.sleep(chance.random() / 50)


def import_a_log(url, started):
    """A log large enough that the kill comes before its end."""
    text = "time,temp\n" + "".join(
        f"2026-01-{1 + n // 86_400:02d} {n // 3600 % 24:02d}:{n // 60 % 60:02d}:{n % 60:02d},20.{n % 10}\n"
        for n in range(ROWS)
    )
    try:
        file = send(f"{url}/api/probe-files?name=a.csv", text.encode(), {"Content-Type": "text/csv"})
        probe = post(f"{url}/api/probes", {"name": f"P {file['id'][:8]}", "place": "room", "driver": "hand"})
        mapping = {"time_column": "time", "temp_column": "temp"}
        job = post(f"{url}/api/probes/{probe['id']}/imports", {"file_id": file["id"], "mapping": mapping})
        started.append((probe["number"], job["id"]))
    except GONE:
        return


@pytest.mark.long
@pytest.mark.soak
def test_whatever_was_acknowledged_outlives_every_kill(small_path):
    chance, kept, imports = random.Random(4), set(), []
    for number in range(ROUNDS):
        with served(small_path) as (server, url):
            acknowledged: list[str] = []
            writers = [
                threading.Thread(target=write_until_it_is_gone, args=(url, 10 * number + n, acknowledged))
                for n in range(2)
            ]
            if number % 3 == 0:
                writers.append(threading.Thread(target=import_a_log, args=(url, imports)))
            for writer in writers:
                writer.start()
            time.sleep(0.4 + 1.2 * chance.random())
            server.kill()
            server.wait()
            for writer in writers:
                writer.join()
        kept |= set(acknowledged)
        with closing(sqlite3.connect(small_path)) as db:
            there = {row[0] for row in db.execute("SELECT name FROM brief")}
            assert kept <= there, f"lost in round {number}"
            assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    with served(small_path) as (_, url):
        for probe, job in imports:
            state = _ended(url, job)
            with closing(sqlite3.connect(small_path)) as db:
                samples = db.execute("SELECT count(*) FROM probe_sample WHERE probe = ?", (probe,)).fetchone()[0]
            assert (state, samples) in (("done", ROWS), ("failed", 0)), "whole, or not at all"
    with closing(connect(small_path)) as db:
        found = records.walk(db, lambda share, message: None)
    assert found["intact"], found
    print(f"\n| kills | {ROUNDS} | acknowledged {len(kept)} | lost 0 | imports cut off or whole {len(imports)} |")
    assert len(kept) > 3 * ROUNDS


def _ended(url, job):
    deadline = time.monotonic() + 60
    while (state := get(f"{url}/api/jobs/{job}")["state"]) in ("queued", "running"):
        assert time.monotonic() < deadline
        time.sleep(0.1)
    return state


@pytest.mark.long
@pytest.mark.soak
def test_a_backup_cut_off_at_any_moment_leaves_the_earlier_one(small_path, tmp_path):
    """Killed while it copies, what was there is as it was, or the new one is whole."""
    import subprocess
    import sys

    target = tmp_path / "backup.db"
    command = [
        sys.executable,
        "-c",
        "from setback.cli import main; main()",
        "backup",
        "--db",
        str(small_path),
        str(target),
    ]
    subprocess.run(command, check=True, capture_output=True)
    chance = random.Random(5)
    for _ in range(60 if FULL else 2):
        process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        time.sleep(0.2 + 0.6 * chance.random())
        process.kill()
        process.wait()
        copies = [target, *tmp_path.glob("backup-*.db")]
        whole = [copy for copy in copies if copy.exists() and _is_whole(copy)]
        assert whole, "no copy is whole"
        assert all(_is_whole(copy) for copy in copies if copy.exists())
    shutil.rmtree(tmp_path, ignore_errors=True)


def _is_whole(path):
    with closing(sqlite3.connect(path)) as db:
        return db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
