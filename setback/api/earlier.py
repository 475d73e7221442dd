"""What a workshop brings along: settings in use, and the tables it kept."""

from __future__ import annotations

from typing import Any

from flask import Response, request
from pydantic import Field

from ..core.contract import Contract
from ..core.earlier.opinion import Asked
from ..services.calibrate import planning
from ..services.earlier import borrowed, claims, own_coupons, pours, provisional, results, second_opinions, tables
from ..services.files.coupon_files import Made
from ..store.borrowed import BorrowedSet
from ..store.earlier import EarlierPour, EarlierTable
from .wiring import Blueprint, file_response, list_of, page_of, takes, uploaded, work

blueprint = Blueprint("earlier", __name__, url_prefix="/api", tag="Earlier")


class TableNameQuery(Contract):
    """What a table is called."""

    name: str = Field("table.csv", min_length=1, max_length=200, description="Name of the file")


@blueprint.get("/provisional-sets")
@takes(blueprint, provisional.ProvisionalQuery, "query")
@blueprint.output(page_of(provisional.ProvisionalView))
def provisional_sets(query: provisional.ProvisionalQuery) -> Any:
    """Settings in use that nothing here shows."""
    unit = work()
    return {"items": provisional.listed(unit, query), "total": provisional.count(unit)}


@blueprint.post("/provisional-sets")
@takes(blueprint, provisional.ProvisionalInput)
@blueprint.output(provisional.ProvisionalPage, status_code=201)
def put_provisional_set(body: provisional.ProvisionalInput) -> Any:
    """Keep settings that are in use."""
    return provisional.put(work(), body)


@blueprint.get("/provisional-sets/<code>")
@blueprint.output(provisional.ProvisionalPage)
def provisional_set(code: str) -> Any:
    """Settings in use, with what is known of them and what would show most."""
    return provisional.page(work(), code)


@blueprint.put("/provisional-sets/<code>")
@takes(blueprint, provisional.ProvisionalInput)
@blueprint.output(provisional.ProvisionalPage)
def change_provisional_set(code: str, body: provisional.ProvisionalInput) -> Any:
    """Keep a new version of settings in use."""
    return provisional.change(work(), code, body)


@blueprint.post("/provisional-sets/<code>/withdraw")
@takes(blueprint, provisional.ProvisionalWithdrawn)
@blueprint.output(provisional.ProvisionalPage)
def withdraw_provisional_set(code: str, body: provisional.ProvisionalWithdrawn) -> Any:
    """Let settings in use no longer stand."""
    return provisional.withdraw(work(), code, body)


@blueprint.post("/provisional-sets/<code>/restore")
@blueprint.output(provisional.ProvisionalPage)
def restore_provisional_set(code: str) -> Any:
    """Undo the withdrawal of settings in use."""
    return provisional.restore(work(), code)


@blueprint.get("/sets/<set_code>/in-use-before")
@blueprint.output(list_of(provisional.CalibratedLater))
def in_use_before(set_code: str) -> Any:
    """Settings that were in use before a set was issued, and how far they were off."""
    return {"items": provisional.before_set(work(), set_code)}


@blueprint.get("/earlier-tables")
@blueprint.output(list_of(EarlierTable))
def earlier_tables() -> Any:
    """Tables that were taken in."""
    return {"items": tables.taken(work())}


@blueprint.post("/earlier-tables")
@takes(blueprint, TableNameQuery, "query")
@blueprint.output(tables.TableView, status_code=201)
@blueprint.doc(description="The spreadsheet or text itself is the body of the request.")
def receive_table(query: TableNameQuery) -> Any:
    """Receive a table, and say how it may be read."""
    return tables.receive(work(), query.name, request.get_data(cache=False))


@blueprint.post("/earlier-tables/pasted")
@takes(blueprint, tables.PastedInput)
@blueprint.output(tables.TableView, status_code=201)
def paste_table(body: tables.PastedInput) -> Any:
    """Receive a table as pasted text."""
    return tables.receive(work(), body.name, body.text.encode())


@blueprint.get("/earlier-tables/<code>")
@blueprint.output(tables.TableView)
def earlier_table(code: str) -> Any:
    """A table that was opened."""
    return tables.view(work(), code)


@blueprint.post("/earlier-tables/<code>/check")
@takes(blueprint, tables.MatchInput)
@blueprint.output(tables.CheckedTable)
def check_table(code: str, body: tables.MatchInput) -> Any:
    """Say what would be taken out of a table, and what cannot be."""
    return tables.check(work(), code, body)


@blueprint.post("/earlier-tables/<code>/take")
@takes(blueprint, tables.TakeInput)
@blueprint.output(EarlierTable)
def take_table(code: str, body: tables.TakeInput) -> Any:
    """Take the rows of a table in."""
    return tables.take(work(), code, body)


