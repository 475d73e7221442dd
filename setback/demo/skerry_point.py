"""Eight calibrations at Skerry Point, each in another state."""

from __future__ import annotations

import random
import sqlite3
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from ..core.calibrate.ways import effective_exposure_s
from ..core.printing.settings import Settings
from ..core.window.lanes import Limits
from ..coupon import KINDS
from ..coupon.lettering import embossed
from ..services.calibrate import calibrations, depth, first_layer, planning
from ..services.calibrate import confirm as confirming
from ..services.calibrate.calibrations import CalibrationView
from ..services.files.coupon_files import design_of
from ..services.plate import light_maps as plates
from ..services.prints import print_log, printing, record, virtual
from ..services.prints.parts import CountedPart
from ..services.reading import blind, photos, readings
from ..services.sets import checks, events, issue
from ..services.sets.cards import SetCard
from ..services.shelf import bottles, finish_routes, printers, resins, technicians, wash_baths
from ..services.unit_of_work import UnitOfWork, iso, seeded_ids
from ..simulate.camera import photograph
from ..simulate.hidden import Conditions, Machine, Material
from ..simulate.printed import print_coupon
from ..simulate.reader import Reader, read
from ..store import journal, shelf
from ..store.calibrate import calibrations as store
from ..store.database import connect, migrate, tidy_up, writing
from ..store.lab import settings
from ..store.rows import update
from . import stock
from .blends import blending
from .climate import climate
from .in_use import in_use
from .plan import errands
from .prints import kelpflex_by_prints
from .qualify import qualifying, tray_cover
from .shed import DEMO_NOW, SEED, Shed
from .testing import tests
from .traces import traces


def story_end(day: datetime | None = None) -> datetime:
    """The hour at which the demo's story ends, on some day or today."""
    return (day.replace(tzinfo=UTC) if day else datetime.now(UTC)).replace(
        hour=DEMO_NOW.hour, minute=DEMO_NOW.minute, second=0, microsecond=0
    )


def build(path: Path, now: datetime = DEMO_NOW) -> None:
    """Make the demo file: same seed, same day, same rows. The story ends at ``now``, whole days from the day it was written for."""
    migrate(path)
    db = connect(path, keeps_journal=False)
    lab = Shed(UnitOfWork(db, new_id=seeded_ids(SEED)), random.Random(SEED), now, now - timedelta(days=12))
    lab.work.clock = lambda: lab.time
    try:
        with writing(db):
            settings.put(db, "demo", {"now": iso(now), "days_moved": lab.days_moved})
            settings.put(db, "lab", {"name": "Skerry Point", "currency": "£"})
        ids = _stock_the_shelf(lab)
        _plates(lab, ids)
        for campaign in (
            _slate_on_cormorant,
            _slate_on_gannet,
            _parts,
            _hullform_on_sanderling,
            _ironwrack_in_the_cold,
            _kelpflex_swapped,
            _tideglass_on_cormorant,
            _hullform_only_under,
            _rinsewell_just_planned,
            _slate_on_the_simulated_printer,
            _ironwrack_on_one_plate,
            _a_second_pair_of_eyes,
            _a_fading_screen,
            _a_topped_up_vat,
            tests,
            blending,
            climate,
            kelpflex_by_prints,
            traces,
            qualifying,
            errands,
        ):
            campaign(lab, ids)
            lab.pass_time(hours=5)
        in_use(lab, ids)
        # The lab's past is made up in no order of time: its journal begins where its clock does.
        db.moment = lambda: now
        journal.begin(db)
        tidy_up(db)
    finally:
        db.close()


def is_demo(path: Path) -> bool:
    """Whether a file was made by :func:`build`; anything else may be somebody's data."""
    try:
        with closing(connect(path, keeps_journal=False)) as db:
            return settings.value(db, "demo") is not None
    except sqlite3.DatabaseError:
        return False


def clock_of(path: Path) -> Callable[[], datetime] | None:
    """The clock of a demo file: it goes on from where its story or its newest entry ends. None for a lab's own file."""
    try:
        with closing(connect(path, keeps_journal=False)) as db:
            about = settings.value(db, "demo")
            if not isinstance(about, dict):
                return None
            newest = journal.newest_moment(db)
    except sqlite3.DatabaseError:
        return None
    begins = datetime.fromisoformat(max(about["now"], newest))
    started = datetime.now(UTC)
    return lambda: begins + (datetime.now(UTC) - started)


