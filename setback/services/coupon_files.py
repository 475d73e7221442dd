"""Files of coupons and specimens: solids, masks, drawings; and the library that lists them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..core.campaign import check_thickness, floor_mm
from ..core.contract import Contract, Problem
from ..core.plausible import check_layer_height
from ..core.settings import Settings
from ..coupon import KINDS, Coupon
from ..coupon.lettering import embossed
from ..coupon.plan_svg import plan_svg
from ..store import calibrations as store
from ..store import shelf
from .bench import Bench, View, present
from .readings import CouponPlan

Format = Literal["stl", "3mf", "masks", "svg"]
MIMES = {"stl": "model/stl", "3mf": "model/3mf", "masks": "application/zip", "svg": "image/svg+xml"}
ENDINGS = {"stl": "stl", "3mf": "3mf", "masks": "zip", "svg": "svg"}


class Asked(Contract):
    """One file of a kind of coupon, for a printer's pixel and a layer height."""

    kind: str
    format: Format = "stl"
    pixel_um: float = Field(35, ge=5, le=200)
    layer_um: float = Field(50, gt=0, le=100_000)
    base_layers: int = Field(4, ge=0, le=100)
    transition_layers: int = Field(3, ge=0, le=100)
    thickness_mm: float | None = Field(None, gt=0, le=50)
    exposure: Annotated[float, Field(gt=0, le=1000)] | None = None
    code: str = Field("", max_length=12)


class Library(Contract):
    pixel_um: float = Field(35, ge=5, le=200)
    layer_um: float = Field(50, gt=0, le=100_000)


class LibraryEntry(View):
    kind: str
    title: str
    tells: str
    does_not_tell: str
    width_mm: float
    height_mm: float
    thickness_mm: float
    volume_ml: float
    plan: CouponPlan


@dataclass(frozen=True)
class Made:
    content: bytes
    mime: str
    name: str
    title: str
    volume_ml: float


def library(given: Library) -> list[LibraryEntry]:
    """Every kind with its drawing, for a pixel size and a layer height."""
    entries = []
    for kind in KINDS:
        coupon = drawn(Asked(kind=kind, pixel_um=given.pixel_um, layer_um=given.layer_um))
        plan = CouponPlan.model_validate(coupon.as_json())
        entries.append(LibraryEntry.model_validate({**plan.model_dump(exclude={"shapes", "features"}), "plan": plan}))
    return entries


def drawn(given: Asked) -> Coupon:
    """The coupon as asked for.

    Raises
    ------
    Problem
        When the kind is not known, or the coupon would be thinner than its base layers.
    """
    if given.kind not in KINDS:
        said = f"There is no coupon called {given.kind}. Choose one of {', '.join(KINDS)}."
        raise Problem(said, {"kind": said})
    check_layer_height(given.layer_um)
    settings = Settings(base_layers=given.base_layers, transition_layers=given.transition_layers)
    if given.thickness_mm is not None and given.kind in ("flat", "support", "z-bridge", "grid"):
        check_thickness(given.thickness_mm, settings, given.layer_um)
    floor = floor_mm(settings, given.layer_um)
    if given.thickness_mm is not None:
        floor = min(floor, given.thickness_mm)
    return KINDS[given.kind](given.pixel_um / 1000, floor, given.thickness_mm)


def made(given: Asked) -> Made:
    """The file asked for, with code and exposure embossed where the coupon has a place for them."""
    exposure = f"{given.exposure:g}s" if given.exposure is not None else ""
    return _file(drawn(given), given, exposure)


def of_coupon(bench: Bench, id_or_code: str, file_format: Format) -> Made:
    """The file of a planned coupon: its own code and exposure on its own geometry."""
    row = present(store.coupon(bench.db, id_or_code), "coupon")
    arm = present(store.arm(bench.db, row.arm_id), "arm")
    calibration = present(store.calibration(bench.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, calibration.printer_id), "printer")
    design = present(store.design(bench.db, row.design_id), "design")
    settings = Settings.model_validate(arm.settings)
    p = design.parameters
    coupon = KINDS[row.kind](p["pixel_mm"], p["floor_mm"], p["thickness_mm"])
    asked = Asked(
        kind=row.kind, format=file_format, pixel_um=printer.pixel_um, layer_um=calibration.layer_height_um,
        base_layers=settings.base_layers, transition_layers=settings.transition_layers, exposure=row.exposure_s,
        code=row.code,
    )  # fmt: skip
    return _file(coupon, asked, f"{row.exposure_s:g}s", settings.base_exposure_s)


def _file(coupon: Coupon, given: Asked, exposure: str, base_exposure_s: float | None = None) -> Made:
    name = "-".join(part for part in (given.code, coupon.kind, exposure) if part)
    if given.format == "svg":
        content = plan_svg(coupon, given.code, exposure).encode()
    else:
        written = embossed(coupon, given.code, exposure)
        if given.format == "masks":
            from ..coupon.masks import archive

            content = archive(
                written,
                given.pixel_um / 1000,
                given.layer_um / 1000,
                given.exposure,
                given.base_layers,
                base_exposure_s,
            )
        else:
            from ..coupon.solid import exported

            content = exported(written, given.format)
        coupon = written
    file_name = f"{name}.{ENDINGS[given.format]}"
    return Made(content, MIMES[given.format], file_name, coupon.title, coupon.volume_ml)
