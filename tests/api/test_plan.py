"""The day planned, through the API: tasks from the work, the plan, ticks, pins, printers that are down, and the calendar."""

from datetime import datetime, timedelta
from itertools import pairwise

import pytest
from icalendar import Calendar

from setback.core.testing.methods import METHODS
from setback.services import apart
from tests.api.test_blends import blend, shop  # noqa: F401
from tests.lab import entered
from tests.plans import solved_here
from tests.specimens import plan_of


@pytest.fixture(autouse=True)
def in_this_process(monkeypatch, request):
    """Solved here: a process of its own takes seconds to start, and one test tries that."""
    if "own_process" not in request.keywords:
        solved_here(monkeypatch)


@pytest.fixture
def calibration(lab):
    """Three coupons planned, on a morning of work."""
    calibration = lab.calibration(lab.shelf())
    lab.plan(calibration, [2.0, 2.5, 3.2])
    return lab.again(calibration)


def made(lab, seconds=0.3):
    lab.ended(lab.post("/api/plan/make", {"seconds": seconds}, 201))
    return lab.get("/api/plan")


def kinds(plan, kind):
    return [step for step in plan["steps"] if step["kind"] == kind]


def at(iso):
    return datetime.fromisoformat(iso)


def test_an_empty_lab_has_nothing_to_plan(lab):
    plan = lab.get("/api/plan")
    assert (plan["waiting"], plan["steps"], plan["made_at"], plan["what_now"]) == ([], [], None, None)


def test_planned_coupons_become_prints_baths_lamps_and_readings_in_order(lab, calibration):
    waiting = lab.get("/api/plan")["waiting"]
    assert len(waiting) == 15 and {task["job"] for task in waiting} == {calibration["code"]}
    plan = made(lab)
    assert {kind: len(kinds(plan, kind)) for kind in ("print", "wash", "dry", "cure", "read")} == dict.fromkeys(
        ("print", "wash", "dry", "cure", "read"), 3
    )
    prints = sorted(kinds(plan, "print"), key=lambda step: step["starts_at"])
    for before, after in pairwise(prints):
        assert before["ends_at"] <= after["starts_at"]
    assert plan["what_now"]["kind"] == "print" and plan["old"] == []
    # The vat is empty: it is filled with the resin first.
    assert [bool(step["change_at"]) for step in prints] == [True, False, False]
    job = plan["jobs"][0]
    assert job["job"] == calibration["code"] and job["ml"] > 0 and job["person_min"] > 15
    assert plan["budget"]["resins"][0]["needs_ml"] == pytest.approx(job["ml"])
    assert plan["compared"]["finish_at"] <= plan["compared"]["by_due_date_finish_at"]


@pytest.mark.long
@pytest.mark.own_process
def test_it_is_looked_for_in_a_process_of_its_own(lab, calibration):
    assert len(made(lab)["steps"]) == 15
    apart._pool().stop()
    apart._pool.cache_clear()


def test_a_tick_starts_a_timer_pushes_nothing_and_can_be_withdrawn(lab, calibration):
    first = made(lab)["what_now"]
    ticked = lab.post("/api/plan/ticks", {"task": first["key"]}, 201)
    running = next(step for step in ticked["plan"]["steps"] if step["key"] == first["key"])
    assert running["state"] == "running" and ticked["plan"]["what_now"]["key"] != first["key"]
    # It stays first on its printer, and who is at it begins nothing else meanwhile.
    anew = made(lab)
    begun_at = at(next(step for step in anew["steps"] if step["key"] == first["key"])["starts_at"])
    others = [step for step in anew["steps"] if step["key"] != first["key"] and step["person_min"]]
    assert min(at(step["starts_at"]) for step in others) >= begun_at + timedelta(minutes=first["person_min"] - 1)
    on_printer = [step for step in others if step["resource"] == first["resource"]]
    assert all(at(step["starts_at"]) >= begun_at + timedelta(minutes=first["minutes"] - 1) for step in on_printer)
    timer = lab.get("/api/timers")["items"][0]
    assert timer["name"] == first["name"] and timer["seconds"] == 60 * first["minutes"]
    refused = lab.post("/api/plan/ticks", {"task": first["key"]}, 409)
    assert refused["error"]["message"].startswith("IM began it at")
    by_record = lab.post("/api/plan/ticks", {"task": first["key"], "done": True}, 409)
    assert "marked as printed" in by_record["error"]["message"]
    # It runs longer than planned, and nobody noted what is in the vat: it is planned on all the same.
    lab.clock.now += timedelta(hours=2)
    assert made(lab)["not_planned"] == []
    lab.clock.now -= timedelta(hours=2)
    back = lab.post(f"/api/plan/ticks/{ticked['id']}/withdraw")
    assert next(step for step in back["steps"] if step["key"] == first["key"])["state"] == "planned"
    assert lab.get("/api/timers")["items"] == []


