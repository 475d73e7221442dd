"""Fresh pictures of the main views from the demo, for docs/screenshots: run by ``make shots``."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from setback.demo import DEMO_NOW, build
from tests.browser.conftest import QUIET, calibration_id, chromium
from tests.conftest import MovedClock
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
        shoot("warm-start", "/climate/warm-start", height=1100)
        shoot("test", "/test/T-001")
        shoot("properties", "/test/properties?brief=A-005")
        shoot("vat", f"/blend/vat/{gannet}", height=1000)
        shoot("series", "/blend/series/G-001", height=1000)
        live.lab.ended(live.lab.post("/api/plan/make", {}, 201))
        shoot("plan", "/plan", height=900)
        shoot("printer", f"/printers/{gannet}")
        shoot("calibrate", f"/calibrate/{decided}?step=decide")
        shoot("calibrate-conflict", f"/calibrate/{cold}?arm=1&step=decide")
        shoot("reading", "/coupons/103N")
        shoot("reading-phone", "/coupons/103N", width=390, height=844)
        shoot("card", "/sets/S-001", height=1000)
        browser.close()
        server.stop()


if __name__ == "__main__":
    main()
