"""One thread for each instrument that is switched on: what it shows now stands in memory, for whoever looks."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

import serial

from ...core.instruments import Nonsense, read_line
from ...store.instruments import Instrument
from .reaching import NotReached, ask

EVERY_S = 0.4
"""A person who presses the button of a caliper looks at the screen at once."""
AGAIN_S = 2.0
"""After a fault, so that an instrument which is away costs little."""
LONGEST_LINE = 200
log = logging.getLogger(__name__)


@dataclass(frozen=True)
class InstrumentState:
    """What an instrument last showed: its value, when by the monotonic clock, how often its button was pressed, and its fault."""

    value: float | None = None
    measured_s: float | None = None
    presses: int = 0
    fault: str | None = None


class Watch:
    """Reads the instruments that are switched on, each in a thread of its own: one that hangs keeps none of the others waiting."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._states: dict[str, InstrumentState] = {}
        self._stops: dict[str, tuple[Instrument, threading.Event]] = {}

    def follow(self, rows: list[Instrument]) -> None:
        """Watch these and no others; one that was changed is begun anew."""
        wanted = {row.id: row for row in rows if row.is_on}
        with self._lock:
            for instrument_id, (row, stop) in list(self._stops.items()):
                if wanted.get(instrument_id) != row:
                    stop.set()
                    del self._stops[instrument_id]
                    self._states.pop(instrument_id, None)
            for row in wanted.values():
                if row.id not in self._stops:
                    stop = threading.Event()
                    self._stops[row.id] = (row, stop)
                    self._states[row.id] = InstrumentState()
                    threading.Thread(
                        target=self._run, args=(row, stop), name=f"instrument {row.name}", daemon=True
                    ).start()

    def stop(self) -> None:
        """Let go of all of them."""
        self.follow([])

    def state(self, instrument_id: str) -> InstrumentState | None:
        """What one shows; None where it is not watched."""
        with self._lock:
            return self._states.get(instrument_id)

    def _run(self, row: Instrument, stop: threading.Event) -> None:
        step = CONNECTIONS[row.connection]
        while not stop.is_set():
            try:
                step(row, stop, lambda **changes: self._put(row.id, stop, **changes))
            except (Nonsense, NotReached) as error:
                self._put(row.id, stop, fault=str(error))
            except Exception:
                log.exception("The instrument %s could not be read", row.name)
                self._put(row.id, stop, fault="It could not be read; the server's log says why.")
            stop.wait(AGAIN_S)

    def _put(self, instrument_id: str, stop: threading.Event, **changes: object) -> None:
        with self._lock:
            if not stop.is_set():
                before = self._states[instrument_id]
                self._states[instrument_id] = InstrumentState(**{**before.__dict__, **changes})


Put = Callable[..., None]


def _over_http(row: Instrument, stop: threading.Event, put: Put) -> None:
    while not stop.is_set():
        shown = ask(row.kind, row.address)
        measured_s = None if shown.value is None else time.monotonic() - shown.age_s
        put(value=shown.value, measured_s=measured_s, presses=shown.presses, fault=shown.fault)
        stop.wait(EVERY_S)


def _over_serial(row: Instrument, stop: threading.Event, put: Put) -> None:
    """A line for each press of the button."""
    try:
        with serial.Serial(row.address, row.baud, timeout=EVERY_S, exclusive=True) as line:
            put(fault=None)
            presses, rest = 0, b""
            while not stop.is_set():
                rest += line.read(max(line.in_waiting, 1))
                *whole, rest = rest.replace(b"\r", b"\n").split(b"\n")
                if len(rest) > LONGEST_LINE:
                    raise Nonsense("It sends without end: is the speed of the line right?")
                for sent in whole:
                    if not sent.strip():
                        continue
                    with contextlib.suppress(Nonsense):
                        value, presses = read_line(row.kind, sent), presses + 1
                        put(value=value, measured_s=time.monotonic(), presses=presses, fault=None)
                        continue
                    put(fault=_nonsense(row.kind, sent))
    except (serial.SerialException, OSError) as error:
        reason = (
            "It is not plugged in" if "No such file" in str(error) else "It was unplugged, or another program has it"
        )
        raise NotReached(f"{reason}: {row.address}.") from None


def _nonsense(kind: str, sent: bytes) -> str:
    try:
        read_line(kind, sent)
    except Nonsense as error:
        return str(error)
    return ""


CONNECTIONS: dict[str, Callable[[Instrument, threading.Event, Put], None]] = {
    "http": _over_http,
    "serial": _over_serial,
}
