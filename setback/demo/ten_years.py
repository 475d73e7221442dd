"""Ten years of a shop, for measuring: many rows, a simple truth behind them, no pictures.

Skerry Point after ten years: the rows are written straight to the tables, because going through the services one by one
would take hours. Windows are computed from the coupons as everywhere.
"""

from __future__ import annotations

import itertools
import json
import math
import random
import sqlite3
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

from .. import __version__
from ..core.printing.settings import Settings
from ..core.printing.steps import round_to_step, steps_between
from ..core.reading.evidence import Block, CouponEvidence, Slot, Tip, Wall
from ..core.window.contract import WindowInput, WindowResult
from ..core.window.lanes import Limits
from ..core.window.process_window import process_window
from ..coupon import KINDS
from ..coupon.description import Coupon, Feature
from ..services.unit_of_work import iso, seeded_ids
from ..store import journal
from ..store.climate import probes
from ..store.database import connect, migrate, tidy_up, writing
from ..store.rows import insert, insert_many
from ..store.sets import parameter_sets
from . import stock

LINES = tuple(stock.RESINS)
COLOURS = ("grey", "black", "white", "sand", "kelp green", "rust", "sky", "amber", "bone", "natural")
BIRDS = (
    "Cormorant",
    "Sanderling",
    "Gannet",
    "Guillemot",
    "Fulmar",
    "Petrel",
    "Dunlin",
    "Turnstone",
    "Kittiwake",
    "Razorbill",
    "Eider",
    "Whimbrel",
)
HEIGHTS = (50.0, 50.0, 50.0, 100.0, 30.0)
"""Of what a material is printed at, on a printer of its own each."""
STILL_OPEN = 7
PER_YEAR = {"calibrations": 300, "prints": 10_000}
PROBES = (("Shed", "room", 9.0), ("Chamber of Cormorant", "chamber air", 2.5))
SAMPLE_EVERY_S = 315
STEP_S = 0.1
PIXEL_MM, FLOOR_MM = 0.035, 0.35
LIMITS = Limits(growth_tol_um=45, walls_size_mm=0.21, slots_size_mm=0.35, tips_size_mm=0.42)
DAYS = 365.25
SEED = 20360121
LIKE, LUCKS = 0.08, 6
"""How far apart true exposures lie, in ln s, and in how many ways coupons of one scatter."""

Progress = Callable[[float], None]


class _Tables:
    """Rows collected by table and written in blocks."""

    def __init__(self, db: sqlite3.Connection) -> None:
        self.db = db
        self.rows: dict[str, list[dict[str, Any]]] = {}

    def add(self, table: str, **row: Any) -> None:
        self.rows.setdefault(table, []).append(
            {k: json.dumps(v, separators=(",", ":")) if isinstance(v, dict | list) else v for k, v in row.items()}
        )

    def write(self) -> None:
        for table in ORDER:
            rows = self.rows.pop(table, [])
            if rows:
                insert_many(self.db, table, rows)


ORDER = (
    "setting",
    "technician",
    "material",
    "resin",
    "bottle",
    "printer",
    "finish_route",
    "finish_route_version",
    "code_counter",
    "coupon_design",
    "calibration",
    "arm",
    "parameter_set",
    "print",
    "plate",
    "coupon",
    "reading",
    "reading_feature",
    "event",
)


def build(path: Path, years: int, now: datetime, progress: Progress = lambda share: None) -> None:
    """Make the file: the same seed gives the same rows."""
    migrate(path)
    db = connect(path, keeps_journal=False)
    try:
        with writing(db):
            _Shop(db, years, now).work(progress)
        db.moment = lambda: now
        journal.begin(db)
        tidy_up(db)
    finally:
        db.close()


