"""How an instrument is reached: over HTTP in this network, or over a serial line of this machine."""

from __future__ import annotations

import http.client
import ipaddress
import re
import socket
from urllib.parse import SplitResult, urlsplit

from ...core.contract import Problem
from ...core.instruments import LONGEST_ANSWER, Nonsense, Shown, read_answer

TIMEOUT_S = 2.0
_LINE_NAME = re.compile(r"^(/dev/[A-Za-z0-9_./-]{1,100}|COM\d{1,3})$")


class NotReached(Exception):
    """An instrument that does not answer; the message says why, in words for its page."""


def check_http(address: str) -> None:
    """Refuse an address that is no instrument of this network: what is asked for by the server must not lead out of it.

    Raises
    ------
    Problem
        When it is no plain address of this machine or network.
    """
    try:
        _reach(_split(address))
    except (ValueError, NotReached) as error:
        message = f"{error} Give http:// and an address of this network, such as http://192.168.1.20/reading."
        raise Problem(message, {"address": message}) from None


def check_serial(address: str) -> None:
    """Refuse a name that is no serial line.

    Raises
    ------
    Problem
        When it is not.
    """
    if not _LINE_NAME.match(address) or ".." in address:
        message = "Give the name of a serial line, such as /dev/ttyUSB0 or COM3."
        raise Problem(message, {"address": message})


def _split(address: str) -> SplitResult:
    parts = urlsplit(address)
    if parts.scheme != "http" or not parts.hostname or parts.username or parts.fragment:
        raise ValueError("This is no address of an instrument.")
    return parts


def _reach(parts: SplitResult) -> str:
    """The address of the machine behind a name, in this network; looked up each time, so that a name cannot be moved away."""
    try:
        found = socket.getaddrinfo(parts.hostname, parts.port or 80, type=socket.SOCK_STREAM)
    except OSError:
        raise NotReached(f"No machine of this network has the name {parts.hostname}.") from None
    for *_, place in found:
        there = ipaddress.ip_address(str(place[0]).split("%")[0])
        if not (there.is_private or there.is_loopback or there.is_link_local):
            raise NotReached(f"{parts.hostname} is no machine of this network.")
    return str(found[0][4][0])


def ask(kind: str, address: str) -> Shown:
    """What an instrument shows now.

    Raises
    ------
    NotReached
        When it does not answer.
    Nonsense
        When its answer is no reading.
    """
    parts = _split(address)
    link = http.client.HTTPConnection(_reach(parts), parts.port or 80, timeout=TIMEOUT_S)
    try:
        place = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
        link.request("GET", place, headers={"Host": parts.netloc, "Accept": "application/json"})
        answer = link.getresponse()
        content = answer.read(LONGEST_ANSWER + 1)
    except (OSError, http.client.HTTPException):
        raise NotReached(f"It does not answer at {address}.") from None
    finally:
        link.close()
    if answer.status != http.client.OK:
        raise Nonsense(f"It answered {answer.status}.")
    return read_answer(kind, content)