def test_a_print_that_is_marked_is_finished_step_by_step_and_its_times_are_kept(lab, calibration):
    code = calibration["arms"][0]["to_print"][0]
    lab.print(code)
    plan = made(lab)
    wash = next(step for step in plan["steps"] if step["kind"] == "wash" and code in step["name"])
    begun = lab.post("/api/plan/ticks", {"task": wash["key"]}, 201)
    lab.clock.now += timedelta(minutes=12)
    done = lab.post("/api/plan/ticks", {"task": wash["key"], "done": True}, 201)
    assert done["id"] == begun["id"] and wash["key"] not in [step["key"] for step in done["plan"]["steps"]]
    history = lab.get("/api/plan/history")["items"]
    assert [(row["kind"], row["count"]) for row in history] == [("wash", 1)]
    assert history[0]["planned_min"] == wash["minutes"] and 12 <= history[0]["took_min"] < 13
    lab.read(code)
    assert [task for task in lab.get("/api/plan")["waiting"] if code in task["name"]] == []


def test_what_nobody_began_makes_the_plan_an_old_one(lab, calibration):
    made(lab)
    lab.clock.now += timedelta(hours=2)
    plan = lab.get("/api/plan")
    assert plan["what_now"]["state"] == "overdue" and "was planned for earlier" in plan["old"][0]
    assert made(lab)["old"] == []


def test_new_work_is_said_and_planned(lab, calibration):
    made(lab)
    added = lab.post("/api/plan/own-tasks", {"name": "Order Slate 2", "minutes": 10}, 201)
    plan = lab.get("/api/plan")
    assert plan["old"] == ["Order Slate 2 came up since"] and [task["key"] for task in plan["waiting"]] == [
        f"{added['code']} own"
    ]
    assert kinds(made(lab), "own")[0]["person_min"] == 10
    changed = lab.put(f"/api/plan/own-tasks/{added['id']}", {"name": "Order two", "minutes": 20, "version": 1})
    assert (changed["name"], changed["version"]) == ("Order two", 2)
    lab.put(f"/api/plan/own-tasks/{added['id']}", {"name": "Order two", "minutes": 20, "version": 1}, 409)
    assert [task["name"] for task in lab.get("/api/plan/own-tasks")["items"]] == ["Order two"]
    done = lab.post("/api/plan/ticks", {"task": f"{added['code']} own", "done": True}, 201)
    assert kinds(done["plan"], "own") == []
    lab.post(f"/api/plan/own-tasks/{added['id']}/withdraw")
    assert lab.post(f"/api/plan/own-tasks/{added['id']}/restore")["withdrawn_at"] is None


def test_a_pin_holds_and_one_that_cannot_be_kept_is_refused_with_the_next_time(lab, calibration):
    plan = made(lab)
    first = plan["what_now"]
    later = (lab.clock.now + timedelta(hours=4)).replace(second=0, microsecond=0)
    moved = lab.put("/api/plan/pins", {"task": first["key"], "starts_at": later.isoformat()})
    assert moved["old"] == ["the work, the pins or the hours have changed since"]
    pinned = next(step for step in made(lab)["steps"] if step["key"] == first["key"])
    assert at(pinned["starts_at"]) == later and pinned["pinned"]
    night = later.replace(hour=3) + timedelta(days=1)
    refused = lab.put("/api/plan/pins", {"task": first["key"], "starts_at": night.isoformat()}, 422)
    assert "From Thu 07:30 it can" in refused["error"]["fields"]["starts_at"]
    passed = lab.put("/api/plan/pins", {"task": first["key"], "starts_at": "2026-01-02T09:00:00Z"}, 422)
    assert passed["error"]["fields"]["starts_at"].startswith("That time has passed.")
    lab.put("/api/plan/pins", {"task": "J-999 print", "starts_at": later.isoformat()}, 404)
    free = lab.put("/api/plan/pins", {"task": first["key"], "starts_at": None})
    assert not any(step["pinned"] for step in free["steps"])


