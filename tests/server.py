"""A real server in a thread, with a lab that works on the same data."""

from __future__ import annotations

import random
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from apiflask import APIFlask

from setback.api.access import Workshop
from setback.api.app import create_app, every_address
from setback.services.unit_of_work import seeded_ids
from setback.serving import server as servers
from tests.lab import Lab, Prepared
from tests.reliability.process import free_port

# Applications with their routes compiled, over no file for now: the next server takes one instead of making it.
IDLE: list[APIFlask] = []
# Ports of servers that stopped: a browser that has seen an address keeps its scripts compiled.
IDLE_PORTS: list[int] = []


@dataclass
class Live:
    """A running server and a lab that drives its API."""

    url: str
    lab: Lab
    path: Path
    stop: object
    start: object


class Server:
    """The server in a thread; can be stopped and started again on the same port and file."""

    def __init__(
        self,
        path: Path,
        clock,
        prepared: Callable[[], Prepared] | None = None,
        workshop: Workshop | None = None,
    ) -> None:
        self.path, self.clock, self.starts, self.prepared, self.workshop = path, clock, 0, prepared, workshop
        # Where people sign in it is another address of this machine, so that no cookie is shared with the other tests.
        self.host = "127.0.0.2" if workshop else "127.0.0.1"
        # A port that was bound as "any" could not be bound again while its last connections linger.
        self.port = IDLE_PORTS.pop() if IDLE_PORTS else free_port(self.host)
        self.start()

    def start(self) -> None:
        # What a virtual printer hides follows from ids: seeded ones print the same in every run.
        self.starts += 1
        routes = IDLE.pop() if IDLE else every_address()
        self.app = create_app(
            self.path,
            clock=self.clock,
            new_id=seeded_ids(7000 + self.starts),
            routes=routes,
            workshop=self.workshop,
        )
        self.server = servers.make(self.app, self.host, self.port, threads=4)
        self.thread = threading.Thread(target=self.server.serve, daemon=True)
        self.thread.start()

    def stop(self) -> None:
        self.server.stop()
        # Sockets of the next server must not be opened while this one still closes its own.
        self.thread.join(timeout=60)
        assert not self.thread.is_alive(), "the server did not stop"
        self.app.extensions["jobs"].stop()
        self.app.extensions["connections"].close()
        IDLE.append(self.app)

    def leave(self) -> None:
        """Stop for good, and leave the port to the next server."""
        self.stop()
        IDLE_PORTS.append(self.port)

    def live(self) -> Live:
        return Live(
            f"http://{self.host}:{self.port}",
            Lab(self.app.test_client(), random.Random(3), clock=self.clock, path=self.path, prepared=self.prepared),
            self.path,
            self.stop,
            self.start,
        )