@blueprint.get("/earlier-tables/<code>/file")
def table_file(code: str) -> Any:
    """The table as it came."""
    name, content = tables.content(work(), code)
    return file_response(Made(content, "application/octet-stream", name, "", 0.0))


@blueprint.get("/bundles/<bundle_id>/sets")
@blueprint.output(borrowed.TheirSets)
def their_sets(bundle_id: str) -> Any:
    """Sets in another workshop's file that was received."""
    return borrowed.their_sets(work(), bundle_id)


@blueprint.get("/borrowed-sets")
@takes(blueprint, borrowed.BorrowedQuery, "query")
@blueprint.output(page_of(BorrowedSet))
def borrowed_sets(query: borrowed.BorrowedQuery) -> Any:
    """Sets of other workshops."""
    unit = work()
    return {"items": borrowed.listed(unit, query), "total": borrowed.count(unit)}


@blueprint.post("/borrowed-sets")
@takes(blueprint, borrowed.BorrowSetInput)
@blueprint.output(BorrowedSet, status_code=201)
def borrow_set(body: borrowed.BorrowSetInput) -> Any:
    """Borrow a set of another workshop for a printer here."""
    return borrowed.put(work(), body)


@blueprint.get("/borrowed-sets/<code>")
@blueprint.output(BorrowedSet)
def borrowed_set(code: str) -> Any:
    """A set of another workshop."""
    return borrowed.borrowed_set(work(), code)


@blueprint.post("/borrowed-sets/<code>/withdraw")
@takes(blueprint, borrowed.BorrowedWithdrawn)
@blueprint.output(BorrowedSet)
def withdraw_borrowed_set(code: str, body: borrowed.BorrowedWithdrawn) -> Any:
    """Let a borrowed set no longer be a source."""
    return borrowed.withdraw(work(), code, body)


@blueprint.post("/borrowed-sets/<code>/restore")
@blueprint.output(BorrowedSet)
def restore_borrowed_set(code: str) -> Any:
    """Undo the withdrawal of a borrowed set."""
    return borrowed.restore(work(), code)


@blueprint.get("/claim-properties")
@blueprint.output(list_of(claims.ClaimProperty))
def claim_properties() -> Any:
    """What a sheet may claim of a material."""
    return {"items": claims.properties()}


@blueprint.get("/materials/<material_id>/claims")
@blueprint.output(claims.Claims)
def material_claims(material_id: str) -> Any:
    """What sheets claim of a material, beside what was measured."""
    return claims.of_material(work(), material_id)


@blueprint.post("/materials/<material_id>/claims")
@takes(blueprint, claims.ClaimInput)
@blueprint.output(claims.Claims, status_code=201)
def put_claim(material_id: str, body: claims.ClaimInput) -> Any:
    """Keep what a sheet claims."""
    return claims.put(work(), material_id, body)


@blueprint.post("/claims/<claim_id>/withdraw")
@blueprint.output(claims.Claims)
def withdraw_claim(claim_id: str) -> Any:
    """Let a claim no longer stand."""
    return claims.withdraw(work(), claim_id)


@blueprint.post("/claims/<claim_id>/restore")
@blueprint.output(claims.Claims)
def restore_claim(claim_id: str) -> Any:
    """Undo the withdrawal of a claim."""
    return claims.restore(work(), claim_id)


@blueprint.get("/own-coupons")
@blueprint.output(list_of(own_coupons.OwnCouponView))
def list_own_coupons() -> Any:
    """Coupons of the workshop's own."""
    return {"items": own_coupons.listed(work())}


@blueprint.post("/own-coupons")
@takes(blueprint, own_coupons.OwnCouponInput)
@blueprint.output(own_coupons.OwnCouponView, status_code=201)
def put_own_coupon(body: own_coupons.OwnCouponInput) -> Any:
    """Describe a coupon of the workshop's own."""
    return own_coupons.put(work(), body)


@blueprint.get("/own-coupons/<code>")
@blueprint.output(own_coupons.OwnCouponView)
def one_own_coupon(code: str) -> Any:
    """A coupon of the workshop's own."""
    return own_coupons.own_coupon(work(), code)


@blueprint.put("/own-coupons/<code>")
@takes(blueprint, own_coupons.OwnCouponInput)
@blueprint.output(own_coupons.OwnCouponView)
def change_own_coupon(code: str, body: own_coupons.OwnCouponInput) -> Any:
    """Describe a coupon of the workshop's own anew."""
    return own_coupons.change(work(), code, body)


