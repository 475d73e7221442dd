"""Shelf: technicians, resins, bottles, printers, finish routes."""

from __future__ import annotations

from typing import Any

from ..services.calibrate import calibrations as calibration_service
from ..services.shelf import bottles as bottle_service
from ..services.shelf import finish_routes as route_service
from ..services.shelf import first_bench, retiring
from ..services.shelf import printers as printer_service
from ..services.shelf import resins as resin_service
from ..services.shelf import technicians as technician_service
from ..services.shelf import wash_baths as bath_service
from ..services.shelf.entry import Page
from ..store.shelf import Bottle, FinishRoute, Printer, Resin, Technician
from ..store.wash_baths import BathRow
from .wiring import Blueprint, list_of, takes, work

blueprint = Blueprint("shelf", __name__, url_prefix="/api", tag="Shelf")


class BottleQuery(Page):
    """Which bottles are listed."""

    material_id: str | None = None


@blueprint.get("/technicians")
@blueprint.output(list_of(Technician))
def technicians() -> Any:
    """Who works in this lab."""
    return {"items": technician_service.technicians(work())}


@blueprint.post("/technicians")
@takes(blueprint, technician_service.TechnicianInput)
@blueprint.output(Technician, status_code=201)
def add_technician(body: technician_service.TechnicianInput) -> Any:
    """Add somebody who works here."""
    return technician_service.add_technician(work(), body)


@blueprint.get("/resins")
@takes(blueprint, Page, "query")
@blueprint.output(list_of(Resin))
def resins(query: Page) -> Any:
    """Resins on the shelf."""
    return {"items": resin_service.resins(work(), query)}


@blueprint.post("/resins")
@takes(blueprint, resin_service.ResinInput)
@blueprint.output(Resin, status_code=201)
def add_resin(body: resin_service.ResinInput) -> Any:
    """Add a resin."""
    return resin_service.add_resin(work(), body)


@blueprint.get("/resins/<row_id>")
@blueprint.output(Resin)
def resin(row_id: str) -> Any:
    """One resin."""
    return resin_service.resin(work(), row_id)


@blueprint.put("/resins/<row_id>")
@takes(blueprint, resin_service.ResinInput)
@blueprint.output(Resin)
def change_resin(row_id: str, body: resin_service.ResinInput) -> Any:
    """Change a resin."""
    return resin_service.change_resin(work(), row_id, body)


@blueprint.get("/bottles")
@takes(blueprint, BottleQuery, "query")
@blueprint.output(list_of(Bottle))
def bottles(query: BottleQuery) -> Any:
    """Bottles on the shelf."""
    page = Page(retired=query.retired, after=query.after, limit=query.limit)
    return {"items": bottle_service.bottles(work(), page, query.material_id)}


@blueprint.post("/bottles")
@takes(blueprint, bottle_service.BottleInput)
@blueprint.output(Bottle, status_code=201)
def add_bottle(body: bottle_service.BottleInput) -> Any:
    """Add a bottle."""
    return bottle_service.add_bottle(work(), body)


@blueprint.get("/bottles/<row_id>")
@blueprint.output(Bottle)
def bottle(row_id: str) -> Any:
    """One bottle."""
    return bottle_service.bottle(work(), row_id)


@blueprint.put("/bottles/<row_id>")
@takes(blueprint, bottle_service.BottleInput)
@blueprint.output(Bottle)
def change_bottle(row_id: str, body: bottle_service.BottleInput) -> Any:
    """Change a bottle."""
    return bottle_service.change_bottle(work(), row_id, body)


@blueprint.post("/bottles/<row_id>/shaken")
@blueprint.output(Bottle)
def shaken(row_id: str) -> Any:
    """Note that a bottle was shaken."""
    return bottle_service.shaken(work(), row_id)


@blueprint.get("/printers")
@takes(blueprint, Page, "query")
@blueprint.output(list_of(Printer))
def printers(query: Page) -> Any:
    """Printers in this lab."""
    return {"items": printer_service.printers(work(), query)}


@blueprint.post("/printers")
@takes(blueprint, printer_service.PrinterInput)
@blueprint.output(Printer, status_code=201)
def add_printer(body: printer_service.PrinterInput) -> Any:
    """Add a printer."""
    return printer_service.add_printer(work(), body)


