"""The shelf: add, edit, retire and bring back technicians, resins, bottles, printers and finish routes."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints

from ..core.contract import Contract, Problem
from ..core.plausible import check_range
from ..store import shelf
from ..store.codes import next_code
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present, same_version


def _iso_date(text: str) -> str:
    try:
        return date.fromisoformat(text).isoformat()
    except ValueError:
        raise ValueError("give a date as year-month-day") from None


Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
Day = Annotated[str, AfterValidator(_iso_date)]
Initials = Annotated[str, StringConstraints(strip_whitespace=True, to_upper=True, pattern=r"^[A-Za-z]{1,4}$")]
Version = Annotated[int | None, Field(description="Version the edit was made on; needed when changing")]
PAGE = 200


class Page(Contract):
    retired: bool = False
    after: str = Field("", max_length=100, description="Name or code of the last one seen")
    limit: int = Field(100, ge=1, le=PAGE)


# Technicians


class TechnicianInput(Contract):
    initials: Initials


class TechnicianView(View):
    id: str
    initials: str
    retired_at: str | None


def technicians(bench: Bench) -> list[TechnicianView]:
    return [TechnicianView.model_validate(row) for row in shelf.technicians(bench.db)]


def add_technician(bench: Bench, given: TechnicianInput) -> TechnicianView:
    """Add initials, or bring retired ones back."""
    with bench.write() as answer:
        held = shelf.technician_by_initials(bench.db, given.initials)
        if held is not None and held.retired_at is None:
            raise Problem("These initials are taken.", {"initials": f"{given.initials} is here already."})
        if held is not None:
            update(bench.db, "technician", held.id, retired_at=None)
        else:
            insert(bench.db, "technician", id=bench.new_id(), initials=given.initials, created_at=bench.now())
        return answer(TechnicianView.model_validate(shelf.technician_by_initials(bench.db, given.initials)))


# Resins


class ResinInput(Contract):
    name: Name
    maker: Name
    line: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] | None = None
    colour: Name
    family: Literal["basic", "ABS-like", "tough", "flexible", "rigid", "detail", "fast", "clear", "castable"]
    opacity: Literal["opaque", "tinted", "clear"]
    wash_class: Literal["solvent", "water"]
    chemistry: Literal["acrylate", "epoxy-hybrid", "unknown"] = "unknown"
    maker_low_s: Annotated[float, Field(gt=0, le=1000)] | None = None
    maker_high_s: Annotated[float, Field(gt=0, le=1000)] | None = None
    maker_temp_low_c: Annotated[float, Field(ge=-10, le=80)] | None = None
    maker_temp_high_c: Annotated[float, Field(ge=-10, le=80)] | None = None
    density_g_ml: Annotated[float, Field(ge=0.7, le=3)] | None = None
    price_per_l: Annotated[float, Field(ge=0, le=100_000)] | None = None
    heat_capacity_j_g_k: Annotated[float, Field(ge=0.5, le=6)] | None = None
    safety_sheet_url: Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)] | None = None
    version: Version = None


class ResinView(View):
    id: str
    code: str
    name: str
    version: int
    created_at: str
    retired_at: str | None
    maker: str
    line: str | None
    colour: str
    family: str
    opacity: str
    wash_class: str
    chemistry: str
    maker_low_s: float | None
    maker_high_s: float | None
    maker_temp_low_c: float | None
    maker_temp_high_c: float | None
    density_g_ml: float | None
    price_per_l: float | None
    heat_capacity_j_g_k: float | None
    safety_sheet_url: str | None
    bottles: int
    left_ml: float


def resins(bench: Bench, page: Page) -> list[ResinView]:
    rows = shelf.resins(bench.db, page.retired, page.after, page.limit)
    return [ResinView.model_validate(row) for row in rows]


def resin(bench: Bench, material_id: str) -> ResinView:
    return ResinView.model_validate(present(shelf.resin(bench.db, material_id), "resin"))


def add_resin(bench: Bench, given: ResinInput) -> ResinView:
    _check_resin(given)
    with bench.write() as answer:
        _free_name(bench, "material", given.name, None)
        material_id = bench.new_id()
        insert(
            bench.db, "material", id=material_id, code=next_code(bench.db, "R"), kind="resin", name=given.name,
            created_at=bench.now(),
        )  # fmt: skip
        insert(bench.db, "resin", material_id=material_id, **given.model_dump(exclude={"name", "version"}))
        return answer(resin(bench, material_id))


def change_resin(bench: Bench, material_id: str, given: ResinInput) -> ResinView:
    _check_resin(given)
    with bench.write() as answer:
        held = resin(bench, material_id)
        same_version(held.version, _version(given.version), held.name)
        _free_name(bench, "material", given.name, material_id)
        update(bench.db, "material", material_id, name=given.name, version=held.version + 1)
        columns = given.model_dump(exclude={"name", "version"})
        names = ", ".join(f"{name} = ?" for name in columns)
        bench.db.execute(f"UPDATE resin SET {names} WHERE material_id = ?", [*columns.values(), material_id])
        return answer(resin(bench, material_id))


def _check_resin(given: ResinInput) -> None:
    _pair(given.maker_low_s, given.maker_high_s, "maker_low_s", "maker_high_s")
    _pair(given.maker_temp_low_c, given.maker_temp_high_c, "maker_temp_low_c", "maker_temp_high_c")
    if given.maker_low_s is not None and given.maker_high_s is not None:
        try:
            check_range(given.maker_low_s, given.maker_high_s)
        except Problem as problem:
            raise Problem(problem.message, {"maker_high_s": problem.message}) from None
    if given.safety_sheet_url and not given.safety_sheet_url.startswith(("http://", "https://", "file:", "/")):
        said = "Give a link that starts with https://, http:// or file:"
        raise Problem(said, {"safety_sheet_url": said})


# Bottles


class BottleInput(Contract):
    material_id: str
    lot: Name
    received_on: Day | None = None
    opened_on: Day | None = None
    best_before: Day | None = None
    volume_ml: float = Field(gt=0, le=50_000)
    left_ml: Annotated[float, Field(ge=0, le=50_000)] | None = Field(None, description="Full when not given")
    version: Version = None


class BottleView(View):
    id: str
    code: str
    material_id: str
    material: str
    lot: str
    received_on: str | None
    opened_on: str | None
    best_before: str | None
    volume_ml: float
    left_ml: float
    last_shaken_at: str | None
    version: int
    created_at: str
    retired_at: str | None


def bottles(bench: Bench, page: Page, material_id: str | None = None) -> list[BottleView]:
    rows = shelf.bottles(bench.db, page.retired, material_id, page.after, page.limit)
    return [BottleView.model_validate(row) for row in rows]


def bottle(bench: Bench, bottle_id: str) -> BottleView:
    return BottleView.model_validate(present(shelf.bottle(bench.db, bottle_id), "bottle"))


def add_bottle(bench: Bench, given: BottleInput) -> BottleView:
    columns = _bottle_columns(given)
    with bench.write() as answer:
        _live_material(bench, given.material_id)
        bottle_id = bench.new_id()
        insert(
            bench.db, "bottle", id=bottle_id, code=next_code(bench.db, "B"), created_at=bench.now(), **columns
        )  # fmt: skip
        return answer(bottle(bench, bottle_id))


def change_bottle(bench: Bench, bottle_id: str, given: BottleInput) -> BottleView:
    columns = _bottle_columns(given)
    with bench.write() as answer:
        held = bottle(bench, bottle_id)
        same_version(held.version, _version(given.version), f"Bottle {held.code}")
        if given.material_id != held.material_id:
            said = "A bottle keeps its resin: retire this one and add another."
            raise Problem(said, {"material_id": said})
        update(bench.db, "bottle", bottle_id, version=held.version + 1, **columns)
        return answer(bottle(bench, bottle_id))


def shaken(bench: Bench, bottle_id: str) -> BottleView:
    """Note that a bottle was shaken now: settled pigment looks exactly like a wrong exposure."""
    with bench.write() as answer:
        held = bottle(bench, bottle_id)
        update(bench.db, "bottle", held.id, last_shaken_at=bench.now())
        return answer(bottle(bench, bottle_id))


def _bottle_columns(given: BottleInput) -> dict[str, object]:
    left = given.volume_ml if given.left_ml is None else given.left_ml
    if left > given.volume_ml:
        said = f"A bottle of {given.volume_ml:g} ml cannot hold {left:g} ml."
        raise Problem(said, {"left_ml": said})
    for first, then in (("received_on", "opened_on"), ("received_on", "best_before")):
        a, b = getattr(given, first), getattr(given, then)
        if a and b and b < a:
            said = f"This is before it was {first.removesuffix('_on')}."
            raise Problem(said, {then: said})
    return {**given.model_dump(exclude={"version"}), "left_ml": left}


# Printers


class PrinterInput(Contract):
    name: Name
    light_engine: Literal["mono screen", "colour screen", "projector", "laser"]
    light_power_adjustable: bool = False
    pixel_um: float = Field(ge=5, le=200)
    plate_x_mm: float = Field(ge=40, le=2000)
    plate_y_mm: float = Field(ge=30, le=2000)
    vat_capacity_ml: float = Field(gt=0, le=50_000)
    fill_line_ml: float = Field(gt=0, le=50_000)
    exposure_step_s: float = Field(ge=0.001, le=5)
    screen_hours: float = Field(0, ge=0, le=100_000)
    several_exposures: bool = False
    suppresses_lift: bool = False
    delay_includes_motion: bool = False
    note: Note = ""
    version: Version = None


class PrinterView(View):
    id: str
    code: str
    name: str
    light_engine: str
    light_power_adjustable: bool
    pixel_um: float
    plate_x_mm: float
    plate_y_mm: float
    vat_capacity_ml: float
    fill_line_ml: float
    exposure_step_s: float
    screen_hours: float
    several_exposures: bool
    suppresses_lift: bool
    delay_includes_motion: bool
    note: str
    version: int
    created_at: str
    retired_at: str | None


def printers(bench: Bench, page: Page) -> list[PrinterView]:
    rows = shelf.printers(bench.db, page.retired, page.after, page.limit)
    return [PrinterView.model_validate(row) for row in rows]


def printer(bench: Bench, printer_id: str) -> PrinterView:
    return PrinterView.model_validate(present(shelf.printer(bench.db, printer_id), "printer"))


def add_printer(bench: Bench, given: PrinterInput) -> PrinterView:
    _check_printer(given)
    with bench.write() as answer:
        _free_name(bench, "printer", given.name, None)
        printer_id = bench.new_id()
        insert(
            bench.db, "printer", id=printer_id, code=next_code(bench.db, "P"), created_at=bench.now(),
            **given.model_dump(exclude={"version"}),
        )  # fmt: skip
        return answer(printer(bench, printer_id))


def change_printer(bench: Bench, printer_id: str, given: PrinterInput) -> PrinterView:
    _check_printer(given)
    with bench.write() as answer:
        held = printer(bench, printer_id)
        same_version(held.version, _version(given.version), held.name)
        _free_name(bench, "printer", given.name, printer_id)
        update(bench.db, "printer", printer_id, version=held.version + 1, **given.model_dump(exclude={"version"}))
        return answer(printer(bench, printer_id))


def _check_printer(given: PrinterInput) -> None:
    if given.fill_line_ml > given.vat_capacity_ml:
        said = f"The fill line cannot be above the vat's {given.vat_capacity_ml:g} ml."
        raise Problem(said, {"fill_line_ml": said})


# Finish routes


class FinishRouteInput(Contract):
    name: Name
    wash_fluid: Name
    wash_method: Name
    dirty_bath_min: float = Field(ge=0, le=120)
    clean_bath_min: float = Field(ge=0, le=120)
    dry_min: float = Field(ge=0, le=1440)
    air_min: float = Field(0, ge=0, le=2880)
    lamp: Name
    cure_min: float = Field(ge=0, le=600)
    cure_temp_c: Annotated[float, Field(ge=0, le=120)] | None = None
    supports_off: Literal["before cure", "after cure"] = "before cure"
    version: Version = None


class FinishRouteView(View):
    id: str
    code: str
    name: str
    created_at: str
    retired_at: str | None
    version: int
    version_id: str
    wash_fluid: str
    wash_method: str
    dirty_bath_min: float
    clean_bath_min: float
    dry_min: float
    air_min: float
    lamp: str
    cure_min: float
    cure_temp_c: float | None
    supports_off: str
    uses: int


def finish_routes(bench: Bench, page: Page) -> list[FinishRouteView]:
    rows = shelf.finish_routes(bench.db, page.retired, page.after, page.limit)
    return [FinishRouteView.model_validate(row) for row in rows]


def finish_route(bench: Bench, route_id: str) -> FinishRouteView:
    return FinishRouteView.model_validate(present(shelf.finish_route(bench.db, route_id), "finish route"))


def add_finish_route(bench: Bench, given: FinishRouteInput) -> FinishRouteView:
    with bench.write() as answer:
        _free_name(bench, "finish_route", given.name, None)
        route_id = bench.new_id()
        insert(
            bench.db, "finish_route", id=route_id, code=next_code(bench.db, "F"), name=given.name,
            created_at=bench.now(),
        )  # fmt: skip
        _add_route_version(bench, route_id, 1, given)
        return answer(finish_route(bench, route_id))


def change_finish_route(bench: Bench, route_id: str, given: FinishRouteInput) -> FinishRouteView:
    """A change makes a new version: what was finished by the old one keeps it."""
    with bench.write() as answer:
        held = finish_route(bench, route_id)
        same_version(held.version, _version(given.version), held.name)
        _free_name(bench, "finish_route", given.name, route_id)
        update(bench.db, "finish_route", route_id, name=given.name)
        _add_route_version(bench, route_id, held.version + 1, given)
        return answer(finish_route(bench, route_id))


def _add_route_version(bench: Bench, route_id: str, version: int, given: FinishRouteInput) -> None:
    insert(
        bench.db, "finish_route_version", id=bench.new_id(), finish_route_id=route_id, version=version,
        created_at=bench.now(), **given.model_dump(exclude={"name", "version"}),
    )  # fmt: skip


# Retiring, the same for all

Kind = Literal["technicians", "resins", "bottles", "printers", "finish-routes"]
_TABLES = {
    "technicians": ("technician", "initials"), "resins": ("material", "name"), "bottles": ("bottle", "code"),
    "printers": ("printer", "name"), "finish-routes": ("finish_route", "name"),
}  # fmt: skip
_IN_WORK = {
    "resins": "SELECT code FROM calibration WHERE material_id = ? AND closed_at IS NULL LIMIT 1",
    "printers": "SELECT code FROM calibration WHERE printer_id = ? AND closed_at IS NULL LIMIT 1",
}


class Retired(View):
    id: str
    retired_at: str | None


def retire(bench: Bench, kind: Kind, row_id: str) -> Retired:
    """Take something off the shelf; what was measured with it stays."""
    table, _ = _TABLES[kind]
    with bench.write() as answer:
        _held(bench, kind, row_id)
        if kind in _IN_WORK:
            row = bench.db.execute(_IN_WORK[kind], (row_id,)).fetchone()
            if row is not None:
                raise Conflict(f"Calibration {row[0]} is still open on it. Close that first.")
        update(bench.db, table, row_id, retired_at=bench.now())
        return answer(Retired(id=row_id, retired_at=bench.now()))


def restore(bench: Bench, kind: Kind, row_id: str) -> Retired:
    """Bring something back to the shelf."""
    table, column = _TABLES[kind]
    with bench.write() as answer:
        name = _held(bench, kind, row_id)
        if column == "name":
            _free_name(bench, table, name, row_id)
        update(bench.db, table, row_id, retired_at=None)
        return answer(Retired(id=row_id, retired_at=None))


def _held(bench: Bench, kind: Kind, row_id: str) -> str:
    table, column = _TABLES[kind]
    row = bench.db.execute(f"SELECT {column} FROM {table} WHERE id = ?", (row_id,)).fetchone()
    return str(present(row, kind.removesuffix("s").replace("-", " "))[0])


def _free_name(bench: Bench, table: str, name: str, own_id: str | None) -> None:
    sql = f"SELECT id FROM {table} WHERE name = ? COLLATE NOCASE AND retired_at IS NULL"
    row = bench.db.execute(sql, (name,)).fetchone()
    if row is not None and row[0] != own_id:
        said = f"“{name}” is on the shelf already."
        raise Problem(said, {"name": said})


def _live_material(bench: Bench, material_id: str) -> shelf.Material:
    held = shelf.material(bench.db, material_id)
    if held is None or held.retired_at is not None:
        said = "This material is not on the shelf."
        raise Problem(said, {"material_id": said})
    return held


def _pair(low: float | None, high: float | None, low_name: str, high_name: str) -> None:
    if (low is None) != (high is None):
        said = "Give both ends of the range, or neither."
        raise Problem(said, {low_name if low is None else high_name: said})
    if low is not None and high is not None and high < low:
        said = "The high end is below the low end."
        raise Problem(said, {high_name: said})


def _version(given: int | None) -> int:
    if given is None:
        said = "The version the change was made on is missing."
        raise Problem(said, {"version": said})
    return given
