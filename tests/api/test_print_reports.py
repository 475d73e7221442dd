"""A print of parts: started past its gates, reported on later, corrected, withdrawn; everything it feeds follows."""

import io
from datetime import timedelta

import pytest
from PIL import Image

from setback.services.prints import print_log
from tests.lab import RESIN


@pytest.fixture
def shelf(lab):
    return lab.shelf()


@pytest.fixture
def trial(lab, shelf):
    material = lab.get("/api/resins")["items"][0]["id"]
    return {"material_id": material, "layer_height_um": 50, "exposure_s": 2.6}


def start(lab, shelf, expected=201, **changes):
    asked = {"printer_id": shelf["printer_id"], "parts": [{"name": "funnel", "printed": 16}], **changes}
    return lab.post("/api/prints/start", asked, expected)


def finish(lab, row, expected=200, **report):
    return lab.post(f"/api/prints/{row['id']}/finish", report, expected)


def counts(whole, printed=16, **more):
    return {"parts": [{"name": "funnel", "printed": printed, "whole": whole, **more}]}


def wrong(answer):
    return answer["error"]["fields"]


def hours(lab, shelf):
    return next(one["screen_hours"] for one in lab.get("/api/printers")["items"] if one["id"] == shelf["printer_id"])


def test_started_in_the_evening_and_reported_by_somebody_else_in_the_morning(lab, shelf, trial):
    lab.post("/api/technicians", {"initials": "TO"}, 201)
    row = start(lab, shelf, trial=trial, temp_c=23, temp_place="resin", minutes=240, volume_ml=80, tip_mm=0.4)
    assert (row["status"], row["printed_at"], row["material_id"]) == ("planned", None, trial["material_id"])
    assert [one["code"] for one in lab.get("/api/prints/running")["items"]] == [row["code"]]
    assert lab.get("/api/prints")["total"] == 0
    lab.clock.now += timedelta(hours=10)
    lab.initials = "TO"
    done = finish(lab, row, symptoms=["supports-torn"], **counts(14))
    assert (done["outcome"], done["initials"]) == ("missing parts", "TO")
    assert done["parts"][0] | {"whole": 14, "under": 2, "over": 0} == done["parts"][0]
    assert lab.get("/api/prints/running")["items"] == []
    page = lab.get(f"/api/prints/{row['code']}")
    assert page["symptoms"][0]["name"] == "Supports torn" and page["reports"][0]["duration_s"] == 240 * 60
    assert page["settings"]["rest_before_s"] == 1.0 and page["exposure_s"] == 2.6


def test_all_whole_is_one_word(lab, shelf):
    row = start(lab, shelf)
    assert finish(lab, row)["outcome"] == "whole"
    assert lab.get(f"/api/prints/{row['code']}")["parts"][0]["whole"] == 16


def test_the_gates_come_before_it_starts_and_not_again_at_its_end(lab, shelf):
    lost = finish(lab, start(lab, shelf), symptoms=["parts-in-vat"], **counts(3))
    refused = start(lab, shelf, expected=409)
    assert "search the vat" in refused["error"]["message"]
    lab.post(f"/api/prints/{lost['id']}/vat-searched")
    assert finish(lab, start(lab, shelf))["outcome"] == "whole"


@pytest.mark.parametrize(
    ("report", "open_gates"),
    [
        ({"symptoms": ["details-grown-shut"], **counts(10)}, 0),
        ({"symptoms": ["details-missing"], **counts(10)}, 0),
        ({"symptoms": ["nothing-on-plate"], **counts(0)}, 1),
        ({"symptoms": ["details-missing"], "pieces_lost": True, **counts(10)}, 1),
        (counts(10), 1),
    ],
)
def test_only_pieces_that_may_lie_in_the_vat_shut_the_gate(lab, shelf, report, open_gates):
    finish(lab, start(lab, shelf), **report)
    assert len(lab.get("/api/gates")["items"]) == open_gates


