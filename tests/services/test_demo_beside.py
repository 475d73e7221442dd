"""The demo beside a lab: a server of its own that ends with the lab's, and leaves nothing behind."""

import json
import time
import urllib.request
from pathlib import Path

import pytest

from setback.services.lab.demo_beside import PREFIX, DemoBeside


def folders(tmp: Path):
    return [one for one in tmp.iterdir() if one.name.startswith(PREFIX)]


@pytest.fixture
def beside(tmp_path, monkeypatch):
    monkeypatch.setattr("tempfile.tempdir", str(tmp_path))
    demo = DemoBeside()
    yield demo
    demo.close()


def ready(beside):
    """Its address, once it answers."""
    deadline = time.monotonic() + 240
    while time.monotonic() < deadline:
        state, address = beside.state()
        assert state in ("building", "ready")
        if address:
            return address
        time.sleep(0.2)
    raise AssertionError("the demo never answered")


@pytest.mark.long
def test_it_is_a_demo_that_can_be_closed_from_within_and_is_gone(beside, tmp_path):
    assert beside.state() == ("none", None)
    beside.open()
    beside.open()
    assert len(folders(tmp_path)) == 1
    address = ready(beside)
    told = json.load(urllib.request.urlopen(f"{address}/api/demo"))
    assert told["is_demo"] and told["closes"]
    close = urllib.request.Request(f"{address}/api/demo/close", b"{}", {"Content-Type": "application/json"})
    urllib.request.urlopen(close).close()
    deadline = time.monotonic() + 60
    while beside.state()[0] == "ready" and time.monotonic() < deadline:
        time.sleep(0.1)
    assert beside.state() == ("none", None) and folders(tmp_path) == []


def test_one_that_cannot_be_built_says_so(beside, tmp_path, monkeypatch):
    monkeypatch.setattr("sys.executable", "/bin/false")
    beside.open()
    deadline = time.monotonic() + 30
    while beside.state()[0] == "building" and time.monotonic() < deadline:
        time.sleep(0.05)
    assert folders(tmp_path) == []


@pytest.mark.long
def test_closing_while_it_is_built_leaves_nothing(beside, tmp_path):
    beside.open()
    beside.close()
    assert beside.state() == ("none", None) and folders(tmp_path) == []
