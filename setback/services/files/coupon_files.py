"""Files of coupons and specimens: solids, masks, drawings, whole plates; and the library that lists them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from ...core.calibrate.stages import check_thickness, floor_mm
from ...core.contract import Contract, Problem, Seconds
from ...core.printing.plausible import check_layer_height
from ...core.printing.print_time import layer_exposures
from ...core.printing.settings import Settings
from ...coupon import EXPOSED, KINDS, NEWEST, ON_ONE_PLATE, SERIES, SERIES_OF, WITH_FLOOR, Coupon, Unfit
from ...coupon import drawn as drawn_from
from ...coupon.lettering import embossed
from ...coupon.masks import archive, layer_table, layers, layers_of
from ...coupon.plan_svg import plan_svg
from ...coupon.plate import Placed, places, plate_archive, plate_svg, shuffled
from ...simulate.lessons import OFF as EXAMPLES
from ...store import plate as plates
from ...store import shelf
from ...store.calibrate import calibrations as store
from .. import apart
from ..reading.readings import CouponPlan
from ..unit_of_work import Conflict, UnitOfWork, View, present

Format = Literal["stl", "3mf", "masks", "svg", "layers"]
PlateFormat = Literal["masks", "svg"]
MIMES = {
    "stl": "model/stl",
    "3mf": "model/3mf",
    "masks": "application/zip",
    "svg": "image/svg+xml",
    "layers": "text/csv",
}
ENDINGS = {"stl": "stl", "3mf": "3mf", "masks": "zip", "svg": "svg", "layers": "csv"}
THICKEST_FLOOR_MM = 6.0
BASE_MULTIPLE = 10


def _split(request: Any) -> Any:
    """A list may come as one text, as in a query: ``0.1,0.2``."""
    return (
        [part.strip() for part in request.replace(";", ",").split(",") if part.strip()]
        if isinstance(request, str)
        else request
    )


Millimetre = Annotated[float, Field(gt=0, le=20)]
Sizes = Annotated[list[Millimetre], BeforeValidator(_split), Field(min_length=2, max_length=14)]
Exposures = Annotated[list[Seconds], BeforeValidator(_split), Field(min_length=1, max_length=60)]
Plate = Annotated[float, Field(ge=10, le=2000)]


MOST_MASK_PIXELS = 150_000_000
MASKS_WITHIN_S = 120.0


class Geometry(Contract):
    """What a kind of coupon is drawn with, for a printer's pixel and a layer height."""

    kind: str
    pixel_um: float = Field(35, ge=5, le=200)
    layer_um: float = Field(50, gt=0, le=100_000)
    base_layers: int = Field(4, ge=0, le=100)
    transition_layers: int = Field(3, ge=0, le=100)
    base_exposure_s: Seconds | None = None
    thickness_mm: float | None = Field(None, ge=0.01, le=50)
    walls_mm: Sizes | None = Field(None, description="Of the flat coupon, small to large")
    slots_mm: Sizes | None = Field(None, description="Of the flat coupon, small to large")
    tips_mm: Sizes | None = Field(None, description="Of the support coupon, small to large")
    plate_x_mm: Plate | None = Field(None, description="The plate: the grid is spread over it")
    plate_y_mm: Plate | None = None


class Asked(Geometry):
    """One file of a kind of coupon."""

    format: Format = "stl"
    exposure: Annotated[float, Field(gt=0, le=1000)] | None = None
    code: str = Field("", max_length=12)


class PlateAsked(Geometry):
    """A plate of coupons, each at its own exposure."""

    kind: str = "flat"
    exposures_s: Exposures
    plate_x_mm: Plate
    plate_y_mm: Plate
    repeats: int = Field(1, ge=1, le=10, description="How often each exposure is there")
    seed: int = Field(1, ge=0, le=1_000_000, description="Another seed shuffles the places another way")


class PlateFileAsked(PlateAsked):
    """A plate of coupons, and the format of its file."""

    format: PlateFormat = "masks"


class Library(Contract):
    """Pixel and layer the library is drawn for."""

    pixel_um: float = Field(35, ge=5, le=200)
    layer_um: float = Field(50, gt=0, le=100_000)


class LibraryEntry(View):
    """A kind of coupon or specimen, and what it tells."""

    kind: str
    title: str
    tells: str
    does_not_tell: str
    width_mm: float
    height_mm: float
    thickness_mm: float
    volume_ml: float
    choices: list[str] = Field(description="Which series may be chosen")
    plan: CouponPlan


class SeriesField(View):
    """A series of sizes that may be chosen, and what it is when it is not."""

    key: str
    label: str
    usual_mm: list[float] = Field(description="Small to large, when nothing else is chosen")


