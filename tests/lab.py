"""Drive the API as the front end does, with a printer whose truth is known."""

from __future__ import annotations

import json
import random
import sqlite3
import time
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from pathlib import Path
from typing import Any

from setback.coupon import KINDS, NEWEST
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import print_coupon
from setback.simulate.reader import read as read_off

RESIN = {
    "name": "Slate 2",
    "maker": "Tidewrack Works",
    "colour": "slate grey",
    "family": "basic",
    "opacity": "opaque",
    "wash_class": "solvent",
    "maker_low_s": 1.5,
    "maker_high_s": 4,
}
PRINTER = {
    "name": "Cormorant",
    "light_engine": "mono screen",
    "pixel_um": 35,
    "plate_x_mm": 153,
    "plate_y_mm": 87,
    "vat_capacity_ml": 260,
    "fill_line_ml": 220,
    "exposure_step_s": 0.1,
}
ROUTE = {
    "name": "Two-bath solvent",
    "wash_fluid": "solvent",
    "wash_method": "basket",
    "dirty_bath_min": 2,
    "clean_bath_min": 2,
    "dry_min": 20,
    "lamp": "turntable",
    "cure_min": 6,
}
LIMITS = {"growth_tol_um": 45, "walls_size_mm": 0.21, "slots_size_mm": 0.35, "tips_size_mm": 0.42}

OF_THE_SET = [
    {"property": "set.slot", "at": "most", "limit": 0.6},
    {"property": "set.latitude", "at": "least", "limit": 3},
]


PIXEL_MM, FLOOR_MM = 0.035, 0.35
API_DOCUMENT = Path(__file__).parents[1] / "docs" / "openapi.json"
"""Checked to be today's; to have it made anew takes longer than most tests."""
TRUTH, MACHINE = Material(1.0), Machine()


def noted(
    kind: str,
    exposure_s: float,
    noise: random.Random,
    material: Material = TRUTH,
    machine: Machine = MACHINE,
    **conditions: Any,
) -> list[dict[str, Any]]:
    """What a person with calipers notes of a coupon of this kind."""
    seeds = noise.randrange(10**6), noise.randrange(10**6)
    seen = _noted(kind, machine, material, Conditions(exposure_s, **conditions), seeds)
    return [{"key": key, "state": state, "measured_mm": measured_mm} for key, state, measured_mm in seen]


@lru_cache(maxsize=4000)
def _noted(
    kind: str, machine: Machine, material: Material, conditions: Conditions, seeds: tuple[int, int]
) -> list[tuple[str, str | None, float | None]]:
    """Most tests begin with the same coupons and the same chance: each is printed and read once in a process."""
    newest = {"design": NEWEST[kind]} if kind in NEWEST else {}
    printed = print_coupon(KINDS[kind](PIXEL_MM, FLOOR_MM, **newest), machine, material, conditions, seeds[0])
    return [(s.key, s.state, s.measured_mm) for s in read_off(printed, seeds[1])]


@lru_cache
def fields_of(name: str) -> frozenset[str]:
    """What the API takes as ``name``, such as ResinInput, but for the version."""
    schema = json.loads(API_DOCUMENT.read_text(encoding="utf-8"))["components"]["schemas"][name]
    return frozenset(schema["properties"]) - {"version"}


def entered(row: dict[str, Any], name: str) -> dict[str, Any]:
    """What of a row the API would take back as ``name``."""
    return {key: value for key, value in row.items() if key in fields_of(name)}


@dataclass(frozen=True)
class Prepared:
    """A lab that was brought to a state once, to be copied into others: its file, clock and chance."""

    path: Path
    calibration_id: str
    now: datetime
    noise: Any


