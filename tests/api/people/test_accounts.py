"""Accounts and devices: added, changed, revoked, and a lab that used initials alone."""

import shutil
import sqlite3
from contextlib import closing
from datetime import timedelta

import pytest

from setback.services.files import bundles
from setback.services.lab import records
from setback.services.unit_of_work import UnitOfWork
from setback.store.database import connect
from tests.conftest import MovedClock
from tests.lab import RESIN
from tests.workshop import PASSWORDS, opened

NEW = {"initials": "TW", "role": "technician", "password": "a tide table for march"}


def account(lead, initials):
    return next(one for one in lead.get("/api/people")["items"] if one["initials"] == initials)


def test_somebody_added_chooses_their_own_password_before_they_change_anything(shop):
    lead = shop.browser("RB")
    added = lead.post("/api/people", NEW, 201)
    assert added["must_change"] and added["last_used_at"] is None and "password" not in str(added)
    new = shop.browser()
    assert new.sign_in("TW", NEW["password"])["signed_in"]["must_change"]
    assert "password of your own" in new.post("/api/resins", RESIN, 403)["error"]["message"]
    new.get("/api/board")
    own = {"password": NEW["password"], "new_password": "a hut behind the dunes"}
    assert new.put("/api/session/password", own)["must_change"] is False
    new.post("/api/resins", RESIN, 201)
    shop.browser().sign_in("TW", NEW["password"], 422)
    shop.browser().sign_in("TW", own["new_password"])


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"initials": "IM"}, "initials"),
        ({"initials": "1"}, "initials"),
        ({"role": "owner"}, "role"),
        ({"password": "short"}, "password"),
    ],
)
def test_an_account_that_will_not_do_is_refused_at_its_field(shop, changes, field):
    assert field in shop.browser("RB").post("/api/people", NEW | changes, 422)["error"]["fields"]


@pytest.mark.parametrize(
    ("password", "new_password", "field"),
    [
        ("wrong", "a hut behind the dunes", "password"),
        (PASSWORDS["IM"], PASSWORDS["IM"], "new_password"),
        (PASSWORDS["IM"], "short", "new_password"),
    ],
)
def test_a_password_of_ones_own_that_will_not_do(shop, password, new_password, field):
    browser = shop.browser("IM")
    body = {"password": password, "new_password": new_password}
    assert field in browser.put("/api/session/password", body, 422)["error"]["fields"]


def test_another_password_signs_out_every_other_device(shop):
    bench, phone = shop.browser("IM"), shop.browser("IM")
    bench.put("/api/session/password", {"password": PASSWORDS["IM"], "new_password": "a hut behind the dunes"})
    bench.get("/api/board")
    phone.get("/api/board", 401)


def test_a_password_a_lead_sets_signs_out_everywhere_and_must_be_changed(shop):
    lead, bench = shop.browser("RB"), shop.browser("IM")
    bench.put("/api/session/pin", {"password": PASSWORDS["IM"], "pin": "4826"})
    of_im = account(lead, "IM")["id"]
    assert "password" in lead.put(f"/api/people/{of_im}/password", {"password": "short"}, 422)["error"]["fields"]
    lead.put(f"/api/people/{of_im}/password", {"password": "handed over on paper"})
    bench.get("/api/board", 401)
    bench.post("/api/session/switch", {"initials": "IM", "pin": "4826"}, 422)
    assert bench.sign_in("IM", "handed over on paper")["signed_in"]["must_change"]


def test_a_revoked_technician_is_out_at_once_and_what_they_recorded_stays(shop):
    lead, bench = shop.browser("RB"), shop.browser("IM")
    resin = bench.post("/api/resins", RESIN, 201)
    of_im = account(lead, "IM")["id"]
    assert lead.post(f"/api/people/{of_im}/revoke")["revoked_at"]
    assert bench.post("/api/resins", RESIN | {"name": "Kelp 1"}, 401)["error"]["fields"] == {
        "sign_in": "Sign in first."
    }
    bench.sign_in("IM", PASSWORDS["IM"], 422)
    assert lead.get(f"/api/resins/{resin['id']}")["name"] == RESIN["name"]
    assert {one["initials"] for one in lead.get("/api/technicians")["items"]} == {"IM", "LO", "RB"}
    assert lead.post(f"/api/people/{of_im}/restore")["revoked_at"] is None
    bench.sign_in("IM")