class Drawn(View):
    """A coupon as shapes and features, and what may be chosen about it."""

    plan: CouponPlan
    has_examples: bool = Field(description="Whether example pictures of it under, right and over are shipped")
    is_specimen: bool = Field(description="Made at an exposure that is known; coupons are made to find one")
    has_floor: bool = Field(description="Its features stand on base and transition layers")
    on_one_plate: bool = Field(description="One plate may hold several exposures of it")
    series: list[SeriesField]
    layers: int
    layer_areas_mm2: list[float] = Field(description="Lit area of every layer")


class PlaceView(View):
    """Where one coupon lies on the plate, mm."""

    code: str
    exposure_s: float
    x_mm: float
    y_mm: float


class PlateLayout(View):
    """Where the coupons of a plate lie."""

    plate_x_mm: float
    plate_y_mm: float
    width_mm: float
    height_mm: float
    fits: int
    places: list[PlaceView]


@dataclass(frozen=True)
class Made:
    """A made file: content, type, name, title and resin, ml."""

    content: bytes
    mime: str
    name: str
    title: str
    volume_ml: float


def library(query: Library) -> list[LibraryEntry]:
    """Every kind with its drawing, for a pixel size and a layer height."""
    entries = []
    for kind in KINDS:
        coupon = drawn(Geometry(kind=kind, pixel_um=query.pixel_um, layer_um=query.layer_um))
        plan = CouponPlan.model_validate(coupon)
        values = plan.model_dump(exclude={"shapes", "features", "parts"})
        choices = list(SERIES.get(kind, ()))
        entries.append(LibraryEntry.model_validate({**values, "choices": choices, "plan": plan}))
    return entries


def preview(geometry: Geometry) -> Drawn:
    """The drawing as asked for, and how much light and resin every layer takes."""
    coupon, pixel = drawn(geometry), geometry.pixel_um / 1000
    rows = layers(coupon, pixel, geometry.layer_um / 1000, [None] * layers_of(coupon, geometry.layer_um / 1000))
    return Drawn(
        plan=CouponPlan.model_validate(coupon),
        has_examples=geometry.kind in EXAMPLES,
        is_specimen=geometry.kind not in EXPOSED,
        has_floor=geometry.kind in WITH_FLOOR,
        on_one_plate=geometry.kind in ON_ONE_PLATE,
        series=[_series_field(coupon, key) for key in SERIES.get(geometry.kind, ()) if key in SERIES_OF],
        layers=len(rows),
        layer_areas_mm2=[r.area_mm2 for r in rows],
    )


def _series_field(coupon: Coupon, key: str) -> SeriesField:
    sizes = {feature.size_mm for feature in coupon.features if feature.kind == SERIES_OF[key]}
    return SeriesField(key=key, label=key.removesuffix("_mm").capitalize(), usual_mm=sorted(sizes))


def drawn(geometry: Geometry) -> Coupon:
    """The coupon as asked for.

    Raises
    ------
    Problem
        When the kind is not known, the coupon would be thinner than its base layers, or a series does not fit.
    """
    if geometry.kind not in KINDS:
        message = f"There is no coupon called {geometry.kind}. Choose one of {', '.join(KINDS)}."
        raise Problem(message, {"kind": message})
    check_layer_height(geometry.layer_um)
    settings = _settings(geometry)
    if geometry.thickness_mm is not None and geometry.kind in WITH_FLOOR:
        check_thickness(geometry.thickness_mm, settings, geometry.layer_um)
    floor = floor_mm(settings, geometry.layer_um)
    if floor > THICKEST_FLOOR_MM:
        message = f"{geometry.base_layers + geometry.transition_layers} base and transition layers make a floor of {floor:g} mm: check them."
        raise Problem(message, {"base_layers": message})
    if geometry.thickness_mm is not None:
        floor = min(floor, geometry.thickness_mm)
    parameters: dict[str, Any] = {
        "pixel_mm": geometry.pixel_um / 1000,
        "floor_mm": floor,
        "thickness_mm": geometry.thickness_mm,
    }
    if geometry.kind in NEWEST:
        parameters["design"] = NEWEST[geometry.kind]
    return _fitting(geometry.kind, {**parameters, **_chosen(geometry)})


