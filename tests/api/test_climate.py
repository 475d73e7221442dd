"""Climate through the API: probes and their log, imports as jobs, warm starts, flow, and the gate before a print."""

import calendar
import io
import time
from datetime import timedelta

import pytest

from setback.services.climate import imports
from setback.services.lab.jobs import Cancelled
from setback.simulate.devices import PROBE_DRIVERS, DriverKind, ProbeReading
from setback.store.database import connect

DAY = "2026-01-20"
MAPPING = {"time_column": "Time", "temp_column": "Temp", "time_zone": "UTC"}


def probe(lab, name="Shed wall", place="room", printer_id=None, driver="hand"):
    return lab.post("/api/probes", {"name": name, "place": place, "printer_id": printer_id, "driver": driver}, 201)


def sent(lab, text, expected=201, name="log.csv"):
    data = text if isinstance(text, bytes) else text.encode()
    answer = lab.client.post(
        f"/api/probe-files?name={name}", data=io.BytesIO(data), headers={"Setback-Technician": "IM"}
    )
    assert answer.status_code == expected, answer.json
    return answer.json


def imported(lab, probe_id, text, expected="done", **mapping):
    file = sent(lab, text)
    job = lab.post(f"/api/probes/{probe_id}/imports", {"file_id": file["id"], "mapping": {**MAPPING, **mapping}}, 201)
    return lab.ended(job, expected)


def rows(count, step_s=60, first="2026-01-20T00:00:00", temp=lambda i: 6.0):
    start = calendar.timegm(time.strptime(first, "%Y-%m-%dT%H:%M:%S"))
    lines = [
        f"{time.strftime('%Y-%m-%d %H:%M:%S', time.gmtime(start + i * step_s))},{temp(i):.2f}" for i in range(count)
    ]
    return "Time,Temp\n" + "\n".join(lines) + "\n"


def issued_lab(lab):
    """A set found between 21 and 27 °C, and what it is of."""
    calibration = lab.decided()
    card = lab.issue(calibration, temp_low_c=21, temp_high_c=27)
    return {"printer_id": card["printer_id"], "material_id": card["material_id"], "set_code": card["code"]}


def kept(lab, probe_id):
    span = lab.get(f"/api/probes/{probe_id}/trace?from_at=2020-01-01T00:00:00Z&to_at=2027-01-01T00:00:00Z")
    return sum(len(run) for run in span["runs"])


