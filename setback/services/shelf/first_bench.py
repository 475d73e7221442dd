"""A bench set up in one go: who works, one printer, one resin with its bottle, one way to finish; the rest is corrected later."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, TypeVar

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.terms import LightEngine, Opacity
from ..unit_of_work import UnitOfWork, View
from .bottles import BottleInput, put_bottle
from .entry import Initials, Name
from .finish_routes import FinishRouteInput, put_finish_route
from .printers import LARGEST_VAT_ML, PrinterInput, put_printer
from .resins import ResinInput, put_resin
from .technicians import TechnicianInput, put_technician

NOT_NOTED = "not noted"
VAT_DEPTH_MM = 20.0
"""A vat is about as wide as its plate; so deep it is taken to be until its size is entered."""
USUAL_STEP_S = 0.1
FAMILIES: dict[Opacity, Literal["basic", "clear"]] = {"opaque": "basic", "tinted": "basic", "clear": "clear"}


class FirstBenchInput(Contract):
    """The ten things a bench begins with."""

    initials: Initials
    printer: Name = Field(description="What the printer is called here")
    light_engine: LightEngine | Literal["simulated"] = Field(
        description="Simulated: a virtual printer that prints and photographs by itself, for trying"
    )
    pixel_um: float = Field(ge=5, le=200, description="Size of a pixel on the plate")
    plate_x_mm: float = Field(ge=40, le=2000)
    plate_y_mm: float = Field(ge=30, le=2000)
    resin: Name = Field(description="Name and colour on the bottle")
    opacity: Opacity
    bottle_ml: float = Field(gt=0, le=50_000, description="What is in the bottle now")
    wash: Literal["solvent", "water"] = Field(description="What parts are washed in")


class FirstBench(View):
    """What was set up."""

    initials: str
    printer_id: str
    material_id: str
    bottle_id: str
    finish_route_id: str


def set_up(work: UnitOfWork, request: FirstBenchInput) -> FirstBench:
    """Put all of it on the shelf, or nothing.

    Raises
    ------
    Problem
        When a name is taken, at its field; or the initials are not those of whoever is signed in.
    """
    if work.sign_in_id is not None and request.initials != work.initials:
        message = f"You are signed in as {work.initials}: the bench is set up under these initials."
        raise Problem(message, {"initials": message})
    with work.write(by_anybody=True) as answer:
        put_technician(work, TechnicianInput(initials=request.initials))
        work.initials = request.initials
        printer = _at("printer", lambda: put_printer(work, _printer(request)))
        resin = _at("resin", lambda: put_resin(work, _resin(request)))
        bottle = put_bottle(
            work, BottleInput(material_id=resin.id, lot=NOT_NOTED, volume_ml=request.bottle_ml, left_ml=None)
        )
        route = put_finish_route(work, _route(work, request))
        return answer(
            FirstBench(
                initials=request.initials,
                printer_id=printer.id,
                material_id=resin.id,
                bottle_id=bottle.id,
                finish_route_id=route.id,
            )
        )


Put = TypeVar("Put")


def _at(field: str, put: Callable[[], Put]) -> Put:
    """Messages about a name stand at the field it was given in."""
    try:
        return put()
    except Problem as problem:
        message = next(iter(problem.fields.values()), problem.message)
        raise Problem(message, {field: message}) from None


def _printer(request: FirstBenchInput) -> PrinterInput:
    """Its vat is reckoned from its plate until somebody measures it."""
    reckoned_ml = round(request.plate_x_mm * request.plate_y_mm * VAT_DEPTH_MM / 1000, -1)
    holds_ml = min(max(reckoned_ml, 10.0), LARGEST_VAT_ML)
    return PrinterInput(
        name=request.printer,
        light_engine="mono screen" if request.light_engine == "simulated" else request.light_engine,
        simulated=request.light_engine == "simulated",
        pixel_um=request.pixel_um,
        plate_x_mm=request.plate_x_mm,
        plate_y_mm=request.plate_y_mm,
        vat_capacity_ml=holds_ml,
        exposure_step_s=USUAL_STEP_S,
        note=f"Vat of {holds_ml:.0f} ml, reckoned from the plate, and steps of {USUAL_STEP_S:g} s: correct them when you know.",
    )


def _resin(request: FirstBenchInput) -> ResinInput:
    return ResinInput(
        name=request.resin,
        maker=NOT_NOTED,
        colour=NOT_NOTED,
        family=FAMILIES[request.opacity],
        opacity=request.opacity,
        wash_class=request.wash,
    )


def _route(work: UnitOfWork, request: FirstBenchInput) -> FinishRouteInput:
    """Two baths, dry, cure; its name is free in any lab."""
    name, number = f"Two baths of {request.wash}", 2
    while shelf.id_of_name(work.db, "finish_route", name) is not None:
        name, number = f"Two baths of {request.wash} {number}", number + 1
    return FinishRouteInput(
        name=name,
        wash_fluid=request.wash,
        wash_method="basket",
        dirty_bath_min=2,
        clean_bath_min=2,
        dry_min=20,
        lamp="turntable",
        cure_min=6,
    )
