"""What changed: everything that was done, by day and person, without a gap between pages."""

import pytest


def every(lab, limit, **narrowed):
    """All pages, one after the other."""
    rows, before = [], ""
    while True:
        query = "&".join(f"{name}={value}" for name, value in {**narrowed, "limit": limit, "before": before}.items())
        page = lab.get(f"/api/activity?{query}")
        rows += page["items"]
        before = page["next_before"]
        if not before:
            return rows


def test_an_empty_lab_did_nothing(lab):
    assert lab.get("/api/activity")["items"] == []


def test_work_stands_by_its_words_page_and_person(lab):
    card = lab.issue(lab.decided())
    rows = lab.get("/api/activity?limit=200")["items"]
    newest = rows[0]
    assert (newest["what"], newest["code"], newest["by"]) == ("set issued", card["code"], "IM")
    assert newest["page"] == f"/sets/{card['code']}"
    assert {row["kind"] for row in rows} == {"set", "reading", "print", "calibration", "bottle"}
    assert [row["at"] for row in rows] == sorted((row["at"] for row in rows), reverse=True)


def test_pages_join_without_a_gap_or_a_double(lab):
    lab.issue(lab.decided())
    whole = lab.get("/api/activity?limit=200")["items"]
    assert every(lab, 3) == whole


def test_narrowed_by_person_printer_and_kind(lab):
    calibration = lab.decided()
    lab.initials = "RB"
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    code = lab.plan(calibration, [2.7])[0]
    lab.print(code)
    assert [row["what"] for row in every(lab, 50, by="RB")] == ["printed"]
    assert every(lab, 50, printer="nobody's") == []
    read = every(lab, 50, kind="reading", printer=calibration["printer_id"], material=calibration["material_id"])
    assert len(read) == 8 and all(row["page"].startswith("/coupons/") for row in read)


def test_since_a_moment(lab):
    lab.decided()
    moment = lab.get("/api/activity?limit=1")["items"][0]["at"]
    assert [row["at"] for row in every(lab, 50, since=moment)] == [moment]


def test_a_correction_says_so(lab):
    calibration = lab.calibration()
    code = lab.series(calibration, [2.4])[0]
    first = lab.get(f"/api/coupons/{code}")["latest_id"]
    lab.read(code, supersedes_id=first, reason="Held it upside down.")
    assert lab.get("/api/activity?kind=reading")["items"][0]["detail"] == "corrected: Held it upside down."


def test_every_page_that_is_led_to_is_there(lab):
    """A calibration, a coupon, a set and a bottle are found by the codes that stand in their addresses."""
    lab.issue(lab.decided())
    answers = {
        "/coupons/": "/api/coupons/",
        "/calibrate/": "/api/calibrations/",
        "/sets/": "/api/sets/",
    }
    pages = {row["page"] for row in every(lab, 100)}
    for page in sorted(pages):
        start = next((one for one in answers if page.startswith(one)), None)
        if start:
            lab.get(answers[start] + page.removeprefix(start))
    assert any(page.startswith("/calibrate/") for page in pages)


def test_no_such_kind(lab):
    assert "no such kind" in lab.get("/api/activity?kind=gossip", 422)["error"]["fields"]["kind"]


@pytest.mark.parametrize(
    "kind", ["print", "reading", "set", "event", "vat", "test", "specimens", "qualification", "brief"]
)
def test_the_demo_has_work_of_every_kind(demo_lab, kind):
    rows = demo_lab.get(f"/api/activity?kind={kind}&limit=5")["items"]
    assert rows and all(row["title"] for row in rows)