class TestProbes:
    def test_a_simulated_probe_is_read_at_once_and_again_when_asked(self, lab):
        made = probe(lab, driver="simulated")
        assert 2 < made["now"]["temp_c"] < 12 and made["now"]["fresh"]
        lab.post(f"/api/probes/{made['id']}/read")
        assert lab.get("/api/room")["room"]["probe"] == "Shed wall"

    @pytest.mark.parametrize(
        ("changes", "place"),
        [({"place": "resin"}, "printer_id"), ({"name": " "}, "name"), ({"place": "attic"}, "place")],
    )
    def test_what_cannot_be_is_refused_at_its_field(self, lab, changes, place):
        told = lab.post("/api/probes", {"name": "x", "place": "room", **changes}, 422)
        assert place in told["error"]["fields"]

    def test_a_probe_with_a_log_does_not_move(self, lab):
        made = probe(lab)
        lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 7}, 201)
        printer = lab.shelf()["printer_id"]
        told = lab.put(
            f"/api/probes/{made['id']}",
            {"name": "x", "place": "resin", "printer_id": printer, "driver": "hand", "version": 1},
            422,
        )
        assert "retire it" in told["error"]["fields"]["place"]

    def test_a_jump_by_hand_is_asked_about(self, lab):
        made = probe(lab)
        lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 7}, 201)
        told = lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 47}, 422)
        assert "temp_c" in told["error"]["fields"]
        lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 47, "sure": True}, 201)

    def test_the_nearest_to_the_resin_is_offered_for_a_print(self, lab):
        printer = lab.shelf()["printer_id"]
        assert lab.get(f"/api/how-warm?printer_id={printer}")["now"] is None
        for name, place, where, temp in (
            ("a", "room", None, 7),
            ("b", "chamber air", printer, 20),
            ("c", "resin", printer, 18),
        ):
            lab.post(f"/api/probes/{probe(lab, name, place, where)['id']}/samples", {"temp_c": temp}, 201)
        told = lab.get(f"/api/how-warm?printer_id={printer}")["now"]
        assert (told["place"], told["temp_c"]) == ("resin", 18)

    def test_without_a_probe_the_print_before_says_how_warm_it_was(self, lab):
        shelf = lab.shelf()
        how_warm = f"/api/how-warm?printer_id={shelf['printer_id']}"
        assert lab.get(how_warm) == {"now": None, "last": None}
        part = {"printer_id": shelf["printer_id"], "parts": [{"name": "clip"}]}
        code = lab.post("/api/prints", {**part, "temp_c": 22.5, "temp_place": "resin"}, 201)["code"]
        lab.post("/api/prints", part, 201)
        assert lab.get(how_warm)["last"] == {"code": code, "temp_c": 22.5, "temp_place": "resin"}
        lab.clock.now += timedelta(hours=5)
        assert lab.get(how_warm)["last"] is None

    def test_a_retired_probe_speaks_no_more_and_comes_back(self, lab):
        made = probe(lab, driver="simulated")
        lab.post(f"/api/probes/{made['id']}/retire")
        assert lab.get("/api/room")["room"] is None
        lab.post(f"/api/probes/{made['id']}/restore")
        assert lab.get("/api/room")["room"] is not None

    def test_a_driver_entered_in_its_list_is_offered_taken_and_read(self, lab, monkeypatch):
        class Thermometer:
            def __init__(self, setting):
                self.place = setting.place

            def read(self, at):
                return ProbeReading(19.25, None)

        monkeypatch.setitem(PROBE_DRIVERS, "bench-thermometer", DriverKind("bench thermometer", Thermometer))
        offered = {one["key"]: one["name"] for one in lab.get("/api/probe-drivers")["items"]}
        assert list(offered) == ["hand", *PROBE_DRIVERS] and "bench-thermometer" in offered
        made = probe(lab, driver="bench-thermometer")
        assert made["driver"] == "bench-thermometer" and made["now"]["temp_c"] == 19.25
        told = lab.post("/api/probes", {"name": "Other", "place": "room", "driver": "crystal ball"}, 422)
        assert "give one of hand, simulated" in told["error"]["fields"]["driver"]

    def test_a_retired_probe_whose_name_another_has_cannot_come_back(self, lab):
        first = probe(lab)
        lab.post(f"/api/probes/{first['id']}/retire")
        probe(lab)
        told = lab.post(f"/api/probes/{first['id']}/restore", expected=422)
        assert "on the shelf already" in told["error"]["message"]


