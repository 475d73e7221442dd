"""A real server in a thread, Debian's Chromium, and a lab that works on the same data."""

from __future__ import annotations

import random
import shutil
import threading
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from waitress.server import create_server

from setback.api.app import create_app
from setback.demo import DEMO_NOW
from setback.store.maintenance import copy_to
from tests.conftest import MovedClock
from tests.lab import Lab

expect.set_options(timeout=10_000)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    found = shutil.which("chromium") or shutil.which("chromium-browser")
    assert found, "Chromium is missing: run make test, or apt-get install chromium"
    quiet = [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
    ]
    return {**browser_type_launch_args, "executable_path": found, "args": quiet}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "reduced_motion": "reduce",
        "locale": "en-GB",
    }


@dataclass
class Live:
    """A running server and a lab that drives its API."""

    url: str
    lab: Lab
    path: Path
    stop: object
    start: object


class Server:
    """Waitress in a thread; can be stopped and started again on the same port and file."""

    def __init__(self, path: Path, clock) -> None:
        self.path, self.clock, self.port = path, clock, 0
        self.start()

    def start(self) -> None:
        self.app = create_app(self.path, clock=self.clock)
        self.server = create_server(self.app, host="127.0.0.1", port=self.port, threads=4)
        self.port = self.server.effective_port
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()

    def stop(self) -> None:
        def close() -> None:
            for channel in list(self.server.active_channels.values()):
                channel.handle_close()
            self.server.close()

        # Inside the server's own loop, so that it never waits on a socket that is gone.
        self.server.trigger.pull_trigger(close)
        self.thread.join(timeout=5)
        self.server.task_dispatcher.shutdown()
        self.app.extensions["jobs"].stop()

    def live(self) -> Live:
        return Live(
            f"http://127.0.0.1:{self.port}",
            Lab(self.app.test_client(), random.Random(3)),
            self.path,
            self.stop,
            self.start,
        )


@pytest.fixture
def empty(tmp_path):
    server = Server(tmp_path / "lab.db", MovedClock())
    live = server.live()
    live.lab.post("/api/technicians", {"initials": "IM"}, 201)
    yield live
    server.stop()


@pytest.fixture(scope="module")
def demo(built_demo, tmp_path_factory):
    """Skerry Point, shared by the tests of a module that only look."""
    path = tmp_path_factory.mktemp("live") / "demo.db"
    copy_to(built_demo, path)
    clock = MovedClock()
    clock.now = DEMO_NOW
    server = Server(path, clock)
    yield server.live()
    server.stop()


@pytest.fixture
def as_im(page: Page) -> Page:
    """A page at which IM works; anything the page logs as an error fails the test."""
    page.add_init_script("localStorage.setItem('setback.technician', 'IM')")
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    yield page
    assert not errors, errors


def calibration_id(live: Live, code: str) -> str:
    return next(c["id"] for c in live.lab.get("/api/calibrations")["items"] if c["code"] == code)
