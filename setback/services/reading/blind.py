"""A second person's reading of a coupon, made without seeing the first; and where the two disagree."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.reading.blind import Comparison, compare_readings
from ...core.reading.tally import ReadFeature
from ...store.calibrate import calibrations
from ...store.reading import blind as store
from ...store.reading import readings
from ...store.rows import insert, update
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .readings import CouponPlan, FeatureInput, ReadingInput, checked


class BlindInput(Contract):
    """Features read by a second person."""

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


def of_coupons(work: UnitOfWork, rows: list[calibrations.CouponRow]) -> dict[str, list[BlindView]]:
    """Second readings by coupon, compared with the readings that count."""
    rows_of = store.of_coupons(work.db, [row.id for row in rows])
    if not rows_of:
        return {}
    ids = sorted({row.coupon_id for row in rows_of})
    current = {r.coupon_id: r.id for r in readings.current(work.db, ids)}
    features: dict[str, list[readings.ReadFeature]] = {}
    for feature in readings.features(work.db, list(current.values())):
        features.setdefault(feature.reading_id, []).append(feature)
    views: dict[str, list[BlindView]] = {}
    for row in rows_of:
        first = features.get(current.get(row.coupon_id, ""), [])
        views.setdefault(row.coupon_id, []).append(_view(row, first))
    return views


def _view(row: store.BlindRow, first: list[readings.ReadFeature]) -> BlindView:
    comparison = None
    if row.features is not None and first:
        theirs = [ReadFeature.model_validate(f) for f in row.features]
        ours = [
            ReadFeature(
                key=f.feature_key,
                kind=f.kind,
                side=f.side,
                size_mm=f.size_mm,
                axis=f.axis,
                state=f.state,
                measured_mm=f.measured_mm,
            )
            for f in first
        ]
        comparison = compare_readings(ours, theirs)
    return BlindView(
        id=row.id,
        asked_by=row.asked_initials,
        asked_at=row.asked_at,
        initials=row.initials,
        read_at=row.read_at,
        note=row.note,
        comparison=comparison,
    )


def of_coupon(work: UnitOfWork, id_or_code: str) -> list[BlindView]:
    """Second readings of one coupon."""
    row = present(calibrations.coupon(work.db, id_or_code), "coupon")
    return of_coupons(work, [row]).get(row.id, [])


def ask(work: UnitOfWork, id_or_code: str) -> BlindView:
    """Ask for a second reading by another technician."""
    with work.write() as answer:
        technician = work.technician()
        row = present(calibrations.coupon(work.db, id_or_code), "coupon")
        if row.gone_at is not None or not readings.current(work.db, [row.id]):
            raise Conflict(f"{row.code} has no reading to compare with yet.")
        if any(b.read_at is None for b in store.of_coupons(work.db, [row.id])):
            raise Conflict(f"A second reading of {row.code} is asked for already.")
        blind_id = work.new_id()
        insert(work.db, "blind_reading", id=blind_id, coupon_id=row.id, asked_by=technician.id, asked_at=work.now())
        return answer(_view(present(store.blind(work.db, blind_id), "second reading"), []))


def coupon(work: UnitOfWork, blind_id: str) -> BlindCoupon:
    """What the second reader needs, and no more."""
    stored = present(store.blind(work.db, blind_id), "second reading")
    row = present(calibrations.coupon(work.db, stored.coupon_id), "coupon")
    arm = present(calibrations.arm(work.db, row.arm_id), "arm")
    calibration = present(calibrations.calibration(work.db, arm.calibration_id), "calibration")
    design = present(calibrations.design(work.db, row.design_id), "design")
    first = readings.current(work.db, [row.id])
    return BlindCoupon(
        id=stored.id,
        code=row.code,
        exposure_s=row.exposure_s,
        material=calibration.material,
        printer=calibration.printer,
        layer_height_um=calibration.layer_height_um,
        asked_by=stored.asked_initials,
        first_reader=first[0].initials if first else None,
        plan=CouponPlan.model_validate(design.plan),
        photo_ids=[p.id for p in readings.photos(work.db, [row.id])],
    )


def read(work: UnitOfWork, blind_id: str, request: BlindInput) -> BlindView:
    """Record the second reading.

    Raises
    ------
    Conflict
        When it was read already.
    Problem
        When the first reader reads it again: that is no second pair of eyes.
    """
    with work.write() as answer:
        technician = work.technician()
        stored = present(store.blind(work.db, blind_id), "second reading")
        if stored.read_at is not None:
            raise Conflict(f"{stored.initials} has read it already.")
        row = present(calibrations.coupon(work.db, stored.coupon_id), "coupon")
        first = readings.current(work.db, [row.id])
        if first and first[0].technician_id == technician.id:
            message = f"{technician.initials} made the first reading: another technician must make the second."
            raise Problem(message, {"technician": message})
        design = present(calibrations.design(work.db, row.design_id), "design")
        pairs = checked(ReadingInput(features=request.features), CouponPlan.model_validate(design.plan))
        features = [
            {
                **planned.model_dump(include={"key", "kind", "side", "size_mm", "axis"}),
                "state": feature.state,
                "measured_mm": feature.measured_mm,
            }
            for planned, feature in pairs
        ]
        update(
            work.db,
            "blind_reading",
            blind_id,
            technician_id=technician.id,
            read_at=work.now(),
            features=features,
            note=request.note,
        )
        return answer(of_coupons(work, [row])[row.id][-1])


def withdraw(work: UnitOfWork, blind_id: str) -> BlindView:
    """Ask no more, or set a second reading aside; it stays on record."""
    with work.write() as answer:
        stored = present(store.blind(work.db, blind_id), "second reading")
        update(work.db, "blind_reading", blind_id, withdrawn_at=work.now())
        return answer(_view(stored, []))
