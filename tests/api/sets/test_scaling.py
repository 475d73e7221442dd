"""What a set says of other layer heights, printers and powers."""

from tests.lab import Lab, entered


def test_other_heights_printers_and_powers_have_an_interval_and_what_settles_them(lab: Lab):
    calibration = lab.decided()
    issued = lab.issue(calibration)
    printer = next(row for row in lab.get("/api/printers")["items"] if row["id"] == calibration["printer_id"])
    fields = entered(printer, "PrinterInput")
    lab.put(f"/api/printers/{printer['id']}", fields | {"version": printer["version"], "light_power_adjustable": True})
    lab.post("/api/printers", fields | {"name": "Gannet"}, 201)
    rows = lab.get(f"/api/sets/{issued['code']}/scaled")["items"]
    by_target = {row["target"]: row for row in rows}
    assert {"30 µm", "100 µm", "Gannet", "80 % light power"} <= set(by_target) and "50 µm" not in by_target
    thin, thick = by_target["30 µm"], by_target["100 µm"]
    assert thin["exposure_s"] < issued["exposure_s"] < thick["exposure_s"]
    for row in rows:
        assert row["low_s"] < row["exposure_s"] < row["high_s"] and row["coupons"] >= 1
    gannet = by_target["Gannet"]
    assert gannet["high_s"] / gannet["low_s"] > thin["high_s"] / thin["low_s"] and gannet["coupons"] >= thin["coupons"]
    assert by_target["80 % light power"]["words"].startswith("at 80 % light power about")
    assert by_target["80 % light power"]["words"].endswith("would settle it")
    lab.get("/api/sets/S-999/scaled", 404)
