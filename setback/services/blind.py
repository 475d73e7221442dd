"""A second person's reading of a coupon, made without seeing the first; and where the two disagree."""

from __future__ import annotations

from pydantic import Field

from ..core.blind import Comparison, compare_readings
from ..core.contract import Contract, Problem
from ..core.tally import ReadFeature
from ..store import blind as store
from ..store import calibrations, readings
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present
from .readings import CouponPlan, FeatureInput, ReadingInput, checked
from .shelf.entry import Note


class BlindInput(Contract):
    features: list[FeatureInput] = Field(min_length=1, max_length=500)
    note: Note = ""


class BlindView(View):
    """A second reading: asked for, or made and compared with the reading that counts."""

    id: str
    asked_by: str
    asked_at: str
    initials: str | None
    read_at: str | None
    note: str
    comparison: Comparison | None = Field(description="None until it is read")


class BlindCoupon(View):
    """What the second reader sees: the drawing, and nothing of the first reading."""

    id: str
    code: str
    exposure_s: float
    material: str
    printer: str
    layer_height_um: float
    asked_by: str
    first_reader: str | None
    plan: CouponPlan
    photo_ids: list[str]


def of_coupons(bench: Bench, rows: list[calibrations.CouponRow]) -> dict[str, list[BlindView]]:
    """Second readings by coupon, compared with the readings that count."""
    held = store.of_coupons(bench.db, [row.id for row in rows])
    if not held:
        return {}
    ids = sorted({row.coupon_id for row in held})
    current = {r.coupon_id: r.id for r in readings.current(bench.db, ids)}
    features: dict[str, list[readings.FeatureRow]] = {}
    for feature in readings.features(bench.db, list(current.values())):
        features.setdefault(feature.reading_id, []).append(feature)
    made: dict[str, list[BlindView]] = {}
    for row in held:
        first = features.get(current.get(row.coupon_id, ""), [])
        made.setdefault(row.coupon_id, []).append(_view(row, first))
    return made


def _view(row: store.BlindRow, first: list[readings.FeatureRow]) -> BlindView:
    comparison = None
    if row.features is not None and first:
        theirs = [ReadFeature.model_validate(f) for f in row.features]
        ours = [
            ReadFeature(
                key=f.feature_key, kind=f.kind, side=f.side, size_mm=f.size_mm, axis=f.axis, state=f.state,
                measured_mm=f.measured_mm,
            )
            for f in first
        ]  # fmt: skip
        comparison = compare_readings(ours, theirs)
    return BlindView(
        id=row.id, asked_by=row.asked_initials, asked_at=row.asked_at, initials=row.initials, read_at=row.read_at,
        note=row.note, comparison=comparison,
    )  # fmt: skip


def of_coupon(bench: Bench, id_or_code: str) -> list[BlindView]:
    """Second readings of one coupon."""
    row = present(calibrations.coupon(bench.db, id_or_code), "coupon")
    return of_coupons(bench, [row]).get(row.id, [])


def ask(bench: Bench, id_or_code: str) -> BlindView:
    """Ask for a second reading by another technician."""
    with bench.write() as answer:
        who = bench.technician()
        row = present(calibrations.coupon(bench.db, id_or_code), "coupon")
        if row.gone_at is not None or not readings.current(bench.db, [row.id]):
            raise Conflict(f"{row.code} has no reading to compare with yet.")
        if any(b.read_at is None for b in store.of_coupons(bench.db, [row.id])):
            raise Conflict(f"A second reading of {row.code} is asked for already.")
        blind_id = bench.new_id()
        insert(bench.db, "blind_reading", id=blind_id, coupon_id=row.id, asked_by=who.id, asked_at=bench.now())
        return answer(_view(present(store.blind(bench.db, blind_id), "second reading"), []))


def coupon(bench: Bench, blind_id: str) -> BlindCoupon:
    """What the second reader needs, and no more."""
    held = present(store.blind(bench.db, blind_id), "second reading")
    row = present(calibrations.coupon(bench.db, held.coupon_id), "coupon")
    arm = present(calibrations.arm(bench.db, row.arm_id), "arm")
    calibration = present(calibrations.calibration(bench.db, arm.calibration_id), "calibration")
    design = present(calibrations.design(bench.db, row.design_id), "design")
    first = readings.current(bench.db, [row.id])
    return BlindCoupon(
        id=held.id, code=row.code, exposure_s=row.exposure_s, material=calibration.material,
        printer=calibration.printer, layer_height_um=calibration.layer_height_um, asked_by=held.asked_initials,
        first_reader=first[0].initials if first else None, plan=CouponPlan.model_validate(design.plan),
        photo_ids=[p.id for p in readings.photos(bench.db, [row.id])],
    )  # fmt: skip


def read(bench: Bench, blind_id: str, given: BlindInput) -> BlindView:
    """Record the second reading.

    Raises
    ------
    Conflict
        When it was read already.
    Problem
        When the first reader reads it again: that is no second pair of eyes.
    """
    with bench.write() as answer:
        who = bench.technician()
        held = present(store.blind(bench.db, blind_id), "second reading")
        if held.read_at is not None:
            raise Conflict(f"{held.initials} has read it already.")
        row = present(calibrations.coupon(bench.db, held.coupon_id), "coupon")
        first = readings.current(bench.db, [row.id])
        if first and first[0].technician_id == who.id:
            said = f"{who.initials} made the first reading: another technician must make the second."
            raise Problem(said, {"technician": said})
        design = present(calibrations.design(bench.db, row.design_id), "design")
        pairs = checked(ReadingInput(features=given.features), CouponPlan.model_validate(design.plan))
        kept = [
            {**planned.model_dump(include={"key", "kind", "side", "size_mm", "axis"}), "state": seen.state,
             "measured_mm": seen.measured_mm}
            for planned, seen in pairs
        ]  # fmt: skip
        update(
            bench.db, "blind_reading", blind_id, technician_id=who.id, read_at=bench.now(), features=kept,
            note=given.note,
        )  # fmt: skip
        return answer(of_coupons(bench, [row])[row.id][-1])


def withdraw(bench: Bench, blind_id: str) -> BlindView:
    """Ask no more, or set a second reading aside; it stays on record."""
    with bench.write() as answer:
        held = present(store.blind(bench.db, blind_id), "second reading")
        update(bench.db, "blind_reading", blind_id, withdrawn_at=bench.now())
        return answer(_view(held, []))
