"""A change of resin and a leak, step by step: the order, the records that follow, and the way back."""

import pytest

from setback.core.printing.guides import GUIDES


@pytest.fixture
def printer(lab):
    return lab.shelf()


def url(printer, key="leak", step=None, what=""):
    return f"/api/printers/{printer['printer_id']}/guides/{key}" + (f"/steps/{step}" if step else "") + what


def test_power_comes_first_and_no_step_is_skipped(lab, printer):
    guide = lab.get(url(printer))
    assert guide["next"] == "power-off" and "Power off first" in guide["steps"][0]["words"]
    screen, blot = ([step["key"] for step in guide["steps"]].index(key) for key in ("screen", "blot"))
    assert blot < screen, "no light before the screen is clean"
    refused = lab.post(url(printer, step="blot"), None, 409)
    assert refused["error"]["message"].startswith("First: Power off first")
    done = lab.post(url(printer, step="power-off"))
    assert done["next"] == "protect" and done["steps"][0]["initials"] == "IM"
    lab.post(url(printer, step="power-off"), None, 409)
    back = lab.post(url(printer, step="power-off", what="/undo"))
    assert back["next"] == "power-off"


def test_records_follow_the_steps_that_change_them(lab, printer):
    pour = {"kind": "fill", "volume_ml": 150, "bottle_id": printer["bottle_id"]}
    lab.post(f"/api/printers/{printer['printer_id']}/vat", pour, 201)
    for step in GUIDES["leak"].steps:
        guide = lab.post(url(printer, step=step.key))
    assert guide["next"] is None
    assert lab.get(f"/api/printers/{printer['printer_id']}/vat")["volume_ml"] == 0
    events = lab.get(f"/api/printers/{printer['printer_id']}/page")["events"]
    assert [one["kind"] for one in events] == ["film-replaced"]
    noted = {step["key"]: step["noted"] for step in guide["steps"] if step["noted"]}
    assert set(noted) == {"empty", "film"}
    lab.post(url(printer, step="film-light", what="/undo"))
    refused = lab.post(url(printer, step="film", what="/undo"), None, 409)
    assert "Only the last step" in refused["error"]["message"]


def test_what_is_ended_begins_anew(lab, printer):
    lab.post(url(printer, "change-resin", "protect"))
    ended = lab.post(url(printer, "change-resin", what="/end"))
    assert ended["next"] == "protect"
    lab.post(url(printer, "change-resin", what="/end"), None, 404)


def test_what_is_not_there_is_said(lab, printer):
    lab.get(url(printer, "dance"), 404)
    refused = lab.post(url(printer, "leak", "dance"), None, 422)
    assert "no step called dance" in refused["error"]["message"]


@pytest.mark.parametrize("key", GUIDES)
def test_gloves_before_resin_and_cautions_where_it_can_hurt(key):
    steps = GUIDES[key].steps
    words = " ".join(step.words for step in steps)
    assert "Gloves" in words and "cure them solid" in words and any(step.minutes for step in steps)
    assert sum(step.caution is not None for step in steps) >= 3
