"""Signing in, changing places by PIN, and being signed out."""

import sqlite3
from contextlib import closing
from dataclasses import replace
from datetime import timedelta

import pytest
from flask import session

from setback.core.people.access import LONGEST, PIN_TRIES, UNUSED_FOR
from setback.services.people import secrets_at_rest
from tests.workshop import HOST, PASSWORDS, Browser


def table(shop, sql):
    with closing(sqlite3.connect(shop.path)) as db:
        return db.execute(sql).fetchall()


def with_pin(shop, initials="IM", pin="4826"):
    browser = shop.browser(initials)
    browser.put("/api/session/pin", {"password": PASSWORDS[initials], "pin": pin})
    return browser


def switch(browser, initials, pin, expected=200):
    return browser.post("/api/session/switch", {"initials": initials, "pin": pin}, expected)


def test_a_browser_that_was_never_here_is_told_to_sign_in(shop):
    now = shop.browser().get("/api/session")
    assert now["asks"] and now["signed_in"] is None and now["people_here"] == [] and now["certificate_ends"] is None


def test_whoever_signs_in_works_under_their_initials(shop):
    browser = shop.browser()
    signed_in = browser.sign_in("im", PASSWORDS["IM"])["signed_in"]
    assert signed_in["initials"] == "IM" and signed_in["role"] == "technician" and signed_in["by"] == "password"
    assert signed_in["may_write"] and not signed_in["may_lead"] and not signed_in["must_change"]
    assert browser.get("/api/session")["signed_in"] == signed_in


@pytest.mark.parametrize(
    ("initials", "password"), [("IM", "three grey cormorant"), ("IM", ""), ("ZZ", PASSWORDS["IM"])]
)
def test_a_wrong_password_and_initials_nobody_has_are_refused_alike(shop, initials, password):
    browser = shop.browser()
    fields = browser.sign_in(initials, password, 422)["error"]["fields"]
    assert fields == {"password": "These initials and this password do not belong together."}
    assert browser.get("/api/session")["signed_in"] is None


def test_no_password_pin_or_secret_stands_in_the_database_or_an_answer(shop):
    browser = with_pin(shop)
    cookies = browser.client._cookies.values()
    assert all(cookie.http_only and cookie.same_site == "Strict" and cookie.secure for cookie in cookies)
    content = b"".join(
        file.read_bytes() for file in shop.path.parent.glob("shop.db*") if file.suffix not in (".lock", ".key")
    )
    for secret in (PASSWORDS["IM"], PASSWORDS["RB"]):
        assert secret.encode() not in content
    with shop.app.test_request_context(base_url=browser.url, headers={"Cookie": _cookie(browser)}):
        assert session["device"].encode() not in content and session["_user_id"].encode() not in content
    # Four digits are tried out in a moment: they are hashed together with a secret that only the device has.
    (pin_hash,) = table(shop, "SELECT pin_hash FROM device_pin")[0]
    assert pin_hash.startswith("$argon2id$") and "4826" not in pin_hash


def test_a_hash_costs_what_the_standard_advises(quick_hashes, monkeypatch):
    monkeypatch.setattr(secrets_at_rest, "_hasher", quick_hashes)
    stored = secrets_at_rest.hashed("a word of her own")
    # RFC 9106, section 4: three passes over 64 MiB in four lanes.
    assert stored.startswith("$argon2id$v=19$m=65536,t=3,p=4$")


def _cookie(browser):
    (cookie,) = browser.client._cookies.values()
    return f"{cookie.key}={cookie.value}"


def test_a_cookie_somebody_made_is_none(shop):
    browser = shop.browser("IM")
    name, value = _cookie(browser).split("=", 1)
    for made in (value[:-3] + "abc", "x" + value, "eyJhIjoxfQ.made.up"):
        stranger = Browser(shop.app.test_client(use_cookies=False), headers={"Cookie": f"{name}={made}"})
        stranger.get("/api/board", 401)
    Browser(shop.app.test_client(use_cookies=False), headers={"Cookie": f"{name}={value}"}).get("/api/board")


def test_signing_out_leaves_nothing_that_lets_in(shop):
    browser = shop.browser("IM")
    before = _cookie(browser)
    assert browser.post("/api/session/sign-out")["signed_in"] is None
    browser.get("/api/board", 401)
    Browser(shop.app.test_client(use_cookies=False), headers={"Cookie": before}).get("/api/board", 401)


