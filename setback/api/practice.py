"""Practice: hidden coupons read against their truth."""

from __future__ import annotations

from typing import Any

from flask import Response

from ..services.reading import examples
from ..services.reading import practice as service
from .wiring import Blueprint, takes, work

blueprint = Blueprint("practice", __name__, url_prefix="/api", tag="Practice")


@blueprint.get("/practice")
@blueprint.output(service.PracticeView)
def overview() -> Any:
    """How everybody here reads hidden coupons."""
    return service.overview(work())


@blueprint.post("/practice/rounds")
@takes(blueprint, service.RoundInput)
@blueprint.output(service.RoundView, status_code=201)
def begin(body: service.RoundInput) -> Any:
    """Begin a round at a level."""
    return service.begin(work(), body)


@blueprint.get("/practice/rounds/<round_id>")
@blueprint.output(service.RoundView)
def practice_round(round_id: str) -> Any:
    """A round as far as it is."""
    return service.practice_round(work(), round_id)


@blueprint.post("/practice/coupons/<practice_coupon_id>/reading")
@takes(blueprint, service.PracticeInput)
@blueprint.output(service.RoundView, status_code=201)
def read(practice_coupon_id: str, body: service.PracticeInput) -> Any:
    """Hold what was read against the truth."""
    return service.read(work(), practice_coupon_id, body)


@blueprint.get("/practice/coupons/<practice_coupon_id>/picture")
@blueprint.doc(hide=True)
def picture(practice_coupon_id: str) -> Response:
    """The picture of a hidden coupon, as JPEG."""
    answer = Response(service.picture(work(), practice_coupon_id), mimetype="image/jpeg")
    answer.cache_control.max_age = 31_536_000
    answer.cache_control.private = True
    return answer


@blueprint.get("/coupon-examples/<kind>")
@blueprint.output(examples.ExamplesView)
def example_pictures(kind: str) -> Any:
    """What each part of a coupon looks like with too little, the right and too much light."""
    return examples.examples(kind)


@blueprint.get("/coupon-examples/<kind>/<call>")
@blueprint.doc(hide=True)
def example_picture(kind: str, call: str) -> Response:
    """One example picture, as JPEG."""
    answer = Response(examples.picture(kind, call), mimetype="image/jpeg")
    answer.cache_control.max_age = 86_400
    return answer
