"""The door: other pages that are open in the same browser neither write, nor sign, nor frame, and our own pass."""

import pytest

OURS = "http://localhost"
BRIEF = {"name": "Clip", "requirements": [{"property": "drop.height", "at": "least", "limit": 1}]}


def post(lab, headers, **more):
    return lab.client.post("/api/briefs", json=BRIEF, headers={"Setback-Technician": "IM", **headers}, **more)


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://elsewhere.example"},
        {"Origin": "null"},
        {"Origin": "http://localhost:9999"},
        {"Origin": "https://localhost"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": OURS, "Sec-Fetch-Site": "cross-site"},
    ],
)
def test_another_page_writes_nothing(lab, headers):
    before = lab.get("/api/briefs")["items"]
    answer = post(lab, headers)
    assert answer.status_code == 403 and "not Setback's own" in answer.json["error"]["message"]
    assert lab.get("/api/briefs")["items"] == before


@pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"])
def test_a_form_of_another_page_is_no_json(lab, kind):
    """What a page may send elsewhere without being asked; no header of a browser is needed to refuse it."""
    body = '{"name": "Clip", "requirements": []}'
    answer = lab.client.post("/api/briefs", data=body, content_type=kind, headers={"Setback-Technician": "IM"})
    assert answer.status_code == 415 and "application/json" in answer.json["error"]["message"]
    answer = lab.client.post("/api/calculators/exposure-ladder", data=body, content_type=kind)
    assert answer.status_code == 415
    assert lab.get("/api/briefs")["items"] == []


@pytest.mark.parametrize(
    "host", ["rebound.example", "rebound.example:80", "127.0.0.1.rebound.example", "[::2]", "a@b:c:d"]
)
@pytest.mark.parametrize("address", ["/", "/api/health", "/api/briefs", "/assets/none.js", "/nowhere"])
def test_under_another_name_nothing_answers(lab, host, address):
    answer = lab.client.get(address, headers={"Host": host})
    assert answer.status_code == 421 and "own address" in answer.json["error"]["message"]


@pytest.mark.parametrize("host", ["localhost", "localhost:8350", "127.0.0.1:8350", "[::1]:8350", "LOCALHOST"])
def test_our_own_names_answer(lab, host):
    assert lab.client.get("/api/health", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "headers",
    [{}, {"Origin": OURS}, {"Origin": OURS, "Sec-Fetch-Site": "same-origin"}, {"Sec-Fetch-Site": "none"}],
)
def test_our_own_pages_and_programs_write(lab, headers):
    assert post(lab, headers).status_code == 201


@pytest.mark.parametrize(
    "address",
    ["/", "/board", "/api/docs", "/api/health", "/api/briefs", "/api/nothing", "/favicon.svg", "/api/openapi.json"],
)
def test_no_answer_may_be_framed_or_run_what_is_not_ours(lab, address):
    headers = lab.client.get(address).headers
    policy = headers["Content-Security-Policy"]
    assert "frame-ancestors 'none'" in policy and "script-src 'self';" in policy
    assert headers["X-Content-Type-Options"] == "nosniff" and headers["X-Frame-Options"] == "DENY"
    assert headers["Referrer-Policy"] == "same-origin" and headers["Cross-Origin-Resource-Policy"] == "same-origin"


def test_a_refusal_has_the_headers_too(lab):
    answer = lab.client.get("/", headers={"Host": "rebound.example"})
    assert "frame-ancestors 'none'" in answer.headers["Content-Security-Policy"]
