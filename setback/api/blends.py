"""Blends and vats: recipes, batches, what is in each printer, series, pours after the fact."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from ..core.contract import Contract
from ..services.blends import batches, guides, poured, recipes, series, vats
from ..services.files import labels
from ..store.blends import Ingredient
from .wiring import Blueprint, file_response, list_of, takes, work

blueprint = Blueprint("blends", __name__, url_prefix="/api", tag="Blends")


class BlendsQuery(Contract):
    """Which recipes are listed."""

    after: str = Field("", max_length=100)
    part_id: str | None = Field(None, max_length=40, description="Those that hold it")
    limit: int = Field(100, ge=1, le=200)


class BatchesQuery(Contract):
    """Which batches are listed."""

    blend_id: str | None = Field(None, max_length=40)


@blueprint.get("/ingredients")
@blueprint.output(list_of(Ingredient))
def ingredients() -> Any:
    """Materials a recipe may take, with what is known of each."""
    return {"items": recipes.ingredients(work())}


@blueprint.post("/dyes")
@takes(blueprint, recipes.DyeInput)
@blueprint.output(Ingredient, status_code=201)
def add_dye(body: recipes.DyeInput) -> Any:
    """Put a dye on the shelf as a material."""
    return recipes.add_dye(work(), body)


@blueprint.get("/blends")
@takes(blueprint, BlendsQuery, "query")
@blueprint.output(list_of(recipes.BlendView))
def blends(query: BlendsQuery) -> Any:
    """Recipes, by name."""
    return {"items": recipes.blends(work(), query.after, query.limit, query.part_id)}


@blueprint.post("/blends/quote")
@takes(blueprint, recipes.RecipeAsked)
@blueprint.output(recipes.RecipeQuote)
def quote_blend(body: recipes.RecipeAsked) -> Any:
    """What a recipe would pour, be and break, before it is kept."""
    return recipes.quote(work(), body)


@blueprint.post("/blends")
@takes(blueprint, recipes.RecipeInput)
@blueprint.output(recipes.BlendView, status_code=201)
def add_blend(body: recipes.RecipeInput) -> Any:
    """Keep a recipe; it cannot be changed afterwards."""
    return recipes.add(work(), body)


@blueprint.get("/blends/<blend_id>")
@blueprint.output(recipes.BlendView)
def blend(blend_id: str) -> Any:
    """One recipe with what is expected of it."""
    return recipes.blend_view(work(), blend_id)


@blueprint.post("/blends/<blend_id>/retire")
@blueprint.output(recipes.BlendView)
def retire_blend(blend_id: str) -> Any:
    """Take a recipe out of the lists."""
    return recipes.retire(work(), blend_id)


@blueprint.post("/blends/<blend_id>/restore")
@blueprint.output(recipes.BlendView)
def restore_blend(blend_id: str) -> Any:
    """Bring a retired recipe back."""
    return recipes.retire(work(), blend_id, back=True)


@blueprint.get("/batches")
@takes(blueprint, BatchesQuery, "query")
@blueprint.output(list_of(batches.BatchView))
def all_batches(query: BatchesQuery) -> Any:
    """Batches, newest first."""
    return {"items": batches.batches(work(), query.blend_id)}


@blueprint.post("/blends/<blend_id>/batches")
@takes(blueprint, batches.BatchInput)
@blueprint.output(batches.BatchView, status_code=201)
def plan_batch(blend_id: str, body: batches.BatchInput) -> Any:
    """Plan a batch of a recipe: bottles and millilitres."""
    return batches.plan(work(), blend_id, body)


@blueprint.get("/batches/<batch_id>")
@blueprint.output(batches.BatchView)
def batch(batch_id: str) -> Any:
    """One batch with its pours."""
    return batches.batch(work(), batch_id)


@blueprint.get("/batches/<batch_id>/label")
@takes(blueprint, labels.OnPaper, "query")
@blueprint.doc(description="A label for its bottle, as PDF.", responses={200: "The file"})
def batch_label(batch_id: str, query: labels.OnPaper) -> Response:
    """The bottle label of a batch, PDF."""
    return file_response(labels.of_batch(work(), batch_id, query))


@blueprint.post("/batches/<batch_id>/cup")
@blueprint.output(batches.BatchView)
def cup(batch_id: str) -> Any:
    """What the cup trial of a batch asks to be looked at."""
    return batches.cup(work(), batch_id)


@blueprint.post("/batches/<batch_id>/cup-finding")
@takes(blueprint, batches.CupInput)
@blueprint.output(batches.BatchView)
def cup_finding(batch_id: str, body: batches.CupInput) -> Any:
    """Note what the cup trial showed."""
    return batches.look(work(), batch_id, body)


@blueprint.post("/batches/<batch_id>/poured")
@takes(blueprint, batches.PouredBatchInput)
@blueprint.output(batches.BatchView)
def batch_poured(batch_id: str, body: batches.PouredBatchInput) -> Any:
    """Note what was poured; the bottles lose it."""
    return batches.pour(work(), batch_id, body)


@blueprint.post("/batches/<batch_id>/stirred")
@blueprint.output(batches.BatchView)
def batch_stirred(batch_id: str) -> Any:
    """Note that the batch was stirred."""
    return batches.stirred(work(), batch_id)


@blueprint.post("/batches/<batch_id>/cancel")
@takes(blueprint, batches.BatchReason)
@blueprint.output(batches.BatchView)
def cancel_batch(batch_id: str, body: batches.BatchReason) -> Any:
    """Abandon a batch that was not poured yet, with a reason."""
    return batches.cancel(work(), batch_id, body)


@blueprint.post("/batches/<batch_id>/reinstate")
@blueprint.output(batches.BatchView)
def reinstate_batch(batch_id: str) -> Any:
    """Resume a batch that was abandoned."""
    return batches.reinstate(work(), batch_id)


@blueprint.get("/vats")
@blueprint.output(list_of(vats.VatView))
def all_vats() -> Any:
    """What is in every vat."""
    return {"items": vats.vats(work())}


@blueprint.get("/printers/<printer_id>/vat")
@blueprint.output(vats.VatView)
def vat(printer_id: str) -> Any:
    """What is in one vat, and how it came there."""
    return vats.vat(work(), printer_id)


@blueprint.post("/printers/<printer_id>/vat/preview")
@takes(blueprint, vats.VatInput)
@blueprint.output(vats.VatPreview)
def preview_vat(printer_id: str, body: vats.VatInput) -> Any:
    """What a vat would hold after an entry, and which sets would lapse."""
    return vats.preview(work(), printer_id, body)


@blueprint.post("/printers/<printer_id>/vat")
@takes(blueprint, vats.VatInput)
@blueprint.output(vats.VatView, status_code=201)
def enter_vat(printer_id: str, body: vats.VatInput) -> Any:
    """Enter that something was poured into a vat, or taken out of it."""
    return vats.enter(work(), printer_id, body)


@blueprint.post("/printers/<printer_id>/vat/reach")
@takes(blueprint, vats.TopUpAsked)
@blueprint.output(vats.TopUpView)
def reach(printer_id: str, body: vats.TopUpAsked) -> Any:
    """How to come from what is in a vat to a wanted mixture."""
    return vats.reach(work(), printer_id, body)


@blueprint.post("/vat-entries/<entry_id>/withdraw")
@takes(blueprint, vats.VatReason)
@blueprint.output(vats.VatView)
def withdraw_vat_entry(entry_id: str, body: vats.VatReason) -> Any:
    """Withdraw an entry of a vat, with a reason."""
    return vats.withdraw(work(), entry_id, body)


@blueprint.get("/blend-series")
@blueprint.output(list_of(series.SeriesLine))
def all_series() -> Any:
    """Series of fractions, newest first."""
    return {"items": series.all_series(work())}


@blueprint.post("/blend-series")
@takes(blueprint, series.SeriesInput)
@blueprint.output(series.SeriesView, status_code=201)
def add_series(body: series.SeriesInput) -> Any:
    """Begin a series of fractions of an additive."""
    return series.add(work(), body)


@blueprint.get("/blend-series/<series_id>")
@blueprint.output(series.SeriesView)
def one_series(series_id: str) -> Any:
    """One series: what was measured, the curves, and where to measure next."""
    return series.series(work(), series_id)


@blueprint.post("/blend-series/<series_id>/fractions")
@takes(blueprint, series.FractionInput)
@blueprint.output(series.SeriesView, status_code=201)
def add_fraction(series_id: str, body: series.FractionInput) -> Any:
    """Add a blend of another fraction to a series."""
    return series.add_fraction(work(), series_id, body)


@blueprint.post("/poured-about")
@takes(blueprint, poured.PouredAsked)
@blueprint.output(poured.PouredView)
def poured_about(body: poured.PouredAsked) -> Any:
    """The fraction that came about when two volumes were poured by eye."""
    return poured.poured(work(), body)


@blueprint.get("/printers/<printer_id>/guides/<key>")
@blueprint.output(guides.GuideView)
def guide(printer_id: str, key: str) -> Any:
    """Steps of a guide on a printer, and what was done of it."""
    return guides.guide(work(), printer_id, key)


@blueprint.post("/printers/<printer_id>/guides/<key>/steps/<step_key>")
@blueprint.output(guides.GuideView)
def tick_step(printer_id: str, key: str, step_key: str) -> Any:
    """Note that the next step was done; the record that follows it is made."""
    return guides.tick(work(), printer_id, key, step_key)


@blueprint.post("/printers/<printer_id>/guides/<key>/steps/<step_key>/undo")
@blueprint.output(guides.GuideView)
def undo_step(printer_id: str, key: str, step_key: str) -> Any:
    """Undo the last tick."""
    return guides.undo(work(), printer_id, key, step_key)


@blueprint.post("/printers/<printer_id>/guides/<key>/end")
@blueprint.output(guides.GuideView)
def end_guide(printer_id: str, key: str) -> Any:
    """End a guide, done or not."""
    return guides.end(work(), printer_id, key)
