"""The server: connections that say nothing keep nobody waiting, and TLS is spoken by its own certificate."""

import http.client
import socket
import ssl
import threading
from contextlib import contextmanager
from datetime import UTC, datetime

import pytest

from setback.serving import server as servers
from setback.serving import tls


def hello(environ, start_response):
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [environ["wsgi.url_scheme"].encode()]


@contextmanager
def running(**options):
    server = servers.make(hello, "127.0.0.2", 0, threads=1, **options)
    thread = threading.Thread(target=server.serve, daemon=True)
    thread.start()
    yield server.bind_addr[1]
    server.stop()
    thread.join(timeout=30)
    assert not thread.is_alive()


@pytest.fixture
def made(tmp_path):
    return tls.make(tmp_path / "tls", ["127.0.0.2"], "", datetime.now(UTC))


def test_connections_that_say_nothing_take_no_thread():
    with running() as port:
        silent = [socket.create_connection(("127.0.0.2", port)) for _ in range(8)]
        connection = http.client.HTTPConnection("127.0.0.2", port, timeout=10)
        for _ in range(3):
            connection.request("GET", "/")
            assert connection.getresponse().read() == b"http"
        for one in silent:
            one.close()


def test_over_tls_a_silent_connection_holds_up_nobody(made):
    trusts = ssl.create_default_context(cafile=made.authority)
    with running(tls=(made.certificate, made.key)) as port:
        silent = [socket.create_connection(("127.0.0.2", port)) for _ in range(8)]
        connection = http.client.HTTPSConnection("127.0.0.2", port, timeout=10, context=trusts)
        for _ in range(3):
            connection.request("GET", "/")
            assert connection.getresponse().read() == b"https"
        for one in silent:
            one.close()


def test_whoever_does_not_know_the_authority_is_warned(made):
    with running(tls=(made.certificate, made.key)) as port:
        stranger = http.client.HTTPSConnection("127.0.0.2", port, timeout=10, context=ssl.create_default_context())
        with pytest.raises(ssl.SSLCertVerificationError):
            stranger.request("GET", "/")


def test_a_browser_that_came_without_tls_is_told(made):
    with running(tls=(made.certificate, made.key)) as port:
        connection = http.client.HTTPConnection("127.0.0.2", port, timeout=10)
        connection.request("GET", "/")
        answer = connection.getresponse()
        assert answer.status == 400 and b"begins with https://" in answer.read()


def test_nonsense_for_a_greeting_ends_that_connection_alone(made):
    trusts = ssl.create_default_context(cafile=made.authority)
    with running(tls=(made.certificate, made.key)) as port:
        with socket.create_connection(("127.0.0.2", port), timeout=10) as nonsense:
            nonsense.sendall(b"\x16\x03\x01\x00\x05hello" + b"\x00" * 40)
            while nonsense.recv(1000):
                pass
        connection = http.client.HTTPSConnection("127.0.0.2", port, timeout=10, context=trusts)
        connection.request("GET", "/")
        assert connection.getresponse().status == 200


def test_a_taken_port_is_named():
    with running() as port, pytest.raises(servers.PortTaken):
        servers.make(hello, "127.0.0.2", port)