class TestImport:
    def test_a_log_comes_in_whole_with_its_gaps_and_doubles(self, lab):
        made = probe(lab)
        text = (
            rows(120)
            + rows(3, first=f"{DAY}T00:00:00").split("\n", 1)[1]
            + rows(5, first=f"{DAY}T09:00:00").split("\n", 1)[1]
        )
        told = imported(lab, made["id"], text)["result"]
        assert (told["rows"], told["new"], told["double"], told["gap_count"]) == (128, 125, 3, 1)
        again = imported(lab, made["id"], text)["result"]
        assert (again["new"], again["known"]) == (0, 125) and kept(lab, made["id"]) > 0

    def test_text_in_the_numbers_keeps_nothing_until_it_is_left_out(self, lab):
        made = probe(lab)
        text = rows(50) + "2026-01-20 03:00:00,n/a\n"
        told = imported(lab, made["id"], text, "failed")
        assert "line 52" in told["message"] and "'n/a' is no number" in told["message"]
        assert told["result"] is None and list(told["fields"]) == ["leave_out_unreadable"]
        assert kept(lab, made["id"]) == 0
        assert imported(lab, made["id"], text, leave_out_unreadable=True)["result"]["left_out"] == 1

    def test_a_jump_of_forty_degrees_keeps_nothing_until_it_is_left_out(self, lab):
        made = probe(lab)
        text = rows(50, temp=lambda i: 46.0 if i == 20 else 6.0)
        told = imported(lab, made["id"], text, "failed")
        assert "jump" in told["message"] and kept(lab, made["id"]) == 0
        assert list(told["fields"]) == ["leave_out_jumps"]
        assert imported(lab, made["id"], text, leave_out_jumps=True)["result"]["new"] == 49

    def test_mixed_orders_of_dates_say_which_line(self, lab):
        made = probe(lab)
        text = "Time,Temp\n25/01/2026 08:00,6\n" + "26/01/2026 08:00,6\n" * 9 + "01/27/2026 08:00,6\n"
        told = imported(lab, made["id"], text, "failed")
        assert "Line 12" in told["message"] and kept(lab, made["id"]) == 0
        assert list(told["fields"]) == ["date_order"], "no wish to leave rows out would help"

    def test_bytes_that_are_no_letters_spoil_their_row_only(self, lab):
        made = probe(lab)
        text = rows(2000).encode() + b"2026-01-22 03:00:00,\xff\xfe7\n"
        told = imported(lab, made["id"], text, "failed")
        assert "cannot be read" in told["message"]
        assert imported(lab, made["id"], text, leave_out_unreadable=True)["result"]["new"] == 2000

    @pytest.mark.parametrize("text", ["", "hello\n", b"\x00\x01\x02"])
    def test_what_is_no_log_is_refused_and_leaves_no_file(self, lab, text, db_path):
        assert "file" in sent(lab, text, 422)["error"]["fields"]
        assert list(db_path.parent.glob("lab-files/*")) == []

    def test_too_large_is_refused_while_it_arrives(self, lab, monkeypatch, db_path):
        monkeypatch.setattr(imports, "LARGEST_BYTES", 1000)
        assert "split it" in sent(lab, rows(100), 422)["error"]["fields"]["file"]
        assert list(db_path.parent.glob("lab-files/*")) == []

    def test_the_column_must_be_said(self, lab):
        made, file = probe(lab), sent(lab, "Time,T1 C,T2 C\n2026-01-05 08:00,6,7\n2026-01-05 08:10,6,7\n")
        assert file["seen"]["temp_columns"] == ["T1 C", "T2 C"]
        told = lab.post(f"/api/probes/{made['id']}/imports", {"file_id": file["id"], "mapping": MAPPING}, 422)
        assert "temp_column" in told["error"]["fields"]

    @pytest.mark.long
    def test_cancelled_in_the_middle_nothing_is_kept_and_it_can_begin_again(self, work, tmp_path):
        from setback.services.climate import probes as service
        from setback.services.shelf import technicians

        technicians.add_technician(work, technicians.TechnicianInput(initials="IM"))
        made = service.add(work, service.ProbeInput(name="Shed", place="room"))
        file = imports.receive(work, "log.csv", io.BytesIO(rows(50_000, step_s=10).encode()), None)
        order = {"file_id": file.id, "probe_id": made.id, "mapping": MAPPING}
        seen = []

        def stop_late(share, message):
            seen.append(share)
            if share > 0.5:
                raise Cancelled

        with pytest.raises(Cancelled):
            imports.run(work, stop_late, order)
        assert len(seen) > 1
        assert work.db.execute("SELECT count(*) FROM probe_sample").fetchone()[0] == 0
        assert work.db.execute("SELECT count(*) FROM probe_step").fetchone()[0] == 0
        told = imports.run(work, lambda share, message: None, order)
        assert told["new"] == 50_000
        again = connect(tmp_path / "lab.db")
        assert again.execute("SELECT sum(samples) FROM probe_step WHERE width_s = 86400").fetchone()[0] == 50_000
        again.close()


class TestTrace:
    def test_a_short_time_shows_samples_and_a_long_one_steps(self, lab):
        made = probe(lab)
        imported(lab, made["id"], rows(3000, step_s=300, temp=lambda i: 18 + i % 10))
        day = lab.get(f"/api/probes/{made['id']}/trace?low_c=20&high_c=26")
        assert day["width_s"] == 0 and sum(len(run) for run in day["runs"]) == 288
        year = lab.get(f"/api/probes/{made['id']}/trace?from_at=2025-06-01T00:00:00Z&low_c=20&high_c=26")
        assert year["width_s"] > 3600 and sum(len(run) for run in year["runs"]) <= 1500
        assert day["within_pct"] + day["below_pct"] + day["above_pct"] == pytest.approx(100)

    def test_excursions_say_what_ran(self, lab):
        shelf = issued_lab(lab)
        made = probe(lab)
        for minute in range(4):
            lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 7 + minute / 10}, 201)
        logged = log(lab, shelf, temp_c=24)
        lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 7}, 201)
        told = lab.get(f"/api/probes/{made['id']}/trace?from_at=2026-01-21T08:00:00Z&to_at=2026-01-21T23:00:00Z")
        assert told["excursions"][0]["side"] == "below"
        assert logged["code"] in [mark["code"] for mark in told["marks"]]

    @pytest.mark.parametrize(
        ("query", "place"),
        [
            ("from_at=yesterday", "from_at"),
            ("from_at=2026-02-01T00:00:00Z&to_at=2026-01-01T00:00:00Z", "to_at"),
            ("low_c=30&high_c=20", "high_c"),
        ],
    )
    def test_upside_down_is_refused(self, lab, query, place):
        told = lab.get(f"/api/probes/{probe(lab)['id']}/trace?{query}", 422)
        assert place in told["error"]["fields"]


