"""Coupons: reading, judging, photos."""

from __future__ import annotations

from typing import Any

from flask import Response

from ..services.calibrate import assessment
from ..services.lab import jobs
from ..services.prints import virtual
from ..services.reading import blind, looks, photos, pictures, trays
from ..services.reading import readings as service
from .lab.jobs import wake
from .wiring import Blueprint, list_of, takes, uploaded, work

blueprint = Blueprint("coupons", __name__, url_prefix="/api", tag="Coupons")


@blueprint.get("/coupons/<id_or_code>/blind-readings")
@blueprint.output(list_of(blind.BlindView))
def blind_readings(id_or_code: str) -> Any:
    """Second readings of a coupon, and how far they agree."""
    return {"items": blind.of_coupon(work(), id_or_code)}


@blueprint.post("/coupons/<id_or_code>/blind-readings")
@blueprint.output(blind.BlindView, status_code=201)
def ask_blind(id_or_code: str) -> Any:
    """Ask for a second reading by somebody who has not seen the first."""
    return blind.ask(work(), id_or_code)


@blueprint.get("/blind-readings/<blind_id>")
@blueprint.output(blind.BlindCoupon)
def blind_coupon(blind_id: str) -> Any:
    """What a blind reader is shown: the features, not the exposure."""
    return blind.coupon(work(), blind_id)


@blueprint.post("/blind-readings/<blind_id>")
@takes(blueprint, blind.BlindInput)
@blueprint.output(blind.BlindView, status_code=201)
def read_blind(blind_id: str, body: blind.BlindInput) -> Any:
    """Keep a second reading."""
    return blind.read(work(), blind_id, body)


@blueprint.post("/blind-readings/<blind_id>/withdraw")
@blueprint.output(blind.BlindView)
def withdraw_blind(blind_id: str) -> Any:
    """Withdraw the request for a second reading."""
    return blind.withdraw(work(), blind_id)


@blueprint.get("/coupons/<id_or_code>")
@blueprint.output(service.CouponView)
def coupon(id_or_code: str) -> Any:
    """One coupon: its plan, readings, verdict and photos."""
    return service.coupon(work(), id_or_code)


@blueprint.post("/coupons/<id_or_code>/readings")
@takes(blueprint, service.ReadingInput)
@blueprint.output(service.CouponView, status_code=201)
def read(id_or_code: str, body: service.ReadingInput) -> Any:
    """Keep a reading; an earlier one is superseded."""
    return service.read(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/virtual-reading")
@takes(blueprint, virtual.ReaderInput)
@blueprint.output(virtual.VirtualReading)
def virtual_reading(id_or_code: str, body: virtual.ReaderInput) -> Any:
    """A reading by the virtual printer's reader, to be looked at before it is kept."""
    return virtual.reading(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/preview")
@takes(blueprint, service.ReadingInput)
@blueprint.output(assessment.Preview)
def preview(id_or_code: str, body: service.ReadingInput) -> Any:
    """What a reading would say, before it is kept."""
    return assessment.preview(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/withdraw")
@takes(blueprint, service.WithdrawInput)
@blueprint.output(service.CouponView)
def withdraw(id_or_code: str, body: service.WithdrawInput) -> Any:
    """Withdraw a reading, with a reason."""
    return service.withdraw(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/judgements")
@takes(blueprint, service.JudgementInput)
@blueprint.output(service.CouponView, status_code=201)
def judge(id_or_code: str, body: service.JudgementInput) -> Any:
    """Set a verdict by hand, with a reason."""
    return service.judge(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/look")
@takes(blueprint, looks.LookInput)
@blueprint.output(looks.LookView, status_code=201)
def put_look(id_or_code: str, body: looks.LookInput) -> Any:
    """Keep what one look at a coupon said."""
    return looks.put(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/look/withdraw")
@blueprint.output(looks.LookGone)
def withdraw_look(id_or_code: str) -> Any:
    """Let the look at a coupon no longer count."""
    return looks.withdraw(work(), id_or_code)


@blueprint.post("/coupons/<id_or_code>/gone")
@takes(blueprint, service.GoneInput)
@blueprint.output(service.CouponView)
def gone(id_or_code: str, body: service.GoneInput) -> Any:
    """Note that a coupon is lost."""
    return service.gone(work(), id_or_code, body)


@blueprint.post("/coupons/<id_or_code>/found")
@blueprint.output(service.CouponView)
def found_again(id_or_code: str) -> Any:
    """Note that a lost coupon was found."""
    return service.found_again(work(), id_or_code)


@blueprint.post("/coupons/<id_or_code>/photos")
@blueprint.doc(description="Multipart form with one file named photo.")
@blueprint.output(service.PhotoView, status_code=201)
def add_photo(id_or_code: str) -> Any:
    """Keep a photo of a coupon."""
    return photos.add(work(), id_or_code, uploaded("photo"))


@blueprint.post("/coupons/<id_or_code>/pictures")
@blueprint.input(pictures.ScanInput, location="query", arg_name="query")
@blueprint.doc(
    description="Multipart form with one file named picture, JPEG or PNG. What is sure waits to be confirmed."
)
@blueprint.output(service.CouponView, status_code=201)
def read_picture(id_or_code: str, query: pictures.ScanInput) -> Any:
    """Read a coupon by its picture; nothing counts until a reading is saved from it."""
    return pictures.read(work(), id_or_code, uploaded("picture"), query.scanner_dpi)


@blueprint.get("/calibrations/<calibration_id>/pictures")
@blueprint.output(trays.LadderView)
def ladder_of_pictures(calibration_id: str) -> Any:
    """Coupons of a calibration beside each other, in order of exposure, with their straight pictures."""
    return trays.ladder(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/trays")
@blueprint.input(pictures.ScanInput, location="query", arg_name="query")
@blueprint.doc(description="Multipart form with one file named picture, JPEG or PNG, with several coupons in it.")
@blueprint.output(jobs.JobView, status_code=201)
def read_tray(calibration_id: str, query: pictures.ScanInput) -> Any:
    """Read a picture of a whole tray; each coupon waits to be confirmed on its page."""
    job = jobs.read_tray(work(), calibration_id, uploaded("picture"), query.scanner_dpi)
    wake()
    return job


@blueprint.post("/pictures/<picture_id>/discard")
@blueprint.output(service.CouponView)
def discard_picture(picture_id: str) -> Any:
    """Leave a picture unconfirmed for good; its photo stays."""
    return pictures.discard(work(), picture_id)


@blueprint.get("/pictures/<picture_id>/straight")
@blueprint.doc(hide=True)
def straight_picture(picture_id: str) -> Response:
    """A coupon laid straight."""
    answer = Response(pictures.straight(work(), picture_id), mimetype="image/jpeg")
    answer.cache_control.max_age = 31_536_000
    answer.cache_control.private = True
    return answer


@blueprint.get("/photos/<photo_id>")
@blueprint.doc(hide=True)
def photo(photo_id: str) -> Response:
    """A photo."""
    mime, content = photos.content(work(), photo_id)
    answer = Response(content, mimetype=mime)
    answer.cache_control.max_age = 31_536_000
    answer.cache_control.private = True
    return answer


@blueprint.post("/photos/<photo_id>/retire")
@blueprint.output(photos.PhotoState)
def retire_photo(photo_id: str) -> Any:
    """Take a photo off its coupon."""
    return photos.retire(work(), photo_id)


@blueprint.post("/photos/<photo_id>/restore")
@blueprint.output(photos.PhotoState)
def restore_photo(photo_id: str) -> Any:
    """Put a photo back."""
    return photos.restore(work(), photo_id)
