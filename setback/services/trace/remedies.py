"""Where each remedy of the trace is started: the page that does it, with what it already knows of the print."""

from __future__ import annotations

from pydantic import Field

from ...store.prints import log
from ..unit_of_work import UnitOfWork, View


class RemedyLink(View):
    """A page on which a remedy is started."""

    words: str = Field(description="What its button says")
    link: str | None = Field(description="The page; null where it is done at the bench alone")


def link_of(work: UnitOfWork, key: str, row: log.LoggedPrint | None) -> RemedyLink:
    """The page on which a remedy is started for a print; without a print, the page where one is chosen."""
    words, link = _PAGES[key]
    printer = row.printer_id if row else None
    pair = f"?material={row.material_id}&printer={printer}" if row and row.material_id else ""
    places = {
        "printer": printer,
        "pair": pair,
        "set": row.set_code if row else None,
        "print": row.code if row else None,
        "calibration": row.calibration_id if row else None,
    }
    for page in link:
        names = [name for name in places if f"{{{name}}}" in page]
        if all(places[name] is not None for name in names):
            return RemedyLink(words=words, link=page.format_map(places))
    return RemedyLink(words=words, link=None)


_PAGES: dict[str, tuple[str, tuple[str, ...]]] = {
    "warm-start": ("Plan a warm start", ("/climate/warm-start?printer={printer}&set={set}", "/climate/warm-start")),
    "cool": ("Look at the room", ("/climate",)),
    "more-light": ("Calibrate upwards", ("/calibrate/new{pair}",)),
    "less-light": ("Calibrate downwards", ("/calibrate/new{pair}",)),
    "base": ("Rate a first layer", ("/sets/{set}", "/calibrate")),
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
    "slower": ("Start an arm", ("/sets/{set}", "/calibrate")),
    "turn-part": ("Print it again", ("/log/new?from={print}", "/log/new")),
    "thicker-layer": ("Calibrate a thicker layer", ("/calibrate/new{pair}&height=100", "/calibrate/new")),
    "bath": ("Open the finish routes", ("/shelf/finish-routes",)),
    "dry-longer": ("Open the finish routes", ("/shelf/finish-routes",)),
    "cure-time": ("Plan a cure test", ("/test/new",)),
    "z-axis": ("Open the printer", ("/printers/{printer}", "/shelf/printers")),
    "slice-again": ("Print it again", ("/log/new?from={print}", "/log/new")),
    "none": ("", ()),
}
"""What the button says, and the pages it may lead to: the first of which everything is known."""
