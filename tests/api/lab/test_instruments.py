"""Instruments are added off, switched on, changed and taken out; what each shows is told."""

import time

import pytest

from setback.simulate.instruments import OverHttp, StandIn

CALIPER = {"name": "Caliper", "kind": "caliper", "connection": "http", "address": "http://127.0.0.1:9/reading"}


def test_an_instrument_is_off_until_it_is_switched_on_and_then_shows_its_value(lab):
    with OverHttp(StandIn("caliper")) as link:
        made = lab.post("/api/instruments", CALIPER | {"address": link.address}, 201)
        assert not made["is_on"] and made["value"] is None and made["unit"] == "mm" and made["fills_fields"]
        url = f"/api/instruments/{made['id']}"
        lab.put(url, CALIPER | {"address": link.address, "is_on": True, "version": made["version"]})
        link.press(7.25)
        until = time.monotonic() + 20
        while (shown := lab.get("/api/instruments")["items"][0])["presses"] == 0:
            assert time.monotonic() < until, shown
            time.sleep(0.05)
        assert shown["value"] == 7.25 and shown["age_s"] < 20 and shown["fault"] is None
        stale = lab.put(url, CALIPER | {"name": "Other", "version": made["version"]}, 409)["error"]
        assert stale["over"] == {"version": made["version"] + 1}
        assert lab.post(f"{url}/retire")["items"] == []


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"address": "http://example.com/"}, "address"),
        ({"address": "/dev/ttyUSB0"}, "address"),
        ({"connection": "serial", "address": "/etc/passwd"}, "address"),
        ({"connection": "serial", "kind": "probe", "address": "/dev/ttyUSB0"}, "connection"),
        ({"name": " "}, "name"),
        ({"kind": "ruler"}, "kind"),
        ({"baud": 1}, "baud"),
    ],
)
def test_what_cannot_be_an_instrument_is_refused_at_its_field(lab, changes, field):
    assert field in lab.post("/api/instruments", CALIPER | changes, 422)["error"]["fields"]
    assert lab.get("/api/instruments")["items"] == []


def test_two_of_one_name_are_refused(lab):
    lab.post("/api/instruments", CALIPER, 201)
    assert "name" in lab.post("/api/instruments", CALIPER | {"name": "caliper"}, 422)["error"]["fields"]
