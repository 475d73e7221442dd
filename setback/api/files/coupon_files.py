"""Files of coupons, specimens and plates: kinds, drawings, and what waits to be printed."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from ...core.contract import Contract
from ...services.files import coupon_files, files_to_print, limits
from ..wiring import Blueprint, file_response, list_of, takes, work

blueprint = Blueprint("coupon_files", __name__, url_prefix="/api", tag="Coupons")


class FileQuery(Contract):
    """The format of a file."""

    format: coupon_files.Format = "stl"


@blueprint.get("/coupon-kinds")
@takes(blueprint, coupon_files.Library, "query")
@blueprint.output(list_of(coupon_files.LibraryEntry))
def library(query: coupon_files.Library) -> Any:
    """Kinds of coupons and specimens, and what each tells."""
    return {"items": coupon_files.library(query)}


@blueprint.get("/coupon-file")
@takes(blueprint, coupon_files.Asked, "query")
@blueprint.doc(description="STL, 3MF, masks in a ZIP, or SVG of a kind of coupon.", responses={200: "The file"})
def kind_file(query: coupon_files.Asked) -> Response:
    """STL, 3MF, masks in a ZIP, or SVG of a kind of coupon."""
    return file_response(coupon_files.made(query))


@blueprint.get("/coupon-drawing")
@takes(blueprint, coupon_files.Geometry, "query")
@blueprint.output(coupon_files.Drawn)
def drawing(query: coupon_files.Geometry) -> Any:
    """A kind of coupon, drawn."""
    return coupon_files.preview(query)


@blueprint.get("/coupon-plate")
@takes(blueprint, coupon_files.PlateAsked, "query")
@blueprint.output(coupon_files.PlateLayout)
def plate(query: coupon_files.PlateAsked) -> Any:
    """Where coupons would lie on a plate."""
    return coupon_files.laid(query)


@blueprint.get("/coupon-plate/file")
@takes(blueprint, coupon_files.PlateFileAsked, "query")
@blueprint.doc(
    description="Masks of a plate with a manifest of its regions, or its drawing.", responses={200: "The file"}
)
def plate_file(query: coupon_files.PlateFileAsked) -> Response:
    """Masks or drawing of a plate of coupons."""
    return file_response(coupon_files.plate_file(query))


@blueprint.get("/coupons/<id_or_code>/file")
@takes(blueprint, FileQuery, "query")
@blueprint.doc(description="The file of a planned coupon, its code and exposure embossed.", responses={200: "The file"})
def coupon_file(id_or_code: str, query: FileQuery) -> Response:
    """The file of a planned coupon, its code and exposure embossed."""
    return file_response(coupon_files.of_coupon(work(), id_or_code, query.format))


class WaitingQuery(FileQuery):
    """The arm whose waiting files are asked for."""

    arm: int = Field(1, ge=1, le=1000, description="Number of the arm")


@blueprint.get("/calibrations/<calibration_id>/files-to-print")
@takes(blueprint, WaitingQuery, "query")
@blueprint.doc(description="All that waits to be printed in an arm, as one archive.", responses={200: "The file"})
def files_to_print_of(calibration_id: str, query: WaitingQuery) -> Response:
    """All that waits to be printed in an arm, as one archive."""
    return file_response(files_to_print.waiting(work(), calibration_id, query.arm, query.format))


class PlateFileQuery(Contract):
    """The format of a plate's file."""

    format: coupon_files.PlateFormat = "masks"


@blueprint.get("/prints/<print_id>/file")
@takes(blueprint, PlateFileQuery, "query")
@blueprint.doc(description="The plate of a print that holds several coupons.", responses={200: "The file"})
def print_file(print_id: str, query: PlateFileQuery) -> Response:
    """The plate of a print that holds several coupons."""
    return file_response(coupon_files.of_print(work(), print_id, query.format))


@blueprint.get("/file-limits")
@blueprint.output(limits.FileLimits)
def file_limits() -> Any:
    """How large photos and logs may be: said before they are sent."""
    return limits.FileLimits()
