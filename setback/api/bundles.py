"""Open formats: a whole lab as a bundle, out and in."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response, request, send_file

from ..services import bundles as service
from ..services import jobs, sheets
from .coupons import sent
from .jobs import wake
from .wiring import bench, takes

blueprint = APIBlueprint("bundles", __name__, url_prefix="/api", tag="Open formats")


@blueprint.get("/exports/<name>")
@blueprint.doc(description="A finished export; the job says its name.")
def exported(name: str) -> Response:
    path = service.exported(bench(), name)
    return send_file(path, mimetype="application/zip", as_attachment=True, download_name="setback-lab.zip")


@blueprint.post("/bundles")
@blueprint.output(service.BundleFile, status_code=201)
@blueprint.doc(description="The bundle itself is the body of the request.")
def receive() -> Any:
    request.max_content_length = None
    return service.receive(bench(), request.stream)


@blueprint.post("/bundles/preview")
@takes(blueprint, service.BundleOrder)
@blueprint.output(jobs.JobView, status_code=201)
def preview(given: service.BundleOrder) -> Any:
    made = jobs.queue(bench(), "preview-bundle", given.model_dump())
    wake()
    return made


@blueprint.post("/bundles/import")
@takes(blueprint, service.BundleOrder)
@blueprint.output(jobs.JobView, status_code=201)
def take_in(given: service.BundleOrder) -> Any:
    made = jobs.queue(bench(), "import-bundle", given.model_dump())
    wake()
    return made


@blueprint.post("/tests/<id_or_code>/sheet")
@takes(blueprint, sheets.SheetInput)
@blueprint.output(sheets.SheetTold)
@blueprint.doc(description="Readings of specimens from a CSV; checked only, unless `keep` is true.")
def specimens_sheet(id_or_code: str, given: sheets.SheetInput) -> Any:
    return sheets.specimens(bench(), id_or_code, given)


@blueprint.post("/calibrations/<calibration_id>/sheet")
@takes(blueprint, sheets.SheetInput)
@blueprint.output(sheets.SheetTold)
@blueprint.doc(description="Readings of coupons from a CSV; checked only, unless `keep` is true.")
def coupons_sheet(calibration_id: str, given: sheets.SheetInput) -> Any:
    return sheets.coupons(bench(), calibration_id, given)


@blueprint.get("/materials/<material_id>/file")
@blueprint.doc(description="One material with what it is made of, as JSON that another lab can take in.")
def material_file(material_id: str) -> Response:
    return sent(service.part(bench(), "material", material_id))


@blueprint.get("/sets/<id_or_code>/part")
@blueprint.doc(description="One set with everything it refers to, as JSON that another lab can take in.")
def set_file(id_or_code: str) -> Response:
    return sent(service.part(bench(), "parameter_set", id_or_code))
