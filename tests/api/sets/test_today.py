"""Today's list: what is put off waits, what changed comes back, what runs low is said."""

from datetime import timedelta


def today(lab):
    return lab.get("/api/board")["today"]


def keys(lab):
    return [task["key"] for task in today(lab)]


def put_off(lab, task, expected=200, **changes):
    body = {"key": task["key"], "detail": task["detail"], "until": None, "reason": "The lamp is away.", **changes}
    return lab.post("/api/today/put-off", body, expected)


def with_a_coupon(lab):
    calibration = lab.calibration()
    lab.print(lab.plan(calibration, [2.4])[0])
    return next(task for task in today(lab) if task["kind"] == "read")


def test_put_off_until_a_day_and_back_on_it(lab):
    task = with_a_coupon(lab)
    put_off(lab, task, until="2026-01-23")
    assert task["key"] not in keys(lab)
    later = lab.get("/api/board")["later"]
    assert [(one["task"]["key"], one["put_off"]["until"], one["put_off"]["initials"]) for one in later] == [
        (task["key"], "2026-01-23", "IM")
    ]
    lab.clock.now += timedelta(days=2)
    assert task["key"] in keys(lab)


def test_dismissed_while_it_says_the_same(lab):
    task = with_a_coupon(lab)
    put_off(lab, task)
    assert task["key"] not in keys(lab)
    put_off(lab, task, detail="It said something else then.")
    assert task["key"] in keys(lab)


def test_brought_back(lab):
    task = with_a_coupon(lab)
    put_off(lab, task, until="2026-03-01")
    lab.post("/api/today/bring-back", {"key": task["key"]})
    assert task["key"] in keys(lab) and lab.get("/api/board")["later"] == []


def test_a_day_that_has_come_and_no_reason_are_refused(lab):
    task = with_a_coupon(lab)
    assert "after today" in put_off(lab, task, 422, until="2026-01-21")["error"]["fields"]["until"]
    assert "reason" in put_off(lab, task, 422, reason="")["error"]["fields"]
    assert task["key"] in keys(lab)


def test_every_entry_of_the_demo_has_a_key_of_its_own(demo_lab):
    names = [task["key"] for task in demo_lab.get("/api/board")["today"]]
    assert len(names) == len(set(names))


def test_a_material_in_use_runs_low(lab):
    card = lab.issue(lab.decided())
    bottle = lab.get("/api/bottles")["items"][0]
    assert not [task for task in today(lab) if task["kind"] == "bottle"]
    change = {name: bottle[name] for name in ("material_id", "lot", "volume_ml", "version")}
    lab.put(f"/api/bottles/{bottle['id']}", {**change, "left_ml": 80})
    low = next(task for task in today(lab) if task["kind"] == "bottle")
    assert "80 ml are left" in low["detail"] and low["material_id"] == card["material_id"]
    lab.put("/api/lab-settings", {**lab.get("/api/lab-settings"), "low_stock_ml": 50})
    assert not [task for task in today(lab) if task["kind"] == "bottle"]


def test_a_bottle_near_its_date_is_said(lab):
    shelf = lab.shelf()
    new = {"material_id": shelf["material_id"], "lot": "SL-2", "volume_ml": 500}
    lab.post("/api/bottles", {**new, "best_before": "2026-02-01"}, 201)
    lab.post("/api/bottles", {**new, "best_before": "2026-01-01"}, 201)
    lab.post("/api/bottles", {**new, "best_before": "2026-09-01"}, 201)
    titles = [task["title"] for task in today(lab) if task["kind"] == "bottle"]
    assert [title.split(" is ")[1] for title in titles] == ["past its best", "best before 2026-02-01"]