def _stock_the_shelf(lab: Shed) -> dict[str, str]:
    work = lab.work
    ids = {}
    for initials in stock.TECHNICIANS:
        technicians.add_technician(work, technicians.TechnicianInput(initials=initials))
    for name, printer in stock.PRINTERS.items():
        ids[name] = printers.add_printer(work, printers.PrinterInput(name=name, **printer)).id
    for name, route in stock.ROUTES.items():
        ids[name] = finish_routes.add_finish_route(work, finish_routes.FinishRouteInput(name=name, **route)).id
    for name, bath in stock.BATHS.items():
        wash_baths.add_wash_bath(work, wash_baths.WashBathInput(name=name, **bath))
    for number, (name, resin) in enumerate(stock.RESINS.items(), 1):
        ids[name] = resins.add_resin(work, resins.ResinInput(name=name, **resin)).id
        bottle = bottles.BottleInput(
            material_id=ids[name],
            lot=f"{name[:2].upper()}-{2500 + 37 * number}",
            received_on=lab.date("2025-11-18"),
            opened_on=lab.date("2026-01-05"),
            best_before=lab.date("2027-05-31"),
            volume_ml=1000,
            left_ml=1000 - 90 * number,
        )
        ids[f"bottle {name}"] = bottles.add_bottle(work, bottle).id
    return ids


def _start(
    lab: Shed, ids: dict[str, str], material: str, printer: str, layer_height_um: float = 50, **changes: Any
) -> CalibrationView:
    """Open a calibration with the maker's range and limits that fit the printer's coupons."""
    resin = stock.RESINS[material]
    slow = 3.0 if printer == "Gannet" else 1.0
    sizes = calibrations.printer_series(lab.work, ids[printer])
    limits = {
        "growth_tol_um": 45,
        "walls_size_mm": _nearest(sizes.walls_mm, 0.2),
        "slots_size_mm": _nearest(sizes.slots_mm, 0.34),
        "tips_size_mm": _nearest(sizes.tips_mm, 0.43),
        **changes.pop("limits", {}),
    }
    route = "Tap-water rinse" if resin["wash_class"] == "water" else "Two-bath solvent"
    return calibrations.open_calibration(
        lab.work,
        calibrations.CalibrationInput(
            material_id=ids[material],
            printer_id=ids[printer],
            bottle_id=ids[f"bottle {material}"],
            finish_route_id=ids[route],
            layer_height_um=layer_height_um,
            low_s=resin["maker_low_s"] * slow,
            high_s=resin["maker_high_s"] * slow,
            limits=Limits(**limits),
            settings=Settings(**changes.pop("settings", {})),
            **changes,
        ),
    )


def _nearest(sizes: list[float], size_mm: float) -> float:
    return min(sizes, key=lambda size: abs(size - size_mm))


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
    lab: Shed, arm_id: str, exposures: list[float], kind: str = "flat", repeat: bool = False, way: str = "separate"
) -> planning.Planned:
    request = planning.PlanInput.model_validate(
        {"kind": kind, "exposures_s": exposures, "is_repeat": repeat, "way": way}
    )
    return planning.plan(lab.work, arm_id, request)


def _print(lab: Shed, planned: planning.Planned, temp_c: float) -> None:
    for print_id in planned.print_ids:
        lab.pass_time(minutes=16)
        printing.printed(lab.work, print_id, record.PrintedInput(temp_c=temp_c, temp_place="chamber air"))


def _read(
    lab: Shed,
    code: str,
    truth: Truth,
    *,
    temp_c: float = 24,
    bias_mm: float = 0.0,
    photo: bool = False,
    swap_exposure_s: float | None = None,
    **flags: Any,
) -> None:
    """Read a coupon as its hidden truth made it. ``swap_exposure_s``: it was mistaken for another."""
    lab.pass_time(minutes=7)
    row = store.coupon(lab.work.db, code)
    assert row is not None
    arm = store.arm(lab.work.db, row.arm_id)
    calibration = store.calibration(lab.work.db, arm.calibration_id) if arm else None
    printer = shelf.printer(lab.work.db, calibration.printer_id) if calibration else None
    assert arm is not None and calibration is not None and printer is not None
    settings = Settings.model_validate(arm.settings)
    conditions = Conditions(
        exposure_s=swap_exposure_s or effective_exposure_s(row.exposure_s, row.dose_ratio),
        layer_mm=calibration.layer_height_um / 1000,
        temp_c=temp_c,
        rest_s=virtual.true_rest_s(settings, printer),
        lift_mm_min=settings.lift_mm_min,
        screen_hours=printer.screen_hours,
    )
    printed = print_coupon(
        design_of(lab.work, row), truth.machine, truth.material, conditions, lab.noise.randrange(10**9)
    )
    features_read = read(printed, lab.noise.randrange(10**9), Reader(caliper_bias_mm=bias_mm))
    lost = set(flags.pop("lost", ()))
    features = [
        readings.FeatureInput.model_validate(
            {"key": s.key, "state": "lost" if s.key in lost else s.state, "measured_mm": s.measured_mm}
        )
        for s in features_read
    ]
    readings.read(lab.work, code, readings.ReadingInput(features=features, **flags))
    if photo:
        lettered = embossed(printed.coupon, row.code, f"{row.exposure_s:g}s")
        photos.add(lab.work, code, photograph(printed, lettered, lab.noise.randrange(10**9)))


