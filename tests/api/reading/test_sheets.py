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


def wide_of(lab, codes):
    """A row for each coupon, and what its columns hold."""
    seen = {code: {one["key"]: one for one in lab.seen(code)} for code in codes}
    keys = list(dict.fromkeys(key for one in seen.values() for key in one))
    lines = [";".join(["Coupon", *keys])]
    for code in codes:
        cells = [seen[code].get(key, {"measured_mm": None, "state": None}) for key in keys]
        lines.append(
            ";".join([code, *(str(one["measured_mm"] or one["state"] or "").replace(".", ",") for one in cells)])
        )
    return "\n".join(lines) + "\n", {"coupon": "Coupon", **{key: key for key in keys}}


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

    def test_a_row_for_each_coupon_and_a_column_for_each_feature(self, lab):
        calibration, codes = flat(lab)
        text, mapping = wide_of(lab, codes)
        seen = sheet(lab, calibration, text)
        assert seen["suggested"] == mapping and len(seen["names"]) >= len(mapping) - 1
        kept = sheet(lab, calibration, text, mapping=mapping, keep=True)
        assert (kept["good"], kept["bad"], kept["kept"]) == (2, 0, True)
        assert lab.again(calibration)["arms"][0]["to_read"] == []
        long = sheet(lab, calibration, rows_of(lab, codes))
        assert long["suggested"] == NAMED and long["names"]

    def test_the_template_names_the_coupons_that_wait_and_comes_back_filled(self, lab):
        calibration, codes = flat(lab)
        lab.read(codes[0])
        at = f"/api/calibrations/{calibration['id']}/sheet-template"
        lines = lab.client.get(at).get_data(as_text=True).splitlines()
        assert [line.split(",")[0] for line in lines] == ["coupon", codes[1]]
        head, row = lines[0].split(","), lines[1].split(",")
        seen = {one["key"]: one for one in lab.seen(codes[1])}
        for at_column, column in enumerate(head):
            found = seen.get(column.split(" ")[0])
            if found:
                row[at_column] = str(found["measured_mm"] or found["state"] or "")
        text = ",".join(head) + "\n" + ",".join(row) + "\n"
        told = sheet(lab, calibration, text)
        assert head[1] not in told["suggested"].values()
        assert sheet(lab, calibration, text, mapping=told["suggested"], keep=True)["kept"] is True

    @pytest.mark.parametrize(
        ("cell", "words"),
        [("1,000.2", "a point and a comma"), ("perhaps", "formed, partial, absent or lost"), ("0.1.2", "is no number")],
    )
    def test_a_cell_that_says_nothing_is_said_with_its_line(self, lab, cell, words):
        calibration, codes = flat(lab)
        text = f"coupon;wall-left-1\n{codes[0]};{cell}\n"
        told = sheet(lab, calibration, text, mapping={"coupon": "coupon", "wall-left-1": "wall-left-1"}, keep=True)
        assert told["kept"] is False and told["rows"][0]["line"] == 2 and words in told["rows"][0]["words"]

    def test_two_rows_for_one_coupon_are_said(self, lab):
        calibration, codes = flat(lab)
        text, mapping = wide_of(lab, [codes[0], codes[0]])
        told = sheet(lab, calibration, text, mapping=mapping, keep=True)
        assert told["kept"] is False and "Two rows" in told["rows"][0]["words"]

    def test_half_of_the_columns_matched_says_which_is_missing(self, lab):
        calibration, codes = flat(lab)
        text, mapping = wide_of(lab, codes)
        del mapping["coupon"]
        told = sheet(lab, calibration, text, 422, mapping=mapping)
        assert told["error"]["fields"] == {"mapping.coupon": "Say which column holds coupon."}

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
