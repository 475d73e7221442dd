"""How long the main things take on the demo: run by ``make bench``, never part of the tests."""

from __future__ import annotations

import json
import platform
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from setback.api.app import create_app
from setback.core.calculators import CALCULATORS
from setback.coupon import KINDS
from setback.coupon.masks import archive
from setback.coupon.solid import solid
from setback.demo import build

ROUNDS = 30


def measured(run: Callable[[], object]) -> tuple[float, float]:
    """Median and slowest of some rounds, in ms, after one to warm up."""
    run()
    took = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        run()
        took.append(1000 * (time.perf_counter() - start))
    return statistics.median(took), max(took)


def twelve_coupons() -> dict[str, object]:
    examples = json.loads((Path(__file__).parent / "core" / "examples.json").read_text())
    given = next(e["input"] for e in examples if e["calculator"] == "process-window")
    five = given["coupons"]
    more = [{**c, "exposure_s": round(c["exposure_s"] * k, 3)} for k in (1.0, 1.08, 0.95) for c in five][:12]
    return {**given, "coupons": more}


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        start = time.perf_counter()
        build(path)
        made = time.perf_counter() - start
        client = create_app(path, worker=False).test_client()
        window = CALCULATORS["process-window"]
        given = twelve_coupons()
        listed = client.get("/api/calibrations").get_json()["items"]
        decided = next(c["id"] for c in listed if c["code"] == "C-003")
        print(f"Python {platform.python_version()} on {platform.machine()}, {ROUNDS} rounds, ms")
        print(f"{'':34}{'median':>9}{'slowest':>9}")
        flat = KINDS["flat"](0.035, 0.35)
        tall = KINDS["support"](0.035, 0.35, 10.0)
        for name, run in (
            ("a coupon's solid", lambda: solid(flat)),
            ("masks of 200 layers", lambda: archive(tall, 0.035, 0.05, 2.4, 4, 24)),
        ):
            start = time.perf_counter()
            run()
            print(f"{name:34}{1000 * (time.perf_counter() - start):9.0f}")
        for name, run in (
            ("process-window, 12 coupons", lambda: window(given)),
            ("a bare route", lambda: client.get("/api/health")),
            ("Board", lambda: client.get("/api/board")),
            ("calibrations, listed", lambda: client.get("/api/calibrations")),
            ("a calibration of 12 coupons", lambda: client.get(f"/api/calibrations/{decided}")),
            ("a coupon to read", lambda: client.get("/api/coupons/104R")),
            ("an issued card", lambda: client.get("/api/sets/S-001")),
            ("find", lambda: client.get("/api/find?q=slate")),
        ):
            median, slowest = measured(run)
            print(f"{name:34}{median:9.1f}{slowest:9.1f}")
        print(f"{'the demo, made':34}{1000 * made:9.0f}")


if __name__ == "__main__":
    main()
