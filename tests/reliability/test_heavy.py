"""Heavy files side by side, a disk that fills, a file that is locked: the server answers, and goes on when it can."""

from __future__ import annotations

import io
import os
import sqlite3
import subprocess
import threading
import time
import urllib.error
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

import numpy as np
import pytest
from PIL import Image

from tests.length import FULL
from tests.services.test_apart import png_of

from .process import get, post, served, upload

pytestmark = pytest.mark.long

LOCKED_S = 95 if FULL else 3


def noise_photo(side):
    pixels = np.random.default_rng(1).integers(0, 255, (side, side, 3), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=95)
    return out.getvalue()


@pytest.mark.soak
def test_health_answers_beside_six_heavy_files(demo_path):
    slow, statuses = [], []
    photo = noise_photo(2600 if FULL else 1200)
    with served(demo_path) as (_, url):
        with closing(sqlite3.connect(demo_path)) as db:
            [coupon] = db.execute("SELECT code FROM coupon WHERE gone_at IS NULL LIMIT 1").fetchone()
        ended = threading.Event()

        def load(number):
            content = photo if number % 2 else png_of(7000, 7000)
            while not ended.is_set():
                try:
                    upload(f"{url}/api/coupons/{coupon}/photos", content)
                    statuses.append(201)
                except urllib.error.HTTPError as error:
                    statuses.append(error.code)

        with ThreadPoolExecutor(6) as pool:
            for number in range(6):
                pool.submit(load, number)
            until = time.monotonic() + (60 if FULL else 4)
            while time.monotonic() < until:
                began = time.monotonic()
                get(f"{url}/api/health")
                slow.append(time.monotonic() - began)
                time.sleep(0.1)
            ended.set()
    print(f"\n| health beside six heavy files | slowest {1000 * max(slow):.0f} ms | {len(statuses)} files |")
    assert set(statuses) == {201, 422} and statuses.count(201) > 2, statuses[:20]
    # A second is what is promised where two cores are free; a machine that checks has other work beside it.
    assert sorted(slow)[len(slow) // 2] < 1 and max(slow) < 5


@pytest.mark.soak
def test_a_file_locked_for_a_while_and_then_the_next_job(demo_path):
    with served(demo_path) as (_, url):
        with closing(sqlite3.connect(demo_path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            with pytest.raises(urllib.error.HTTPError) as told:
                post(f"{url}/api/timers", {"name": "x", "seconds": 60})
            assert told.value.code == 503
            assert get(f"{url}/api/board")["cells"], "reading goes on"
            time.sleep(LOCKED_S)
            other.execute("ROLLBACK")
        _next_job_is_done(url)


@pytest.mark.soak
@pytest.mark.skipif(os.name != "posix" or os.geteuid() != 0, reason="a small disk is mounted by root alone")
def test_a_disk_that_fills_and_is_freed(demo_path, tmp_path):
    disk = tmp_path / "disk"
    disk.mkdir()
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=64m", "tmpfs", str(disk)], capture_output=True).returncode:
        pytest.skip("this machine mounts nothing")
    try:
        path = disk / "lab.db"
        path.write_bytes(demo_path.read_bytes())
        with served(path) as (_, url):
            filler = disk / "filler"
            with filler.open("wb") as file:
                try:
                    while True:
                        file.write(b"\0" * 65_536)
                        file.flush()
                except OSError:
                    pass
            codes = set()
            for number in range(40):
                try:
                    post(
                        f"{url}/api/briefs",
                        {
                            "name": f"B{number}",
                            "requirements": [{"property": "drop.height", "at": "least", "limit": 1}],
                        },
                    )
                except urllib.error.HTTPError as error:
                    codes.add(error.code)
            assert codes <= {503}, codes
            assert get(f"{url}/api/board")["cells"], "reading goes on"
            assert get(f"{url}/api/health")["ok"] is False
            filler.unlink()
            _next_job_is_done(url)
    finally:
        subprocess.run(["umount", "-l", str(disk)], capture_output=True)


def _next_job_is_done(url):
    """Within ten seconds of the moment it can be written again."""
    job = post(f"{url}/api/jobs", {"kind": "verify"})["id"]
    until = time.monotonic() + (10 if FULL else 30)
    while get(f"{url}/api/jobs/{job}")["state"] in ("queued", "running"):
        assert time.monotonic() < until
        time.sleep(0.1)
    assert get(f"{url}/api/jobs/{job}")["state"] == "done"