class _Shop:
    """Ten years of work, in the order it was done."""

    def __init__(self, db: sqlite3.Connection, years: int, now: datetime) -> None:
        self.tables, self.years, self.now = _Tables(db), years, now
        self.chance, self.new_id = random.Random(SEED), seeded_ids(SEED)
        self.start = now - timedelta(days=DAYS * years)
        self.codes = {p: itertools.count(1) for p in "CJSRPBEK"}
        self.coupons = itertools.count(1)
        self.versions: dict[tuple[str, str, float], int] = {}
        self.chain, self.last_hash = 0, parameter_sets.GENESIS
        self.sets: list[tuple[str, str]] = []

    def at(self, share: float) -> str:
        return iso(self.start + (self.now - self.start) * min(share, 0.9999))

    def code(self, prefix: str) -> str:
        return f"{prefix}-{next(self.codes[prefix]):03d}"

    def work(self, progress: Progress) -> None:
        self._shelf()
        count = PER_YEAR["calibrations"] * self.years
        # A material is printed on a few of the printers; each pair is calibrated anew every year.
        pairs = [
            (material, printer, height)
            for material in self.materials
            for printer, height in zip(self.chance.sample(self.printers, len(HEIGHTS)), HEIGHTS, strict=True)
        ]
        self.chance.shuffle(pairs)
        for i in range(count):
            self._campaign(i / count, *pairs[i % len(pairs)], still_open=i >= count - min(STILL_OPEN, count // 2))
            if i % 100 == 99:
                self.tables.write()
                progress(0.8 * i / count)
        self._prints()
        progress(0.9)
        self._probes()
        for prefix, counter in self.codes.items():
            self.tables.add("code_counter", prefix=prefix, last=next(counter) - 1)
        self.tables.write()
        progress(1.0)

    def _shelf(self) -> None:
        add, began = self.tables.add, iso(self.start)
        add("setting", name="demo", value="true")
        self.technicians = [self.new_id() for _ in stock.TECHNICIANS]
        for technician, initials in zip(self.technicians, stock.TECHNICIANS, strict=True):
            add("technician", id=technician, initials=initials, created_at=began)
        route = self.new_id()
        self.route = self.new_id()
        add("finish_route", id=route, code="R-001", name="Two-bath solvent", created_at=began)
        add(
            "finish_route_version",
            id=self.route,
            finish_route_id=route,
            version=1,
            created_at=began,
            **dict(stock.ROUTES["Two-bath solvent"].items()),
        )
        self.materials, self.printers = [], []
        for line, colour in itertools.product(LINES, COLOURS):
            resin, material = stock.RESINS[line], self.new_id()
            add("material", id=material, code=self.code("R"), kind="resin", name=f"{line} {colour}", created_at=began)
            add("resin", material_id=material, **{**resin, "line": line, "colour": colour})
            bottle = self.new_id()
            add(
                "bottle",
                id=bottle,
                code=self.code("B"),
                material_id=material,
                lot=f"L{self.chance.randint(100, 999)}",
                volume_ml=1000,
                left_ml=600,
                created_at=began,
            )
            effect = math.log(math.sqrt(resin["maker_low_s"] * resin["maker_high_s"])) + self.chance.gauss(0, 0.2)
            self.materials.append((material, bottle, effect))
        for number, name in enumerate(BIRDS):
            old = number % 4 == 2
            printer = {**stock.PRINTERS["Gannet" if old else "Cormorant"], "several_exposures": 0, "suppresses_lift": 0}
            printer_id = self.new_id()
            flags = ("light_power_adjustable", "delay_includes_motion", "simulated")
            add(
                "printer",
                id=printer_id,
                code=self.code("P"),
                name=name,
                created_at=began,
                **{**printer, **{f: int(printer.get(f, False)) for f in flags}},
            )
            self.printers.append((printer_id, (math.log(3.2) if old else 0.0) + self.chance.gauss(0, 0.3)))
        self.designs = {}
        for kind in ("flat", "support"):
            coupon = _drawn(kind)
            self.designs[kind] = (self.new_id(), coupon)
            add(
                "coupon_design",
                id=self.designs[kind][0],
                kind=kind,
                plan=asdict(coupon),
                parameters=json.dumps(coupon.parameters, sort_keys=True, separators=(",", ":")),
            )

    def _campaign(
        self,
        share: float,
        of: tuple[str, str, float],
        on: tuple[str, float],
        height: float,
        *,
        still_open: bool,
    ) -> None:
        chance, add = self.chance, self.tables.add
        (material, bottle, effect), (printer, light) = of, on
        # True exposures and ways of scattering are few: campaigns that came out alike share their window, which takes a
        # tenth of a second to work out.
        place = round((effect + light + 0.25 * (height - 50) / 50 + chance.gauss(0, 0.1)) / LIKE)
        true_s = math.exp(LIKE * place)
        campaigns = [_campaign_read(true_s, f"{place} {luck}") for luck in chance.sample(range(LUCKS), LUCKS)]
        read = campaigns[0]
        if (material, printer, height) not in self.versions:
            # Nobody leaves a pair without a set, so that a shop of one year has as many as one of ten.
            read = next(
                (coupons for coupons in campaigns if _offered(_window(_inputs([c.evidence for c in coupons])))), read
            )
        calibration, arm = self.new_id(), self.new_id()
        low, high = (max(round_to_step(k * true_s, STEP_S), STEP_S) for k in (0.5, 2.0))
        opened, technician = self.at(share), chance.choice(self.technicians)
        settings = Settings()
        add(
            "calibration",
            id=calibration,
            code=self.code("C"),
            material_id=material,
            printer_id=printer,
            bottle_id=bottle,
            finish_route_version_id=self.route,
            layer_height_um=height,
            source="maker",
            low_s=low,
            high_s=max(high, low),
            limits=LIMITS.model_dump(),
            technician_id=technician,
            opened_at=opened,
            closed_at=self.at(share + 0.001) if not still_open else None,
            closed_reason="done" if not still_open else None,
        )
        add(
            "arm",
            id=arm,
            calibration_id=calibration,
            number=1,
            name="Arm 1",
            settings=settings.model_dump(),
            created_at=opened,
        )
        codes = [self._coupon(arm, printer, technician, n, coupon_read, share) for n, coupon_read in enumerate(read, 1)]
        evidence = [c.evidence.model_copy(update={"label": code}) for c, code in zip(read, codes, strict=True)]
        if not still_open:
            self._issue(evidence, calibration, arm, material, printer, height, bottle, technician, settings, share)

    def _coupon(
        self, arm: str, printer: str, technician: str, number: int, coupon_read: CouponRead, share: float
    ) -> str:
        """Add one coupon, its print and its reading; its code."""
        add, at = self.tables.add, self.at(share)
        print_id, plate, coupon_id, reading = (self.new_id() for _ in range(4))
        design_id, coupon = self.designs[coupon_read.kind]
        add(
            "print",
            id=print_id,
            code=self.code("J"),
            printer_id=printer,
            arm_id=arm,
            status="printed",
            planned_at=at,
            printed_at=at,
            temp_c=24.0,
            temp_place="resin",
            volume_ml=coupon.volume_ml,
            duration_s=600.0,
            technician_id=technician,
            outcome="whole",
            parameter_set_id=None,
        )
        add("plate", id=plate, print_id=print_id)
        code = f"{100 + next(self.coupons)}T"
        add(
            "coupon",
            id=coupon_id,
            code=code,
            plate_id=plate,
            arm_id=arm,
            design_id=design_id,
            exposure_s=coupon_read.evidence.exposure_s,
            number=number,
            created_at=at,
        )
        add("reading", id=reading, coupon_id=coupon_id, technician_id=technician, read_at=at)
        for feature, state, measured in coupon_read.features:
            add(
                "reading_feature",
                reading_id=reading,
                feature_key=feature.key,
                kind=feature.kind,
                side=feature.side,
                axis=feature.axis,
                size_mm=feature.size_mm,
                state=state,
                measured_mm=measured,
            )
        return code

    def _issue(
        self,
        evidence: list[CouponEvidence],
        calibration: str,
        arm: str,
        material: str,
        printer: str,
        height: float,
        bottle: str,
        technician: str,
        settings: Settings,
        share: float,
    ) -> None:
        inputs = _inputs(evidence)
        result = _window(inputs)
        chosen = _offered(result)
        if chosen is None:
            return
        pair = (material, printer, height)
        self.versions[pair] = self.versions.get(pair, 0) + 1
        self.chain += 1
        row = parameter_sets.SetRow(
            id=self.new_id(),
            code=self.code("S"),
            chain=self.chain,
            material_id=material,
            printer_id=printer,
            layer_height_um=height,
            version=self.versions[pair],
            calibration_id=calibration,
            arm_id=arm,
            finish_route_version_id=self.route,
            bottle_id=bottle,
            exposure_s=chosen,
            policy="centre",
            reason="Furthest from both failures.",
            settings=settings.model_dump(),
            temp_low_c=21.0,
            temp_high_c=27.0,
            tip_proven_mm=None,
            technician_id=technician,
            issued_at=self.at(share + 0.0005),
            core_version=__version__,
            input=inputs.model_dump(mode="json"),
            result=result.model_dump(mode="json"),
            previous_hash=self.last_hash,
            hash="",
        )
        row = row.model_copy(update={"hash": parameter_sets.hash_of(row)})
        self.last_hash = row.hash
        self.tables.add("parameter_set", **dict(_sorted_json(row.model_dump())))
        self.sets.append((row.id, printer))

    def _prints(self) -> None:
        """The log of parts; the campaigns' own prints count among them."""
        planned = PER_YEAR["prints"] * self.years - next(self.coupons) + 1
        for i in range(planned):
            set_id, printer = self.sets[min(int(len(self.sets) * i / planned), len(self.sets) - 1)]
            at, temp = self.at(i / planned), round(self.chance.gauss(23.5, 1.6), 1)
            failed = self.chance.random() < (0.25 if temp < 20 else 0.04)
            self.tables.add(
                "print",
                id=self.new_id(),
                code=self.code("J"),
                printer_id=printer,
                arm_id=None,
                status="printed",
                planned_at=at,
                printed_at=at,
                temp_c=temp,
                temp_place="resin",
                volume_ml=40.0,
                duration_s=7200.0,
                technician_id=self.technicians[0],
                outcome="failed" if failed else "whole",
                parameter_set_id=set_id,
            )
            if i % 5000 == 4999:
                self.tables.write()

    def _probes(self) -> None:
        """The seasons, the days and the weather, every few minutes for all the years."""
        db, chance = self.tables.db, self.chance
        self.tables.write()
        first, last = int(self.start.timestamp()), int(self.now.timestamp())
        for name, place, swing in PROBES:
            probe_id = self.new_id()
            printer_id = self.printers[0][0] if place != "room" else None
            insert(
                db,
                "probe",
                id=probe_id,
                code=self.code("K"),
                name=name,
                place=place,
                printer_id=printer_id,
                created_at=iso(self.start),
            )
            row = probes.probe(db, probe_id)
            assert row is not None
            number = row.number
            weather = 0.0
            samples: list[probes.Sample] = []
            for at in range(first, last, SAMPLE_EVERY_S):
                weather += chance.gauss(0, 0.05) - 0.002 * weather
                season = -math.cos(2 * math.pi * (at / 86_400 - 15) / DAYS)
                samples.append(
                    (at, round(18 + swing * season + math.sin(2 * math.pi * at / 86_400) + weather, 2), None)
                )
            probes.add_samples(db, number, samples)
            probes.sum_up(db, number, first, last)


def _sorted_json(row: dict[str, Any]) -> Iterator[tuple[str, Any]]:
    """Objects as the store writes them, so that the chain of hashes holds when they are read back."""
    for name, value in row.items():
        yield name, json.dumps(value, separators=(",", ":"), sort_keys=True) if isinstance(value, dict) else value


def _feature(kind: str, size: float, over: float, noise: random.Random) -> tuple[str | None, float | None] | None:
    """What a person would note of a feature at this much light over its true exposure, ln."""
    if kind in ("outer", "inner"):
        growth = 0.042 * over + noise.gauss(0, 0.004)
        return None, round(size + (2 if kind == "outer" else -2) * growth, 3)
    ends = {"wall": (1, 9, 0.2, -0.25), "slot": (-1, 8, 0.3, 0.45), "tip": (1, 11, 0.42, -0.15)}
    if kind not in ends:
        return None
    way, slope, at_mm, middle = ends[kind]
    z = way * slope * (over - middle) + 5 * math.log(size / at_mm)
    return ("formed" if noise.random() < 1 / (1 + math.exp(-z)) else "absent"), None


@cache
def _drawn(kind: str) -> Coupon:
    return KINDS[kind](PIXEL_MM, FLOOR_MM)


@dataclass(frozen=True)
class CouponRead:
    """A coupon as somebody read it: what the window takes of it, and what was noted of each feature."""

    kind: str
    evidence: CouponEvidence
    features: list[tuple[Feature, str | None, float | None]]


def _campaign_read(true_s: float, luck: str) -> list[CouponRead]:
    """The coupons of a campaign: four flats and three supports around the true exposure."""
    plan = [("flat", k) for k in (0.6, 0.8, 1.05, 1.4)] + [("support", k) for k in (0.8, 0.95, 1.15)]
    coupons = []
    for number, (kind, k) in enumerate(plan, 1):
        exposure_s = max(round_to_step(k * true_s, STEP_S), STEP_S)
        evidence, features = CouponEvidence(exposure_s=exposure_s, label=f"<{number}>"), []
        noise, over = random.Random(f"{luck} {number}"), math.log(exposure_s / true_s)
        for feature in _drawn(kind).features:
            counts = _feature(feature.kind, feature.size_mm, over, noise)
            if counts is not None:
                features.append((feature, *counts))
                _count(evidence, feature.kind, feature.size_mm, *counts, feature.axis)
        coupons.append(CouponRead(kind, evidence, features))
    return coupons


def _inputs(evidence: list[CouponEvidence]) -> WindowInput:
    """What the window is asked of a campaign."""
    times = [coupon.exposure_s for coupon in evidence]
    exposures = steps_between(min(times), max(times), STEP_S)[:: max(1, len(times))][:60]
    return WindowInput(coupons=evidence, limits=LIMITS, exposure_step_s=STEP_S, exposures_s=exposures)


def _offered(result: WindowResult) -> float | None:
    """The exposure a set is issued at; None where the evidence offers none."""
    return None if result.provisional else (result.policies or {}).get("centre")


def _window(window_input: WindowInput) -> WindowResult:
    """The window of coupons under their own codes, worked out once for all campaigns that came out alike."""
    codes = {f"<{number}>": str(coupon.label) for number, coupon in enumerate(window_input.coupons)}
    alike = [c.model_copy(update={"label": place}) for c, place in zip(window_input.coupons, codes, strict=True)]
    result = _worked_out(window_input.model_copy(update={"coupons": alike}).model_dump_json())
    for place, code in codes.items():
        result = result.replace(place, code)
    return WindowResult.model_validate_json(result)


@lru_cache(maxsize=1000)
def _worked_out(canonical: str) -> str:
    return process_window(WindowInput.model_validate_json(canonical)).model_dump_json()


def _count(
    evidence: CouponEvidence, kind: str, size: float, state: str | None, measured: float | None, axis: Any
) -> None:
    formed = int(state == "formed")
    if kind in ("outer", "inner") and measured is not None:
        evidence.blocks.append(Block(kind=kind, nominal_mm=size, measured_mm=measured, axis=axis))
    elif kind == "wall":
        evidence.walls.append(Wall(size_mm=size, standing=formed, of=1))
    elif kind == "slot":
        evidence.slots.append(Slot(size_mm=size, open=formed, of=1))
    elif kind == "tip":
        evidence.tips.append(Tip(size_mm=size, held=formed, of=1))


def moment() -> datetime:
    return datetime(2036, 1, 21, 8, 40, tzinfo=UTC)