def _series(
    lab: Shed, arm_id: str, truth: Truth, exposures: list[float], kind: str = "flat", temp_c: float = 24, **how: Any
) -> planning.Planned:
    planned = _plan(lab, arm_id, exposures, kind)
    _print(lab, planned, temp_c)
    lab.pass_time(minutes=70)
    for code in planned.coupons:
        _read(lab, code, truth, temp_c=temp_c, **how)
    return planned


MOST_LED = 16
"""Coupons that the demo lets the app ask for before it must have decided."""


def _led(lab: Shed, calibration_id: str, truth: Truth, temp_c: float = 24, latitude: bool = False, **how: Any) -> None:
    """Print and read what the app suggests, until it says to stop; with ``latitude`` until both ends are found too."""
    for _ in range(MOST_LED):
        arm = calibrations.calibration(lab.work, calibration_id).arms[0]
        assert arm.next is not None
        advice, further = arm.next.advice, arm.next.advice.further
        if arm.next.exposures_s and advice.kind is not None:
            planned = _plan(lab, arm.id, arm.next.exposures_s, advice.kind, arm.next.is_repeat)
        elif latitude and further is not None:
            planned = _plan(lab, arm.id, [further.exposure_s], further.kind)
        else:
            return
        _print(lab, planned, temp_c)
        lab.pass_time(minutes=70)
        for code in planned.coupons:
            _read(lab, code, truth, temp_c=temp_c, **how)


def _depth(lab: Shed, calibration_id: str, truth: Truth, times: list[float]) -> None:
    """Squares measured at three places each."""
    depth_view = depth.plan_squares(lab.work, calibration_id, depth.SquaresInput(exposures_s=times))
    for square in depth_view.squares:
        lab.pass_time(minutes=4)
        conditions = Conditions(square.exposure_s, temp_c=22)
        printed = print_coupon(
            KINDS["depth"](0.035, 0.3), truth.machine, truth.material, conditions, lab.noise.randrange(10**9)
        )
        thick = printed.thickness_mm or 0.0
        values = [round(max(thick + lab.noise.gauss(0, 0.008), 0.01), 2) for _ in range(3)]
        depth.measure(lab.work, square.id, depth.DepthReadingInput(thicknesses_mm=values, temp_c=22))
    version = depth.depth(lab.work, calibration_id).version
    depth.change_settings(lab.work, calibration_id, depth.DepthChange(irradiance_mw_cm2=2.6, version=version))


def _first_layer(lab: Shed, calibration_id: str) -> None:
    """Too little grip, checked, more light, found."""
    checks = ["level", "zero", "resin", "bubbles"]
    for seconds, rating, thickness, checked in ((18.0, 1, 0.09, []), (18.0, 2, 0.07, checks), (23.4, 3, 0.062, [])):
        lab.pass_time(minutes=9)
        base_try = first_layer.BaseTryInput.model_validate(
            {"base_exposure_s": seconds, "rating": rating, "thickness_mm": thickness, "checked": checked}
        )
        first_layer.add_try(lab.work, calibration_id, base_try)


def _plates(lab: Shed, ids: dict[str, str]) -> None:
    """A light meter's map of one printer, a scratch on another."""
    lab.work_as("TO")
    readings = [[2.31, 2.44, 2.47, 2.36], [2.42, 2.61, 2.64, 2.49], [2.28, 2.43, 2.45, 2.3]]
    light_map = plates.PlateMapInput(readings=readings, reference_cell=(1, 2), note="Meter zeroed in the dark first.")
    plates.add_map(lab.work, ids["Sanderling"], light_map)
    scratch = plates.DefectInput(x_mm=9, y_mm=28, width_mm=2, height_mm=14, note="Scratch in the film")
    plates.add_defect(lab.work, ids["Gannet"], scratch)


