"""Tests: methods, briefs, plans, the bench, results, and all properties side by side."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from ..core.contract import Contract
from ..services.files import labels
from ..services.reading import photos
from ..services.reading.readings import PhotoView
from ..services.shelf.entry import Page
from ..services.testing import briefs, entry, methods, planning, references, results, standing, table
from ..store.testing import Reference
from .wiring import Blueprint, file_response, list_of, page_of, takes, uploaded, work

blueprint = Blueprint("testing", __name__, url_prefix="/api", tag="Tests")


class TestsQuery(Contract):
    """Which tests are listed."""

    before: str = Field("", max_length=40, description="Time of the last one seen")
    limit: int = Field(50, ge=1, le=200)


@blueprint.get("/test-methods")
@blueprint.output(list_of(methods.MethodView))
def all_methods() -> Any:
    """Test methods with their steps and cautions."""
    return {"items": methods.methods()}


@blueprint.get("/test-properties")
@blueprint.output(list_of(briefs.PropertyView))
def all_properties() -> Any:
    """Properties that a brief may ask for."""
    return {"items": briefs.properties()}


@blueprint.get("/briefs")
@takes(blueprint, Page, "query")
@blueprint.output(list_of(briefs.BriefView))
def all_briefs(query: Page) -> Any:
    """Briefs, by name."""
    return {"items": briefs.briefs(work(), query)}


@blueprint.post("/briefs")
@takes(blueprint, briefs.BriefInput)
@blueprint.output(briefs.BriefView, status_code=201)
def add_brief(body: briefs.BriefInput) -> Any:
    """Keep a brief."""
    return briefs.add(work(), body)


@blueprint.get("/briefs/<brief_id>")
@blueprint.output(briefs.BriefView)
def brief(brief_id: str) -> Any:
    """The newest version of a brief."""
    return briefs.brief(work(), brief_id)


@blueprint.put("/briefs/<brief_id>")
@takes(blueprint, briefs.BriefInput)
@blueprint.output(briefs.BriefView)
def change_brief(brief_id: str, body: briefs.BriefInput) -> Any:
    """Change a brief; used versions stay as they are."""
    return briefs.change(work(), brief_id, body)


@blueprint.get("/briefs/<brief_id>/versions")
@blueprint.output(list_of(briefs.BriefView))
def brief_versions(brief_id: str) -> Any:
    """All versions of a brief."""
    return {"items": briefs.history(work(), brief_id)}


@blueprint.post("/briefs/<brief_id>/retire")
@blueprint.output(briefs.BriefView)
def retire_brief(brief_id: str) -> Any:
    """Take a brief out of the lists."""
    return briefs.retire(work(), brief_id)


@blueprint.post("/briefs/<brief_id>/restore")
@blueprint.output(briefs.BriefView)
def restore_brief(brief_id: str) -> Any:
    """Bring a retired brief back."""
    return briefs.retire(work(), brief_id, back=True)


@blueprint.get("/reference-materials")
@blueprint.output(list_of(Reference))
def all_references() -> Any:
    """Bought-in references."""
    return {"items": references.references(work())}


@blueprint.post("/reference-materials")
@takes(blueprint, references.ReferenceInput)
@blueprint.output(Reference, status_code=201)
def add_reference(body: references.ReferenceInput) -> Any:
    """Add a bought-in reference."""
    return references.add(work(), body)


@blueprint.get("/test-materials")
@blueprint.output(list_of(standing.MaterialStanding))
def test_materials() -> Any:
    """Materials that can be tested, and where each stands."""
    return {"items": standing.materials(work())}


@blueprint.get("/tests")
@takes(blueprint, TestsQuery, "query")
@blueprint.output(page_of(entry.TestLine))
def all_tests(query: TestsQuery) -> Any:
    """Tests, newest first."""
    return {"items": entry.tests(work(), query.before, query.limit), "total": entry.how_many(work())}


@blueprint.post("/tests/quote")
@takes(blueprint, planning.TestPlan)
@blueprint.output(planning.TestQuote)
def quote_test(body: planning.TestPlan) -> Any:
    """How many specimens a test needs, and what is unfair in it."""
    return planning.quote(work(), body)


@blueprint.post("/tests")
@takes(blueprint, planning.TestPlan)
@blueprint.output(entry.TestView, status_code=201)
def plan_test(body: planning.TestPlan) -> Any:
    """Plan a test: specimens with codes, in random order."""
    return entry.add(work(), body)


@blueprint.get("/tests/<id_or_code>")
@blueprint.output(entry.TestView)
def one_test(id_or_code: str) -> Any:
    """One test with its groups and specimens."""
    return entry.test(work(), id_or_code)


@blueprint.get("/tests/<id_or_code>/result")
@blueprint.output(results.TestResult)
def test_result(id_or_code: str) -> Any:
    """What a test says."""
    return results.result(work(), id_or_code)


@blueprint.get("/tests/<id_or_code>/readings.csv")
@blueprint.doc(description="Every reading, one row each.", responses={200: "The file"})
def test_csv(id_or_code: str) -> Response:
    """Readings of a test as CSV."""
    return file_response(results.as_csv(work(), id_or_code))


@blueprint.get("/tests/<id_or_code>/labels")
@takes(blueprint, labels.OnPaper, "query")
@blueprint.doc(description="A label for each specimen, as PDF.", responses={200: "The file"})
def test_labels(id_or_code: str, query: labels.OnPaper) -> Response:
    """Labels of a test's specimens, PDF."""
    return file_response(labels.of_test(work(), id_or_code, query))