def test_a_needed_by_time_that_cannot_be_kept_is_late_and_said(lab, calibration):
    due = (lab.clock.now + timedelta(minutes=20)).isoformat()
    lab.put("/api/plan/due", {"job": calibration["code"], "due_at": due})
    job = made(lab)["jobs"][0]
    assert job["late_min"] > 30 and at(job["due_at"]) < at(job["done_at"])
    lab.put("/api/plan/due", {"job": calibration["code"], "due_at": None})
    assert made(lab)["jobs"][0]["late_min"] == 0


def test_a_printer_that_is_down_keeps_its_prints_until_it_is_back(lab, calibration):
    printer = calibration["printer_id"]
    plan = lab.post(f"/api/printers/{printer}/down", {"reason": "The screen is dark"})
    assert plan["down"][0]["reason"] == "The screen is dark"
    lab.post(f"/api/printers/{printer}/down", {"reason": "Again"}, 409)
    plan = made(lab)
    first = plan["not_planned"][0]
    assert first["why"].endswith("is down: The screen is dark") and "is back" in first["instead"]
    assert kinds(plan, "print") == [] and {row["key"].split()[1] for row in plan["not_planned"]} >= {"print", "wash"}
    lab.post(f"/api/printers/{printer}/back")
    lab.post(f"/api/printers/{printer}/back", None, 409)
    back_at = (lab.clock.now + timedelta(hours=2)).isoformat()
    lab.post(f"/api/printers/{printer}/down", {"reason": "Film", "until_at": back_at})
    assert all(at(step["starts_at"]) >= at(back_at).replace(second=0) for step in kinds(made(lab), "print"))
    past = lab.post(f"/api/printers/{printer}/back") and lab.post(
        f"/api/printers/{printer}/down", {"reason": "Film", "until_at": "2026-01-02T09:00:00Z"}, 422
    )
    assert "until_at" in past["error"]["fields"]


def test_nobody_at_work_means_nothing_is_planned_and_why(lab, calibration):
    settings = lab.get("/api/plan/settings")
    settings["hours"]["week"] = [None] * 7
    lab.put("/api/plan/settings", settings)
    plan = made(lab)
    assert plan["steps"] == [] and len(plan["not_planned"]) == 15
    assert "min of a person" in plan["not_planned"][0]["why"]
    assert plan["not_planned"][0]["instead"].startswith("lengthen the working hours")
    lab.put("/api/plan/settings", settings, 409)
    wrong = lab.get("/api/plan/settings")
    wrong["hours"]["time_zone"] = "Nowhere"
    assert "hours.time_zone" in lab.put("/api/plan/settings", wrong, 422)["error"]["fields"]


def test_a_resin_does_not_stand_in_its_vat_longer_than_its_maker_allows(lab, calibration):
    material = next(row for row in lab.get("/api/resins")["items"] if row["id"] == calibration["material_id"])
    version = {"version": material["version"], "vat_hours": 24}
    lab.put(f"/api/resins/{material['id']}", entered(material, "ResinInput") | version)
    filled = {"kind": "fill", "volume_ml": 200, "bottle_id": lab.get("/api/bottles")["items"][0]["id"]}
    lab.post(f"/api/printers/{calibration['printer_id']}/vat", filled, 201)
    assert len(kinds(made(lab), "print")) == 3
    lab.clock.now += timedelta(hours=23, minutes=50)
    plan = made(lab)
    assert len(kinds(plan, "print")) < 3
    assert "longer than its maker allows" in plan["not_planned"][0]["why"]


