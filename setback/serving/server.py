"""The running server: made from an application, started, and stopped so that all that was written is in the one file.

A connection waits for its first byte where it costs no thread, and is greeted over TLS by the thread that answers it: a browser that
connects ahead of need, or a phone that is lost on the way, keeps nobody else waiting.
"""

from __future__ import annotations

import logging
import socket
import ssl
from pathlib import Path
from typing import TYPE_CHECKING, Any

from cheroot.server import HTTPConnection
from cheroot.ssl.builtin import BuiltinSSLAdapter
from cheroot.wsgi import Server

if TYPE_CHECKING:
    from collections.abc import Callable

THREADS = 10
LARGEST_BODY = 1 << 30
PATIENCE_S = 30
"""How long a connection that sends nothing is kept, and how long requests under way may take when the server stops."""
TLS_BEGINS = b"\x16"
NOT_TLS = (
    b"HTTP/1.1 400 Bad Request\r\nContent-Type: text/plain; charset=utf-8\r\nConnection: close\r\n\r\n"
    b"This address begins with https://, not http://.\n"
)
log = logging.getLogger(__name__)


class PortTaken(OSError):
    """Something else listens there, or the address is none of this machine's."""


class _TlsAdapter(BuiltinSSLAdapter):
    """Wraps a connection without greeting it: that may take as long as the other side likes."""

    def wrap(self, sock: socket.socket) -> tuple[ssl.SSLSocket, dict[str, str]]:
        """The connection under TLS, not greeted yet, and nothing more of the environment."""
        return self.context.wrap_socket(sock, do_handshake_on_connect=False, server_side=True), {}


class _Connection(HTTPConnection):
    """One connection: it has waited for its first byte, and was greeted."""

    has_waited = False
    is_greeted = False

    def communicate(self) -> bool:
        """Answer the next request; whether another one may follow."""
        if not self.is_greeted and isinstance(self.socket, ssl.SSLSocket):
            try:
                # Past the TLS of this socket: what comes first says whether there is any.
                if socket.socket.recv(self.socket, 1, socket.MSG_PEEK) != TLS_BEGINS:
                    socket.socket.send(self.socket, NOT_TLS)
                    return False
                self.socket.do_handshake()
            except OSError as error:
                log.info("A connection from %s was not greeted: %s", self.remote_addr, error)
                return False
        self.is_greeted = True
        return bool(super().communicate())  # type: ignore[no-untyped-call]


class _Server(Server):
    """The server with such connections, which says in our log what happens to it."""

    ConnectionClass = _Connection
    # How long its loop sleeps, and so how long stopping takes at most.
    expiration_interval = 0.1

    def process_conn(self, conn: _Connection) -> None:
        """Give a connection to a thread, once something came over it."""
        if conn.has_waited:
            super().process_conn(conn)
            return
        conn.has_waited = True
        self.put_conn(conn)

    def error_log(self, msg: str = "", level: int = logging.INFO, traceback: bool = False) -> None:
        """One message of the server."""
        log.log(min(level, logging.WARNING), msg, exc_info=traceback)


def make(
    app: Callable[..., Any], host: str, port: int, *, tls: tuple[Path, Path] | None = None, threads: int = THREADS
) -> Server:
    """A server that listens and has not begun to answer.

    Parameters
    ----------
    app : WSGI application
    host : str
        Address to listen at.
    port : int
        0 for any that is free: ``bind_addr`` of the server then says which.
    tls : pair of Path, optional
        Certificate and its key.
    threads : int
        Requests that are answered at once.

    Raises
    ------
    PortTaken
        When the address cannot be listened at.
    """
    server = _Server(
        (host, port),
        app,
        numthreads=threads,
        request_queue_size=64,
        timeout=PATIENCE_S,
        shutdown_timeout=PATIENCE_S - 5,
        server_name="setback",
    )
    server.max_request_body_size = LARGEST_BODY
    if tls is not None:
        server.ssl_adapter = _TlsAdapter(str(tls[0]), str(tls[1]))
    try:
        server.prepare()
    except OSError as error:
        raise PortTaken(str(error)) from None
    return server