class TestPin:
    def test_two_people_change_places_at_one_bench(self, shop):
        bench = with_pin(shop, "IM", "4826")
        bench.sign_in("RB")
        bench.put("/api/session/pin", {"password": PASSWORDS["RB"], "pin": "7193"})
        assert [one["initials"] for one in bench.get("/api/session")["people_here"]] == ["IM", "RB"]
        assert switch(bench, "IM", "4826")["signed_in"]["initials"] == "IM"
        assert switch(bench, "rb", "7193")["signed_in"] | {} == bench.get("/api/session")["signed_in"]
        assert bench.get("/api/session")["signed_in"]["by"] == "pin"

    def test_it_is_of_no_use_at_another_device(self, shop):
        with_pin(shop)
        words = switch(shop.browser("RB"), "IM", "4826", 422)["error"]["fields"]["pin"]
        assert words == "IM has no PIN at this device. Sign in by password."
        switch(shop.browser(), "IM", "4826", 422)

    def test_guesses_are_counted_and_locked_until_the_password_is_given(self, shop):
        bench = with_pin(shop)
        bench.post("/api/session/sign-out")
        words = [switch(bench, "IM", f"999{n}", 422)["error"]["fields"]["pin"] for n in range(PIN_TRIES)]
        assert words[0] == "This PIN is wrong. 4 tries are left." and words[3] == "This PIN is wrong. 1 try is left."
        assert "locked" in words[4]
        assert bench.get("/api/session")["people_here"] == [{"initials": "IM", "is_locked": True}]
        # The right one does not open it any more.
        assert "locked" in switch(bench, "IM", "4826", 422)["error"]["fields"]["pin"]
        bench.sign_in("IM")
        assert switch(bench, "IM", "4826")["signed_in"]["initials"] == "IM"

    def test_a_right_one_begins_the_count_anew(self, shop):
        bench = with_pin(shop)
        for _ in range(2):
            switch(bench, "IM", "9990", 422)
            switch(bench, "IM", "4826")
        assert table(shop, "SELECT wrong_tries FROM device_pin") == [(0,)]

    def test_it_is_set_by_whoever_knows_the_password(self, shop):
        bench = shop.browser("IM")
        fields = bench.put("/api/session/pin", {"password": PASSWORDS["RB"], "pin": "4826"}, 422)["error"]["fields"]
        assert fields == {"password": "This is not your password."}
        assert (
            "pin" in bench.put("/api/session/pin", {"password": PASSWORDS["IM"], "pin": "1234"}, 422)["error"]["fields"]
        )
        assert bench.get("/api/session")["people_here"] == []

    def test_it_can_be_given_up(self, shop):
        bench = with_pin(shop)
        assert bench.post("/api/session/pin/remove")["signed_in"]["has_pin"] is False
        switch(bench, "IM", "4826", 422)


class TestTries:
    def test_passwords_from_one_address_are_slowed(self, shop):
        browser = shop.browser()
        for _ in range(8):
            browser.sign_in("IM", "not this one", 422)
        answer = browser.sign_in("IM", PASSWORDS["IM"], 429)
        assert "Wait a minute" in answer["error"]["message"]
        # Also as somebody else.
        browser.sign_in("RB", PASSWORDS["RB"], 429)

    def test_a_password_given_again_is_slowed_too(self, shop):
        browser = shop.browser("RB")
        statuses = [
            browser.client.post("/api/session/confirm", base_url=browser.url, json={"password": "no"}).status_code
            for _ in range(9)
        ]
        assert set(statuses[:8]) == {422} and statuses[8] == 429


class TestEnds:
    @pytest.mark.parametrize("away", [UNUSED_FOR + timedelta(minutes=2), LONGEST + timedelta(minutes=1)])
    def test_by_itself(self, shop, away):
        browser = shop.browser("IM")
        shop.clock.now += away
        assert browser.get("/api/board", 401)["error"]["fields"] == {"sign_in": "Sign in first."}
        assert browser.get("/api/session")["signed_in"] is None
        # The clock that goes back does not bring it back.
        shop.clock.now -= away
        browser.get("/api/board", 401)

    def test_not_while_it_is_used(self, shop):
        browser = shop.browser("IM")
        for _ in range(4):
            shop.clock.now += UNUSED_FOR - timedelta(minutes=1)
            browser.get("/api/resins")

    def test_but_by_a_page_that_only_stands_open(self, shop):
        """It asks for timers, the room and what others changed by itself; nobody need be there."""
        browser = shop.browser("IM")
        for _ in range(3):
            shop.clock.now += UNUSED_FOR / 4
            for url in ("/api/timers", "/api/room", "/api/together?tab=t&page=/board"):
                browser.get(url)
        shop.clock.now += UNUSED_FOR / 4
        browser.get("/api/timers", 401)

    @pytest.mark.parametrize("off", [timedelta(hours=1), timedelta(hours=-1)])
    def test_not_by_a_clock_that_is_an_hour_off(self, shop, off):
        browser = shop.browser("IM")
        shop.clock.now += off
        assert browser.get("/api/session")["signed_in"]["initials"] == "IM"
        assert browser.get("/api/session")["now"][:13] == shop.clock.now.isoformat()[:13]

    def test_at_a_second_sign_in_at_the_same_device(self, shop):
        bench = shop.browser("IM")
        before = _cookie(bench)
        bench.sign_in("RB")
        Browser(shop.app.test_client(use_cookies=False), headers={"Cookie": before}).get("/api/board", 401)


def test_where_one_person_is_served_nobody_signs_in(lab):
    now = lab.get("/api/session")
    assert not now["asks"] and now["signed_in"] is None
    lab.post("/api/session/sign-in", {"initials": "IM", "password": "x"}, 409)
    lab.post("/api/session/sign-out", {}, 409)
    lab.post("/api/people", {"initials": "QQ", "role": "lead", "password": "long enough words"}, 409)
    assert lab.get("/api/people")["items"] == []
    lab.get("/api/devices", 409)


def test_names_the_workshop_is_served_under_are_let_in_and_others_are_not(shop):
    client = shop.app.test_client()
    assert client.get("/", base_url=f"https://{HOST}:8350").status_code in (200, 503)
    assert client.get("/", base_url="https://rebound.example").status_code == 421


@pytest.mark.parametrize(("days", "is_near"), [(22, False), (20, True), (-1, True)])
def test_leads_alone_are_told_in_time_that_the_certificate_ends(shop, days, is_near):
    ends = (shop.clock.now + timedelta(days=days)).isoformat()
    shop.app.config["WORKSHOP"] = replace(shop.app.config["WORKSHOP"], certificate_ends=ends)
    told = shop.browser("RB").get("/api/session")
    assert told["certificate_ends"] == ends and told["certificate_is_near"] is is_near
    told = shop.browser("IM").get("/api/session")
    assert told["certificate_ends"] is None and not told["certificate_is_near"]
