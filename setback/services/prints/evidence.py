"""Prints of a material on a printer as evidence: success against exposure, and failures by place."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract, Notice
from ...core.printing.settings import Settings, difference
from ...core.prints.outcomes import FailedParts, PrintOutcome, PrintSuccessInput, PrintSuccessResult
from ...core.prints.places import FailurePlacesInput, FailurePlacesResult, PlacedPart, failure_places
from ...core.prints.success import print_success
from ...store import shelf
from ...store.prints import log
from ..unit_of_work import UnitOfWork, View, present

MOST_PRINTS, MOST_PAIRS = 600, 200
"""The newest prints of a pair that count as evidence; older ones were printed on another screen and film."""
FIRST_LAYERS_ONLY = {"base_exposure_s", "base_layers", "transition_layers"}
"""Settings that do not act on the layers parts are made of."""


class EvidenceQuery(Contract):
    """Which prints, and the share of whole parts that is wanted."""

    printer: str = Field(max_length=40, description="Id of the printer")
    layer_height_um: float | None = Field(None, ge=5, le=1000, description="Of one layer height only")
    target: float = Field(0.95, gt=0, lt=1, description="Share of parts that should come out whole")


class PrintEvidence(View):
    """What prints of a material on a printer tell."""

    material: str = Field(description="Name of the material")
    printer: str = Field(description="Name of the printer")
    prints: int = Field(description="Prints of parts with a known exposure")
    success: PrintSuccessResult | None = Field(description="Success against exposure; null without a print")
    places: FailurePlacesResult | None = Field(
        description="Failures by ninths of the plate; null where no part has a place"
    )
    notices: list[Notice] = Field(description="What was left out of the evidence")


class PrintedPair(log.PrintedPair):
    """A material on a printer at a layer height, of which parts were printed."""


def printed_pairs(work: UnitOfWork) -> list[PrintedPair]:
    """Pairs that prints tell of: those with several exposures first, then those with most prints."""
    return [PrintedPair.model_validate(row.model_dump()) for row in log.printed_pairs(work.db, MOST_PAIRS)]


def evidence(work: UnitOfWork, material_id: str, query: EvidenceQuery) -> PrintEvidence:
    """Success against exposure, and failures by place, from the newest prints of a pair."""
    material = present(shelf.material(work.db, material_id), "material")
    printer = present(shelf.printer(work.db, query.printer), "printer")
    rows = log.evidence(work.db, material.id, printer.id, query.layer_height_um, MOST_PRINTS)
    prints = len({row.code for row in rows})
    notices = [*_of_newest(prints), *_of_imported(rows)]
    success = None
    if rows:
        outcomes = [_outcome(row) for row in reversed(rows)]
        success = print_success(PrintSuccessInput(prints=outcomes, target=query.target))
    return PrintEvidence(
        material=material.name,
        printer=printer.name,
        prints=prints,
        success=success,
        places=_places(rows, printer),
        notices=notices,
    )


def outcomes_with(
    work: UnitOfWork, material_id: str, printer_id: str, layer_height_um: float, settings: Settings
) -> tuple[list[PrintOutcome], list[Notice]]:
    """Outcomes of the newest prints of a pair, oldest first, of those that differ from these settings in nothing but exposure.

    Prints whose settings nobody noted count too. With what was left out, in words.
    """
    rows = log.evidence(work.db, material_id, printer_id, layer_height_um, MOST_PRINTS)
    notices = [*_of_newest(len({row.code for row in rows})), *_of_imported(rows)]
    alike: dict[str, bool] = {}
    for row in rows:
        if row.code not in alike:
            noted = row.settings or row.set_settings
            differs = difference(Settings.model_validate(noted), settings) if noted else []
            alike[row.code] = set(differs) <= FIRST_LAYERS_ONLY
    if others := sum(not is_alike for is_alike in alike.values()):
        prints = "1 print was" if others == 1 else f"{others} prints were"
        message = f"{prints} made with other settings than these: left out. An arm with their settings counts them."
        notices.append(Notice(code="other-settings", message=message))
    return [_outcome(row) for row in reversed(rows) if alike[row.code]], notices


def _of_newest(prints: int) -> list[Notice]:
    """That older prints are left out, where there are as many as count."""
    if prints < MOST_PRINTS:
        return []
    message = f"The newest {MOST_PRINTS} prints count; older ones are left out."
    return [Notice(code="newest-only", message=message)]


def _of_imported(rows: list[log.Evidence]) -> list[Notice]:
    """How many of the prints a table from before had."""
    imported = len({row.code for row in rows if row.imported})
    if not imported:
        return []
    prints = "1 of these prints was" if imported == 1 else f"{imported} of these prints were"
    return [Notice(code="imported", message=f"{prints} imported from a table.")]


def _outcome(row: log.Evidence) -> PrintOutcome:
    whole = row.whole or 0
    settings = row.settings or row.set_settings or {}
    return PrintOutcome(
        print=row.code,
        exposure_s=row.exposure_s,
        temp_c=row.temp_c,
        rest_s=settings.get("rest_before_s"),
        tip_mm=row.tip_mm,
        place=row.place or None,
        parts=row.printed,
        whole=whole,
        failed=FailedParts(under=row.under, over=row.over, other=row.printed - whole - row.under - row.over),
    )


def _places(rows: list[log.Evidence], printer: shelf.Printer) -> FailurePlacesResult | None:
    """Failures by place of parts that stand somewhere on the plate; each of several at one place as one of them."""
    placed = [
        PlacedPart(print=row.code, x_mm=row.x_mm, y_mm=row.y_mm, failed=number >= (row.whole or 0))
        for row in reversed(rows)
        if row.x_mm is not None
        and row.y_mm is not None
        and row.x_mm <= printer.plate_x_mm
        and row.y_mm <= printer.plate_y_mm
        for number in range(min(row.printed, 50))
    ]
    if not placed:
        return None
    return failure_places(
        FailurePlacesInput(plate_x_mm=printer.plate_x_mm, plate_y_mm=printer.plate_y_mm, parts=placed)
    )