def _chosen(lab: Shed, view: CalibrationView, policy: str) -> float:
    """What a policy offers on the evidence so far, s."""
    window = calibrations.calibration(lab.work, view.id).arms[0].window
    assert window is not None and window.policies is not None, f"{view.code} offers nothing"
    exposure_s = window.policies[policy]
    assert exposure_s is not None
    return exposure_s


def _issue(lab: Shed, view: CalibrationView, policy: str, reason: str, band: tuple[float, float]) -> SetCard:
    now = calibrations.calibration(lab.work, view.id)
    request = issue.IssueInput.model_validate(
        {
            "version": now.version,
            "arm_id": now.arms[0].id,
            "exposure_s": _chosen(lab, view, policy),
            "policy": policy,
            "reason": reason,
            "temp_low_c": band[0],
            "temp_high_c": band[1],
        }
    )
    return issue.issue(lab.work, view.id, request)


def _slate_on_cormorant(lab: Shed, ids: dict[str, str]) -> None:
    """Issued, with photos and both kinds of coupon."""
    lab.work_as("IM")
    view = _start(lab, ids, "Slate 2", "Cormorant")
    truth, arm = _truth("Slate 2", "Cormorant"), view.arms[0].id
    _series(lab, arm, truth, [1.5, 2.3, 3.5, 5.4], photo=True)
    _led(lab, view.id, truth, latitude=True)
    _confirm(lab, view, _chosen(lab, view, "centre"))
    _issue(
        lab, view, "centre", "Filter baffles need walls and slots alike; the middle is furthest from both.", (21, 27)
    )


def _slate_on_gannet(lab: Shed, ids: dict[str, str]) -> None:
    """Issued on the old printer; one coupon lost its right side, which points to level."""
    lab.work_as("RB")
    view = _start(lab, ids, "Slate 2", "Gannet", settings={"rest_before_s": 12})
    truth, arm = _truth("Slate 2", "Gannet"), view.arms[0].id
    _series(lab, arm, truth, [5.0, 6.6])
    planned = _plan(lab, arm, [8.0])
    _print(lab, planned, 23)
    _read(
        lab,
        planned.coupons[0],
        replace(truth, machine=replace(truth.machine, tilt=-1.0)),
        note="Right side thin from front to back.",
    )
    _series(lab, arm, truth, [11.2, 14.6])
    _led(lab, view.id, truth, temp_c=23, latitude=True)
    _issue(lab, view, "support-safe", "Funnels stand on thin ready-made supports; hold them first.", (20, 26))


def _parts(lab: Shed, ids: dict[str, str]) -> None:
    """Parts printed with the issued sets: most whole, one night too cold."""
    lab.work_as("RB")
    name = CountedPart
    for printer, code, temp_c, used, parts, finding in (
        (
            "Cormorant",
            "S-001",
            22.5,
            31,
            [name(name="filter baffle", place="centre"), name(name="filter baffle", place="left")],
            "",
        ),
        (
            "Cormorant",
            "S-001",
            9.0,
            44,
            [name(name="larva-trap funnel"), name(name="sensor clip", outcome="missing")],
            "Shed at 9 °C. First layers pale, one clip in the vat.",
        ),
        ("Gannet", "S-002", 21.0, 58, [name(name="drifter hinge", place="back")], "Thin line along the scratch."),
    ):
        lab.pass_time(hours=3)
        request = print_log.LogInput(
            printer_id=ids[printer],
            set_code=code,
            temp_c=temp_c,
            temp_place="room",
            volume_ml=used,
            parts=parts,
            seen=finding,
            outside_band="The funnels were promised for the tide." if temp_c < 20 else "",
        )
        logged = print_log.log(lab.work, request)
        if logged.outcome != "whole":
            lab.pass_time(minutes=25)
            print_log.vat_searched(lab.work, logged.id)


def _confirm(lab: Shed, view: CalibrationView, exposure_s: float) -> None:
    for place in ("centre", "worst place"):
        lab.pass_time(minutes=40)
        request = confirming.ConfirmInput.model_validate(
            {"arm_id": view.arms[0].id, "exposure_s": exposure_s, "place": place, "what": "filter baffle"}
        )
        confirming.confirm(lab.work, view.id, request)