def test_what_it_fed_follows_its_correction_and_its_withdrawal(lab, shelf, trial):
    bottle = lab.get("/api/bottles")["items"][0]
    lab.clock.now += timedelta(hours=1)
    left = lambda: lab.get(f"/api/bottles/{bottle['id']}")["left_ml"]  # noqa: E731
    before, hours_before = left(), hours(lab, shelf)
    row = start(lab, shelf, trial=trial, bottle_id=bottle["id"], volume_ml=60, minutes=120)
    assert left() == before, "nothing is used while it runs"
    lab.clock.now += timedelta(hours=2)
    finish(lab, row, **counts(16))
    assert left() == before - 60
    light = hours(lab, shelf) - hours_before
    # 2.6 s of light in a layer of 2.6 s, a rest of 1 s, and 6 mm up at 60 and down at 150 mm a minute.
    assert light == pytest.approx(2 * 2.6 / (2.6 + 1 + 6 + 2.4), rel=1e-6)
    corrected = lab.post(
        f"/api/prints/{row['id']}/correct",
        {"reason": "Two lay in the vat.", "number": 1, "symptoms": ["parts-in-vat"], "volume_ml": 50, **counts(14)},
    )
    assert (corrected["outcome"], left()) == ("missing parts", before - 50)
    assert [one["number"] for one in lab.get(f"/api/prints/{row['code']}")["reports"]] == [2, 1]
    lab.post(f"/api/prints/{row['id']}/withdraw", {"reason": "It was another printer."})
    assert (left(), hours(lab, shelf)) == (before, pytest.approx(hours_before))
    assert lab.get("/api/prints")["total"] == 0 and lab.get("/api/gates")["items"] == []
    lab.post(f"/api/prints/{row['id']}/restore")
    assert left() == before - 50 and hours(lab, shelf) == pytest.approx(hours_before + light)
    assert len(lab.get("/api/gates")["items"]) == 1


def test_hours_that_were_read_off_later_are_not_added_to(lab, shelf, trial):
    started = (lab.clock.now - timedelta(hours=5)).isoformat()
    ended = (lab.clock.now - timedelta(hours=3)).isoformat()
    lab.post(
        "/api/events",
        {"kind": "plate-levelled", "printer_id": shelf["printer_id"], "screen_hours": 500},
        201,
    )
    lab.post(
        "/api/prints",
        {"printer_id": shelf["printer_id"], "trial": trial, "started_at": started, "finished_at": ended, **counts(16)},
        201,
    )
    assert hours(lab, shelf) == 500


def test_a_print_is_entered_after_newer_ones_and_never_over_one_that_ran(lab, shelf, trial):
    def entered(started_h, ended_h, expected=201):
        started, ended = ((lab.clock.now - timedelta(hours=h)).isoformat() for h in (started_h, ended_h))
        body = {"printer_id": shelf["printer_id"], "trial": trial, "started_at": started, "finished_at": ended}
        return lab.post("/api/prints", {**body, **counts(16)}, expected)

    entered(3, 1)
    entered(30, 26)
    assert "ran on" in wrong(entered(28, 20, 422))["started_at"]
    assert "ran on" in wrong(entered(2, 0.5, 422))["started_at"]
    assert lab.get("/api/prints")["total"] == 2


def test_two_people_report_on_one_print(lab, shelf):
    row = start(lab, shelf)
    finish(lab, row, **counts(16))
    told = finish(lab, row, expected=409, **counts(12))
    assert "IM reported on" in told["error"]["message"]
    correction = {"reason": "Counted again.", "number": 1, **counts(15)}
    lab.post(f"/api/prints/{row['id']}/correct", correction)
    told = lab.post(f"/api/prints/{row['id']}/correct", {**correction, **counts(13)}, 409)
    assert "meanwhile" in told["error"]["message"]


