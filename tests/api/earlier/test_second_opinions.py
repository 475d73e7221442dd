"""A second opinion: a question goes out, attributed readings and notes come back, and no setting does."""

import io
import json

import pypdfium2
import pytest
from PIL import Image

HEADERS = {"Setback-Technician": "IM"}


@pytest.fixture
def asked(lab):
    calibration = lab.decided()
    code = calibration["arms"][0]["coupons"][0]["code"]
    picture = io.BytesIO()
    Image.new("RGB", (1600, 1200), "grey").save(picture, "JPEG")
    lab.client.post(
        f"/api/coupons/{code}/photos", data={"photo": (io.BytesIO(picture.getvalue()), "a.jpg")}, headers=HEADERS
    )
    request = {"text": "Is 2.6 s over, or is it the film?", "arm": 1}
    lab.post(f"/api/calibrations/{calibration['id']}/questions", request, 201)
    return calibration


def sent(lab, code="SO-001"):
    return lab.client.get(f"/api/questions/{code}/file").data


def answered(lab, question, **changes):
    """What the other workshop sends back."""
    opened = lab.client.post("/api/second-opinions/open", data=question, headers=HEADERS).json
    request = {
        "question_id": opened["id"],
        "workshop": "Harbour school",
        "note": "Look at the film first.",
        "readings": [
            {"code": coupon["code"], "verdict": "over" if coupon["exposure_s"] > 2.5 else "right", "note": ""}
            for coupon in opened["coupons"]
        ],
        **changes,
    }
    answer = lab.client.post("/api/second-opinions/answer", json=request, headers=HEADERS)
    assert answer.status_code == 200, answer.data
    return answer.data


def received(lab, calibration, content, expected=201):
    answer = lab.client.post(f"/api/calibrations/{calibration['id']}/opinions", data=content, headers=HEADERS)
    assert answer.status_code == expected, answer.data
    return answer.json


def test_a_question_goes_out_and_its_answer_comes_back_as_attributed_readings(lab, asked):
    before = lab.again(asked)
    opinion = answered(lab, sent(lab))
    assert b"settings" not in opinion and b"exposure_s" not in opinion
    (question,) = received(lab, asked, opinion)["items"]
    (kept,) = question["opinions"]
    assert (kept["workshop"], kept["initials"], kept["received_by"]) == ("Harbour school", "IM", "IM")
    assert {one["verdict"] for one in kept["readings"]} == {"over", "right"} and kept["note"].startswith("Look at")
    # They are shown beside the readings, and count for nothing by themselves.
    after = lab.again(asked)
    assert after["arms"][0]["window"] == before["arms"][0]["window"] and after["version"] == before["version"]
    withdrawn = lab.post(f"/api/calibrations/{asked['id']}/opinions/{kept['id']}/withdraw")
    assert withdrawn["items"][0]["opinions"] == []


def test_what_goes_out_has_photos_readings_settings_and_window_and_no_names_unless_chosen(lab, asked):
    question = json.loads(sent(lab))["content"]
    assert len(question["coupons"]) == len(asked["arms"][0]["coupons"])
    assert question["coupons"][0]["photo"] and question["coupons"][1]["photo"] is None
    assert "walls" in question["coupons"][0]["read"] and "window from" in question["window"]
    assert {line["name"] for line in question["settings"]} >= {"Layer height", "Base exposure"}
    names = [asked["material"], asked["printer"]]
    assert question["names"] is None and not any(name in json.dumps(question) for name in names)
    lab.post(f"/api/calibrations/{asked['id']}/questions", {"text": "The same, named.", "with_names": True}, 201)
    named = json.loads(sent(lab, "SO-002"))["content"]["names"]
    assert all(name in named for name in names) and "asked by IM" in named


def test_on_paper_the_coupons_stand_as_a_ladder_with_the_question(lab, asked):
    content = lab.client.get("/api/questions/SO-001/pdf").data
    pages = pypdfium2.PdfDocument(content)
    text = " ".join(page.get_textpage().get_text_bounded() for page in pages)
    assert "Is 2.6 s over, or is it the film?" in text and "window from" in text
    for coupon in asked["arms"][0]["coupons"]:
        assert coupon["code"] in text
    assert asked["material"] not in text


def test_a_file_that_was_changed_or_is_another_kind_is_refused(lab, asked):
    question, opinion = sent(lab), answered(lab, sent(lab))
    changed = json.loads(opinion)
    changed["content"]["readings"][0]["verdict"] = "under"
    assert "seal" in received(lab, asked, json.dumps(changed), 422)["error"]["fields"]["file"]
    for content in (question, b"{}", b"no json", b"[" * 5000):
        received(lab, asked, content, 422)
    answer = lab.client.post("/api/second-opinions/open", data=opinion, headers=HEADERS)
    assert answer.status_code == 422
    assert lab.get(f"/api/calibrations/{asked['id']}/questions")["items"][0]["opinions"] == []


def test_an_opinion_comes_once_and_to_the_question_it_answers(lab, asked):
    opinion = answered(lab, sent(lab))
    received(lab, asked, opinion)
    received(lab, asked, opinion, 409)
    received(lab, asked, answered(lab, sent(lab), question_id="another"), 422)
    strange = answered(lab, sent(lab), readings=[{"code": "999Z", "verdict": "right"}])
    assert "999Z" in received(lab, asked, strange, 422)["error"]["message"]


def test_a_question_is_asked_of_an_arm_that_is_there(lab, asked):
    wrong = lab.post(f"/api/calibrations/{asked['id']}/questions", {"text": "What now?", "arm": 9}, 422)
    assert "arm" in wrong["error"]["fields"]
    assert "text" in lab.post(f"/api/calibrations/{asked['id']}/questions", {"text": " "}, 422)["error"]["fields"]
    lab.get("/api/questions/SO-404/file", 404)