def log(lab, shelf, expected=201, **changes):
    given = {
        "printer_id": shelf["printer_id"],
        "set_code": shelf["set_code"],
        "temp_place": "resin",
        "parts": [{"name": "clip"}],
        **changes,
    }
    return lab.post("/api/prints", given, expected)


class TestGate:
    def test_outside_the_band_it_waits_for_a_reason_and_records_it(self, lab):
        shelf = issued_lab(lab)
        told = log(lab, shelf, 409, temp_c=9)
        assert "below the" in told["error"]["fields"]["outside_band"] and "warm start" in told["error"]["message"]
        made = log(lab, shelf, temp_c=9, outside_band="The tide waits for nobody.")
        assert made["outside_band"]["side"] == "below" and made["outside_band"]["reason"].startswith("The tide")
        assert log(lab, shelf, temp_c=24)["outside_band"] is None

    def test_a_check_coupon_passes_the_same_gate(self, lab):
        shelf = issued_lab(lab)
        plan = lab.post(f"/api/sets/{shelf['set_code']}/check", expected=201)
        given = {"temp_c": 9, "temp_place": "resin"}
        lab.post(f"/api/prints/{plan['print_id']}/printed", given, 409)
        lab.post(f"/api/prints/{plan['print_id']}/printed", {**given, "outside_band": "To see what cold does."})

    def test_success_so_far_is_part_of_what_to_expect(self, lab):
        shelf = issued_lab(lab)
        for temp, outcome in [(9, "missing")] * 4 + [(9, "whole")] + [(24, "whole")] * 9:
            made = log(
                lab, shelf, temp_c=temp, outside_band="For the record.", parts=[{"name": "clip", "outcome": outcome}]
            )
            if outcome == "missing":
                lab.post(f"/api/prints/{made['id']}/vat-searched")
        told = lab.get(f"/api/band?set_code={shelf['set_code']}&temp_c=10")
        assert told["success"] < 0.6 and "succeeded" in told["words"]
        curve = lab.get(f"/api/materials/{shelf['material_id']}/success")
        assert curve["result"]["of"] == 14 and curve["elsewhere"] == 0
        assert lab.get("/api/printed-materials")["items"][0]["prints"] == 14

    def test_the_end_temperature_comes_from_the_probe_in_the_resin(self, lab):
        shelf = issued_lab(lab)
        made = probe(lab, "Resin", "resin", shelf["printer_id"])
        lab.post(f"/api/probes/{made['id']}/samples", {"temp_c": 27.5}, 201)
        assert log(lab, shelf, temp_c=24)["temp_end_c"] == 27.5

    def test_a_cold_room_stands_on_todays_list(self, lab):
        issued_lab(lab)
        assert not [t for t in lab.get("/api/board")["today"] if t["kind"] == "cold"]
        probe(lab, driver="simulated")
        task = next(t for t in lab.get("/api/board")["today"] if t["kind"] == "cold")
        assert task["title"].startswith("Cold room") and task["action"] == "Plan a warm start"


@pytest.fixture
def heated(lab):
    """A chamber whose heating was logged, with a heater that has a cut-out."""
    printer = lab.shelf()["printer_id"]
    made = probe(lab, "Chamber", "chamber air", printer)
    imported(lab, made["id"], rows(90, temp=lambda i: 41 - 35 * 2.718281828 ** (-i * 60 / 2300)))
    heater = lab.post("/api/heaters", {"name": "Panel", "watts": 60, "cut_out": True}, 201)
    given = {
        "probe_id": made["id"],
        "heater_id": heater["id"],
        "from_at": f"{DAY}T00:00:00Z",
        "to_at": f"{DAY}T01:29:00Z",
    }
    return {"printer": printer, "probe": made, "heater": heater, "fit": given}