def test_what_cannot_have_been_is_said_at_its_place(lab, shelf):
    row = start(lab, shelf)
    hour = timedelta(hours=1)
    earlier, later = (lab.clock.now - hour).isoformat(), (lab.clock.now + hour).isoformat()
    assert "cannot have ended before" in wrong(finish(lab, row, 422, finished_at=earlier))["finished_at"]
    assert "future" in wrong(finish(lab, row, 422, finished_at=later))["finished_at"]
    assert "more than were printed" in wrong(finish(lab, row, 422, **counts(17)))["parts.0.whole"]
    assert "parts.0.under" in wrong(finish(lab, row, 422, **counts(14, under=3)))
    assert "symptoms.0" in wrong(finish(lab, row, 422, symptoms=["it-looks-odd"]))
    assert lab.get("/api/prints/running")["items"][0]["code"] == row["code"]


def test_a_print_of_a_month_is_a_slip_of_the_day_and_no_year_breaks_it(lab, shelf):
    for started, words in (("2025-12-01T08:00:00Z", "check the day"), ("0487-09-26T11:18:30Z", "check the day")):
        refused = lab.post("/api/prints", {"printer_id": shelf["printer_id"], "started_at": started, **counts(16)}, 422)
        assert words in wrong(refused)["started_at"]
    asked = f"/api/how-warm?printer_id={shelf['printer_id']}&at="
    assert lab.get(f"{asked}0487-09-26T11:18:30Z")["now"] is None
    lab.get(f"{asked}0001-01-01T00:00:00%2B05:00", 422)


def test_two_prints_on_one_printer_at_once(lab, shelf):
    row = start(lab, shelf)
    assert f"{row['code']} runs on" in wrong(start(lab, shelf, 422))["started_at"]
    lab.clock.now += timedelta(hours=3)
    finish(lab, row)
    amid = (lab.clock.now - timedelta(hours=1)).isoformat()
    assert f"{row['code']} ran on" in wrong(start(lab, shelf, 422, started_at=amid))["started_at"]
    start(lab, shelf)


def test_a_print_back_dated_before_its_vat_was_filled(lab, shelf):
    bottle = lab.get("/api/bottles")["items"][0]
    lab.post(
        f"/api/printers/{shelf['printer_id']}/vat", {"kind": "fill", "volume_ml": 120, "bottle_id": bottle["id"]}, 201
    )
    before = (lab.clock.now - timedelta(hours=4)).isoformat()
    assert "vat was empty then" in wrong(start(lab, shelf, 422, started_at=before))["started_at"]
    start(lab, shelf)


def test_trial_settings_are_checked_and_the_bottle_holds_what_is_printed(lab, shelf, trial):
    slip = {**trial, "layer_height_um": 500}
    assert "Was 0.05 mm" in wrong(start(lab, shelf, 422, trial=slip))["trial.layer_height_um"]
    other = lab.post("/api/resins", {**RESIN, "name": "Tideglass"}, 201)
    bottle = lab.get("/api/bottles")["items"][0]
    refused = start(lab, shelf, 422, trial={**trial, "material_id": other["id"]}, bottle_id=bottle["id"])
    assert "not what is printed" in wrong(refused)["bottle_id"]


def picture(shade):
    out = io.BytesIO()
    Image.new("RGB", (40, 30), (shade, 90, 90)).save(out, "PNG")
    return out.getvalue()


def test_a_photo_of_another_print_is_told(lab, shelf):
    first = finish(lab, start(lab, shelf))
    second = finish(lab, start(lab, shelf))

    def add(row, content):
        form = {"photo": (io.BytesIO(content), "p.png")}
        return lab.client.post(f"/api/prints/{row['code']}/photos", data=form, headers={"Setback-Technician": "IM"})

    assert add(first, picture(10)).status_code == 201
    told = add(second, picture(10))
    assert told.status_code == 422 and first["code"] in told.json["error"]["fields"]["photo"]
    assert add(second, picture(60)).status_code == 201
    assert len(lab.get(f"/api/prints/{second['code']}")["photos"]) == 1


