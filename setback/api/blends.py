"""Blends and vats: recipes, batches, what is in each printer, series, pours after the fact."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response
from pydantic import Field

from ..core.contract import Contract
from ..services import labels
from ..services.blending import batches, poured, recipes, series, vats
from .coupons import sent
from .wiring import bench, list_of, takes

blueprint = APIBlueprint("blends", __name__, url_prefix="/api", tag="Blends")


class BlendsQuery(Contract):
    after: str = Field("", max_length=100)
    part_id: str | None = Field(None, max_length=40, description="Those that hold it")
    limit: int = Field(100, ge=1, le=200)


class BatchesQuery(Contract):
    blend_id: str | None = Field(None, max_length=40)


@blueprint.get("/ingredients")
@blueprint.output(list_of(recipes.IngredientView))
def ingredients() -> Any:
    return {"items": recipes.ingredients(bench())}


@blueprint.post("/dyes")
@takes(blueprint, recipes.DyeInput)
@blueprint.output(recipes.IngredientView, status_code=201)
def add_dye(given: recipes.DyeInput) -> Any:
    return recipes.add_dye(bench(), given)


@blueprint.get("/blends")
@takes(blueprint, BlendsQuery, "query")
@blueprint.output(list_of(recipes.BlendView))
def blends(given: BlendsQuery) -> Any:
    return {"items": recipes.blends(bench(), given.after, given.limit, given.part_id)}


@blueprint.post("/blends/quote")
@takes(blueprint, recipes.RecipeAsked)
@blueprint.output(recipes.RecipeQuote)
def quote_blend(given: recipes.RecipeAsked) -> Any:
    return recipes.quote(bench(), given)


@blueprint.post("/blends")
@takes(blueprint, recipes.RecipeInput)
@blueprint.output(recipes.BlendView, status_code=201)
def add_blend(given: recipes.RecipeInput) -> Any:
    return recipes.add(bench(), given)


@blueprint.get("/blends/<blend_id>")
@blueprint.output(recipes.BlendView)
def blend(blend_id: str) -> Any:
    return recipes.blend_view(bench(), blend_id)


@blueprint.post("/blends/<blend_id>/retire")
@blueprint.output(recipes.BlendView)
def retire_blend(blend_id: str) -> Any:
    return recipes.retire(bench(), blend_id)


@blueprint.post("/blends/<blend_id>/restore")
@blueprint.output(recipes.BlendView)
def restore_blend(blend_id: str) -> Any:
    return recipes.retire(bench(), blend_id, back=True)


@blueprint.get("/batches")
@takes(blueprint, BatchesQuery, "query")
@blueprint.output(list_of(batches.BatchView))
def all_batches(given: BatchesQuery) -> Any:
    return {"items": batches.batches(bench(), given.blend_id)}


@blueprint.post("/blends/<blend_id>/batches")
@takes(blueprint, batches.BatchInput)
@blueprint.output(batches.BatchView, status_code=201)
def plan_batch(blend_id: str, given: batches.BatchInput) -> Any:
    return batches.plan(bench(), blend_id, given)


@blueprint.get("/batches/<batch_id>")
@blueprint.output(batches.BatchView)
def batch(batch_id: str) -> Any:
    return batches.batch(bench(), batch_id)


@blueprint.get("/batches/<batch_id>/label")
@takes(blueprint, labels.OnPaper, "query")
@blueprint.doc(description="A label for its bottle, as PDF.", responses={200: "The file"})
def batch_label(batch_id: str, given: labels.OnPaper) -> Response:
    return sent(labels.of_batch(bench(), batch_id, given))


@blueprint.post("/batches/<batch_id>/cup")
@blueprint.output(batches.BatchView)
def cup(batch_id: str) -> Any:
    return batches.cup(bench(), batch_id)


@blueprint.post("/batches/<batch_id>/cup-finding")
@takes(blueprint, batches.CupInput)
@blueprint.output(batches.BatchView)
def cup_finding(batch_id: str, given: batches.CupInput) -> Any:
    return batches.look(bench(), batch_id, given)


@blueprint.post("/batches/<batch_id>/poured")
@takes(blueprint, batches.PouredBatchInput)
@blueprint.output(batches.BatchView)
def batch_poured(batch_id: str, given: batches.PouredBatchInput) -> Any:
    return batches.pour(bench(), batch_id, given)


@blueprint.post("/batches/<batch_id>/stirred")
@blueprint.output(batches.BatchView)
def batch_stirred(batch_id: str) -> Any:
    return batches.stirred(bench(), batch_id)


@blueprint.post("/batches/<batch_id>/cancel")
@takes(blueprint, batches.BatchReason)
@blueprint.output(batches.BatchView)
def cancel_batch(batch_id: str, given: batches.BatchReason) -> Any:
    return batches.cancel(bench(), batch_id, given)


@blueprint.post("/batches/<batch_id>/reinstate")
@blueprint.output(batches.BatchView)
def reinstate_batch(batch_id: str) -> Any:
    return batches.reinstate(bench(), batch_id)


@blueprint.get("/vats")
@blueprint.output(list_of(vats.VatView))
def all_vats() -> Any:
    return {"items": vats.vats(bench())}


@blueprint.get("/printers/<printer_id>/vat")
@blueprint.output(vats.VatView)
def vat(printer_id: str) -> Any:
    return vats.vat(bench(), printer_id)


@blueprint.post("/printers/<printer_id>/vat/preview")
@takes(blueprint, vats.VatInput)
@blueprint.output(vats.VatPreview)
def preview_vat(printer_id: str, given: vats.VatInput) -> Any:
    return vats.preview(bench(), printer_id, given)


@blueprint.post("/printers/<printer_id>/vat")
@takes(blueprint, vats.VatInput)
@blueprint.output(vats.VatView, status_code=201)
def enter_vat(printer_id: str, given: vats.VatInput) -> Any:
    return vats.enter(bench(), printer_id, given)


@blueprint.post("/printers/<printer_id>/vat/reach")
@takes(blueprint, vats.TopUpAsked)
@blueprint.output(vats.TopUpView)
def reach(printer_id: str, given: vats.TopUpAsked) -> Any:
    return vats.reach(bench(), printer_id, given)


@blueprint.post("/vat-entries/<entry_id>/withdraw")
@takes(blueprint, vats.VatReason)
@blueprint.output(vats.VatView)
def withdraw_vat_entry(entry_id: str, given: vats.VatReason) -> Any:
    return vats.withdraw(bench(), entry_id, given)


@blueprint.get("/blend-series")
@blueprint.output(list_of(series.SeriesLine))
def all_series() -> Any:
    return {"items": series.all_series(bench())}


@blueprint.post("/blend-series")
@takes(blueprint, series.SeriesInput)
@blueprint.output(series.SeriesView, status_code=201)
def add_series(given: series.SeriesInput) -> Any:
    return series.add(bench(), given)


@blueprint.get("/blend-series/<series_id>")
@blueprint.output(series.SeriesView)
def one_series(series_id: str) -> Any:
    return series.series(bench(), series_id)


@blueprint.post("/blend-series/<series_id>/fractions")
@takes(blueprint, series.FractionInput)
@blueprint.output(series.SeriesView, status_code=201)
def add_fraction(series_id: str, given: series.FractionInput) -> Any:
    return series.add_fraction(bench(), series_id, given)


@blueprint.post("/poured-about")
@takes(blueprint, poured.PouredAsked)
@blueprint.output(poured.PouredView)
def poured_about(given: poured.PouredAsked) -> Any:
    return poured.poured(bench(), given)