def test_a_batch_goes_from_its_cup_to_its_stir_and_by_its_own_page(lab, shop):  # noqa: F811
    made_up = lab.post(f"/api/blends/{blend(lab, shop)['id']}/batches", {"volume_ml": 400}, 201)
    code = made_up["code"]
    assert [task["key"] for task in lab.get("/api/plan")["waiting"]] == [f"{code} cup blend"]
    lab.post(f"/api/batches/{made_up['id']}/cup")
    look = kinds(made(lab), "blend")[0]
    assert look["name"].startswith(f"look at the cup of {code}")
    # A cup stands its hours before anybody looks.
    hours = lab.get(f"/api/batches/{code}")["cup_hours"]
    assert at(look["starts_at"]) >= lab.clock.now + timedelta(hours=hours, minutes=-2)
    by_page = lab.post("/api/plan/ticks", {"task": look["key"], "done": True}, 409)
    assert "on its page" in by_page["error"]["message"]
    lab.post(f"/api/batches/{made_up['id']}/cup-finding", {"finding": "fine"})
    assert [task["key"] for task in lab.get("/api/plan")["waiting"]] == [f"{code} pour blend"]


def test_what_is_worth_doing_is_what_is_not_planned_yet(lab, calibration):
    worth = lab.get("/api/plan/worth-doing")["items"]
    assert worth == [], "its coupons are planned already"
    for code in calibration["arms"][0]["to_print"]:
        lab.print(code)
        lab.read(code)
    worth = lab.get("/api/plan/worth-doing")["items"]
    assert [row["kind"] for row in worth] == ["coupon"] and calibration["code"] in worth[0]["words"]
    assert worth[0]["ml"] > 0 and worth[0]["minutes"] > 0


def confirm(lab, calibration, place, exposure_s):
    request = {"arm_id": calibration["arms"][0]["id"], "exposure_s": exposure_s, "place": place, "finding": None}
    lab.post(f"/api/calibrations/{calibration['id']}/confirm", request, 201)


def test_a_window_that_is_shown_is_confirmed_at_two_places_and_then_issued(lab):
    calibration = lab.decided()
    plan = made(lab)
    assert [step["kind"] for step in plan["steps"]] == ["print", "wash", "dry", "cure", "read"]
    first = plan["what_now"]
    assert first["name"].startswith("print confirming coupons at centre and worst place") and first["minutes"] > 20
    assert first["ml"] > 0 and not first["recorded"] and first["link"].endswith("?step=confirm")
    # No coupon stands behind it, so a tick is its record; the look itself is entered on its page.
    lab.post("/api/plan/ticks", {"task": first["key"]}, 201)
    after = lab.post("/api/plan/ticks", {"task": first["key"], "done": True}, 201)["plan"]
    assert after["what_now"]["kind"] == "wash"
    lab.post("/api/plan/ticks", {"task": plan["steps"][-1]["key"], "done": True}, 409)
    exposure = next(value for value in calibration["arms"][0]["window"]["policies"].values() if value)
    confirm(lab, calibration, "centre", exposure)
    again = made(lab)
    assert "at worst place" in again["steps"][-1]["name"] and lab.get("/api/plan/worth-doing")["items"] == []
    confirm(lab, calibration, "worst place", exposure)
    assert made(lab)["steps"] == []
    worth = lab.get("/api/plan/worth-doing")["items"]
    assert [(row["kind"], row["words"]) for row in worth] == [("issue", f"issue a set, {calibration['code']}")]


@pytest.fixture
def two_tests(lab):
    """Bending and pulling one material at one set."""
    calibration = lab.decided()
    issued = {"set_code": lab.issue(calibration)["code"], "material_id": calibration["material_id"]}
    sheet = lab.post("/api/reference-materials", {"name": "Acrylic sheet", "what": "cast sheet"}, 201)
    return [
        lab.post("/api/tests", plan_of(METHODS[key], issued | {"sheet_id": sheet["id"]}, prints=1), 201)
        for key in ("cantilever-bend", "tensile-bar")
    ]


