"""The demo beside somebody's own lab: a second server over a file of its own, gone when either is closed."""

from __future__ import annotations

import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import urllib.request
from pathlib import Path
from typing import Literal

from pydantic import Field

from ..unit_of_work import View

ADDRESS = "127.0.0.1"
PREFIX = "setback-demo-"


class DemoState(View):
    """Whether this is a demo, and how the one beside it stands."""

    is_demo: bool = Field(description="Nothing entered here is anybody's own")
    closes: bool = Field(description="It was opened beside a lab, and goes when it is closed")
    state: Literal["none", "building", "ready", "failed"] = Field(description="Of the demo beside this lab")
    address: str | None = Field(description="Where it is served, once it is ready")


class DemoBeside:
    """Starts, watches and ends the server of the demo. The child ends by itself when its input does: with this process."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._folder: Path | None = None
        self._address = ""
        self._is_ready = self._has_failed = False

    def open(self) -> None:
        """Begin to build it, unless it is there already."""
        with self._lock:
            if self._process is not None and self._process.poll() is None:
                return
            self._clear()
            with socket.socket() as free:
                free.bind((ADDRESS, 0))
                port = free.getsockname()[1]
            self._folder = Path(tempfile.mkdtemp(prefix=PREFIX))
            self._address, self._is_ready, self._has_failed = f"http://{ADDRESS}:{port}", False, False
            command = [sys.executable, "-c", "from setback.cli import main; main()", "demo", "--beside"]
            self._process = subprocess.Popen(
                [*command, "--db", str(self._folder / "demo.db"), "--port", str(port)],
                stdin=subprocess.PIPE,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
            )

    def state(self) -> tuple[Literal["none", "building", "ready", "failed"], str | None]:
        """How it stands, and its address once it answers."""
        with self._lock:
            if self._process is None:
                return "none", None
            if self._process.poll() is not None:
                # One that was ready was closed from within; any other never came up.
                self._has_failed = not self._is_ready
                self._clear()
                return ("failed" if self._has_failed else "none"), None
            if not self._is_ready:
                self._is_ready = _answers(self._address)
            return ("ready", self._address) if self._is_ready else ("building", None)

    def close(self) -> None:
        """End it, and remove its file."""
        with self._lock:
            self._clear()

    def _clear(self) -> None:
        if self._process is not None:
            if self._process.stdin:
                self._process.stdin.close()
            try:
                self._process.wait(timeout=15)
            except subprocess.TimeoutExpired:
                self._process.kill()
                self._process.wait()
            self._process = None
        if self._folder is not None:
            shutil.rmtree(self._folder, ignore_errors=True)
            self._folder = None


def _answers(address: str) -> bool:
    try:
        with urllib.request.urlopen(f"{address}/api/demo", timeout=1) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False