def test_filters_of_list_and_days_agree(lab, shelf, trial):
    rows = []
    for whole in (16, 10, 16):
        rows.append(
            finish(lab, start(lab, shelf, trial=trial), symptoms=["details-soft"] * (whole < 16), **counts(whole))
        )
        lab.clock.now += timedelta(days=1)
    assert lab.get("/api/prints?failed=1")["total"] == 1
    assert lab.get(f"/api/prints?material={trial['material_id']}")["total"] == 3
    assert lab.get("/api/prints?material=none")["total"] == 0
    assert len(lab.get("/api/print-days?failed=1")["prints"]) == 1
    film = lab.post("/api/events", {"kind": "film-replaced", "printer_id": shelf["printer_id"]}, 201)["event"]
    assert lab.get(f"/api/prints?film={film['id']}")["total"] == 0
    lab.clock.now += timedelta(hours=1)
    finish(lab, start(lab, shelf))
    assert lab.get(f"/api/prints?film={film['id']}")["total"] == 1
    followed = lab.get(f"/api/prints/{rows[0]['code']}")["followed"]
    assert [one["code"] for one in followed][:2] == [rows[1]["code"], rows[2]["code"]]


def test_a_long_log_says_that_there_are_more_than_were_counted(lab, shelf, monkeypatch):
    monkeypatch.setattr(print_log, "MOST_COUNTED", 2)
    for _ in range(2):
        finish(lab, start(lab, shelf))
    all_counted = lab.get("/api/prints")
    assert (all_counted["total"], all_counted["and_more"]) == (2, False)
    finish(lab, start(lab, shelf))
    page = lab.get("/api/prints")
    assert (page["total"], page["and_more"], len(page["items"])) == (2, True, 3)


def test_a_card_a_coupon_a_print_hand_over_their_settings(lab, shelf, trial):
    row = start(lab, shelf, trial={**trial, "settings": {"rest_before_s": 2.5}}, parts=[{"name": "clip"}])
    again = lab.get(f"/api/start-from/{row['code']}")
    assert (again["part"], again["set_code"], again["trial"]["settings"]["rest_before_s"]) == ("clip", None, 2.5)
    lab.post(f"/api/prints/{row['id']}/withdraw", {"reason": "only a trial"})
    calibration = lab.calibration(shelf)
    (code,) = lab.plan(calibration, [2.4])
    coupon = lab.get(f"/api/start-from/{code.lower()}")
    assert coupon["trial"]["exposure_s"] == 2.4 and coupon["trial"]["material_id"] == calibration["material_id"]
    begun = start(lab, shelf, trial=coupon["trial"], started_from=code)
    assert lab.get(f"/api/prints/{begun['code']}")["started_from"] == code
    lab.get("/api/start-from/B-001", 404)


def test_a_set_hands_over_itself(lab):
    card = lab.issue(lab.decided())
    handed = lab.get(f"/api/start-from/{card['code']}")
    assert handed["set_code"] == card["code"] and handed["trial"] is None


def test_prints_at_several_exposures_tell_of_success_and_of_places(lab, shelf, trial):
    rows = []
    for number, (exposure, whole) in enumerate([(2.0, 9), (2.0, 10), (2.6, 14), (2.6, 13), (3.2, 16), (3.2, 16)]):
        part = {"name": "funnel", "printed": 16, "whole": whole, "x_mm": 10 + 20 * number, "y_mm": 40}
        ended = {"printer_id": shelf["printer_id"], "trial": {**trial, "exposure_s": exposure}, "parts": [part]}
        rows.append(lab.post("/api/prints", {**ended, "symptoms": ["details-soft"] * (whole < 16)}, 201))
    (pair,) = lab.get("/api/printed-parts")["items"]
    assert pair["prints"] == 6
    asked = f"/api/materials/{pair['material_id']}/print-evidence?printer={pair['printer_id']}&layer_height_um=50&target=0.9"
    told = lab.get(asked)
    assert [one["exposure_s"] for one in told["success"]["seen"]] == [2.0, 2.6, 3.2]
    assert 2.0 < told["success"]["exposure_for"]["exposure_s"] < 3.2
    assert {one["code"] for one in told["success"]["warnings"]} >= {"no-upper"}
    assert sum(cell["failed"] for cell in told["places"]["cells"]) == 18
    lab.post(f"/api/prints/{rows[0]['id']}/withdraw", {"reason": "another bottle"})
    assert lab.get(asked)["prints"] == 5
