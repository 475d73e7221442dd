"""Export and import: a whole lab as a bundle, out and in."""

from __future__ import annotations

from typing import Any

from flask import Response, request, send_file

from ...services.files import bundles as service
from ...services.lab import jobs
from ...services.reading import sheets
from ..lab.jobs import wake
from ..wiring import Blueprint, file_response, takes, work

blueprint = Blueprint("bundles", __name__, url_prefix="/api", tag="Export and import")


@blueprint.get("/exports/<name>")
@blueprint.doc(description="A finished export; the job says its name.")
def exported(name: str) -> Response:
    """A bundle that an export has made."""
    path = service.exported(work(), name)
    return send_file(path, mimetype="application/zip", as_attachment=True, download_name="setback-lab.zip")


@blueprint.post("/bundles")
@blueprint.output(service.BundleFile, status_code=201)
@blueprint.doc(description="The bundle itself is the body of the request.")
def receive() -> Any:
    """Receive a bundle, and say what it holds."""
    request.max_content_length = None
    return service.receive(work(), request.stream)


@blueprint.post("/bundles/preview")
@takes(blueprint, service.BundleOrder)
@blueprint.output(jobs.JobView, status_code=201)
def preview(body: service.BundleOrder) -> Any:
    """What importing a received bundle would change, as a job."""
    job = jobs.queue(work(), "preview-bundle", body.model_dump())
    wake()
    return job


@blueprint.post("/bundles/import")
@takes(blueprint, service.BundleOrder)
@blueprint.output(jobs.JobView, status_code=201)
def take_in(body: service.BundleOrder) -> Any:
    """Import a received bundle, as a job."""
    job = jobs.queue(work(), "import-bundle", body.model_dump())
    wake()
    return job


@blueprint.post("/tests/<id_or_code>/sheet")
@takes(blueprint, sheets.SheetInput)
@blueprint.output(sheets.SheetTold)
@blueprint.doc(description="Readings of specimens from a CSV; checked only, unless `keep` is true.")
def specimens_sheet(id_or_code: str, body: sheets.SheetInput) -> Any:
    """Readings of specimens typed into a spreadsheet: looked at, or kept."""
    return sheets.specimens(work(), id_or_code, body)


@blueprint.get("/calibrations/<calibration_id>/sheet-template")
def sheet_template(calibration_id: str) -> Response:
    """A CSV table of the coupons that wait for a reading, a column for each feature, to be filled in."""
    return file_response(sheets.template(work(), calibration_id))


@blueprint.post("/calibrations/<calibration_id>/sheet")
@takes(blueprint, sheets.SheetInput)
@blueprint.output(sheets.SheetTold)
@blueprint.doc(description="Readings of coupons from a CSV; checked only, unless `keep` is true.")
def coupons_sheet(calibration_id: str, body: sheets.SheetInput) -> Any:
    """Readings of coupons typed into a spreadsheet: looked at, or kept."""
    return sheets.coupons(work(), calibration_id, body)


@blueprint.get("/materials/<material_id>/file")
@blueprint.doc(description="One material with what it is made of, as JSON that another lab can take in.")
def material_file(material_id: str) -> Response:
    """The bundle of one material."""
    return file_response(service.part(work(), "material", material_id))


@blueprint.get("/sets/<id_or_code>/part")
@blueprint.doc(description="One set with everything it refers to, as JSON that another lab can take in.")
def set_file(id_or_code: str) -> Response:
    """The bundle of one parameter set."""
    return file_response(service.part(work(), "parameter_set", id_or_code))
