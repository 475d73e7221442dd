"""Every write names who did it."""

import pytest

from tests.lab import PRINTER, RESIN


@pytest.fixture
def planned(lab):
    """A coupon that waits to be printed."""
    calibration = lab.calibration()
    lab.plan(calibration, [2.0])
    return lab.again(calibration)["arms"][0]["coupons"][0]


def refused(lab, url, body):
    return lab.post(url, body, 422)["error"]["fields"]["technician"]


def test_a_print_is_credited_to_who_printed_it_and_to_nobody_without_initials(lab, planned):
    url = f"/api/prints/{planned['print_id']}"
    lab.initials = None
    assert "Choose your initials" in refused(lab, f"{url}/printed", {"outcome": "whole"})
    assert "Choose your initials" in refused(lab, f"{url}/cancel", {})
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    lab.initials = "RB"
    lab.post(f"{url}/printed", {"outcome": "whole"})
    assert lab.get(f"/api/coupons/{planned['code']}")["printed_by"] == "RB"


def test_what_is_on_the_shelf_names_who_put_it_there(lab):
    lab.initials = None
    assert refused(lab, "/api/resins", RESIN) and refused(lab, "/api/printers", PRINTER)
    lab.initials = "QQ"
    assert "not a technician here" in refused(lab, "/api/resins", RESIN)


def test_a_timer_is_anybodys(lab):
    lab.initials = None
    lab.post("/api/timers", {"name": "Wash", "seconds": 60, "place": "/board"}, 201)
