"""Light over a printer's plate, and marks on it."""

from __future__ import annotations

from typing import Any

from ..services.plate import grid_maps
from ..services.plate import light_maps as service
from .wiring import Blueprint, takes, work

blueprint = Blueprint("plates", __name__, url_prefix="/api", tag="Shelf")


@blueprint.get("/printers/<printer_id>/plate")
@takes(blueprint, service.PlateQuery, "query")
@blueprint.output(service.PlateView)
def plate(printer_id: str, query: service.PlateQuery) -> Any:
    """The light over the plate, marks on the screen, and how much of the plate an exposure can use."""
    return service.plate(work(), printer_id, query)


@blueprint.post("/printers/<printer_id>/plate-maps")
@takes(blueprint, service.PlateMapInput)
@blueprint.output(service.PlateView, status_code=201)
def add_map(printer_id: str, body: service.PlateMapInput) -> Any:
    """Keep a map of light meter readings."""
    return service.add_map(work(), printer_id, body)


@blueprint.post("/printers/<printer_id>/plate-maps/from-grid")
@takes(blueprint, grid_maps.GridInput)
@blueprint.output(service.PlateView, status_code=201)
def map_from_grid(printer_id: str, body: grid_maps.GridInput) -> Any:
    """Make a map from a grid coupon that was read."""
    return grid_maps.map_from_grid(work(), printer_id, body)


@blueprint.post("/plate-maps/<map_id>/retire")
@blueprint.output(service.PlateView)
def retire_map(map_id: str) -> Any:
    """Let a map count no more."""
    return service.retire_map(work(), map_id)


@blueprint.post("/plate-maps/<map_id>/restore")
@blueprint.output(service.PlateView)
def restore_map(map_id: str) -> Any:
    """Let a retired map count again."""
    return service.restore_map(work(), map_id)


@blueprint.post("/printers/<printer_id>/defects")
@takes(blueprint, service.DefectInput)
@blueprint.output(service.PlateView, status_code=201)
def add_defect(printer_id: str, body: service.DefectInput) -> Any:
    """Note a mark on the screen or film."""
    return service.add_defect(work(), printer_id, body)


@blueprint.post("/defects/<defect_id>/retire")
@blueprint.output(service.PlateView)
def retire_defect(defect_id: str) -> Any:
    """Note that a mark is gone."""
    return service.retire_defect(work(), defect_id)


@blueprint.post("/defects/<defect_id>/restore")
@blueprint.output(service.PlateView)
def restore_defect(defect_id: str) -> Any:
    """Note that a mark is still there."""
    return service.restore_defect(work(), defect_id)
