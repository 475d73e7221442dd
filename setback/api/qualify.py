"""Qualify: verdicts, candidates, signatures and certificates."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from ..core.contract import Contract
from ..core.qualify.templates import BriefTemplate
from ..services.qualify import certificates, signing, verdicts
from ..services.testing import briefs
from ..services.unit_of_work import View
from .wiring import Blueprint, file_response, list_of, page_of, takes, work

blueprint = Blueprint("qualify", __name__, url_prefix="/api", tag="Qualify")


class SignedQuery(Contract):
    """Which signed records are listed."""

    before: str = Field("", max_length=30, description="Time of the last one seen")
    limit: int = Field(50, ge=1, le=200)


class BriefTemplates(View):
    """Briefs to begin from."""

    items: list[BriefTemplate]


@blueprint.get("/brief-templates")
@blueprint.output(BriefTemplates)
def templates() -> Any:
    """Briefs to begin from."""
    return {"items": briefs.templates()}


@blueprint.get("/qualify")
@blueprint.output(list_of(verdicts.BriefLine))
def standing_of_all() -> Any:
    """All briefs with their candidates, as they stand now."""
    return {"items": verdicts.lines(work())}


@blueprint.get("/qualify/<brief>")
@blueprint.output(verdicts.BriefStanding)
def standing(brief: str) -> Any:
    """One brief with its candidates side by side."""
    return verdicts.standing(work(), brief)


@blueprint.get("/qualify/<brief>/<set_code>")
@blueprint.output(verdicts.Candidate)
def verdict(brief: str, set_code: str) -> Any:
    """One candidate against one brief, requirement by requirement."""
    return verdicts.one(work(), brief, set_code)


@blueprint.get("/qualifications")
@takes(blueprint, SignedQuery, "query")
@blueprint.output(page_of(signing.SignedLineView))
def qualifications(query: SignedQuery) -> Any:
    """Signed records, newest first."""
    return {"items": signing.all_signed(work(), query.before, query.limit), "total": signing.how_many(work())}


@blueprint.post("/qualifications")
@takes(blueprint, signing.SignInput)
@blueprint.output(signing.SignedView, status_code=201)
def sign(body: signing.SignInput) -> Any:
    """Sign a verdict as it stands now."""
    return signing.sign(work(), body)


@blueprint.get("/qualifications/<id_or_code>")
@blueprint.output(signing.SignedView)
def qualification(id_or_code: str) -> Any:
    """One signed record, and whether it still holds."""
    return signing.signed(work(), id_or_code)


@blueprint.get("/qualifications/<id_or_code>/file")
@takes(blueprint, certificates.FileAsked, "query")
def certificate(id_or_code: str, query: certificates.FileAsked) -> Response:
    """The certificate of a signed record: PDF, text or JSON."""
    return file_response(certificates.file(work(), id_or_code, query))


@blueprint.get("/sets/<id_or_code>/qualifications")
@blueprint.output(list_of(signing.SignedLineView))
def of_set(id_or_code: str) -> Any:
    """Signed records of one parameter set."""
    return {"items": signing.of_set(work(), id_or_code)}
