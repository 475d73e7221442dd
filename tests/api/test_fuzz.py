"""Requests nobody thought of, made from the API's own description: none may end in a 500."""

import subprocess
import sys
from pathlib import Path

from setback.demo import DEMO_NOW
from tests.conftest import MovedClock
from tests.server import Server


def test_no_request_breaks_the_server(demo_path):
    clock = MovedClock()
    clock.now = DEMO_NOW
    server = Server(demo_path, clock)
    command = [
        str(Path(sys.executable).parent / "schemathesis"), "run", f"{server.live().url}/api/openapi.json",
        "--checks", "not_a_server_error", "--max-examples", "2", "--generation-deterministic", "--no-color",
    ]  # fmt: skip
    done = subprocess.run(command, capture_output=True, text=True, timeout=500, cwd=demo_path.parent)
    server.stop()
    assert done.returncode == 0, done.stdout[-3000:]
