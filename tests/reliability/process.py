"""The command itself, served by a process of its own, and requests to it."""

from __future__ import annotations

import json
import signal
import socket
import subprocess
import sys
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any


def free_port(host: str = "127.0.0.1") -> int:
    """A port nobody listens at."""
    with closing(socket.socket()) as one:
        one.bind((host, 0))
        return int(one.getsockname()[1])


def serve(path: Path, port: int) -> list[str]:
    """The command as a process of its own."""
    own = "from setback.cli import main; main()"
    return [sys.executable, "-c", own, "serve", "--db", str(path), "--port", str(port)]


@contextmanager
def served(path: Path) -> Iterator[tuple[subprocess.Popen[str], str]]:
    """The running command with its address; killed at the end where it still runs."""
    port = free_port()
    # What it says of errors goes nowhere: a pipe nobody reads would stop it once it is full.
    server = subprocess.Popen(serve(path, port), stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    try:
        assert server.stdout is not None
        assert any("ready" in line for line in iter(server.stdout.readline, "")), "it never began"
        yield server, f"http://127.0.0.1:{port}"
    finally:
        if server.poll() is None:
            server.kill()
        server.wait()


def stop(server: subprocess.Popen[str]) -> None:
    """As a service is stopped."""
    server.send_signal(signal.SIGTERM)
    assert server.wait(timeout=30) == 0


def post(address: str, body: Any, **headers: str) -> Any:
    """The answer to a JSON body; raises what is no success."""
    named = {name.replace("_", "-"): value for name, value in headers.items()}
    return send(address, json.dumps(body).encode(), {"Content-Type": "application/json", **named})


def send(address: str, content: bytes, headers: dict[str, str]) -> Any:
    """The answer to bytes."""
    request = urllib.request.Request(address, content, {"Setback-Technician": "IM", **headers})
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.load(answer)


def upload(address: str, content: bytes) -> Any:
    """The answer to a photo, as a form sends it."""
    edge = "edge-of-the-photo"
    head = f'--{edge}\r\nContent-Disposition: form-data; name="photo"; filename="a.jpg"\r\nContent-Type: image/jpeg\r\n\r\n'
    body = head.encode() + content + f"\r\n--{edge}--\r\n".encode()
    return send(address, body, {"Content-Type": f"multipart/form-data; boundary={edge}"})


def get(address: str) -> Any:
    """The answer of an address, also of one that says it is not well."""
    try:
        with urllib.request.urlopen(address, timeout=60) as answer:
            return json.load(answer)
    except urllib.error.HTTPError as error:
        return json.load(error)