@blueprint.post("/own-coupons/<code>/retire")
@blueprint.output(own_coupons.OwnCouponView)
def retire_own_coupon(code: str) -> Any:
    """Retire a coupon of the workshop's own."""
    return own_coupons.retire(work(), code)


@blueprint.post("/own-coupons/<code>/restore")
@blueprint.output(own_coupons.OwnCouponView)
def restore_own_coupon(code: str) -> Any:
    """Put a coupon of the workshop's own back on the list."""
    return own_coupons.restore(work(), code)


@blueprint.post("/own-coupons/<code>/photo")
@blueprint.doc(description="Multipart form with one file named photo.")
@blueprint.output(own_coupons.OwnCouponView, status_code=201)
def photo_of_own_coupon(code: str) -> Any:
    """Keep a picture of a coupon of the workshop's own."""
    return own_coupons.add_photo(work(), code, uploaded("photo"))


@blueprint.get("/own-coupons/<code>/photo")
@blueprint.doc(description="Its picture, a JPEG.", responses={200: "The file"})
def own_coupon_photo(code: str) -> Any:
    """The picture of a coupon of the workshop's own."""
    return Response(own_coupons.photo(work(), code), mimetype="image/jpeg")


@blueprint.post("/arms/<arm_id>/built-in-strip")
@takes(blueprint, planning.BuiltInStrip)
@blueprint.output(planning.Planned, status_code=201)
def plan_built_in_strip(arm_id: str, body: planning.BuiltInStrip) -> Any:
    """Keep the columns of a strip that the printer exposes by itself."""
    return planning.plan_built_in_strip(work(), arm_id, body)


@blueprint.get("/materials/<material_id>/earlier-results")
@blueprint.output(list_of(results.EarlierResultView))
def earlier_results(material_id: str) -> Any:
    """Results of tests from before, as imported."""
    return {"items": results.of_material(work(), material_id)}


@blueprint.get("/calibrations/<calibration_id>/questions")
@blueprint.output(second_opinions.QuestionsView)
def questions(calibration_id: str) -> Any:
    """Questions about a calibration, and what came back."""
    return second_opinions.of_calibration(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/questions")
@takes(blueprint, second_opinions.AskInput)
@blueprint.output(second_opinions.QuestionsView, status_code=201)
def ask_question(calibration_id: str, body: second_opinions.AskInput) -> Any:
    """Ask another workshop about a calibration."""
    return second_opinions.ask(work(), calibration_id, body)


@blueprint.get("/questions/<code>/file")
@blueprint.doc(description="The question as JSON for another Setback.", responses={200: "The file"})
def question_file(code: str) -> Response:
    """The question as a file for another Setback."""
    return file_response(second_opinions.question_file(work(), code))


@blueprint.get("/questions/<code>/pdf")
@blueprint.doc(description="The question on paper.", responses={200: "The file"})
def question_pdf(code: str) -> Response:
    """The question as a PDF."""
    return file_response(second_opinions.question_pdf(work(), code))


@blueprint.post("/second-opinions/open")
@blueprint.doc(description="The question's file itself is the body of the request.")
@blueprint.output(Asked)
def open_question() -> Any:
    """Look at another workshop's question; nothing is kept."""
    request.max_content_length = None
    return second_opinions.open_question(request.get_data(cache=False))


@blueprint.post("/second-opinions/answer")
@takes(blueprint, second_opinions.OpinionInput)
@blueprint.doc(description="The opinion as JSON to send back.", responses={200: "The file"})
def answer_question(body: second_opinions.OpinionInput) -> Response:
    """Write an opinion on another workshop's question."""
    return file_response(second_opinions.answer_file(work(), body))


@blueprint.post("/calibrations/<calibration_id>/opinions")
@blueprint.doc(description="The opinion's file itself is the body of the request.")
@blueprint.output(second_opinions.QuestionsView, status_code=201)
def receive_opinion(calibration_id: str) -> Any:
    """Keep an opinion that came back."""
    request.max_content_length = None
    return second_opinions.receive(work(), calibration_id, request.get_data(cache=False))


@blueprint.post("/calibrations/<calibration_id>/opinions/<opinion_id>/withdraw")
@blueprint.output(second_opinions.QuestionsView)
def withdraw_opinion(calibration_id: str, opinion_id: str) -> Any:
    """Let an opinion no longer be shown."""
    return second_opinions.withdraw(work(), calibration_id, opinion_id)


@blueprint.get("/bottles/<bottle_id>/earlier-pours")
@blueprint.output(list_of(EarlierPour))
def earlier_pours(bottle_id: str) -> Any:
    """Pours out of a bottle from before, as imported."""
    return {"items": pours.of_bottle(work(), bottle_id)}
