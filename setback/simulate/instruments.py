"""Stand-ins for small instruments of the bench: the same JSON over HTTP, and the same lines over a serial line, as a real one."""

from __future__ import annotations

import json
import os
import pty
import threading
import tty
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from types import TracebackType

UNITS = {"probe": "°C", "light meter": "mW/cm²", "caliper": "mm", "force gauge": "N", "scale": "g"}
USUAL = {"probe": 18.4, "light meter": 4.35, "caliper": 10.02, "force gauge": 112.0, "scale": 250.0}
"""What each shows until it is set to something else."""


@dataclass
class StandIn:
    """What a stand-in shows; setting and pressing it is what a hand does."""

    kind: str
    value: float | None = None
    presses: int = 0
    fault: str | None = None
    nonsense: bytes | None = None
    """Sent in the place of a reading, to try what happens then."""

    def __post_init__(self) -> None:
        if self.value is None:
            self.value = USUAL[self.kind]

    def press(self, value: float | None = None) -> None:
        """The button of the instrument, with another value under its jaws or on its plate."""
        if value is not None:
            self.value = value
        self.presses += 1

    def answer(self) -> bytes:
        """The JSON a real instrument answers."""
        reading = {"kind": self.kind, "value": self.value, "unit": UNITS[self.kind]}
        rest = {"presses": self.presses, "age_s": 0.0, "fault": self.fault}
        return json.dumps(reading | rest, ensure_ascii=False).encode()

    def line(self) -> bytes:
        """The line a caliper or a scale sends when its button is pressed."""
        return f"{self.value:+09.2f} {UNITS[self.kind]}\r\n".encode()


class OverHttp:
    """A stand-in that answers at this machine; ``POST /press?10.02`` presses its button."""

    def __init__(self, stand_in: StandIn, port: int = 0) -> None:
        class Handler(BaseHTTPRequestHandler):
            """Answers with what the stand-in shows."""

            def do_GET(self) -> None:
                """The reading."""
                self._send(stand_in.nonsense if stand_in.nonsense is not None else stand_in.answer())

            def do_POST(self) -> None:
                """The button."""
                text = self.path.partition("?")[2]
                stand_in.press(float(text) if text.replace(".", "", 1).isdigit() else None)
                self._send(stand_in.answer())

            def _send(self, content: bytes) -> None:
                self.send_response(200)
                self.send_header("Content-Type", "application/json")
                self.send_header("Content-Length", str(len(content)))
                self.end_headers()
                self.wfile.write(content)

            def log_message(self, *_: object) -> None:
                """A stand-in keeps no log."""

        self._stand_in = stand_in
        self._server = ThreadingHTTPServer(("127.0.0.1", port), Handler)
        self.address = f"http://127.0.0.1:{self._server.server_port}/reading"
        self._thread = threading.Thread(target=self._server.serve_forever, daemon=True)

    def press(self, value: float | None = None) -> None:
        """The button."""
        self._stand_in.press(value)

    def __enter__(self) -> OverHttp:
        self._thread.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._server.shutdown()
        self._server.server_close()


@dataclass
class OverSerial:
    """A stand-in at one end of a pseudo terminal; :attr:`address` is the end a program opens."""

    stand_in: StandIn
    address: str = ""
    _ends: tuple[int, ...] = field(default=(), repr=False)

    def __enter__(self) -> OverSerial:
        ours, theirs = pty.openpty()
        tty.setraw(theirs)
        self._ends, self.address = (ours, theirs), os.ttyname(theirs)
        return self

    def press(self, value: float | None = None) -> None:
        """The button: one line."""
        self.stand_in.press(value)
        nonsense = self.stand_in.nonsense
        os.write(self._ends[0], self.stand_in.line() if nonsense is None else nonsense)

    def unplug(self) -> None:
        """Pull the cable out."""
        for end in self._ends:
            os.close(end)
        self._ends = ()

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.unplug()
