"""Instruments read by the server: a reading, a fault, nonsense, and one that is unplugged in the middle, over HTTP and over a serial line."""

from __future__ import annotations

import time
from collections.abc import Callable

import pytest

from setback.core.contract import Problem
from setback.core.instruments import INSTRUMENT_KINDS
from setback.services.instruments.reaching import NotReached, ask, check_http, check_serial
from setback.services.instruments.watching import Watch
from setback.simulate.instruments import UNITS, USUAL, OverHttp, OverSerial, StandIn
from setback.store.instruments import Instrument


@pytest.fixture
def watch():
    made = Watch()
    yield made
    made.stop()


def row(address: str, kind: str = "caliper", connection: str = "http", is_on: bool = True) -> Instrument:
    return Instrument(
        id="i", name="Caliper", kind=kind, connection=connection, address=address, baud=9600, is_on=is_on, version=1
    )


def comes(watch: Watch, what: Callable[..., bool], seconds: float = 20):
    """The state of the instrument, once it is so."""
    until = time.monotonic() + seconds
    while not what(state := watch.state("i")):
        assert time.monotonic() < until, state
        time.sleep(0.02)
    return state


def test_stand_ins_measure_what_their_kind_measures():
    assert {kind: about.unit for kind, about in INSTRUMENT_KINDS.items()} == UNITS
    assert USUAL.keys() == UNITS.keys()


@pytest.mark.parametrize(
    "kind", ["caliper", *(pytest.param(k, marks=pytest.mark.long) for k in INSTRUMENT_KINDS if k != "caliper")]
)
def test_each_kind_is_read_over_http_with_its_button_its_fault_and_its_end(watch, kind):
    stand_in = StandIn(kind)
    with OverHttp(stand_in) as link:
        watch.follow([row(link.address, kind)])
        assert comes(watch, lambda state: state.value is not None).value == USUAL[kind]
        link.press(12.5)
        state = comes(watch, lambda state: state.presses == 1)
        assert state.value == 12.5 and time.monotonic() - state.measured_s < 20
        stand_in.fault = "battery low"
        assert comes(watch, lambda state: state.fault).fault == "battery low"
        stand_in.fault, stand_in.nonsense = None, b"<html>"
        assert "no JSON" in comes(watch, lambda state: state.fault and "battery" not in state.fault).fault
    state = comes(watch, lambda state: state.fault and "does not answer" in state.fault)
    # What it showed last stays, with its age.
    assert state.value == 12.5


@pytest.mark.parametrize("kind", ["caliper", "scale"])
def test_a_serial_line_gives_a_reading_for_each_press_and_says_what_is_wrong(watch, kind):
    stand_in = StandIn(kind)
    with OverSerial(stand_in) as link:
        watch.follow([row(link.address, kind, "serial")])
        pressed_until(watch, link, 10.02)
        before = watch.state("i").presses
        link.press(4.5)
        assert comes(watch, lambda state: state.value == 4.5).presses == before + 1
        stand_in.nonsense = b"OVERLOAD\r\n"
        link.press()
        assert "OVERLOAD" in comes(watch, lambda state: state.fault).fault
        stand_in.nonsense = None
        link.press(3.25)
        state = comes(watch, lambda state: state.value == 3.25)
        assert state.fault is None and state.presses == before + 2
        link.unplug()
        assert "unplugged" in comes(watch, lambda state: state.fault).fault


def pressed_until(watch: Watch, link: OverSerial, value: float) -> None:
    """Press until the line is open: what was sent before that is lost, as with a real one."""
    until = time.monotonic() + 20
    while (state := watch.state("i")) is None or state.value != value:
        assert time.monotonic() < until, state
        link.press(value)
        time.sleep(0.1)


def test_a_line_without_end_is_nonsense(watch):
    stand_in = StandIn("scale", nonsense=b"x" * 300)
    with OverSerial(stand_in) as link:
        watch.follow([row(link.address, "scale", "serial")])
        until = time.monotonic() + 20
        while not ((state := watch.state("i")) and state.fault and "without end" in state.fault):
            assert time.monotonic() < until, state
            link.press()
            time.sleep(0.1)


def test_a_line_that_is_not_there_is_said(watch):
    watch.follow([row("/dev/ttyNONE7", "scale", "serial")])
    assert "not plugged in" in comes(watch, lambda state: state.fault).fault


def test_one_that_is_switched_off_is_asked_no_more(watch):
    stand_in = StandIn("scale")
    with OverHttp(stand_in) as link:
        watch.follow([row(link.address, "scale")])
        comes(watch, lambda state: state.value is not None)
        watch.follow([row(link.address, "scale", is_on=False)])
        assert watch.state("i") is None


@pytest.mark.parametrize(
    "address",
    [
        "https://127.0.0.1/x",
        "file:///etc/passwd",
        "http://8.8.8.8/reading",
        "http://",
        "x",
        "http://a:b@127.0.0.1/",
        "http://[::ffff:8.8.8.8]/",
        "http://127.0.0.1:99999/",
        "gopher://127.0.0.1/",
    ],
)
def test_an_address_that_leads_out_of_this_network_is_refused(address):
    with pytest.raises(Problem) as refused:
        check_http(address)
    assert "address" in refused.value.fields


def test_an_address_of_this_network_is_taken_and_a_redirect_is_not_followed():
    check_http("http://127.0.0.1:8361/reading")
    check_http("http://192.168.1.20/reading")
    with pytest.raises(NotReached):
        ask("scale", "http://127.0.0.1:9/reading")


@pytest.mark.parametrize("line", ["/etc/passwd", "/dev/../etc/passwd", "ttyUSB0", "COM", "http://127.0.0.1"])
def test_what_is_no_serial_line_is_refused(line):
    with pytest.raises(Problem):
        check_serial(line)
    check_serial("/dev/ttyUSB0")
    check_serial("COM3")