def _hullform_on_sanderling(lab: Shed, ids: dict[str, str]) -> None:
    """Ready to decide."""
    lab.work_as("TO")
    view = _start(lab, ids, "Hullform", "Sanderling", settings={"rest_before_s": 2.5})
    truth, arm = _truth("Hullform", "Sanderling"), view.arms[0].id
    _series(lab, arm, truth, [1.5, 2.4], lost=("wall-left-1", "wall-right-1", "slot-left-2"))
    _series(lab, arm, truth, [3.9, 6.3], photo=True)
    lab.work_as("RB")
    _led(lab, view.id, truth)


def _ironwrack_in_the_cold(lab: Shed, ids: dict[str, str]) -> None:
    """Cold resin starves its layers: the lanes do not overlap, and a warm arm is begun."""
    lab.work_as("IM")
    view = _start(lab, ids, "Ironwrack", "Cormorant", note="7 °C in the shed this morning.")
    truth, arm = _truth("Ironwrack", "Cormorant"), view.arms[0].id
    _series(lab, arm, truth, [2.0, 3.3, 5.6, 9.4], temp_c=11)
    _led(lab, view.id, truth, temp_c=11)
    request = calibrations.ArmInput(name="rest 4 s", settings=Settings(rest_before_s=4))
    calibrations.start_arm(lab.work, view.id, request)


def _kelpflex_swapped(lab: Shed, ids: dict[str, str]) -> None:
    """Two coupons changed places before they were read."""
    lab.work_as("RB")
    view = _start(lab, ids, "Kelpflex", "Sanderling")
    truth, arm = _truth("Kelpflex", "Sanderling"), view.arms[0].id
    planned = _plan(lab, arm, [4.0, 9.0])
    _print(lab, planned, 25)
    _read(lab, planned.coupons[0], truth, swap_exposure_s=9.0)
    _read(lab, planned.coupons[1], truth, swap_exposure_s=4.0)


def _tideglass_on_cormorant(lab: Shed, ids: dict[str, str]) -> None:
    """Refining: three read, one damaged and left out, one waiting, one planned."""
    lab.work_as("TO")
    view = _start(lab, ids, "Tideglass", "Cormorant")
    truth, arm = _truth("Tideglass", "Cormorant"), view.arms[0].id
    _depth(lab, view.id, truth, [2.5, 5, 10, 20])
    _first_layer(lab, view.id)
    _series(lab, arm, truth, [1.5, 3.0, 6.0], bias_mm=0.015)
    planned = _plan(lab, arm, [2.1])
    _print(lab, planned, 22)
    _read(lab, planned.coupons[0], truth, damaged=True, note="Bent while lifting it off the plate.")
    waiting = _plan(lab, arm, [2.2])
    _print(lab, waiting, 22)
    _plan(lab, arm, [4.2])


def _hullform_only_under(lab: Shed, ids: dict[str, str]) -> None:
    """Only unders so far, at a thinner layer."""
    lab.work_as("IM")
    view = _start(lab, ids, "Hullform", "Cormorant", 30)
    truth, arm = _truth("Hullform", "Cormorant"), view.arms[0].id
    _series(lab, arm, truth, [1.0, 1.3])


def _slate_on_the_simulated_printer(lab: Shed, ids: dict[str, str]) -> None:
    """Practice: printed by physics; two coupons are read, one waits, one is planned."""
    lab.time = lab.now - timedelta(hours=1)
    lab.work_as("TO")
    view = _start(lab, ids, "Slate 2", "Guillemot", note="For practice: the printer is a simulated one.")
    planned = _plan(lab, view.arms[0].id, [1.5, 2.1, 2.9, 4.0])
    for print_id in planned.print_ids[:3]:
        lab.pass_time(minutes=3)
        order = virtual.VirtualOrder(print_id=print_id, temp_c=22, speed=1_000_000, initials="TO")
        virtual.run(lab.work, lambda share, message: None, order.model_dump())
    for code in planned.coupons[:2]:
        lab.pass_time(minutes=6)
        features_read = virtual.reading(lab.work, code, virtual.ReaderInput())
        readings.read(lab.work, code, readings.ReadingInput(features=features_read.features))