class TestWarmStart:
    def test_fitted_planned_and_begun_as_timers(self, lab, heated):
        fit = lab.post("/api/chamber-fits", {**heated["fit"], "ambient_c": 6}, 201)
        assert fit["result"]["time_constant_s"] == pytest.approx(2300, rel=0.05)
        asked = {
            "printers": [{"printer_id": heated["printer"]}],
            "heater_id": heated["heater"]["id"],
            "ambient_c": 6,
            "bath": {"resin_ml": 500, "resin_c": 6, "bath_ml": 2000, "bath_c": 40, "target_c": 25},
        }
        quote = lab.post("/api/warm-starts/quote", asked)
        assert quote["plan"]["possible"] and not lab.get("/api/warm-starts")["items"]
        made = lab.post("/api/warm-starts", asked, 201)
        timers = lab.get("/api/timers")["items"]
        assert len(timers) == len([s for s in made["plan"]["steps"] if s["at_s"] >= 1])
        lab.post(f"/api/warm-starts/{made['id']}/stop")
        assert lab.get("/api/timers")["items"] == []
        lab.post(f"/api/warm-starts/{made['id']}/stop", expected=409)

    def test_without_a_room_probe_the_room_is_asked(self, lab, heated):
        assert "ambient_c" in lab.post("/api/chamber-fits", heated["fit"], 422)["error"]["fields"]

    def test_a_withdrawn_curve_counts_no_more(self, lab, heated):
        fit = lab.post("/api/chamber-fits", {**heated["fit"], "ambient_c": 6}, 201)
        lab.post(f"/api/chamber-fits/{fit['id']}/withdraw")
        assert lab.get("/api/chamber-fits")["items"] == []
        asked = {"printers": [{"printer_id": heated["printer"]}], "heater_id": heated["heater"]["id"], "ambient_c": 6}
        assert "log one heating" in lab.post("/api/warm-starts/quote", asked, 409)["error"]["message"]
        lab.post(f"/api/chamber-fits/{fit['id']}/restore")
        lab.post("/api/warm-starts/quote", asked)

    @pytest.mark.parametrize(
        ("changes", "place"),
        [
            ({"bath": {"resin_ml": 500, "resin_c": 6, "bath_ml": 2000, "bath_c": 60, "target_c": 25}}, "bath_c"),
            ({"target_c": 40}, "target_c"),
        ],
    )
    def test_what_is_dangerous_or_out_of_order_is_refused(self, lab, heated, changes, place):
        lab.post("/api/chamber-fits", {**heated["fit"], "ambient_c": 6}, 201)
        asked = {"printers": [{"printer_id": heated["printer"]}], "heater_id": heated["heater"]["id"], "ambient_c": 6}
        assert place in lab.post("/api/warm-starts/quote", {**asked, **changes}, 422)["error"]["fields"]

    def test_a_heater_without_a_cut_out_makes_no_plan(self, lab, heated):
        lab.post("/api/chamber-fits", {**heated["fit"], "ambient_c": 6}, 201)
        bare = lab.post("/api/heaters", {"name": "Bare", "watts": 400, "cut_out": False}, 201)
        asked = {"printers": [{"printer_id": heated["printer"]}], "heater_id": bare["id"], "ambient_c": 6}
        assert "has_cut_out" in lab.post("/api/warm-starts", asked, 422)["error"]["fields"]

    def test_a_weak_heater_cannot_be_begun(self, lab, heated):
        lab.post("/api/chamber-fits", {**heated["fit"], "ambient_c": 6}, 201)
        weak = lab.post("/api/heaters", {"name": "Weak", "watts": 5, "cut_out": True}, 201)
        asked = {"printers": [{"printer_id": heated["printer"]}], "heater_id": weak["id"], "ambient_c": 6}
        assert lab.post("/api/warm-starts/quote", asked)["plan"]["power_needed_w"] > 5
        assert "insulate" in lab.post("/api/warm-starts", asked, 409)["error"]["message"]


class TestFlowAndEffect:
    def test_readings_make_a_curve_and_can_be_withdrawn(self, lab):
        material = lab.shelf()["material_id"]
        at = f"/api/materials/{material}/flow"
        assert lab.get(at)["missing"]
        made = [
            lab.post("/api/flow-readings", {"material_id": material, "temp_c": t, "value": v}, 201)
            for t, v in [(15, 720), (20, 480), (25, 335), (30, 900)]
        ]
        lab.post(f"/api/flow-readings/{made[-1]['id']}/withdraw", {"reason": "The cup was not clean."})
        told = lab.get(f"{at}?target=400")
        assert 21 < told["result"]["temp_for_target_c"] < 24 and len(told["readings"]) == 3
        lab.post(f"/api/flow-readings/{made[-1]['id']}/restore")
        told = lab.get(at)
        assert len(told["readings"]) == 4 and told["result"] is None and "swapped" in told["missing"]

    def test_one_temperature_tells_no_effect(self, lab):
        shelf = issued_lab(lab)
        told = lab.get(f"/api/materials/{shelf['material_id']}/temperature-effect")
        assert told["result"] is None and "another temperature" in told["missing"] and len(told["points"]) == 1
        assert lab.get(f"/api/sets/{shelf['set_code']}")["correction"] is None
