"""Tests: methods, briefs, plans, the bench, results, and all properties side by side."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response, request
from pydantic import Field

from ..core.contract import Contract, Problem
from ..services import labels, photos
from ..services.readings import PhotoView
from ..services.shelf.entry import Page
from ..services.testing import bench_entry, briefs, methods, planning, references, results, standing, table
from .coupons import sent
from .wiring import bench, list_of, takes

blueprint = APIBlueprint("testing", __name__, url_prefix="/api", tag="Tests")


class TestsQuery(Contract):
    before: str = Field("", max_length=40, description="Time of the last one seen")
    limit: int = Field(50, ge=1, le=200)


@blueprint.get("/test-methods")
@blueprint.output(list_of(methods.MethodView))
def all_methods() -> Any:
    return {"items": methods.methods()}


@blueprint.get("/test-properties")
@blueprint.output(list_of(briefs.PropertyView))
def all_properties() -> Any:
    return {"items": briefs.properties()}


@blueprint.get("/briefs")
@takes(blueprint, Page, "query")
@blueprint.output(list_of(briefs.BriefView))
def all_briefs(given: Page) -> Any:
    return {"items": briefs.briefs(bench(), given)}


@blueprint.post("/briefs")
@takes(blueprint, briefs.BriefInput)
@blueprint.output(briefs.BriefView, status_code=201)
def add_brief(given: briefs.BriefInput) -> Any:
    return briefs.add(bench(), given)


@blueprint.get("/briefs/<brief_id>")
@blueprint.output(briefs.BriefView)
def brief(brief_id: str) -> Any:
    return briefs.brief(bench(), brief_id)


@blueprint.put("/briefs/<brief_id>")
@takes(blueprint, briefs.BriefInput)
@blueprint.output(briefs.BriefView)
def change_brief(brief_id: str, given: briefs.BriefInput) -> Any:
    return briefs.change(bench(), brief_id, given)


@blueprint.get("/briefs/<brief_id>/versions")
@blueprint.output(list_of(briefs.BriefView))
def brief_versions(brief_id: str) -> Any:
    return {"items": briefs.history(bench(), brief_id)}


@blueprint.post("/briefs/<brief_id>/retire")
@blueprint.output(briefs.BriefView)
def retire_brief(brief_id: str) -> Any:
    return briefs.retire(bench(), brief_id)


@blueprint.post("/briefs/<brief_id>/restore")
@blueprint.output(briefs.BriefView)
def restore_brief(brief_id: str) -> Any:
    return briefs.retire(bench(), brief_id, back=True)


@blueprint.get("/reference-materials")
@blueprint.output(list_of(references.ReferenceView))
def all_references() -> Any:
    return {"items": references.references(bench())}


@blueprint.post("/reference-materials")
@takes(blueprint, references.ReferenceInput)
@blueprint.output(references.ReferenceView, status_code=201)
def add_reference(given: references.ReferenceInput) -> Any:
    return references.add(bench(), given)


@blueprint.get("/test-materials")
@blueprint.output(list_of(standing.MaterialStanding))
def test_materials() -> Any:
    return {"items": standing.materials(bench())}


@blueprint.get("/tests")
@takes(blueprint, TestsQuery, "query")
@blueprint.output(list_of(bench_entry.TestLine))
def all_tests(given: TestsQuery) -> Any:
    return {"items": bench_entry.tests(bench(), given.before, given.limit)}


@blueprint.post("/tests/quote")
@takes(blueprint, planning.TestPlan)
@blueprint.output(planning.TestQuote)
def quote_test(given: planning.TestPlan) -> Any:
    return planning.quote(bench(), given)


@blueprint.post("/tests")
@takes(blueprint, planning.TestPlan)
@blueprint.output(bench_entry.TestView, status_code=201)
def plan_test(given: planning.TestPlan) -> Any:
    return bench_entry.add(bench(), given)


@blueprint.get("/tests/<id_or_code>")
@blueprint.output(bench_entry.TestView)
def one_test(id_or_code: str) -> Any:
    return bench_entry.test(bench(), id_or_code)


@blueprint.get("/tests/<id_or_code>/result")
@blueprint.output(results.TestResult)
def test_result(id_or_code: str) -> Any:
    return results.result(bench(), id_or_code)


@blueprint.get("/tests/<id_or_code>/readings.csv")
@blueprint.doc(description="Every reading, one row each.", responses={200: "The file"})
def test_csv(id_or_code: str) -> Response:
    return sent(results.as_csv(bench(), id_or_code))


@blueprint.get("/tests/<id_or_code>/labels")
@takes(blueprint, labels.OnPaper, "query")
@blueprint.doc(description="A label for each specimen, as PDF.", responses={200: "The file"})
def test_labels(id_or_code: str, given: labels.OnPaper) -> Response:
    return sent(labels.of_test(bench(), id_or_code, given))


@blueprint.post("/tests/<test_id>/close")
@takes(blueprint, bench_entry.CloseTestInput)
@blueprint.output(bench_entry.TestView)
def close_test(test_id: str, given: bench_entry.CloseTestInput) -> Any:
    return bench_entry.close(bench(), test_id, given)


@blueprint.post("/tests/<test_id>/reopen")
@blueprint.output(bench_entry.TestView)
def reopen_test(test_id: str) -> Any:
    return bench_entry.reopen(bench(), test_id)


@blueprint.post("/test-groups/<group_id>/made")
@takes(blueprint, bench_entry.MadeInput)
@blueprint.output(bench_entry.TestView)
def group_made(group_id: str, given: bench_entry.MadeInput) -> Any:
    return bench_entry.made(bench(), group_id, given)


@blueprint.post("/test-groups/<group_id>/unmade")
@blueprint.output(bench_entry.TestView)
def group_unmade(group_id: str) -> Any:
    return bench_entry.unmade(bench(), group_id)


@blueprint.post("/specimens/<id_or_code>/readings")
@takes(blueprint, bench_entry.SpecimenReadingInput)
@blueprint.output(bench_entry.TestView, status_code=201)
def read_specimen(id_or_code: str, given: bench_entry.SpecimenReadingInput) -> Any:
    return bench_entry.read(bench(), id_or_code, given)


@blueprint.post("/specimens/<id_or_code>/preview")
@takes(blueprint, bench_entry.PreviewInput)
@blueprint.output(bench_entry.SpecimenPreview)
def preview_specimen(id_or_code: str, given: bench_entry.PreviewInput) -> Any:
    return bench_entry.preview(bench(), id_or_code, given)


@blueprint.post("/specimen-readings/<reading_id>/withdraw")
@takes(blueprint, bench_entry.SpecimenReason)
@blueprint.output(bench_entry.TestView)
def withdraw_specimen_reading(reading_id: str, given: bench_entry.SpecimenReason) -> Any:
    return bench_entry.withdraw(bench(), reading_id, given)


@blueprint.post("/specimens/<id_or_code>/gone")
@takes(blueprint, bench_entry.SpecimenReason)
@blueprint.output(bench_entry.TestView)
def specimen_gone(id_or_code: str, given: bench_entry.SpecimenReason) -> Any:
    return bench_entry.gone(bench(), id_or_code, given)


@blueprint.post("/specimens/<id_or_code>/found-again")
@blueprint.output(bench_entry.TestView)
def specimen_found(id_or_code: str) -> Any:
    return bench_entry.found_again(bench(), id_or_code)


@blueprint.post("/specimens/<id_or_code>/photos")
@blueprint.doc(description="Multipart form with one file named photo.")
@blueprint.output(PhotoView, status_code=201)
def add_specimen_photo(id_or_code: str) -> Any:
    held = request.files.get("photo")
    if held is None:
        said = "Send one file named photo."
        raise Problem(said, {"photo": said})
    return photos.add_to_specimen(bench(), id_or_code, held.read())


class PropertiesQuery(Contract):
    material_id: str | None = Field(None, max_length=40, description="Of one material; of all when not given")


@blueprint.get("/properties")
@takes(blueprint, PropertiesQuery, "query")
@blueprint.output(table.PropertyTable)
def property_table(given: PropertiesQuery) -> Any:
    return table.table(bench(), [given.material_id] if given.material_id else [])


@blueprint.post("/properties/index")
@takes(blueprint, table.IndexInput)
@blueprint.output(table.IndexView)
def weighted_index(given: table.IndexInput) -> Any:
    return table.index(bench(), given)
