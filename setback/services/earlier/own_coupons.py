"""Coupons a workshop has of its own: described once, printed at several exposures, read like any other and believed a little less."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Millimetres, Problem
from ...coupon import own_coupon as drawing_of
from ...store import own_coupons as store
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import same_version
from ..reading.photos import cleaned_apart
from ..reading.readings import CouponPlan
from ..shelf.entry import Name, Note, Version, version_of
from ..unit_of_work import UnitOfWork, present

LineName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=24)]
MOST_FEATURES = 300


class OwnSeries(Contract):
    """Features of one kind in several sizes, in their order."""

    name: LineName = Field(description="What they are called")
    lost_by: Literal["less light", "more light", "support"] = Field(
        description="What loses them: too little light, too much, or too little at a support tip"
    )
    sizes_mm: list[Millimetres] = Field(min_length=2, max_length=40, description="From small to large, mm")
    each: int = Field(1, ge=1, le=20, description="How many there are of every size")


class OwnLength(Contract):
    """A length that is measured with calipers."""

    name: LineName = Field(description="What it is called")
    kind: Literal["outer", "inner"] = Field(description="Over a bar, or across a notch")
    nominal_mm: Millimetres = Field(description="Drawn size, mm")
    axis: Literal["x", "y"] | None = Field(None, description="Plate axis it lies along")


class OwnCouponInput(Contract):
    """A coupon as its owner describes it."""

    name: Name
    thickness_mm: float = Field(ge=0.05, le=200, description="Height above the plate, mm: what its print time follows")
    volume_ml: float = Field(ge=0.01, le=1000)
    width_mm: float = Field(50, ge=1, le=500)
    height_mm: float = Field(30, ge=1, le=500, description="Its other size on the plate, mm")
    series: list[OwnSeries] = Field([], max_length=12)
    lengths: list[OwnLength] = Field([], max_length=20)
    go_no_go: bool = Field(False, description="Whether it has a piece that should go and one that should not")
    note: Note = ""
    version: Version = None


class OwnCouponView(store.OwnCoupon):
    """A coupon of one's own with its drawing."""

    plan: CouponPlan


def listed(work: UnitOfWork) -> list[OwnCouponView]:
    """Those that stand, by name."""
    return [_view(row) for row in store.own_coupons(work.db)]


def own_coupon(work: UnitOfWork, code: str) -> OwnCouponView:
    """One of them."""
    return _view(present(store.own_coupon(work.db, code), "coupon of your own"))


def put(work: UnitOfWork, request: OwnCouponInput) -> OwnCouponView:
    """Describe a coupon.

    Raises
    ------
    Problem
        When nothing on it can be read, or sizes do not rise.
    """
    with work.write() as answer:
        code = next_code(work.db, "OC")
        insert(
            work.db,
            "own_coupon",
            id=work.new_id(),
            code=code,
            technician_id=work.technician().id,
            created_at=work.now(),
            **_columns(request),
        )
        return answer(own_coupon(work, code))


def change(work: UnitOfWork, code: str, request: OwnCouponInput) -> OwnCouponView:
    """Describe it anew; coupons that were planned keep the description they were planned with."""
    with work.write() as answer:
        row = present(store.own_coupon(work.db, code), "coupon of your own")
        same_version(row, version_of(request.version), code, request)
        update(work.db, "own_coupon", row.id, version=row.version + 1, **_columns(request))
        return answer(own_coupon(work, code))


def retire(work: UnitOfWork, code: str) -> OwnCouponView:
    """Retire it; what was printed of it stays."""
    with work.write() as answer:
        row = present(store.own_coupon(work.db, code), "coupon of your own")
        update(work.db, "own_coupon", row.id, retired_at=work.now())
        return answer(own_coupon(work, code))


def restore(work: UnitOfWork, code: str) -> OwnCouponView:
    """Put it back on the list."""
    with work.write() as answer:
        row = present(store.own_coupon(work.db, code), "coupon of your own")
        update(work.db, "own_coupon", row.id, retired_at=None)
        return answer(own_coupon(work, code))


def add_photo(work: UnitOfWork, code: str, content: bytes) -> OwnCouponView:
    """Keep a picture of it.

    Raises
    ------
    Problem
        When the file is no picture, or is too large.
    """
    image, _, _ = cleaned_apart(content)
    with work.write() as answer:
        row = present(store.own_coupon(work.db, code), "coupon of your own")
        update(work.db, "own_coupon", row.id, photo=image)
        return answer(own_coupon(work, code))


def photo(work: UnitOfWork, code: str) -> bytes:
    """Its picture, a JPEG."""
    return present(store.photo_of(work.db, code), "picture")


def parameters_of(work: UnitOfWork, code: str | None) -> dict[str, Any]:
    """What its list is drawn from.

    Raises
    ------
    Problem
        When there is no such coupon.
    """
    row = store.own_coupon(work.db, code) if code else None
    if row is None or row.retired_at is not None:
        message = "Choose which of your own coupons it is."
        raise Problem(message, {"own_coupon": message})
    return _parameters(row)


def _parameters(row: store.OwnCoupon) -> dict[str, Any]:
    return {
        "code": row.code,
        "title": row.name,
        "thickness_mm": row.thickness_mm,
        "volume_ml": row.volume_ml,
        "width_mm": row.width_mm,
        "height_mm": row.height_mm,
        **row.description,
    }


def _view(row: store.OwnCoupon) -> OwnCouponView:
    return OwnCouponView(**row.model_dump(), plan=CouponPlan.model_validate(drawing_of(0.05, 0.0, **_parameters(row))))


def _columns(request: OwnCouponInput) -> dict[str, Any]:
    fields: dict[str, str] = {}
    for at, series in enumerate(request.series):
        if any(a >= b for a, b in zip(series.sizes_mm, series.sizes_mm[1:], strict=False)):
            fields[f"series.{at}.sizes_mm"] = "Give the sizes from small to large, each once."
    count = sum(len(series.sizes_mm) * series.each for series in request.series) + len(request.lengths)
    if count > MOST_FEATURES:
        fields["series"] = f"It has {count} features; {MOST_FEATURES} are the most."
    if not count and not request.go_no_go:
        fields["series"] = "Say what is read on it: a series of sizes, a length, or a pair that goes and does not go."
    if fields:
        raise Problem(next(iter(fields.values())), fields)
    return {
        "name": request.name,
        "description": request.model_dump(include={"series", "lengths", "go_no_go"}),
        "thickness_mm": request.thickness_mm,
        "volume_ml": request.volume_ml,
        "width_mm": request.width_mm,
        "height_mm": request.height_mm,
        "note": request.note,
    }
