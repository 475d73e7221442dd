"""Where each remedy of the trace is started: the page that does it, with what it already knows of the print."""

from __future__ import annotations

from string import Formatter

from pydantic import Field

from ...core.window.next_exposure import STRIDE
from ...core.window.remedies import thicker_um
from ...store.prints import log
from ...store.sets import parameter_sets
from ..unit_of_work import UnitOfWork, View


class RemedyLink(View):
    """A page on which a remedy is started."""

    words: str = Field(description="What its button says")
    link: str | None = Field(description="The page; null where it is done at the bench alone")


def links(work: UnitOfWork, row: log.LoggedPrint | None) -> dict[str, RemedyLink]:
    """The page on which each remedy is started for a print; without a print, the page where one is chosen."""
    set_row = parameter_sets.parameter_set(work.db, row.set_code) if row and row.set_code else None
    places = {
        "printer": row.printer_id if row else None,
        "material": row.material_id if row else None,
        "set": row.set_code if row else None,
        "print": row.code if row else None,
        "calibration": set_row.calibration_id if set_row else None,
        "height": f"{row.layer_height_um:g}" if row and row.layer_height_um else None,
        "thicker": f"{thicker_um(row.layer_height_um):g}" if row and row.layer_height_um else None,
    }
    if row and row.exposure_s:
        places |= {
            "shorter": f"{row.exposure_s / STRIDE:.3g}",
            "now": f"{row.exposure_s:g}",
            "longer": f"{row.exposure_s * STRIDE:.3g}",
        }
    known = {name: value for name, value in places.items() if value is not None}
    return {key: RemedyLink(words=words, link=_first(pages, known)) for key, (words, pages) in _PAGES.items()}


def _first(pages: tuple[str, ...], places: dict[str, str]) -> str | None:
    """The first page of which everything is known."""
    for page in pages:
        names = {name for _, name, _, _ in Formatter().parse(page) if name}
        if names <= places.keys():
            return page.format_map(places)
    return None


_PAIR = "/calibrate/new?material={material}&printer={printer}"
_PAGES: dict[str, tuple[str, tuple[str, ...]]] = {
    "warm-start": ("Plan a warm start", ("/climate/warm-start?printer={printer}&set={set}", "/climate/warm-start")),
    "cool": ("Look at the room", ("/climate",)),
    "more-light": (
        "Calibrate upwards",
        (_PAIR + "&height={height}&low={now}&high={longer}", "/calibrate/new"),
    ),
    "less-light": (
        "Calibrate downwards",
        (_PAIR + "&height={height}&low={shorter}&high={now}", "/calibrate/new"),
    ),
    "base": ("Rate a first layer", ("/calibrate/{calibration}?step=first-layer", "/calibrate")),
    "level": ("Note that it was levelled", ("/printers/{printer}?event=plate-levelled", "/shelf/printers")),
    "scuff": ("Note that it was sanded", ("/printers/{printer}?event=plate-sanded", "/shelf/printers")),
    "film": ("Note the new film", ("/printers/{printer}?event=film-replaced", "/shelf/printers")),
    "strain": ("Open the vat", ("/blend/vat/{printer}", "/blend")),
    "check-coupon": ("Print a check coupon", ("/sets/{set}", "/calibrate")),
    "defect": ("Open the plate", ("/shelf/printers/{printer}/plate", "/shelf/printers")),
    "light-map": ("Open the plate", ("/shelf/printers/{printer}/plate", "/shelf/printers")),
    "stir": ("Note the stir", ("/blend/vat/{printer}", "/blend")),
    "top-up": ("Top up the vat", ("/blend/vat/{printer}", "/blend")),
    "empty-vat": ("Open the vat", ("/blend/vat/{printer}", "/blend")),
    "new-lot": ("Print a check coupon", ("/sets/{set}", "/calibrate")),
    "fresh-bottle": ("Look at the bottles", ("/shelf/bottles",)),
    "thicker-tips": ("Print it again", ("/log/new?from={print}", "/log/new")),
    "slower": ("Start another arm", ("/calibrate/{calibration}?open=arm", "/calibrate")),
    "turn-part": ("Print it again", ("/log/new?from={print}", "/log/new")),
    "thicker-layer": ("Calibrate a thicker layer", (_PAIR + "&height={thicker}", "/calibrate/new")),
    "bath": ("Fill the bath anew", ("/shelf/wash-baths",)),
    "dry-longer": ("Open the finish routes", ("/shelf/finish-routes",)),
    "cure-time": ("Plan a cure test", ("/test/new",)),
    "z-axis": ("Open the printer", ("/printers/{printer}", "/shelf/printers")),
    "slice-again": ("Print it again", ("/log/new?from={print}", "/log/new")),
    "none": ("", ()),
}
"""What the button says, and the pages it may lead to: the first of which everything is known."""
