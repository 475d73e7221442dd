"""Eight calibrations at Skerry Point, each in another state."""

from __future__ import annotations

import random
import sqlite3
from contextlib import closing
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from ..core.evidence import Limits
from ..core.settings import Settings
from ..services import calibrations, issue, photos, planning, readings
from ..services.bench import Bench, seeded_ids
from ..services.calibrations import CalibrationView
from ..services.shelf import bottles, finish_routes, printers, resins, technicians
from ..simulate.exposure import Truth, expose
from ..simulate.picture import picture
from ..store.database import connect, migrate, writing
from ..store.rows import insert
from . import stock

DEMO_NOW = datetime(2026, 1, 21, 8, 40, tzinfo=UTC)
SEED = 20260121


@dataclass
class Shed:
    """The print room while the demo is made: a clock that is moved by hand, and one source of chance."""

    bench: Bench
    noise: random.Random
    time: datetime = DEMO_NOW - timedelta(days=12)

    def pass_time(self, **length: float) -> None:
        self.time += timedelta(**length)

    def work_as(self, initials: str) -> None:
        self.bench.initials = initials


def build(path: Path) -> None:
    """Make the demo file: same seed, same clock, same rows."""
    migrate(path)
    db = connect(path)
    shed = Shed(Bench(db, new_id=seeded_ids(SEED)), random.Random(SEED))
    shed.bench.clock = lambda: shed.time
    try:
        with writing(db):
            insert(db, "setting", name="demo", value="true")
        ids = _stock_the_shelf(shed)
        for campaign in (
            _slate_on_cormorant, _slate_on_gannet, _hullform_on_sanderling, _ironwrack_in_the_cold,
            _kelpflex_swapped, _tideglass_on_cormorant, _hullform_only_under, _rinsewell_just_planned,
        ):  # fmt: skip
            campaign(shed, ids)
            shed.pass_time(hours=5)
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    finally:
        db.close()


def is_demo(path: Path) -> bool:
    """Whether a file was made by :func:`build`; anything else may be somebody's data."""
    try:
        with closing(sqlite3.connect(path)) as db:
            return db.execute("SELECT 1 FROM setting WHERE name = 'demo'").fetchone() is not None
    except sqlite3.DatabaseError:
        return False


def _stock_the_shelf(shed: Shed) -> dict[str, str]:
    bench = shed.bench
    ids = {}
    for initials in stock.TECHNICIANS:
        technicians.add_technician(bench, technicians.TechnicianInput(initials=initials))
    for name, printer in stock.PRINTERS.items():
        ids[name] = printers.add_printer(bench, printers.PrinterInput(name=name, **printer)).id
    for name, route in stock.ROUTES.items():
        ids[name] = finish_routes.add_finish_route(bench, finish_routes.FinishRouteInput(name=name, **route)).id
    for number, (name, resin) in enumerate(stock.RESINS.items(), 1):
        ids[name] = resins.add_resin(bench, resins.ResinInput(name=name, **resin)).id
        bottle = bottles.BottleInput(
            material_id=ids[name], lot=f"{name[:2].upper()}-{2500 + 37 * number}", received_on="2025-11-18",
            opened_on="2026-01-05", best_before="2027-05-31", volume_ml=1000, left_ml=1000 - 90 * number,
        )  # fmt: skip
        ids[f"bottle {name}"] = bottles.add_bottle(bench, bottle).id
    return ids


def _start(
    shed: Shed, ids: dict[str, str], material: str, printer: str, layer_height_um: float = 50, **changes: Any
) -> CalibrationView:
    """Open a calibration with the maker's range and limits that fit the printer's coupons."""
    resin = stock.RESINS[material]
    slow = 3.0 if printer == "Gannet" else 1.0
    sizes = calibrations.printer_series(shed.bench, ids[printer])
    limits = {
        "growth_tol_um": 45,
        "walls_size_mm": _nearest(sizes.walls_mm, 0.2),
        "slots_size_mm": _nearest(sizes.slots_mm, 0.34),
        "tips_size_mm": _nearest(sizes.tips_mm, 0.43),
        **changes.pop("limits", {}),
    }
    route = "Tap-water rinse" if resin["wash_class"] == "water" else "Two-bath solvent"
    return calibrations.open_calibration(
        shed.bench,
        calibrations.CalibrationInput(
            material_id=ids[material], printer_id=ids[printer], bottle_id=ids[f"bottle {material}"],
            finish_route_id=ids[route], layer_height_um=layer_height_um,
            low_s=resin["maker_low_s"] * slow, high_s=resin["maker_high_s"] * slow, limits=Limits(**limits),
            settings=Settings(**changes.pop("settings", {})), **changes,
        ),
    )  # fmt: skip