@dataclass
class Lab:
    client: Any
    noise: random.Random
    truth: Material = TRUTH
    machine: Machine = MACHINE
    initials: str | None = "IM"
    clock: Any = None
    path: Path | None = None
    """Its file; None where it is somebody else's."""
    prepared: Callable[[], Prepared] | None = None
    """A lab with a calibration that is decided; None: this lab does the work itself."""
    changes: int = 0

    def _call(self, method: str, url: str, body: Any, expected: int, headers: dict[str, str] | None = None) -> Any:
        self.changes += method != "GET"
        held = dict(headers or {})
        if self.initials:
            held["Setback-Technician"] = self.initials
        answer = self.client.open(url, method=method, json=body, headers=held)
        assert answer.status_code == expected, (
            f"{method} {url}: {answer.status_code} {answer.get_data(as_text=True)[:600]}"
        )
        return answer.get_json()

    def get(self, url: str, expected: int = 200) -> Any:
        return self._call("GET", url, None, expected)

    def post(self, url: str, body: Any = None, expected: int = 200, **headers: str) -> Any:
        named = {name.replace("_", "-"): value for name, value in headers.items()}
        return self._call("POST", url, {} if body is None else body, expected, named)

    def put(self, url: str, body: Any, expected: int = 200) -> Any:
        return self._call("PUT", url, body, expected)

    def ended(self, job: Any, expected: str = "done") -> Any:
        """The job when it has ended, as it was expected to; the worker is another thread."""
        deadline = time.monotonic() + 30
        while job["state"] in ("queued", "running") and time.monotonic() < deadline:
            time.sleep(0.01)
            job = self.get(f"/api/jobs/{job['id']}")
        assert job["state"] == expected, job
        return job

    # Steps of the job

    def shelf(self, **printer: Any) -> dict[str, str]:
        resin = self.post("/api/resins", RESIN, 201)
        bottle = {"material_id": resin["id"], "lot": "SL-1", "volume_ml": 1000}
        return {
            "material_id": resin["id"],
            "printer_id": self.post("/api/printers", PRINTER | printer, 201)["id"],
            "finish_route_id": self.post("/api/finish-routes", ROUTE, 201)["id"],
            "bottle_id": self.post("/api/bottles", bottle, 201)["id"],
        }

    def calibration(self, shelf: dict[str, str] | None = None, **changes: Any) -> Any:
        given = {
            **(shelf or self.shelf()),
            "layer_height_um": 50,
            "low_s": 1.5,
            "high_s": 4,
            "limits": LIMITS,
            "settings": {},
            **changes,
        }
        return self.post("/api/calibrations", given, 201)

    def again(self, calibration: Any) -> Any:
        return self.get(f"/api/calibrations/{calibration['id']}")

    def plan(
        self, calibration: Any, exposures: list[float], kind: str = "flat", arm: int = 0, **more: Any
    ) -> list[str]:
        body = {"kind": kind, "exposures_s": exposures, **more}
        return self.post(f"/api/arms/{calibration['arms'][arm]['id']}/plan", body, 201)["coupons"]

    def print(self, code: str, temp_c: float = 24) -> None:
        print_id = self.get(f"/api/coupons/{code}")["print_id"]
        self.post(f"/api/prints/{print_id}/printed", {"temp_c": temp_c, "temp_place": "room"})

    def seen(self, code: str, exposure_s: float | None = None) -> list[dict[str, Any]]:
        """What a person would note of this coupon; ``exposure_s`` when it is mistaken for another."""
        coupon = self.get(f"/api/coupons/{code}")
        light = exposure_s or coupon["exposure_s"] * (coupon["dose_ratio"] or 1.0)
        return noted(coupon["plan"]["kind"], light, self.noise, self.truth, self.machine)

    def read(self, code: str, features: list[dict[str, Any]] | None = None, expected: int = 201, **more: Any) -> Any:
        body = {"features": self.seen(code) if features is None else features, **more}
        return self.post(f"/api/coupons/{code}/readings", body, expected)

    def series(self, calibration: Any, exposures: list[float], kind: str = "flat", **more: Any) -> list[str]:
        codes = self.plan(calibration, exposures, kind, **more)
        for code in codes:
            self.print(code)
            self.read(code)
        return codes

    def led(self, calibration: Any, latitude: bool = False, most: int = 14) -> Any:
        """Print and read what is suggested until it says to stop; with ``latitude`` until both ends are found too."""
        for _ in range(most):
            suggested = self.again(calibration)["arms"][0]["next"]
            further = suggested["advice"]["further"]
            if suggested["exposures_s"]:
                again = {"is_repeat": suggested["is_repeat"]}
                self.series(calibration, suggested["exposures_s"], suggested["advice"]["kind"], **again)
            elif latitude and further:
                self.series(calibration, [further["exposure_s"]], further["kind"])
            else:
                break
        return self.again(calibration)

    def issue(self, calibration: Any, expected: int = 201, **changes: Any) -> Any:
        """Issue at the centre of the first arm's window."""
        arm = calibration["arms"][0]
        policies = (arm["window"] or {}).get("policies") or {"centre": 2.4}
        given = {
            "version": calibration["version"],
            "arm_id": arm["id"],
            "policy": "centre",
            "exposure_s": policies["centre"],
            "reason": "The funnels need both ends.",
            **changes,
        }
        return self.post(f"/api/calibrations/{calibration['id']}/issue", given, expected)

    def decided(self) -> Any:
        """A calibration whose window is found; in a lab where nothing was done yet, copied from one prepared before."""
        untouched = self.changes <= 1 and self.truth is TRUTH and self.machine is MACHINE
        if self.prepared is not None and self.path is not None and untouched:
            held = self.prepared()
            with closing(sqlite3.connect(held.path)) as source, closing(sqlite3.connect(self.path, timeout=30)) as own:
                source.backup(own)
            self.clock.now = held.now
            self.noise.setstate(held.noise)
            return self.get(f"/api/calibrations/{held.calibration_id}")
        return self.decide()

    def decide(self) -> Any:
        """A calibration whose window is found, printed and read here."""
        calibration = self.calibration()
        self.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.8])
        self.series(calibration, [1.9, 2.1, 2.3], "support")
        return self.again(calibration)


def brief(lab: Lab, requirements=OF_THE_SET, expected=201, name="Baffle"):
    """A brief over what a set itself shows."""
    return lab.post("/api/briefs", {"name": name, "requirements": requirements}, expected)


def sign(lab: Lab, held, card, expected=201, **changes):
    """Sign the verdict of a brief over a set, as it was looked at."""
    judged = lab.get(f"/api/qualify/{held['code']}/{card['code']}")
    seen = [
        {"property": j["demand"]["property"], "status": j["status"], "source": (j["used"] or {}).get("source")}
        for j in judged["judged"]
    ]
    given = {
        "brief_id": held["id"],
        "set_code": card["code"],
        "evidence_hash": judged["evidence_hash"],
        "initials": "IM",
        "seen": seen,
        **changes,
    }
    return lab.post("/api/qualifications", given, expected)
