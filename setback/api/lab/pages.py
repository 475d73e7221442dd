"""Everything known of one material, one printer or one bottle."""

from __future__ import annotations

from typing import Any

from ...services.lab import at_hand as hand
from ...services.lab import pages
from ..wiring import Blueprint, work

blueprint = Blueprint("pages", __name__, url_prefix="/api", tag="Lab")


@blueprint.get("/at-hand")
@blueprint.output(hand.AtHand)
def at_hand() -> Any:
    """What a phone at the bench keeps at hand."""
    return hand.at_hand(work())


@blueprint.get("/materials/<material_id>/page")
@blueprint.output(pages.MaterialPage)
def material_page(material_id: str) -> Any:
    """Everything known of one material."""
    return pages.material(work(), material_id)


@blueprint.get("/printers/<printer_id>/page")
@blueprint.output(pages.PrinterPage)
def printer_page(printer_id: str) -> Any:
    """Everything known of one printer."""
    return pages.printer(work(), printer_id)


@blueprint.get("/bottles/<id_or_code>/page")
@blueprint.output(pages.BottlePage)
def bottle_page(id_or_code: str) -> Any:
    """Everything known of one bottle."""
    return pages.bottle(work(), id_or_code)