def test_the_only_lead_stays_one(shop):
    lead = shop.browser("RB")
    of_rb = account(lead, "RB")["id"]
    assert "only lead" in lead.post(f"/api/people/{of_rb}/revoke", {}, 409)["error"]["message"]
    assert "only lead" in lead.put(f"/api/people/{of_rb}/role", {"role": "viewer"}, 409)["error"]["message"]
    lead.put(f"/api/people/{account(lead, 'IM')['id']}/role", {"role": "lead"})
    lead.put(f"/api/people/{of_rb}/role", {"role": "technician"})


def test_initials_belong_to_accounts(shop):
    lead = shop.browser("RB")
    assert "a lead adds them" in lead.post("/api/technicians", {"initials": "QQ"}, 409)["error"]["message"]
    of_im = next(one["id"] for one in lead.get("/api/technicians")["items"] if one["initials"] == "IM")
    assert "Revoke that first" in lead.post(f"/api/technicians/{of_im}/retire", {}, 409)["error"]["message"]
    bench = {"printer": "Cormorant", "initials": "RB"}
    fields = shop.browser("IM").post("/api/first-bench", bench, 422)["error"]["fields"]
    assert fields


def test_one_that_is_not_there_is_not_found(shop):
    lead = shop.browser("RB")
    for url in ("/api/people/none/revoke", "/api/people/none/restore", "/api/devices/none/revoke"):
        lead.post(url, {}, 404)
    lead.put("/api/people/none/role", {"role": "lead"}, 404)
    lead.put("/api/people/none/password", {"password": "long enough words"}, 404)


class TestDevices:
    def test_a_lead_sees_all_and_others_their_own(self, shop):
        lead, bench = shop.browser("RB"), shop.browser("IM")
        assert [one["initials"] for one in lead.get("/api/devices")["items"]] == [["IM"], ["RB"]]
        (own,) = bench.get("/api/devices")["items"]
        assert own["is_this"] and own["name"] == "computer of IM"
        (renamed,) = bench.put(f"/api/devices/{own['id']}", {"name": "  Bench at the window "})["items"]
        assert renamed["name"] == "Bench at the window"
        assert "name" in bench.put(f"/api/devices/{own['id']}", {"name": " "}, 422)["error"]["fields"]

    def test_a_revoked_one_is_out_at_once_with_its_pins(self, shop):
        lead, phone = shop.browser("RB"), shop.browser("IM")
        phone.put("/api/session/pin", {"password": PASSWORDS["IM"], "pin": "4826"})
        stolen = next(one["id"] for one in lead.get("/api/devices")["items"] if one["initials"] == ["IM"])
        assert stolen not in [one["id"] for one in lead.post(f"/api/devices/{stolen}/revoke")["items"]]
        phone.get("/api/board", 401)
        phone.post("/api/session/switch", {"initials": "IM", "pin": "4826"}, 422)
        assert phone.get("/api/session")["people_here"] == []
        # Whoever knows the password signs in there as at a new one.
        phone.sign_in("IM")
        assert [one["initials"] for one in phone.get("/api/devices")["items"]] == [["IM"]]

    def test_anothers_is_not_for_a_technician(self, shop):
        lead, bench = shop.browser("RB"), shop.browser("IM")
        of_rb = next(one["id"] for one in lead.get("/api/devices")["items"] if one["is_this"])
        bench.post(f"/api/devices/{of_rb}/revoke", {}, 404)
        lead.get("/api/board")

    def test_the_one_at_hand(self, shop):
        bench = shop.browser("IM")
        (own,) = bench.get("/api/devices")["items"]
        bench.post(f"/api/devices/{own['id']}/revoke")
        bench.get("/api/board", 401)


