"""A campaign by prints of parts alone, from an empty log to a set that says it rests on prints."""

import pytest

RAISED = ((2.2, 20, 6), (2.6, 20, 15), (3.0, 40, 39), (3.4, 60, 60))
REASON = "Raised until the funnels came out whole."


@pytest.fixture
def campaign(lab):
    return lab.calibration(whole_share=0.9, low_s=1.5, high_s=4.0)


def log(lab, campaign, exposure_s, parts, whole, symptom="supports-torn", **changes):
    settings = lab.again(campaign)["arms"][-1]["settings"]
    body = {
        "printer_id": campaign["printer_id"],
        "trial": {
            "material_id": campaign["material_id"],
            "layer_height_um": campaign["layer_height_um"],
            "exposure_s": exposure_s,
            "settings": settings,
        },
        "temp_c": 23,
        "temp_place": "resin",
        "parts": [{"name": "funnel", "printed": parts, "whole": whole}],
        "symptoms": [] if whole == parts else [symptom],
        "pieces_lost": False,
        **changes,
    }
    return lab.post("/api/prints", body, 201)


def raised(lab, campaign):
    for exposure_s, parts, whole in RAISED:
        log(lab, campaign, exposure_s, parts, whole)
    return lab.again(campaign)


def issue(lab, campaign, expected=201, **changes):
    arm = campaign["arms"][0]
    policies = (arm["window"] or {}).get("policies") or {}
    body = {
        "version": campaign["version"],
        "arm_id": arm["id"],
        "exposure_s": policies.get("centre"),
        "policy": "centre",
        "reason": REASON,
        **changes,
    }
    return lab.post(f"/api/calibrations/{campaign['id']}/issue", body, expected)


def test_it_says_what_to_print_next_until_there_is_an_offer(lab, campaign):
    (arm,) = campaign["arms"]
    assert arm["next"] is None and arm["window"] is None and arm["stage"] == "range"
    assert arm["from_prints"]["next"]["action"] == "print"
    first_s = arm["from_prints"]["next"]["exposure_s"]
    handed = lab.get(f"/api/start-from/{campaign['code']}?exposure_s={first_s}")
    assert handed["trial"]["exposure_s"] == first_s and handed["trial"]["settings"] == arm["settings"]
    log(lab, campaign, 2.2, 20, 6)
    (arm,) = lab.again(campaign)["arms"]
    assert arm["from_prints"]["next"]["exposure_s"] > 2.2 and arm["from_prints"]["success"]["seen"][0]["under"] == 14
    (arm,) = raised(lab, campaign)["arms"]
    assert (arm["stage"], arm["from_prints"]["next"]["action"]) == ("decide", "decide")
    assert arm["window"]["method"] == "prints" and arm["window"]["decision"] == "offer"


def test_it_ends_in_a_set_marked_from_prints(lab, campaign):
    held = raised(lab, campaign)
    band = lab.get(f"/api/calibrations/{held['id']}/temperature-band?arm_id={held['arms'][0]['id']}&exposure_s=3.2")
    assert band["low_c"] is not None and band["low_c"] <= 23 <= band["high_c"]
    card = issue(lab, held, temp_low_c=band["low_c"], temp_high_c=band["high_c"])
    assert card["from_prints"] == {"prints": 4, "parts": 140, "whole": 120, "wanted": 0.9}
    lines = {(line["group"], line["name"]): line["value"] for line in card["lines"]}
    assert lines["Valid for", "Window from"] == "prints of parts"
    assert lines["Valid for", "Parts printed"] == "120 of 140 whole, in 4 prints"
    assert lines["Valid for", "90 % whole with"] == ">99" or float(lines["Valid for", "90 % whole with"]) >= 90
    assert card["coupons"] == [] and card["tip_proven_mm"] is None and card["growth_um"] is None
    (cell,) = lab.get("/api/board")["cells"]
    assert (cell["state"], cell["from_prints"], cell["set_code"]) == ("issued", True, card["code"])
    # The evidence is kept with it: looked at again it says the same.
    anew = lab.get(f"/api/sets/{card['code']}/anew")
    assert anew["offered"] and anew["window"] == card["window"]
    as_text = lab.client.get(f"/api/sets/{card['code']}/file?format=txt")
    assert b"prints of parts" in as_text.data
    assert lab.client.get(f"/api/sets/{card['code']}/file?format=pdf").status_code == 200


def test_later_prints_do_not_change_what_was_issued(lab, campaign):
    card = issue(lab, raised(lab, campaign))
    log(lab, campaign, 3.4, 40, 2)
    again = lab.get(f"/api/sets/{card['code']}")
    assert again["window"] == card["window"] and again["from_prints"] == card["from_prints"]


def test_without_a_curve_nothing_is_issued(lab, campaign):
    log(lab, campaign, 3.0, 40, 36)
    refused = issue(lab, lab.again(campaign), 409, exposure_s=3.0, policy="own choice", outside_reason=REASON)
    assert "further exposures" in refused["error"]["message"]


def test_outside_an_offer_the_reason_stands_on_the_card(lab, campaign):
    held = raised(lab, campaign)
    refused = issue(lab, held, 422, exposure_s=2.4, policy="own choice")
    assert "comes out whole with" in refused["error"]["fields"]["outside_reason"]
    card = issue(lab, held, exposure_s=2.4, policy="own choice", outside_reason="Only for sketches.")
    assert card["outside_reason"] == "Only for sketches."


def test_prints_with_other_settings_are_left_out_and_another_arm_counts_them(lab, campaign):
    settings = campaign["arms"][0]["settings"] | {"rest_before_s": 4.0}
    trial = {
        "material_id": campaign["material_id"],
        "layer_height_um": campaign["layer_height_um"],
        "exposure_s": 3.0,
        "settings": settings,
    }
    log(lab, campaign, 3.0, 9, 9, trial=trial)
    (arm,) = lab.again(campaign)["arms"]
    assert arm["from_prints"]["prints"] == 0
    assert "other settings" in arm["from_prints"]["notices"][0]["message"]
    lab.post(f"/api/calibrations/{campaign['id']}/arms", {"name": "Longer rest", "settings": settings}, 201)
    assert [arm["from_prints"]["prints"] for arm in lab.again(campaign)["arms"]] == [0, 1]


def test_the_wanted_share_can_be_changed_and_the_window_follows(lab, campaign):
    held = raised(lab, campaign)
    body = {"version": held["version"], "limits": held["limits"], "whole_share": 0.99}
    changed = lab.put(f"/api/calibrations/{held['id']}/limits", body)
    assert changed["whole_share"] == 0.99
    before, after = (one["arms"][0]["window"] for one in (held, changed))
    assert max(one["p"] for one in after["p_holds"]) < max(one["p"] for one in before["p_holds"])


def test_a_share_that_cannot_be_wanted_is_refused_at_its_place(lab):
    refused = lab.client.post("/api/calibrations", json={"whole_share": 0.3})
    assert "whole_share" in refused.json["error"]["fields"]


def test_a_check_coupon_of_such_a_set_is_judged_by_the_limits_of_its_calibration(lab, campaign):
    card = issue(lab, raised(lab, campaign))
    check = lab.post(f"/api/sets/{card['code']}/check", None, 201)["coupon"]
    lab.print(check)
    lab.read(check)
    (result,) = lab.get(f"/api/sets/{card['code']}/life")["checks"]
    assert (result["verdict"], result["off_pct"]) == ("ok", None)