@blueprint.post("/tests/<test_id>/close")
@takes(blueprint, entry.CloseTestInput)
@blueprint.output(entry.TestView)
def close_test(test_id: str, body: entry.CloseTestInput) -> Any:
    """Close a test."""
    return entry.close(work(), test_id, body)


@blueprint.post("/tests/<test_id>/reopen")
@blueprint.output(entry.TestView)
def reopen_test(test_id: str) -> Any:
    """Open a closed test again."""
    return entry.reopen(work(), test_id)


@blueprint.post("/test-prints/<print_id>/made")
@takes(blueprint, entry.MadeInput)
@blueprint.output(entry.TestView)
def print_made(print_id: str, body: entry.MadeInput) -> Any:
    """Note that one of a group's prints came out, and was washed and cured."""
    return entry.made(work(), print_id, body)


@blueprint.post("/test-prints/<print_id>/unmade")
@blueprint.output(entry.TestView)
def print_unmade(print_id: str) -> Any:
    """Take back that a print of a group was made."""
    return entry.unmade(work(), print_id)


@blueprint.post("/specimens/<id_or_code>/readings")
@takes(blueprint, entry.SpecimenReadingInput)
@blueprint.output(entry.TestView, status_code=201)
def read_specimen(id_or_code: str, body: entry.SpecimenReadingInput) -> Any:
    """Keep a reading of a specimen; an earlier one is superseded."""
    return entry.read(work(), id_or_code, body)


@blueprint.post("/specimens/<id_or_code>/preview")
@takes(blueprint, entry.PreviewInput)
@blueprint.output(entry.SpecimenPreview)
def preview_specimen(id_or_code: str, body: entry.PreviewInput) -> Any:
    """What a specimen's reading gives, before it is kept."""
    return entry.preview(work(), id_or_code, body)


@blueprint.post("/specimen-readings/<reading_id>/withdraw")
@takes(blueprint, entry.SpecimenReason)
@blueprint.output(entry.TestView)
def withdraw_specimen_reading(reading_id: str, body: entry.SpecimenReason) -> Any:
    """Withdraw a reading, with a reason."""
    return entry.withdraw(work(), reading_id, body)


@blueprint.post("/specimens/<id_or_code>/gone")
@takes(blueprint, entry.SpecimenReason)
@blueprint.output(entry.TestView)
def specimen_gone(id_or_code: str, body: entry.SpecimenReason) -> Any:
    """Note that a specimen is lost."""
    return entry.gone(work(), id_or_code, body)


@blueprint.post("/specimens/<id_or_code>/found-again")
@blueprint.output(entry.TestView)
def specimen_found(id_or_code: str) -> Any:
    """Note that a lost specimen was found."""
    return entry.found_again(work(), id_or_code)


@blueprint.post("/specimens/<id_or_code>/photos")
@blueprint.doc(description="Multipart form with one file named photo.")
@blueprint.output(PhotoView, status_code=201)
def add_specimen_photo(id_or_code: str) -> Any:
    """Keep a photo of a specimen."""
    return photos.add_to_specimen(work(), id_or_code, uploaded("photo"))


class PropertiesQuery(Contract):
    """Which materials and properties stand side by side."""

    material_id: str | None = Field(None, max_length=40, description="Of one material; of all when not given")


@blueprint.get("/properties")
@takes(blueprint, PropertiesQuery, "query")
@blueprint.output(table.PropertyTable)
def property_table(query: PropertiesQuery) -> Any:
    """Properties of materials side by side."""
    return table.table(work(), [query.material_id] if query.material_id else [])


@blueprint.post("/properties/index")
@takes(blueprint, table.IndexInput)
@blueprint.output(table.IndexView)
def weighted_index(body: table.IndexInput) -> Any:
    """Materials ranked by several properties with weights."""
    return table.index(work(), body)