def _nearest(sizes: list[float], wanted: float) -> float:
    return min(sizes, key=lambda size: abs(size - wanted))


def _truth(material: str, printer: str, **changes: Any) -> Truth:
    truth = stock.TRUTHS[material]
    return replace(truth, critical_exposure_s=truth.critical_exposure_s / stock.LIGHT[printer], **changes)


def _plan(
    shed: Shed, arm_id: str, exposures: list[float], kind: str = "flat", repeat: bool = False
) -> planning.Planned:
    given = planning.PlanInput.model_validate({"kind": kind, "exposures_s": exposures, "is_repeat": repeat})
    return planning.plan(shed.bench, arm_id, given)


def _print(shed: Shed, made: planning.Planned, temp_c: float) -> None:
    for print_id in made.print_ids:
        shed.pass_time(minutes=16)
        planning.printed(shed.bench, print_id, planning.PrintedInput(temp_c=temp_c, temp_place="chamber air"))


def _read(
    shed: Shed, code: str, truth: Truth, *, temp_c: float = 24, bias_mm: float = 0.0, photo: str | None = None,
    swap_exposure_s: float | None = None, **flags: Any,
) -> None:  # fmt: skip
    """Read a coupon as its hidden truth made it. ``swap_exposure_s``: it was mistaken for another."""
    shed.pass_time(minutes=7)
    coupon = readings.coupon(shed.bench, code)
    seen = expose(
        coupon.plan.features, swap_exposure_s or coupon.exposure_s, truth, coupon.layer_height_um / 1000, temp_c,
        shed.noise, bias_mm,
    )  # fmt: skip
    lost = set(flags.pop("lost", ()))
    features = [
        readings.FeatureInput.model_validate(
            {"key": s.key, "state": "lost" if s.key in lost else s.state, "measured_mm": s.measured_mm}
        )
        for s in seen
    ]
    readings.read(shed.bench, code, readings.ReadingInput(features=features, **flags))
    if photo:
        states = {s.key: s.state for s in seen if s.state}
        shot = picture(coupon.plan.model_dump(mode="json"), states, stock.TINTS[photo], shed.noise.randrange(10**6))
        photos.add(shed.bench, code, shot)


def _series(
    shed: Shed, arm_id: str, truth: Truth, exposures: list[float], kind: str = "flat", temp_c: float = 24, **how: Any
) -> planning.Planned:
    made = _plan(shed, arm_id, exposures, kind)
    _print(shed, made, temp_c)
    shed.pass_time(minutes=70)
    for code in made.coupons:
        _read(shed, code, truth, temp_c=temp_c, **how)
    return made


def _issue(shed: Shed, view: CalibrationView, policy: str, reason: str, band: tuple[float, float]) -> None:
    now = calibrations.calibration(shed.bench, view.id)
    window = now.arms[0].window
    assert window is not None and window.policies is not None
    given = issue.IssueInput.model_validate(
        {
            "version": now.version, "arm_id": now.arms[0].id, "exposure_s": window.policies[policy], "policy": policy,
            "reason": reason, "temp_low_c": band[0], "temp_high_c": band[1],
        }
    )  # fmt: skip
    issue.issue(shed.bench, view.id, given)


def _slate_on_cormorant(shed: Shed, ids: dict[str, str]) -> None:
    """Issued, with photos and both kinds of coupon."""
    shed.work_as("IM")
    view = _start(shed, ids, "Slate 2", "Cormorant")
    truth, arm = _truth("Slate 2", "Cormorant"), view.arms[0].id
    _series(shed, arm, truth, [1.5, 2.0, 2.6, 3.3, 4.2], photo="Slate 2")
    _series(shed, arm, truth, [1.8, 2.2, 2.7], kind="support")
    _issue(
        shed, view, "centre", "Filter baffles need walls and slots alike; the middle is furthest from both.", (21, 27)
    )


