"""Eight calibrations at Skerry Point, each in another state."""

from __future__ import annotations

import random
import sqlite3
from contextlib import closing
from dataclasses import dataclass, replace
from datetime import timedelta
from pathlib import Path
from typing import Any

from ..core.evidence import Limits
from ..core.settings import Settings
from ..core.ways import effective_exposure_s
from ..coupon import KINDS
from ..coupon.lettering import embossed
from ..services import (
    blind,
    calibrations,
    checks,
    confirming,
    depth,
    events,
    first_layer,
    issue,
    photos,
    planning,
    plates,
    print_log,
    printing,
    readings,
    virtual,
)
from ..services.bench import Bench, seeded_ids
from ..services.calibrations import CalibrationView
from ..services.cards import SetCard
from ..services.coupon_files import design_of
from ..services.shelf import bottles, finish_routes, printers, resins, technicians
from ..simulate.camera import photograph
from ..simulate.hidden import Conditions, Machine, Material
from ..simulate.printed import print_coupon
from ..simulate.reader import Reader, read
from ..store import calibrations as store
from ..store import shelf
from ..store.database import connect, migrate, writing
from ..store.rows import insert, update
from . import stock
from .blending import blending
from .climate import climate
from .qualifying import qualifying, tray_cover
from .shed import DEMO_NOW, SEED, Shed
from .strength_tests import tests


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
        _plates(shed, ids)
        for campaign in (
            _slate_on_cormorant, _slate_on_gannet, _parts, _hullform_on_sanderling, _ironwrack_in_the_cold,
            _kelpflex_swapped, _tideglass_on_cormorant, _hullform_only_under, _rinsewell_just_planned,
            _slate_on_the_simulated_printer, _ironwrack_on_one_plate, _a_second_pair_of_eyes, _a_fading_screen, _a_topped_up_vat,
            tests, blending, climate, qualifying,
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


# Screen hours of Gannet at its monthly check coupons.
FADING_HOURS = (1900, 2010, 2115, 2230, 2330, 2440, 2550, 2655, 2760, 2860)


@dataclass(frozen=True)
class Truth:
    """What a printer and a material hide."""

    machine: Machine
    material: Material


def _truth(material: str, printer: str) -> Truth:
    return Truth(stock.MACHINES[printer], stock.MATERIALS[material])


def _plan(
    shed: Shed, arm_id: str, exposures: list[float], kind: str = "flat", repeat: bool = False, way: str = "separate"
) -> planning.Planned:
    given = planning.PlanInput.model_validate({"kind": kind, "exposures_s": exposures, "is_repeat": repeat, "way": way})
    return planning.plan(shed.bench, arm_id, given)


def _print(shed: Shed, made: planning.Planned, temp_c: float) -> None:
    for print_id in made.print_ids:
        shed.pass_time(minutes=16)
        printing.printed(shed.bench, print_id, printing.PrintedInput(temp_c=temp_c, temp_place="chamber air"))


def _read(
    shed: Shed, code: str, truth: Truth, *, temp_c: float = 24, bias_mm: float = 0.0, photo: bool = False,
    swap_exposure_s: float | None = None, **flags: Any,
) -> None:  # fmt: skip
    """Read a coupon as its hidden truth made it. ``swap_exposure_s``: it was mistaken for another."""
    shed.pass_time(minutes=7)
    row = store.coupon(shed.bench.db, code)
    assert row is not None
    arm = store.arm(shed.bench.db, row.arm_id)
    calibration = store.calibration(shed.bench.db, arm.calibration_id) if arm else None
    printer = shelf.printer(shed.bench.db, calibration.printer_id) if calibration else None
    assert arm is not None and calibration is not None and printer is not None
    settings = Settings.model_validate(arm.settings)
    given = Conditions(
        exposure_s=swap_exposure_s or effective_exposure_s(row.exposure_s, row.dose_ratio), layer_mm=calibration.layer_height_um / 1000, temp_c=temp_c,
        rest_s=virtual.true_rest_s(settings, printer), lift_mm_min=settings.lift_mm_min,
        screen_hours=printer.screen_hours,
    )  # fmt: skip
    printed = print_coupon(
        design_of(shed.bench, row), truth.machine, truth.material, given, shed.noise.randrange(10**9)
    )
    seen = read(printed, shed.noise.randrange(10**9), Reader(caliper_bias_mm=bias_mm))
    lost = set(flags.pop("lost", ()))
    features = [
        readings.FeatureInput.model_validate(
            {"key": s.key, "state": "lost" if s.key in lost else s.state, "measured_mm": s.measured_mm}
        )
        for s in seen
    ]
    readings.read(shed.bench, code, readings.ReadingInput(features=features, **flags))
    if photo:
        lettered = embossed(printed.coupon, row.code, f"{row.exposure_s:g}s")
        photos.add(shed.bench, code, photograph(printed, lettered, shed.noise.randrange(10**9)))


def _series(
    shed: Shed, arm_id: str, truth: Truth, exposures: list[float], kind: str = "flat", temp_c: float = 24, **how: Any
) -> planning.Planned:
    made = _plan(shed, arm_id, exposures, kind)
    _print(shed, made, temp_c)
    shed.pass_time(minutes=70)
    for code in made.coupons:
        _read(shed, code, truth, temp_c=temp_c, **how)
    return made


MOST_LED = 16
"""Coupons that the demo lets the app ask for before it must have decided."""


def _led(shed: Shed, calibration_id: str, truth: Truth, temp_c: float = 24, latitude: bool = False, **how: Any) -> None:
    """Print and read what the app suggests, until it says to stop; with ``latitude`` until both ends are found too."""
    for _ in range(MOST_LED):
        arm = calibrations.calibration(shed.bench, calibration_id).arms[0]
        assert arm.next is not None
        advice, further = arm.next.advice, arm.next.advice.further
        if arm.next.exposures_s and advice.kind is not None:
            made = _plan(shed, arm.id, arm.next.exposures_s, advice.kind, arm.next.is_repeat)
        elif latitude and further is not None:
            made = _plan(shed, arm.id, [further.exposure_s], further.kind)
        else:
            return
        _print(shed, made, temp_c)
        shed.pass_time(minutes=70)
        for code in made.coupons:
            _read(shed, code, truth, temp_c=temp_c, **how)


def _depth(shed: Shed, calibration_id: str, truth: Truth, times: list[float]) -> None:
    """Squares measured at three places each."""
    held = depth.plan_squares(shed.bench, calibration_id, depth.SquaresInput(exposures_s=times))
    for square in held.squares:
        shed.pass_time(minutes=4)
        given = Conditions(square.exposure_s, temp_c=22)
        printed = print_coupon(
            KINDS["depth"](0.035, 0.3), truth.machine, truth.material, given, shed.noise.randrange(10**9)
        )
        thick = printed.thickness_mm or 0.0
        values = [round(max(thick + shed.noise.gauss(0, 0.008), 0.01), 2) for _ in range(3)]
        depth.measure(shed.bench, square.id, depth.DepthReadingInput(thicknesses_mm=values, temp_c=22))
    depth.change_settings(shed.bench, calibration_id, depth.DepthSettings(irradiance_mw_cm2=2.6))


def _first_layer(shed: Shed, calibration_id: str) -> None:
    """Too little grip, checked, more light, found."""
    checks = ["level", "zero", "resin", "bubbles"]
    for seconds, rating, thickness, checked in ((18.0, 1, 0.09, []), (18.0, 2, 0.07, checks), (23.4, 3, 0.062, [])):
        shed.pass_time(minutes=9)
        given = first_layer.BaseTryInput.model_validate(
            {"base_exposure_s": seconds, "rating": rating, "thickness_mm": thickness, "checked": checked}
        )
        first_layer.add_try(shed.bench, calibration_id, given)


def _plates(shed: Shed, ids: dict[str, str]) -> None:
    """A light meter's map of one printer, a scratch on another."""
    shed.work_as("TO")
    readings = [[2.31, 2.44, 2.47, 2.36], [2.42, 2.61, 2.64, 2.49], [2.28, 2.43, 2.45, 2.3]]
    given = plates.PlateMapInput(readings=readings, reference_cell=(1, 2), note="Meter zeroed in the dark first.")
    plates.add_map(shed.bench, ids["Sanderling"], given)
    scratch = plates.DefectInput(x_mm=9, y_mm=28, width_mm=2, height_mm=14, note="Scratch in the film")
    plates.add_defect(shed.bench, ids["Gannet"], scratch)


def _chosen(shed: Shed, view: CalibrationView, policy: str) -> float:
    """What a policy offers on the evidence so far, s."""
    window = calibrations.calibration(shed.bench, view.id).arms[0].window
    assert window is not None and window.policies is not None, f"{view.code} offers nothing"
    exposure_s = window.policies[policy]
    assert exposure_s is not None
    return exposure_s


def _issue(shed: Shed, view: CalibrationView, policy: str, reason: str, band: tuple[float, float]) -> SetCard:
    now = calibrations.calibration(shed.bench, view.id)
    given = issue.IssueInput.model_validate(
        {
            "version": now.version, "arm_id": now.arms[0].id, "exposure_s": _chosen(shed, view, policy), "policy": policy,
            "reason": reason, "temp_low_c": band[0], "temp_high_c": band[1],
        }
    )  # fmt: skip
    return issue.issue(shed.bench, view.id, given)


def _slate_on_cormorant(shed: Shed, ids: dict[str, str]) -> None:
    """Issued, with photos and both kinds of coupon."""
    shed.work_as("IM")
    view = _start(shed, ids, "Slate 2", "Cormorant")
    truth, arm = _truth("Slate 2", "Cormorant"), view.arms[0].id
    _series(shed, arm, truth, [1.5, 2.3, 3.5, 5.4], photo=True)
    _led(shed, view.id, truth, latitude=True)
    _confirm(shed, view, _chosen(shed, view, "centre"))
    _issue(
        shed, view, "centre", "Filter baffles need walls and slots alike; the middle is furthest from both.", (21, 27)
    )


def _slate_on_gannet(shed: Shed, ids: dict[str, str]) -> None:
    """Issued on the old printer; one coupon lost its right side, which points to level."""
    shed.work_as("RB")
    view = _start(shed, ids, "Slate 2", "Gannet", settings={"rest_before_s": 12})
    truth, arm = _truth("Slate 2", "Gannet"), view.arms[0].id
    _series(shed, arm, truth, [5.0, 6.6])
    made = _plan(shed, arm, [8.0])
    _print(shed, made, 23)
    _read(
        shed,
        made.coupons[0],
        replace(truth, machine=replace(truth.machine, tilt=-1.0)),
        note="Right side thin from front to back.",
    )
    _series(shed, arm, truth, [11.2, 14.6])
    _led(shed, view.id, truth, temp_c=23, latitude=True)
    _issue(shed, view, "support-safe", "Funnels stand on thin ready-made supports; hold them first.", (20, 26))


def _parts(shed: Shed, ids: dict[str, str]) -> None:
    """Parts printed with the issued sets: most whole, one night too cold."""
    shed.work_as("RB")
    name = print_log.PrintedPartInput
    for printer, code, temp_c, used, parts, seen in (
        ("Cormorant", "S-001", 22.5, 31, [name(name="filter baffle", place="centre"), name(name="filter baffle", place="left")], ""),
        ("Cormorant", "S-001", 9.0, 44, [name(name="larva-trap funnel"), name(name="sensor clip", outcome="missing")],
         "Shed at 9 °C. First layers pale, one clip in the vat."),
        ("Gannet", "S-002", 21.0, 58, [name(name="drifter hinge", place="back")], "Thin line along the scratch."),
    ):  # fmt: skip
        shed.pass_time(hours=3)
        given = print_log.LogInput(
            printer_id=ids[printer],
            set_code=code,
            temp_c=temp_c,
            temp_place="room",
            volume_ml=used,
            parts=parts,
            seen=seen,
            outside_band="The funnels were promised for the tide." if temp_c < 20 else "",
        )
        made = print_log.log(shed.bench, given)
        if made.outcome != "whole":
            shed.pass_time(minutes=25)
            print_log.vat_searched(shed.bench, made.id)


def _confirm(shed: Shed, view: CalibrationView, exposure_s: float) -> None:
    for place in ("centre", "worst place"):
        shed.pass_time(minutes=40)
        given = confirming.ConfirmInput.model_validate(
            {"arm_id": view.arms[0].id, "exposure_s": exposure_s, "place": place, "what": "filter baffle"}
        )
        confirming.confirm(shed.bench, view.id, given)


def _hullform_on_sanderling(shed: Shed, ids: dict[str, str]) -> None:
    """Ready to decide."""
    shed.work_as("TO")
    view = _start(shed, ids, "Hullform", "Sanderling", settings={"rest_before_s": 2.5})
    truth, arm = _truth("Hullform", "Sanderling"), view.arms[0].id
    _series(shed, arm, truth, [1.5, 2.4], lost=("wall-left-1", "wall-right-1", "slot-left-2"))
    _series(shed, arm, truth, [3.9, 6.3], photo=True)
    shed.work_as("RB")
    _led(shed, view.id, truth)


def _ironwrack_in_the_cold(shed: Shed, ids: dict[str, str]) -> None:
    """Cold resin starves its layers: the lanes do not overlap, and a warm arm is begun."""
    shed.work_as("IM")
    view = _start(shed, ids, "Ironwrack", "Cormorant", note="7 °C in the shed this morning.")
    truth, arm = _truth("Ironwrack", "Cormorant"), view.arms[0].id
    _series(shed, arm, truth, [2.0, 3.3, 5.6, 9.4], temp_c=11)
    _led(shed, view.id, truth, temp_c=11)
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
    _depth(shed, view.id, truth, [2.5, 5, 10, 20])
    _first_layer(shed, view.id)
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


def _slate_on_the_simulated_printer(shed: Shed, ids: dict[str, str]) -> None:
    """Practice: printed by physics; two coupons are read, one waits, one is planned."""
    shed.time = DEMO_NOW - timedelta(hours=1)
    shed.work_as("TO")
    view = _start(shed, ids, "Slate 2", "Guillemot", note="For practice: the printer is a simulated one.")
    made = _plan(shed, view.arms[0].id, [1.5, 2.1, 2.9, 4.0])
    for print_id in made.print_ids[:3]:
        shed.pass_time(minutes=3)
        order = virtual.VirtualOrder(print_id=print_id, temp_c=22, speed=1_000_000, initials="TO")
        virtual.run(shed.bench, lambda share, message: None, order.model_dump())
    for code in made.coupons[:2]:
        shed.pass_time(minutes=6)
        seen = virtual.reading(shed.bench, code, virtual.ReaderInput())
        readings.read(shed.bench, code, readings.ReadingInput(features=seen.features))


def _ironwrack_on_one_plate(shed: Shed, ids: dict[str, str]) -> None:
    """One print, places shuffled, light corrected by the plate map."""
    shed.time = DEMO_NOW - timedelta(hours=20)
    shed.work_as("IM")
    view = _start(shed, ids, "Ironwrack", "Sanderling", settings={"rest_before_s": 3})
    truth, arm = _truth("Ironwrack", "Sanderling"), view.arms[0].id
    made = _plan(shed, arm, [2.0, 2.9, 4.2, 6.1], way="plate")
    _print(shed, made, 24)
    shed.pass_time(minutes=70)
    for code in made.coupons:
        _read(shed, code, truth)


def _a_second_pair_of_eyes(shed: Shed, ids: dict[str, str]) -> None:
    """RB reads a coupon of TO's again, blind, and reads bars larger."""
    shed.time = DEMO_NOW - timedelta(hours=3)
    row = next(c for c in store.listed(shed.bench.db, "", 50) if c.material == "Tideglass")
    arm = store.arms(shed.bench.db, row.id)[0]
    coupon = next(c for c in store.coupons(shed.bench.db, [arm.id]) if c.status == "printed")
    shed.work_as("TO")
    asked = blind.ask(shed.bench, coupon.code)
    shed.work_as("RB")
    current = readings.coupon(shed.bench, coupon.code).reading
    assert current is not None
    features = [
        readings.FeatureInput(
            key=f.feature_key,
            state=f.state,
            measured_mm=None if f.measured_mm is None else round(f.measured_mm + 0.04, 3),
        )
        for f in current.features
    ]
    changed = next(i for i, f in enumerate(features) if f.state == "formed" and f.key.startswith("wall"))
    features[changed] = features[changed].model_copy(update={"state": "partial"})
    blind.read(shed.bench, asked.id, blind.BlindInput(features=features, note="The thin walls lean."))


def _a_fading_screen(shed: Shed, ids: dict[str, str]) -> None:
    """Rinsewell on Gannet, issued ten months ago; a check coupon a month shows the old screen fading."""
    shed.work_as("RB")
    shed.time = DEMO_NOW - timedelta(days=300)
    hours = FADING_HOURS[0]
    update(shed.bench.db, "printer", ids["Gannet"], screen_hours=hours)
    view = _start(shed, ids, "Rinsewell", "Gannet")
    truth, arm = _truth("Rinsewell", "Gannet"), view.arms[0].id
    _series(shed, arm, truth, [5.2, 7.8, 11.6, 17.0])
    _led(shed, view.id, truth, latitude=True)
    card = _issue(shed, view, "centre", "Covers and trays: furthest from both failures.", (21, 27))
    for month, hours in enumerate(FADING_HOURS):
        shed.time = DEMO_NOW - timedelta(days=290 - 28 * month)
        update(shed.bench.db, "printer", ids["Gannet"], screen_hours=hours)
        _check_coupon(shed, card.code, truth)
    update(shed.bench.db, "printer", ids["Gannet"], screen_hours=stock.PRINTERS["Gannet"]["screen_hours"])


def _a_topped_up_vat(shed: Shed, ids: dict[str, str]) -> None:
    """Hullform on Gannet held until somebody topped the vat up with something else."""
    shed.work_as("TO")
    # Found again in every season: together they tell what temperature does to its exposure.
    for days, temp_c in ((260, 20), (180, 28), (80, 24)):
        shed.time = DEMO_NOW - timedelta(days=days)
        view = _start(shed, ids, "Hullform", "Gannet")
        truth, arm = _truth("Hullform", "Gannet"), view.arms[0].id
        _series(shed, arm, truth, [5.2, 8.0, 12.3, 19.0], temp_c=temp_c)
        _led(shed, view.id, truth, temp_c=temp_c, latitude=True)
        _issue(shed, view, "centre", "Funnels: walls and slots alike.", (temp_c - 3, temp_c + 3))
    tray_cover(shed, ids)
    shed.time = DEMO_NOW - timedelta(days=2)
    event = events.EventInput(
        kind="vat-topped-up", printer_id=ids["Gannet"], material_id=ids["Hullform"], note="With Slate 2, about a third."
    )
    events.record(shed.bench, event)


def _check_coupon(shed: Shed, set_code: str, truth: Truth) -> None:
    made = checks.plan(shed.bench, set_code)
    shed.pass_time(minutes=16)
    printing.printed(shed.bench, made.print_id, printing.PrintedInput(temp_c=24, temp_place="chamber air"))
    shed.pass_time(minutes=70)
    _read(shed, made.coupon, truth)


def _rinsewell_just_planned(shed: Shed, ids: dict[str, str]) -> None:
    """A ladder planned this morning; two coupons are printed and wait for a reading."""
    shed.time = DEMO_NOW - timedelta(hours=2)
    shed.work_as("RB")
    view = _start(shed, ids, "Rinsewell", "Sanderling")
    made = _plan(shed, view.arms[0].id, [1.5, 2.15, 3.1, 4.5])
    for print_id in made.print_ids[:2]:
        shed.pass_time(minutes=16)
        printing.printed(shed.bench, print_id, printing.PrintedInput(temp_c=21.4, temp_place="room"))