def test_specimens_of_one_material_and_set_share_a_plate(lab, two_tests):
    bend, pull = (test["code"] for test in two_tests)
    plan = made(lab)
    (shared,) = kinds(plan, "print")
    assert shared["job"] == bend and [other["job"] for other in shared["also"]] == [pull]
    assert shared["note"].startswith("On one plate: ") and len(kinds(plan, "read")) == 2
    assert {row["job"] for row in plan["jobs"]} == {bend, pull}
    lab.post("/api/plan/ticks", {"task": shared["key"]}, 201)
    running = made(lab)
    assert [step["state"] for step in kinds(running, "print")] == ["running"]
    # Marked as printed one after the other; they are washed and cured as one again.
    for test in two_tests:
        for print_made in [one for group in test["groups"] for one in group["prints"]]:
            lab.post(f"/api/test-prints/{print_made['id']}/made", {"temp_c": 23, "temp_place": "resin"})
    (wash,) = kinds(made(lab), "wash")
    done = lab.post("/api/plan/ticks", {"task": wash["key"], "done": True}, 201)["plan"]
    assert kinds(done, "wash") == [] and len(kinds(done, "cure")) == 1


@pytest.mark.long
def test_a_printer_that_is_slower_than_computed_is_planned_slower(lab, calibration):
    planned = kinds(made(lab), "print")[0]["minutes"]
    lab.plan(calibration, [1.8, 2.1, 2.8])
    codes = lab.again(calibration)["arms"][0]["to_print"]
    for step in kinds(made(lab), "print")[:5]:
        lab.post("/api/plan/ticks", {"task": step["key"]}, 201)
        lab.clock.now += timedelta(minutes=1.25 * step["minutes"])
        lab.print(next(code for code in codes if code in step["name"]))
    history = next(row for row in lab.get("/api/plan/history")["items"] if row["kind"] == "print")
    assert history["count"] == 5 and history["took_min"] == pytest.approx(1.25 * history["planned_min"], rel=0.03)
    assert kinds(made(lab), "print")[0]["minutes"] == pytest.approx(1.25 * planned, rel=0.1)


def test_too_little_resin_is_said_with_the_print_it_runs_out_at(lab, calibration):
    bottle = lab.get("/api/bottles")["items"][0]
    changed = {"material_id": bottle["material_id"], "lot": bottle["lot"], "volume_ml": 500, "left_ml": 2}
    lab.put(f"/api/bottles/{bottle['id']}", changed | {"version": bottle["version"]})
    budget = made(lab)["budget"]["resins"][0]
    assert budget["needs_ml"] > budget["left_ml"] == 2 and budget["runs_out_at_key"].endswith(" print")


def test_the_calendar_is_read_by_its_address_until_that_is_revoked(lab, calibration):
    plan = made(lab)
    feed = lab.post("/api/plan/feeds", None, 201)
    path = feed["address"].split("8350")[1]
    answer = lab.client.get(path)
    assert answer.status_code == 200 and answer.mimetype == "text/calendar"
    events = Calendar.from_ical(answer.data).walk("VEVENT")
    by_person = [step for step in plan["steps"] if step["person_min"] or step["kind"] == "print"]
    assert {str(event["summary"]) for event in events} == {step["name"] for step in by_person}
    assert lab.client.get("/api/plan/calendar.ics").data.count(b"BEGIN:VEVENT") == len(events)
    assert len(lab.get("/api/plan/feeds")["items"]) == 1 and feed["address"] not in str(lab.get("/api/plan/feeds"))
    assert lab.post(f"/api/plan/feeds/{feed['id']}/revoke")["items"] == []
    assert lab.client.get(path).status_code == 404
    lab.post(f"/api/plan/feeds/{feed['id']}/revoke", None, 404)


def test_a_second_reading_that_is_asked_for_is_a_task_that_its_reading_does(lab, calibration):
    code = calibration["arms"][0]["to_print"][0]
    lab.print(code)
    lab.read(code)
    lab.post(f"/api/coupons/{code}/blind-readings", None, 201)
    task = next(step for step in made(lab)["steps"] if step["key"] == f"{code} second read")
    assert task["recorded"] and task["link"].startswith("/blind/") and task["note"] == "Another technician reads it."
    lab.post("/api/plan/ticks", {"task": task["key"], "done": True}, 409)
