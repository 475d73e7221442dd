"""How long the main things take on the demo: run by ``make bench``, never part of the tests."""

from __future__ import annotations

import platform
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

from flask.testing import FlaskClient

from setback.api.app import create_app
from setback.core.calculators import CALCULATORS
from setback.core.plan.plan_day import plan_day
from setback.core.window.process_window import _believe
from setback.coupon import KINDS
from setback.coupon.masks import archive
from setback.coupon.solid import _joined, solid
from setback.demo import build
from setback.demo import ten_years as years
from setback.report.labels import SHEETS, Label, labels
from setback.services.calibrate import windows
from setback.simulate.camera import photograph
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import print_coupon
from tests.core.plan.days import random_day
from tests.core.window.test_reasoning import LIMITS, flat, support
from tests.seeded_labs import pooled

ROUNDS = 30
TEN_YEARS, ONE_YEAR = Path(".make") / "ten-years.db", Path(".make") / "one-year.db"
"""The same materials on the same printers, with a tenth of the history."""


def measured(run: Callable[[], object]) -> tuple[float, float]:
    """Median and slowest of some rounds, in ms, after one to warm up."""
    run()
    took = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        run()
        took.append(1000 * (time.perf_counter() - start))
    return statistics.median(took), max(took)


def side_by_side(*runs: Callable[[], object]) -> list[list[float]]:
    """Milliseconds of each of some runs in turn, so that a machine that is slow for a while is slow for all of them."""
    took: list[list[float]] = [[] for _ in runs]
    for run in runs:
        run()
    for _ in range(ROUNDS):
        for run, times in zip(runs, took, strict=True):
            start = time.perf_counter()
            run()
            times.append(1000 * (time.perf_counter() - start))
    return took


def twelve_coupons() -> dict[str, object]:
    """Eight flats and four supports with every lane limited but Z: a campaign at its end."""
    flats = [flat(t) for t in (1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 4.0, 4.8)]
    return {"coupons": flats + [support(t) for t in (1.4, 1.7, 2.0, 2.4)], "limits": LIMITS, "exposure_step_s": 0.1}


def anew(run: Callable[[], object]) -> object:
    """Without what was kept in memory of the same evidence."""
    for kept in (_believe, windows._window, windows._next):
        kept.cache_clear()
    return run()


def speed() -> float:
    """Seconds of a core for twenty million additions: what all other figures of the run are to be read by, 1.2 where a core is whole."""
    start, total = time.process_time(), 0
    for number in range(20_000_000):
        total += number
    return time.process_time() - start


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
        print(f"{'twenty million additions':34}{speed():9.1f} s of a core")
        print(f"{'':34}{'median':>9}{'slowest':>9}")
        drawn = KINDS["flat"](0.035, 0.35)
        tall = KINDS["support"](0.035, 0.35, 10.0)
        made_virtually = print_coupon(drawn, Machine(), Material(1.0), Conditions(2.0), 1)
        for name, run in (
            ("a coupon's solid", lambda: (_joined.cache_clear(), solid(drawn))),
            ("masks of 200 layers", lambda: archive(tall, 0.035, 0.05, 2.4, [2.4] * 200)),
            ("a coupon printed virtually", lambda: print_coupon(drawn, Machine(), Material(1.0), Conditions(2.4), 1)),
            ("its picture", lambda: photograph(made_virtually, drawn, 1)),
            ("a sheet of 24 labels", lambda: labels([Label("104R", "2.4 s", ("Slate 2",), "x")] * 24, SHEETS["24"])),
        ):
            start = time.perf_counter()
            run()
            print(f"{name:34}{1000 * (time.perf_counter() - start):9.0f}")
        for name, run in (
            ("process-window, 12 coupons", lambda: anew(lambda: window(given))),
            ("a bare route", lambda: client.get("/favicon.svg")),
            ("Board", lambda: client.get("/api/board")),
            ("calibrations, listed", lambda: client.get("/api/calibrations")),
            ("a calibration of 12 coupons", lambda: client.get(f"/api/calibrations/{decided}")),
            ("the same after a reading", lambda: anew(lambda: client.get(f"/api/calibrations/{decided}"))),
            ("a coupon to read", lambda: client.get("/api/coupons/104R")),
            ("an issued card", lambda: client.get("/api/sets/S-001")),
            ("find", lambda: client.get("/api/find?q=slate")),
        ):
            median, slowest = measured(run)
            print(f"{name:34}{median:9.1f}{slowest:9.1f}")
        print(f"{'the demo, made':34}{1000 * made:9.0f}")
        plans()
        ten_years()
        print(f"first estimates, 200 labs, each left out: {100 * pooled(200):.0f} % inside their 80 % interval")


