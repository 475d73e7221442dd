"""A server under steady load from several people: no error, nothing lost, the file intact, the memory level."""

import json
import random
import resource
import sqlite3
import time
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPConnection

import pytest

from setback.demo import DEMO_NOW
from tests.conftest import MovedClock
from tests.length import FULL
from tests.server import Server

SECONDS = 240 if FULL else 6
"""Half of them are the load that counts."""
PEOPLE = 30 if FULL else 4
LOOKED_AT = [
    "/api/board",
    "/api/calibrations",
    "/api/resins",
    "/api/prints",
    "/api/timers",
    "/api/briefs",
    "/api/find?q=slate",
]
LEVEL_MB = 60


def person(port: int, number: int, until: float) -> tuple[list[tuple[str, int]], list[str]]:
    """One person who looks at pages and starts timers; every answer that was no success, and the timers that were promised."""
    chance, refused, promised = random.Random(number), [], []
    link = HTTPConnection("127.0.0.1", port, timeout=60)
    while time.monotonic() < until:
        if chance.random() < 0.3:
            name = f"soak {number} {len(promised)}"
            body = json.dumps({"name": name, "seconds": 60 + chance.randrange(600)})
            link.request("POST", "/api/timers", body, {"Content-Type": "application/json", "Setback-Technician": "IM"})
        else:
            name = ""
            link.request("GET", chance.choice(LOOKED_AT))
        answer = link.getresponse()
        answer.read()
        if answer.status in (200, 201):
            promised += [name] if name else []
        else:
            refused.append((name or "GET", answer.status))
    link.close()
    return refused, promised


@pytest.mark.soak
def test_several_people_for_a_while(demo_path):
    clock = MovedClock()
    clock.now = DEMO_NOW
    server = Server(demo_path, clock)
    try:
        with ThreadPoolExecutor(PEOPLE) as pool:
            warm = time.monotonic() + SECONDS / 4
            first = list(pool.map(lambda n: person(server.port, n, warm), range(PEOPLE)))
            before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
            end = time.monotonic() + SECONDS * 3 / 4
            then = list(pool.map(lambda n: person(server.port, PEOPLE + n, end), range(PEOPLE)))
            grown_mb = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    finally:
        server.stop()
    refused = [one for answers, _ in first + then for one in answers]
    promised = {name for _, names in first + then for name in names}
    db = sqlite3.connect(demo_path)
    kept = {row[0] for row in db.execute("SELECT name FROM timer")}
    print(
        f"\n| {PEOPLE} people | {SECONDS / 2:.0f} s | promised {len(promised)} | kept {len(promised & kept)} | grown {grown_mb:.0f} MB |"
    )
    assert not refused
    assert len(promised) > PEOPLE and promised <= kept
    assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    assert grown_mb < LEVEL_MB
    db.close()