@blueprint.get("/printers/<row_id>")
@blueprint.output(Printer)
def printer(row_id: str) -> Any:
    """One printer."""
    return printer_service.printer(work(), row_id)


@blueprint.put("/printers/<row_id>")
@takes(blueprint, printer_service.PrinterInput)
@blueprint.output(Printer)
def change_printer(row_id: str, body: printer_service.PrinterInput) -> Any:
    """Change a printer."""
    return printer_service.change_printer(work(), row_id, body)


@blueprint.get("/printers/<row_id>/series")
@blueprint.output(calibration_service.Series)
def series(row_id: str) -> Any:
    """Sizes that a printer's pixels allow for walls, slots and tips."""
    return calibration_service.printer_series(work(), row_id)


@blueprint.get("/finish-routes")
@takes(blueprint, Page, "query")
@blueprint.output(list_of(FinishRoute))
def finish_routes(query: Page) -> Any:
    """Finish routes, newest versions."""
    return {"items": route_service.finish_routes(work(), query)}


@blueprint.post("/finish-routes")
@takes(blueprint, route_service.FinishRouteInput)
@blueprint.output(FinishRoute, status_code=201)
def add_finish_route(body: route_service.FinishRouteInput) -> Any:
    """Add a finish route."""
    return route_service.add_finish_route(work(), body)


@blueprint.get("/finish-routes/<row_id>")
@blueprint.output(FinishRoute)
def finish_route(row_id: str) -> Any:
    """One finish route."""
    return route_service.finish_route(work(), row_id)


@blueprint.put("/finish-routes/<row_id>")
@takes(blueprint, route_service.FinishRouteInput)
@blueprint.output(FinishRoute)
def change_finish_route(row_id: str, body: route_service.FinishRouteInput) -> Any:
    """Change a finish route; used versions stay as they are."""
    return route_service.change_finish_route(work(), row_id, body)


@blueprint.get("/wash-baths")
@takes(blueprint, Page, "query")
@blueprint.output(list_of(BathRow))
def wash_baths(query: Page) -> Any:
    """Wash baths, with what went through them since they were filled."""
    return {"items": bath_service.wash_baths(work(), query)}


@blueprint.post("/wash-baths")
@takes(blueprint, bath_service.WashBathInput)
@blueprint.output(BathRow, status_code=201)
def add_wash_bath(body: bath_service.WashBathInput) -> Any:
    """Add a wash bath, filled now."""
    return bath_service.add_wash_bath(work(), body)


@blueprint.put("/wash-baths/<row_id>")
@takes(blueprint, bath_service.WashBathInput)
@blueprint.output(BathRow)
def change_wash_bath(row_id: str, body: bath_service.WashBathInput) -> Any:
    """Change a wash bath."""
    return bath_service.change_wash_bath(work(), row_id, body)


@blueprint.post("/wash-baths/<row_id>/fillings")
@blueprint.output(BathRow, status_code=201)
def fill_wash_bath(row_id: str) -> Any:
    """Note that a wash bath was filled anew."""
    return bath_service.fill(work(), row_id)


@blueprint.post("/wash-baths/<row_id>/fillings/withdraw")
@blueprint.output(BathRow)
def withdraw_wash_bath_filling(row_id: str) -> Any:
    """Let the newest filling of a wash bath no longer count."""
    return bath_service.withdraw_filling(work(), row_id)


_KIND = "<any(technicians, resins, bottles, printers, 'finish-routes', 'wash-baths'):kind>"


@blueprint.post(f"/{_KIND}/<row_id>/retire")
@blueprint.output(retiring.Retired)
def retire(kind: retiring.Kind, row_id: str) -> Any:
    """Take something off the shelf."""
    return retiring.retire(work(), kind, row_id)


@blueprint.post(f"/{_KIND}/<row_id>/restore")
@blueprint.output(retiring.Retired)
def restore(kind: retiring.Kind, row_id: str) -> Any:
    """Put something back on the shelf."""
    return retiring.restore(work(), kind, row_id)


@blueprint.post("/first-bench")
@takes(blueprint, first_bench.FirstBenchInput)
@blueprint.output(first_bench.FirstBench, status_code=201)
def set_up_first_bench(body: first_bench.FirstBenchInput) -> Any:
    """Set up a bench in one go: initials, printer, resin, bottle and finish."""
    return first_bench.set_up(work(), body)