def _chosen(geometry: Geometry) -> dict[str, Any]:
    """The series that were asked for; one the kind does not have is refused."""
    plate = (geometry.plate_x_mm, geometry.plate_y_mm)
    if (plate[0] is None) != (plate[1] is None):
        message = "Give both sides of the plate."
        raise Problem(message, {"plate_y_mm" if plate[1] is None else "plate_x_mm": message})
    series = {"walls_mm": geometry.walls_mm, "slots_mm": geometry.slots_mm, "tips_mm": geometry.tips_mm}
    chosen = {name: value for name, value in series.items() if value is not None}
    for name in chosen:
        if name not in SERIES.get(geometry.kind, ()):
            message = f"The {geometry.kind} coupon has no {name.removesuffix('_mm')}."
            raise Problem(message, {name: message})
    if geometry.kind == "grid" and plate[0] is not None and not isinstance(geometry, PlateAsked):
        chosen["plate_mm"] = [plate[0], plate[1] or 0.0]
    return chosen


def _fitting(kind: str, parameters: dict[str, Any]) -> Coupon:
    try:
        return drawn_from(kind, parameters)
    except Unfit as unfit:
        field = "plate_x_mm" if unfit.parameter == "plate_mm" else unfit.parameter
        raise Problem(unfit.message, {field: unfit.message}) from None


def _settings(geometry: Geometry) -> Settings:
    return Settings(base_layers=geometry.base_layers, transition_layers=geometry.transition_layers)


def made(request: Asked) -> Made:
    """The file asked for, with code and exposure embossed where the coupon has a place for them."""
    exposure = f"{request.exposure:g}s" if request.exposure is not None else ""
    return _file(drawn(request), request, exposure)


def laid(request: PlateAsked) -> PlateLayout:
    """Which coupon lies where: shuffled, so that place and exposure are not one thing."""
    placed, fits = _placed(request)
    coupon = placed[0].coupon
    return PlateLayout(
        plate_x_mm=request.plate_x_mm,
        plate_y_mm=request.plate_y_mm,
        width_mm=coupon.width_mm,
        height_mm=coupon.height_mm,
        fits=fits,
        places=[PlaceView(code=p.code, exposure_s=p.exposure_s, x_mm=p.x_mm, y_mm=p.y_mm) for p in placed],
    )


def plate_file(request: PlateFileAsked) -> Made:
    """The masks of a plate with the manifest of its regions, or its drawing."""
    placed, _ = _placed(request)
    plate, pixel, layer = (request.plate_x_mm, request.plate_y_mm), request.pixel_um / 1000, request.layer_um / 1000
    if request.format == "svg":
        content = plate_svg(placed, plate).encode()
    else:
        count = layers_of(placed[0].coupon, layer)
        exposures = {
            p.exposure_s: layer_exposures(
                count, request.base_layers, request.transition_layers, _base_s(request, p.exposure_s), p.exposure_s
            )
            for p in placed
        }
        content = _masks(plate_archive, plate, request.pixel_um, placed, plate, pixel, layer, exposures)
    volume = sum(p.coupon.volume_ml for p in placed)
    name = f"plate-{request.kind}-{len(placed)}.{ENDINGS[request.format]}"
    return Made(content, MIMES[request.format], name, f"Plate of {len(placed)} coupons", volume)


def _placed(request: PlateAsked) -> tuple[list[Placed], int]:
    coupon = drawn(request)
    plate = (request.plate_x_mm, request.plate_y_mm)
    free = places(coupon.width_mm, coupon.height_mm, plate, request.pixel_um / 1000)
    exposures = sorted(request.exposures_s) * request.repeats
    try:
        corners = shuffled(free, len(exposures), request.seed)
    except Unfit as unfit:
        raise Problem(unfit.message, {unfit.parameter: unfit.message}) from None
    placed = []
    for number, (exposure, (x, y)) in enumerate(zip(exposures, corners, strict=True), 1):
        code = f"P{number}"
        placed.append(Placed(embossed(coupon, code, f"{exposure:g}s"), code, exposure, x, y))
    return placed, len(free)


def _base_s(geometry: Geometry, normal_s: float) -> float:
    return geometry.base_exposure_s if geometry.base_exposure_s is not None else BASE_MULTIPLE * normal_s