def _slate_on_gannet(shed: Shed, ids: dict[str, str]) -> None:
    """Issued on the old printer; one coupon lost its right side, which points to level."""
    shed.work_as("RB")
    view = _start(shed, ids, "Slate 2", "Gannet", settings={"rest_before_s": 12})
    truth, arm = _truth("Slate 2", "Gannet"), view.arms[0].id
    _series(shed, arm, truth, [5.0, 6.6])
    made = _plan(shed, arm, [8.6])
    _print(shed, made, 23)
    _read(shed, made.coupons[0], replace(truth, right_light=0.74), note="Right side thin from front to back.")
    _series(shed, arm, truth, [11.2, 14.6])
    _series(shed, arm, truth, [6.0, 7.4, 9.0], kind="support")
    _issue(shed, view, "support-safe", "Funnels stand on thin ready-made supports; hold them first.", (20, 26))


def _hullform_on_sanderling(shed: Shed, ids: dict[str, str]) -> None:
    """Ready to decide."""
    shed.work_as("TO")
    view = _start(shed, ids, "Hullform", "Sanderling", settings={"rest_before_s": 2.5})
    truth, arm = _truth("Hullform", "Sanderling"), view.arms[0].id
    _series(shed, arm, truth, [1.5, 2.0, 2.55, 3.25, 4.2, 6.35], photo="Hullform")
    _series(shed, arm, truth, [1.8, 2.0, 2.15, 2.3], kind="support")
    shed.work_as("RB")
    _series(shed, arm, truth, [2.25, 4.55], lost=("wall-left-1", "wall-right-1", "slot-left-2"))


def _ironwrack_in_the_cold(shed: Shed, ids: dict[str, str]) -> None:
    """Cold resin starves its layers: the lanes do not overlap, and a warm arm is begun."""
    shed.work_as("IM")
    view = _start(shed, ids, "Ironwrack", "Cormorant", note="7 °C in the shed this morning.")
    truth, arm = _truth("Ironwrack", "Cormorant"), view.arms[0].id
    _series(shed, arm, truth, [2.0, 2.8, 3.8, 5.2, 7.0, 9.4], temp_c=11)
    _series(shed, arm, truth, [5.2, 7.0, 8.2, 9.4, 11.0, 12.5], kind="support", temp_c=11)
    given = calibrations.ArmInput(name="rest 4 s", settings=Settings(rest_before_s=4))
    calibrations.start_arm(shed.bench, view.id, given)


def _kelpflex_swapped(shed: Shed, ids: dict[str, str]) -> None:
    """Two coupons changed places before they were read."""
    shed.work_as("RB")
    view = _start(shed, ids, "Kelpflex", "Sanderling")
    truth, arm = _truth("Kelpflex", "Sanderling"), view.arms[0].id
    made = _plan(shed, arm, [4.0, 9.0])
    _print(shed, made, 25)
    _read(shed, made.coupons[0], truth, swap_exposure_s=9.0)
    _read(shed, made.coupons[1], truth, swap_exposure_s=4.0)


def _tideglass_on_cormorant(shed: Shed, ids: dict[str, str]) -> None:
    """Refining: three read, one damaged and left out, one waiting, one planned."""
    shed.work_as("TO")
    view = _start(shed, ids, "Tideglass", "Cormorant")
    truth, arm = _truth("Tideglass", "Cormorant"), view.arms[0].id
    _series(shed, arm, truth, [1.5, 3.0, 6.0], bias_mm=0.015)
    made = _plan(shed, arm, [2.1])
    _print(shed, made, 22)
    _read(shed, made.coupons[0], truth, damaged=True, note="Bent while lifting it off the plate.")
    waiting = _plan(shed, arm, [2.2])
    _print(shed, waiting, 22)
    _plan(shed, arm, [4.2])


def _hullform_only_under(shed: Shed, ids: dict[str, str]) -> None:
    """Only unders so far, at a thinner layer."""
    shed.work_as("IM")
    view = _start(shed, ids, "Hullform", "Cormorant", 30)
    truth, arm = _truth("Hullform", "Cormorant"), view.arms[0].id
    _series(shed, arm, truth, [1.0, 1.3])


def _rinsewell_just_planned(shed: Shed, ids: dict[str, str]) -> None:
    """A ladder planned this morning; two coupons are printed and wait for a reading."""
    shed.time = DEMO_NOW - timedelta(hours=2)
    shed.work_as("RB")
    view = _start(shed, ids, "Rinsewell", "Sanderling")
    made = _plan(shed, view.arms[0].id, [1.5, 2.15, 3.1, 4.5])
    for print_id in made.print_ids[:2]:
        shed.pass_time(minutes=16)
        planning.printed(shed.bench, print_id, planning.PrintedInput(temp_c=21.4, temp_place="room"))
