"""Shelf: technicians, resins, bottles, printers, finish routes."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from ..services import calibrations as calibration_service
from ..services import shelf as service
from .wiring import bench, list_of, takes

blueprint = APIBlueprint("shelf", __name__, url_prefix="/api", tag="Shelf")


class BottleQuery(service.Page):
    material_id: str | None = None


@blueprint.get("/technicians")
@blueprint.output(list_of(service.TechnicianView))
def technicians() -> Any:
    return {"items": service.technicians(bench())}


@blueprint.post("/technicians")
@takes(blueprint, service.TechnicianInput)
@blueprint.output(service.TechnicianView, status_code=201)
def add_technician(given: service.TechnicianInput) -> Any:
    return service.add_technician(bench(), given)


@blueprint.get("/resins")
@takes(blueprint, service.Page, "query")
@blueprint.output(list_of(service.ResinView))
def resins(given: service.Page) -> Any:
    return {"items": service.resins(bench(), given)}


@blueprint.post("/resins")
@takes(blueprint, service.ResinInput)
@blueprint.output(service.ResinView, status_code=201)
def add_resin(given: service.ResinInput) -> Any:
    return service.add_resin(bench(), given)


@blueprint.get("/resins/<row_id>")
@blueprint.output(service.ResinView)
def resin(row_id: str) -> Any:
    return service.resin(bench(), row_id)


@blueprint.put("/resins/<row_id>")
@takes(blueprint, service.ResinInput)
@blueprint.output(service.ResinView)
def change_resin(row_id: str, given: service.ResinInput) -> Any:
    return service.change_resin(bench(), row_id, given)


@blueprint.get("/bottles")
@takes(blueprint, BottleQuery, "query")
@blueprint.output(list_of(service.BottleView))
def bottles(given: BottleQuery) -> Any:
    page = service.Page(retired=given.retired, after=given.after, limit=given.limit)
    return {"items": service.bottles(bench(), page, given.material_id)}


@blueprint.post("/bottles")
@takes(blueprint, service.BottleInput)
@blueprint.output(service.BottleView, status_code=201)
def add_bottle(given: service.BottleInput) -> Any:
    return service.add_bottle(bench(), given)


@blueprint.get("/bottles/<row_id>")
@blueprint.output(service.BottleView)
def bottle(row_id: str) -> Any:
    return service.bottle(bench(), row_id)


@blueprint.put("/bottles/<row_id>")
@takes(blueprint, service.BottleInput)
@blueprint.output(service.BottleView)
def change_bottle(row_id: str, given: service.BottleInput) -> Any:
    return service.change_bottle(bench(), row_id, given)


@blueprint.post("/bottles/<row_id>/shaken")
@blueprint.output(service.BottleView)
def shaken(row_id: str) -> Any:
    return service.shaken(bench(), row_id)


@blueprint.get("/printers")
@takes(blueprint, service.Page, "query")
@blueprint.output(list_of(service.PrinterView))
def printers(given: service.Page) -> Any:
    return {"items": service.printers(bench(), given)}


@blueprint.post("/printers")
@takes(blueprint, service.PrinterInput)
@blueprint.output(service.PrinterView, status_code=201)
def add_printer(given: service.PrinterInput) -> Any:
    return service.add_printer(bench(), given)


@blueprint.get("/printers/<row_id>")
@blueprint.output(service.PrinterView)
def printer(row_id: str) -> Any:
    return service.printer(bench(), row_id)


@blueprint.put("/printers/<row_id>")
@takes(blueprint, service.PrinterInput)
@blueprint.output(service.PrinterView)
def change_printer(row_id: str, given: service.PrinterInput) -> Any:
    return service.change_printer(bench(), row_id, given)


@blueprint.get("/printers/<row_id>/series")
@blueprint.output(calibration_service.Series)
def series(row_id: str) -> Any:
    return calibration_service.printer_series(bench(), row_id)


@blueprint.get("/finish-routes")
@takes(blueprint, service.Page, "query")
@blueprint.output(list_of(service.FinishRouteView))
def finish_routes(given: service.Page) -> Any:
    return {"items": service.finish_routes(bench(), given)}


@blueprint.post("/finish-routes")
@takes(blueprint, service.FinishRouteInput)
@blueprint.output(service.FinishRouteView, status_code=201)
def add_finish_route(given: service.FinishRouteInput) -> Any:
    return service.add_finish_route(bench(), given)


@blueprint.get("/finish-routes/<row_id>")
@blueprint.output(service.FinishRouteView)
def finish_route(row_id: str) -> Any:
    return service.finish_route(bench(), row_id)


@blueprint.put("/finish-routes/<row_id>")
@takes(blueprint, service.FinishRouteInput)
@blueprint.output(service.FinishRouteView)
def change_finish_route(row_id: str, given: service.FinishRouteInput) -> Any:
    return service.change_finish_route(bench(), row_id, given)


_KIND = "<any(technicians, resins, bottles, printers, 'finish-routes'):kind>"


@blueprint.post(f"/{_KIND}/<row_id>/retire")
@blueprint.output(service.Retired)
def retire(kind: service.Kind, row_id: str) -> Any:
    return service.retire(bench(), kind, row_id)


@blueprint.post(f"/{_KIND}/<row_id>/restore")
@blueprint.output(service.Retired)
def restore(kind: service.Kind, row_id: str) -> Any:
    return service.restore(bench(), kind, row_id)