def plans() -> None:
    """A day of 25 jobs, looked for as long as the page does and as long as after a drag, against the order by due date."""
    for name, seconds in (("a plan of 25 jobs", 6.0), ("the same after a drag", 1.2)):
        start = time.perf_counter()
        result = plan_day(random_day(1, seconds=seconds))
        took = 1000 * (time.perf_counter() - start)
        earlier = 100 * (1 - result.best.finish_min / result.by_due_date.finish_min)
        print(f"{name:34}{took:9.0f}   {earlier:.0f} % earlier than by due date, {result.status}")


def shop(path: Path, age: int) -> FlaskClient:
    """A shop of so many years, built when it is not there yet."""
    if not path.exists():
        path.parent.mkdir(exist_ok=True)
        start = time.perf_counter()
        years.build(path, age, years.moment())
        print(f"{f'{age} years, made':34}{time.perf_counter() - start:9.0f} s")
    return create_app(path, clock=years.moment, worker=False).test_client()


def ten_years() -> None:
    """What a page waits for in ten years of a busy shop, beside one year of it and a bare route of the same process."""
    shops = shop(TEN_YEARS, 10), shop(ONE_YEAR, 1)
    start = time.perf_counter()
    shops[0].get("/api/board")
    print(f"{'Board, estimates made anew':34}{1000 * (time.perf_counter() - start):9.0f}")
    bare, _ = measured(lambda: shops[0].get("/favicon.svg"))
    print(f"{'on ten years':34}{'median':>9}{'slowest':>9}{'x bare':>9}{'x a year':>9}")
    pages = [waited_for(client) for client in shops]
    for client, urls in zip(shops, pages, strict=True):
        for url in urls.values():
            assert client.get(url).status_code == 200, url
    for name, url in pages[0].items():
        ten, one = side_by_side(lambda url=url: shops[0].get(url), lambda url=pages[1][name]: shops[1].get(url))  # type: ignore[misc]
        median, beside = statistics.median(ten), statistics.median(one)
        print(f"{name:34}{median:9.1f}{max(ten):9.1f}{median / bare:9.0f}{median / beside:9.1f}")


def waited_for(client: FlaskClient) -> dict[str, str]:
    """Addresses of what a person waits for, by name."""
    board = client.get("/api/board").get_json()
    material, printer = board["materials"][0]["id"], board["printers"][0]["id"]
    calibration = client.get("/api/calibrations").get_json()["items"][0]["id"]
    return {
        "Board, first screenful": "/api/board",
        "Board, all 60 materials": "/api/board?limit=200",
        "a calibration of 7 coupons": f"/api/calibrations/{calibration}",
        "a material's page": f"/api/materials/{material}/page",
        "a printer's page": f"/api/printers/{printer}/page",
        "calibrations, listed": "/api/calibrations",
        "the log of prints": "/api/prints",
        "its days": "/api/print-days",
        "what prints tell": f"/api/materials/{material}/print-evidence?printer={printer}",
        "what changed": "/api/activity",
        "what one printer did": f"/api/activity?printer={printer}",
        "a trace, one day": trace(client, 1),
        "a trace, one year": trace(client, 365),
        "all briefs against all sets": "/api/qualify",
        "the plan": "/api/plan",
        "what is worth doing": "/api/plan/worth-doing",
        "at the bench": "/api/at-hand",
        "find": "/api/find?q=slate",
    }


def trace(client: FlaskClient, days: int) -> str:
    """The address of the newest days of the first probe."""
    probe = client.get("/api/probes").get_json()["items"][0]
    last = datetime.fromisoformat(probe["last_at"].replace("Z", "+00:00"))
    return f"/api/probes/{probe['id']}/trace?from_at={(last - timedelta(days=days)).strftime('%Y-%m-%dT%H:%M:%SZ')}"


if __name__ == "__main__":
    main()