class TestPairing:
    def code(self, browser):
        shown = browser.post("/api/session/pairings", {}, 201)
        return shown, shown["link"].split("#")[1]

    def pair(self, phone, token, expected=200):
        return phone.post("/api/session/pair", {"token": token}, expected)

    def test_a_phone_is_signed_in_by_a_code_once_and_can_be_revoked(self, shop):
        bench, phone = shop.browser("IM"), shop.browser()
        phone.headers = {"User-Agent": "Anything (Mobile)"}
        shown, token = self.code(bench)
        assert not shown["paired"] and shown["id"] not in shown["link"]
        assert self.pair(phone, token)["signed_in"]["by"] == "pairing"
        assert bench.get(f"/api/session/pairings/{shown['id']}")["paired"]
        phone.post("/api/resins", RESIN, 201)
        # IM works at both; the phone is a device of its own.
        bench.get("/api/resins")
        devices = bench.get("/api/devices")["items"]
        assert sorted(one["name"] for one in devices) == ["computer of IM", "phone of IM"]
        bench.post(f"/api/devices/{next(one['id'] for one in devices if not one['is_this'])}/revoke")
        phone.get("/api/resins", 401)
        assert "used already" in self.pair(phone, token, 422)["error"]["fields"]["token"]

    def test_a_code_ends_after_three_minutes(self, shop):
        bench, phone = shop.browser("IM"), shop.browser()
        _, token = self.code(bench)
        shop.clock.now += timedelta(minutes=4)
        self.pair(phone, token, 422)

    def test_a_code_of_somebody_revoked_meanwhile_opens_nothing(self, shop):
        lead, bench = shop.browser("RB"), shop.browser("IM")
        _, token = self.code(bench)
        lead.post(f"/api/people/{account(lead, 'IM')['id']}/revoke")
        self.pair(shop.browser(), token, 422)

    def test_a_pin_does_not_become_a_device_of_its_own(self, shop):
        bench = shop.browser("IM")
        bench.put("/api/session/pin", {"password": PASSWORDS["IM"], "pin": "4826"})
        bench.post("/api/session/switch", {"initials": "IM", "pin": "4826"})
        assert "Sign in by password" in bench.post("/api/session/pairings", {}, 409)["error"]["message"]

    def test_it_is_guessed_by_nobody(self, shop):
        phone = shop.browser()
        for _ in range(8):
            self.pair(phone, "not this one", 422)
        self.pair(phone, "not this one", 429)

    def test_another_person_sees_nothing_of_it(self, shop):
        bench, other = shop.browser("IM"), shop.browser("LO")
        shown, _ = self.code(bench)
        other.get(f"/api/session/pairings/{shown['id']}", 404)
        drawing = bench.client.get(f"/api/session/pairings/{shown['id']}/code.svg", base_url=bench.url)
        assert drawing.data.startswith(b"<svg") and drawing.headers["Cache-Control"] == "no-store"


def test_a_lab_that_used_initials_alone_is_taken_over_with_its_history(small_shop):
    """The lab was IM's alone: what IM read, issued and signed is IM's, who signs in from now on."""
    browser = small_shop.browser("IM")
    (signed,) = browser.get("/api/qualifications")["items"]
    assert signed["initials"] == "IM"
    done = browser.get("/api/activity")["items"]
    assert done and {one["by"] for one in done if one["by"]} == {"IM"}
    assert [one["initials"] for one in browser.get("/api/technicians")["items"]] == ["IM", "LO", "RB"]


def test_accounts_stay_on_their_machine(small_shop, tmp_path):
    """A bundle carries initials, never passwords, devices or who is signed in."""
    small_shop.browser("IM")
    db = connect(small_shop.path)
    manifest = bundles.write_to(UnitOfWork(db), tmp_path / "lab.zip", lambda share, message: None)
    db.close()
    assert "technician" in manifest["tables"]
    assert not {"account", "device", "device_pin", "sign_in"} & set(manifest["tables"])


def test_the_journal_vouches_for_accounts(shop):
    """Whoever changes a role past the application is found."""
    with closing(sqlite3.connect(shop.path)) as db, db:
        db.execute("UPDATE account SET role = 'lead'")
    db = connect(shop.path)
    found = records.walk(db, lambda share, message: None, [])
    db.close()
    assert not found["intact"] and "Account of IM was changed outside Setback." in found["faults"]


def test_behind_a_proxy_tries_are_counted_by_who_is_behind_it(empty_lab, tmp_path):
    path = tmp_path / "shop.db"
    shutil.copyfile(empty_lab, path)
    for shop in opened(path, MovedClock(), behind_proxy=True):
        first, second = shop.browser(), shop.browser()
        first.headers, second.headers = {"X-Forwarded-For": "10.0.0.7"}, {"X-Forwarded-For": "10.0.0.8"}
        for _ in range(8):
            first.sign_in("IM", "not this one", 422)
        first.sign_in("IM", PASSWORDS["IM"], 429)
        second.sign_in("IM")
