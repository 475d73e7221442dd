"""Sheets of labels as PDF."""

from __future__ import annotations

from typing import Any

from flask import Response

from ...services.files import labels as service
from ..wiring import Blueprint, file_response, list_of, takes, work

blueprint = Blueprint("labels", __name__, url_prefix="/api", tag="Labels")


@blueprint.get("/label-sheets")
@blueprint.output(list_of(service.SheetView))
def sheets() -> Any:
    """Sheets of labels that can be printed on."""
    return {"items": service.sheets()}


@blueprint.get("/labels/coupons")
@takes(blueprint, service.CouponLabels, "query")
@blueprint.doc(description="An A4 sheet of labels for coupons, as PDF.", responses={200: "The file"})
def coupons(query: service.CouponLabels) -> Response:
    """Labels of coupons, PDF."""
    return file_response(service.of_coupons(work(), query))


@blueprint.get("/labels/specimens")
@takes(blueprint, service.SpecimenLabels, "query")
@blueprint.doc(description="An A4 sheet of numbered labels for specimens, as PDF.", responses={200: "The file"})
def specimens(query: service.SpecimenLabels) -> Response:
    """Labels of specimens, PDF."""
    return file_response(service.of_specimens(work(), query))
