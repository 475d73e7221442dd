"""Fresh pictures of the main views from the demo, for docs/screenshots: run by ``make shots``."""

from __future__ import annotations

import json
import sqlite3
import tempfile
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from urllib.request import Request, urlopen

from playwright.sync_api import Page, sync_playwright

from setback.coupon import Coupon, drawn
from setback.coupon.lettering import embossed
from setback.demo import DEMO_NOW, build
from setback.simulate.camera import Placed, photograph_tray
from setback.simulate.hidden import Conditions
from setback.simulate.printed import print_coupon
from tests.browser.conftest import QUIET, calibration_id, chromium
from tests.conftest import MovedClock
from tests.lab import MACHINE, TRUTH
from tests.pictures import PLAIN
from tests.server import Server

TARGET = Path(__file__).parents[2] / "docs" / "screenshots"


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        path = Path(folder) / "demo.db"
        build(path)
        clock = MovedClock()
        clock.now = DEMO_NOW
        server = Server(path, clock)
        live = server.live()
        browser = play.chromium.launch(executable_path=chromium(), args=QUIET)

        def shoot(
            name: str, place: str, *, width: int = 1280, height: int = 800, theme: str = "light", act=None
        ) -> None:
            context = browser.new_context(
                viewport={"width": width, "height": height}, reduced_motion="reduce", locale="en-GB"
            )
            context.add_init_script(
                f"localStorage.setItem('setback.technician', 'IM'); localStorage.setItem('setback.theme', '{theme}')"
            )
            page: Page = context.new_page()
            page.goto(live.url + place)
            page.get_by_role("heading").first.wait_for()
            page.wait_for_load_state("networkidle")
            if act:
                act(page)
                page.wait_for_load_state("networkidle")
            page.screenshot(path=TARGET / f"{name}.png")
            context.close()

        gannet = next(p["id"] for p in live.lab.get("/api/printers")["items"] if p["name"] == "Gannet")
        decided, cold = calibration_id(live, "C-003"), calibration_id(live, "C-004")
        shoot("board", "/board")
        shoot("board-safelight", "/board", theme="safelight")
        shoot("trace", "/log/why/Y-005")
        shoot("log", "/log")
        shoot("climate", "/climate?span=month", height=1000)
        shoot("candidates", "/qualify/A-006")
        shoot("verdict", "/qualify/A-002/S-001", height=850)
        shoot("test", "/test/T-001")
        shoot("properties", "/test/properties?brief=A-005")
        shoot("vat", f"/blend/vat/{gannet}", height=1000)
        live.lab.ended(live.lab.post("/api/plan/make", {}, 201))
        shoot("plan", "/plan", height=900)
        shoot("printer", f"/printers/{gannet}")
        shoot("calibrate", f"/calibrate/{decided}?step=decide")
        shoot("calibrate-conflict", f"/calibrate/{cold}?arm=1&step=decide")
        shoot("reading", "/coupons/103N")
        shoot("reading-phone", "/coupons/103N", width=390, height=844)
        shoot("card", "/sets/S-001", height=1000)
        ladder = tray_of(live, path, "C-002")
        shoot(
            "ladder",
            f"/calibrate/{ladder}/pictures",
            act=lambda page: page.locator("[data-feature=slot-left-5]").first.click(),
        )
        made = live.lab.post("/api/practice/rounds", {"level": 1}, 201)
        shoot("practice", f"/practice/rounds/{made['id']}", height=900, act=read_a_little)
        browser.close()
        server.stop()


def tray_of(live, path: Path, code: str) -> str:
    """The printed flat coupons of a calibration of the demo, on one picture, read; the calibration's id."""
    calibration = calibration_id(live, code)
    (ladder,) = [
        one for one in live.lab.get(f"/api/calibrations/{calibration}/pictures")["ladders"] if "Flat" in one["title"]
    ]
    placed = []
    for place, coupon in enumerate(ladder["coupons"][:5]):
        made = print_coupon(drawing_of(path, coupon["code"]), MACHINE, TRUTH, Conditions(1.7 * 1.22**place), 5)
        lettered = embossed(made.coupon, coupon["code"], f"{coupon['exposure_s']:g}s")
        placed.append(Placed(made, lettered, x_mm=56.0 * (place % 2) - 28, y_mm=42.0 * (place // 2) - 42))
    content = photograph_tray(placed, 3, replace(PLAIN, px_per_mm=24))
    boundary = "setback-tray"
    head = f'--{boundary}\r\nContent-Disposition: form-data; name="picture"; filename="tray.jpg"\r\n\r\n'
    request = Request(
        f"{live.url}/api/calibrations/{calibration}/trays",
        data=head.encode() + content + f"\r\n--{boundary}--\r\n".encode(),
        headers={"Content-Type": f"multipart/form-data; boundary={boundary}", "Setback-Technician": "IM"},
    )
    with urlopen(request) as answer:
        live.lab.ended(json.load(answer))
    return calibration


def drawing_of(path: Path, code: str) -> Coupon:
    """The drawing a coupon was planned with."""
    sql = "SELECT d.kind, d.parameters FROM coupon k JOIN coupon_design d ON d.id = k.design_id WHERE k.code = ?"
    with closing(sqlite3.connect(path)) as db:
        kind, parameters = db.execute(sql, (code,)).fetchone()
    return drawn(kind, json.loads(parameters))


def read_a_little(page: Page) -> None:
    """A practice coupon with some of its marks."""
    for feature in ("wall-left-4", "wall-right-5", "slot-left-4", "slot-right-4"):
        page.locator(f"[data-feature={feature}]").click()


if __name__ == "__main__":
    main()