def _ironwrack_on_one_plate(lab: Shed, ids: dict[str, str]) -> None:
    """One print, places shuffled, light corrected by the plate map."""
    lab.time = lab.now - timedelta(hours=20)
    lab.work_as("IM")
    view = _start(lab, ids, "Ironwrack", "Sanderling", settings={"rest_before_s": 3})
    truth, arm = _truth("Ironwrack", "Sanderling"), view.arms[0].id
    planned = _plan(lab, arm, [2.0, 2.9, 4.2, 6.1], way="plate")
    _print(lab, planned, 24)
    lab.pass_time(minutes=70)
    for code in planned.coupons:
        _read(lab, code, truth)


def _a_second_pair_of_eyes(lab: Shed, ids: dict[str, str]) -> None:
    """RB reads a coupon of TO's again, blind, and reads bars larger."""
    lab.time = lab.now - timedelta(hours=3)
    row = next(c for c in store.listed(lab.work.db, "", 50) if c.material == "Tideglass")
    arm = store.arms(lab.work.db, row.id)[0]
    coupon = next(c for c in store.coupons(lab.work.db, [arm.id]) if c.status == "printed")
    lab.work_as("TO")
    second_reading = blind.ask(lab.work, coupon.code)
    lab.work_as("RB")
    current = readings.coupon(lab.work, coupon.code).reading
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
    blind.read(lab.work, second_reading.id, blind.BlindInput(features=features, note="The thin walls lean."))


def _a_fading_screen(lab: Shed, ids: dict[str, str]) -> None:
    """Rinsewell on Gannet, issued ten months ago; a check coupon a month shows the old screen fading."""
    lab.work_as("RB")
    lab.time = lab.now - timedelta(days=300)
    hours = FADING_HOURS[0]
    update(lab.work.db, "printer", ids["Gannet"], screen_hours=hours)
    view = _start(lab, ids, "Rinsewell", "Gannet")
    truth, arm = _truth("Rinsewell", "Gannet"), view.arms[0].id
    _series(lab, arm, truth, [5.2, 7.8, 11.6, 17.0])
    _led(lab, view.id, truth, latitude=True)
    card = _issue(lab, view, "centre", "Covers and trays: furthest from both failures.", (21, 27))
    for month, hours in enumerate(FADING_HOURS):
        lab.time = lab.now - timedelta(days=290 - 28 * month)
        update(lab.work.db, "printer", ids["Gannet"], screen_hours=hours)
        _check_coupon(lab, card.code, truth)
    update(lab.work.db, "printer", ids["Gannet"], screen_hours=stock.PRINTERS["Gannet"]["screen_hours"])


def _a_topped_up_vat(lab: Shed, ids: dict[str, str]) -> None:
    """Hullform on Gannet held until somebody topped the vat up with something else."""
    lab.work_as("TO")
    # Found again in every season: together they tell what temperature does to its exposure.
    for days, temp_c in ((260, 20), (180, 28), (80, 24)):
        lab.time = lab.now - timedelta(days=days)
        view = _start(lab, ids, "Hullform", "Gannet")
        truth, arm = _truth("Hullform", "Gannet"), view.arms[0].id
        _series(lab, arm, truth, [5.2, 8.0, 12.3, 19.0], temp_c=temp_c)
        _led(lab, view.id, truth, temp_c=temp_c, latitude=True)
        _issue(lab, view, "centre", "Funnels: walls and slots alike.", (temp_c - 3, temp_c + 3))
    tray_cover(lab, ids)
    lab.time = lab.now - timedelta(days=2)
    event = events.EventInput(
        kind="vat-topped-up", printer_id=ids["Gannet"], material_id=ids["Hullform"], note="With Slate 2, about a third."
    )
    events.record(lab.work, event)


def _check_coupon(lab: Shed, set_code: str, truth: Truth) -> None:
    planned = checks.plan(lab.work, set_code)
    lab.pass_time(minutes=16)
    printing.printed(lab.work, planned.print_id, record.PrintedInput(temp_c=24, temp_place="chamber air"))
    lab.pass_time(minutes=70)
    _read(lab, planned.coupon, truth)


def _rinsewell_just_planned(lab: Shed, ids: dict[str, str]) -> None:
    """A ladder planned this morning; two coupons are printed and wait for a reading."""
    lab.time = lab.now - timedelta(hours=2)
    lab.work_as("RB")
    view = _start(lab, ids, "Rinsewell", "Sanderling")
    planned = _plan(lab, view.arms[0].id, [1.5, 2.15, 3.1, 4.5])
    for print_id in planned.print_ids[:2]:
        lab.pass_time(minutes=16)
        printing.printed(lab.work, print_id, record.PrintedInput(temp_c=21.4, temp_place="room"))