def of_coupon(work: UnitOfWork, id_or_code: str, file_format: Format) -> Made:
    """The file of a planned coupon: its own code and exposure on its own geometry."""
    row = present(store.coupon(work.db, id_or_code), "coupon")
    arm = present(store.arm(work.db, row.arm_id), "arm")
    calibration = present(store.calibration(work.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: {row.code} cannot be printed on it any more.")
    if row.kind == "own":
        message = "This is a coupon of your own: print your own file of it."
        raise Problem(message, {"format": message})
    settings = Settings.model_validate(arm.settings)
    file_request = Asked(
        kind=row.kind,
        format=file_format,
        pixel_um=printer.pixel_um,
        layer_um=calibration.layer_height_um,
        base_layers=settings.base_layers,
        transition_layers=settings.transition_layers,
        exposure=row.exposure_s,
        base_exposure_s=settings.base_exposure_s,
        code=row.code,
    )
    return _file(design_of(work, row), file_request, f"{row.exposure_s:g}s")


def of_print(work: UnitOfWork, print_id: str, file_format: PlateFormat) -> Made:
    """The plate of a planned print that holds several coupons: masks with flashes and regions, or its drawing."""
    row = present(store.print_row(work.db, print_id), "print")
    if row.way == "separate" or row.arm_id is None:
        raise Conflict(f"{row.code} holds one coupon: take that coupon's own file.")
    arm = present(store.arm(work.db, row.arm_id), "arm")
    calibration = present(store.calibration(work.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: {row.code} cannot be printed on it any more.")
    coupons = store.coupons_of_print(work.db, print_id)
    bare = design_of(work, coupons[0])
    placed = [
        Placed(
            embossed(bare, c.code, f"{c.exposure_s:g}s"), c.code, c.exposure_s, c.place_x_mm or 0.0, c.place_y_mm or 0.0
        )
        for c in coupons
    ]
    plate, pixel = (printer.plate_x_mm, printer.plate_y_mm), printer.pixel_um / 1000
    keep_off = [(d.x_mm, d.y_mm, d.width_mm, d.height_mm) for d in plates.defects(work.db, printer.id)]
    name, volume = f"{row.code}-{row.way}.{ENDINGS[file_format]}", sum(p.coupon.volume_ml for p in placed)
    if file_format == "svg":
        return Made(plate_svg(placed, plate, keep_off).encode(), MIMES["svg"], name, row.code, volume)
    settings = Settings.model_validate(arm.settings)
    # A strip is one layer: every area gets its whole time in it, the lift being off.
    layer = bare.thickness_mm if row.way == "strip" else calibration.layer_height_um / 1000
    count = layers_of(bare, layer)
    exposures = {
        t: [t]
        if row.way == "strip"
        else layer_exposures(count, settings.base_layers, settings.transition_layers, settings.base_exposure_s, t)
        for t in {c.exposure_s for c in coupons}
    }
    content = _masks(plate_archive, plate, printer.pixel_um, placed, plate, pixel, layer, exposures)
    return Made(content, MIMES["masks"], name, row.code, volume)


def design_of(work: UnitOfWork, row: store.CouponRow) -> Coupon:
    """The coupon's own geometry, drawn again."""
    design = present(store.design(work.db, row.design_id), "design")
    return drawn_from(design.kind, design.parameters)


def _file(coupon: Coupon, request: Asked, exposure: str) -> Made:
    name = "-".join(part for part in (request.code, coupon.kind, exposure) if part)
    solid = embossed(coupon, request.code, exposure)
    if request.format == "svg":
        content, solid = plan_svg(coupon, request.code, exposure).encode(), coupon
    elif request.format == "stl" or request.format == "3mf":
        from ...coupon.solid import exported

        content = exported(solid, request.format)
    else:
        content = _by_layer(solid, request)
    file_name = f"{name}.{ENDINGS[request.format]}"
    return Made(content, MIMES[request.format], file_name, solid.title, solid.volume_ml)


def _by_layer(coupon: Coupon, request: Asked) -> bytes:
    pixel, layer = request.pixel_um / 1000, request.layer_um / 1000
    count, normal = layers_of(coupon, layer), request.exposure
    exposures: list[float | None] = [None] * count
    if normal is not None:
        base = _base_s(request, normal)
        exposures = list(layer_exposures(count, request.base_layers, request.transition_layers, base, normal))
    if request.format == "layers":
        return layer_table(layers(coupon, pixel, layer, exposures)).encode()
    size = (coupon.width_mm, coupon.height_mm)
    return _masks(archive, size, request.pixel_um, coupon, pixel, layer, normal, exposures)


def _masks(draw: Callable[..., bytes], size_mm: tuple[float, float], pixel_um: float, *inputs: Any) -> bytes:
    """Masks, drawn in a child process, of a size that a printer can have."""
    pixels = 1e6 * size_mm[0] * size_mm[1] / pixel_um**2
    if pixels > MOST_MASK_PIXELS:
        message = (
            f"Masks of {pixels / 1e6:.0f} million pixels are larger than any screen ({MOST_MASK_PIXELS // 10**6} million at most): "
            "check the plate and the pixel."
        )
        raise Problem(message, {"pixel_um": message})
    return apart.run(draw, *inputs, field="format", seconds=MASKS_WITHIN_S)
