"""Readings from a spreadsheet: every row as at the bench, and all of them or none."""

import pytest

from setback.core.testing.methods import METHODS
from tests.specimens import make_all, plan_of, read_all, readings, setup_of


def flat(lab):
    calibration = lab.calibration()
    codes = lab.plan(calibration, [2.0, 2.6])
    for code in codes:
        lab.print(code)
    return calibration, codes


def sheet(lab, calibration, text, expected=200, **more):
    return lab.post(f"/api/calibrations/{calibration['id']}/sheet", {"text": text, **more}, expected)


NAMED = {"coupon": "Coupon", "feature": "Feature", "state": "State", "measured": "Measured"}


def rows_of(lab, codes):
    lines = ["Coupon;Feature;State;Measured"]
    for code in codes:
        for seen in lab.seen(code):
            measured = "" if seen.get("measured_mm") is None else str(seen["measured_mm"]).replace(".", ",")
            lines.append(f"{code};{seen['key']};{seen.get('state') or ''};{measured}")
    return "\r\n".join(lines) + "\r\n"


class TestCoupons:
    def test_columns_are_suggested_rows_checked_then_kept(self, lab):
        calibration, codes = flat(lab)
        text = rows_of(lab, codes)
        seen = sheet(lab, calibration, text)
        assert seen["suggested"] == NAMED and seen["rows"] == []
        checked = sheet(lab, calibration, text, mapping=NAMED)
        assert (checked["good"], checked["bad"], checked["kept"]) == (2, 0, False)
        assert lab.again(calibration)["arms"][0]["to_read"] == codes
        kept = sheet(lab, calibration, text, mapping=NAMED, keep=True)
        assert kept["kept"] is True and lab.again(calibration)["arms"][0]["to_read"] == []

    def test_one_bad_row_keeps_all_out(self, lab):
        calibration, codes = flat(lab)
        text = rows_of(lab, codes) + f"{codes[0]};no-such-wall;formed;\r\n999Z;wall-a-1;formed;\r\n"
        told = sheet(lab, calibration, text, mapping=NAMED, keep=True)
        assert told["kept"] is False and told["bad"] == 2
        assert all(row["words"] for row in told["rows"] if row["code"] in (codes[0], "999Z"))
        assert lab.again(calibration)["arms"][0]["to_read"] == codes

    def test_a_coupon_of_another_calibration_is_refused(self, lab):
        calibration, _ = flat(lab)
        shelf = {k: calibration[k] for k in ("material_id", "printer_id", "bottle_id", "finish_route_id")}
        other = lab.calibration(shelf)
        (code,) = lab.plan(other, [2.0])
        lab.print(code)
        told = sheet(lab, calibration, rows_of(lab, [code]), mapping=NAMED)
        assert "another calibration" in told["rows"][0]["words"]

    @pytest.mark.parametrize(
        ("text", "mapping", "place"),
        [
            ("nothing here", {}, "text"),
            ("\rCoupon,Feature", {}, "text"),
            ("Coupon,Feature,Feature\n1,2,3\n", {}, "text"),
            ("Coupon,Feature\n1,2\n", {"coupon": "Coupon"}, "mapping.feature"),
            ("Coupon,Feature\n1,2\n", {"coupon": "Piece", "feature": "Feature"}, "mapping.coupon"),
            ("Coupon,Feature\n1,2\n", {**NAMED, "colour": "Coupon"}, "mapping.colour"),
        ],
    )
    def test_columns_that_are_not_there_are_named(self, lab, text, mapping, place):
        calibration, _ = flat(lab)
        assert place in sheet(lab, calibration, text, 422, mapping=mapping)["error"]["fields"]


@pytest.mark.parametrize("key", ["cantilever-bend", "joint-wear", "hardness-cure", "flexing"])
def test_what_a_test_exports_can_be_taken_in_again(lab, issued, key):
    """The sheet of one test, with the codes of another: same readings, same results, and nothing named by hand."""
    method = METHODS[key]
    first = read_all(lab, method, make_all(lab, lab.post("/api/tests", plan_of(method, issued), 201)))
    text = lab.client.get(f"/api/tests/{first['code']}/readings.csv").get_data(as_text=True)
    second = make_all(lab, lab.post("/api/tests", plan_of(method, issued), 201))
    # Number by number, so that each stays in its print.
    codes = [sorted(s["code"] for s in test["specimens"]) for test in (first, second)]
    for old, new in zip(*codes, strict=True):
        text = text.replace(old, new)
    at = f"/api/tests/{second['code']}/sheet"
    suggested = lab.post(at, {"text": text})["suggested"]
    told = lab.post(at, {"text": text, "mapping": suggested, "keep": True})
    assert told["kept"] is True and told["bad"] == 0
    results = [lab.get(f"/api/tests/{t['code']}/result")["properties"] for t in (first, second)]
    centres = [[b["centre"] for p in result for b in p["batches"]] for result in results]
    assert centres[0] == centres[1]


def test_a_specimen_read_already_and_a_bad_number_are_said_at_their_rows(lab, issued):
    method = METHODS["cantilever-bend"]
    test = make_all(lab, lab.post("/api/tests", plan_of(method, issued), 201))
    codes = [s["code"] for s in test["specimens"]]
    lab.post(f"/api/specimens/{codes[0]}/readings", {"read": readings(method, setup_of(method), 1, 1)[0][0]}, 201)
    names = [f.key for f in method.reads]
    good = readings(method, setup_of(method), 3, 5)
    lines = ["specimen," + ",".join(names)]
    for code, (row,) in zip(codes[:3], good, strict=True):
        lines.append(code + "," + ",".join(str(row.get(name, "")) for name in names))
    lines[2] = lines[2].replace(",", ",abc", 1)
    text = "\n".join(lines)
    at = f"/api/tests/{test['code']}/sheet"
    told = lab.post(at, {"text": text, "mapping": lab.post(at, {"text": text})["suggested"], "keep": True})
    words = {row["code"]: row["words"] for row in told["rows"]}
    assert "read already" in words[codes[0]] and "is no number" in words[codes[1]] and words[codes[2]] is None
    assert lab.get(f"/api/tests/{test['code']}")["left"] == 5
