"""Everything known of one material, or of one printer, in one place."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import Field

from ...core.climate.temperature_effect import TemperatureEffectResult
from ...store import plate as plates
from ...store import shelf
from ...store.calibrate import guesses
from ...store.lab import pages
from ...store.sets import validity as store
from ...store.shelf import Bottle, Printer
from ...store.terms import MaterialKind, Opacity
from ..calibrate import prediction
from ..climate.effect import effect
from ..sets.checks import ChartView, printer_chart
from ..sets.events import EventView, views
from ..sets.validity import rules, states
from ..shelf.printers import printer as printer_view
from ..unit_of_work import UnitOfWork, View, present

MOST = 40
NEWEST = 12
"""Of calibrations and prints; all of them are in what changed and in the log."""


class SetLine(View):
    """A living set on a material's or printer's strip."""

    code: str
    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    exposure_step_s: float
    lower_s: float | None
    upper_s: float | None
    latitude_pct: float | None
    temp_low_c: float | None
    temp_high_c: float | None
    issued_at: str
    state: Literal["issued", "due", "lapsed"]
    why: str | None


class CurveLine(View):
    """What a material's depth squares say."""

    penetration_depth_mm: float | None
    squares: int


class MaterialPage(View):
    """Everything known of one material."""

    id: str
    code: str
    name: str
    kind: MaterialKind
    maker: str | None
    line: str | None
    family: str | None
    opacity: Opacity | None
    colour: str | None
    sets: list[SetLine] = Field(description="By layer height")
    axis_s: tuple[float, float] | None
    curve: CurveLine
    temperature: TemperatureEffectResult | None
    temperature_missing: str | None
    bottles: list[Bottle]
    events: list[EventView]
    campaigns: list[pages.CampaignLine]
    prints: list[pages.PrintLine]


class BottlePage(View):
    """A bottle: what is left, what it was used for, how old it is."""

    bottle: Bottle
    open_days: int | None = Field(description="Days since it was opened; none while it is not")
    best_in_days: int | None = Field(description="Days to its best-before date, negative after it; none without one")
    settles: bool = Field(description="Its material holds pigment that settles: it wants a shake")
    uses: list[pages.BottleUse] = Field(description="Newest first; millilitres out are negative")


class DefectLine(View):
    """A mark on a printer's screen or film."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    note: str


class PrinterPage(View):
    """Everything known of one printer."""

    printer: Printer
    sets: list[SetLine]
    axis_s: tuple[float, float] | None
    chart: ChartView
    map_source: str | None
    map_at: str | None
    defects: list[DefectLine]
    events: list[EventView]
    campaigns: list[pages.CampaignLine]
    prints: list[pages.PrintLine]


def material(work: UnitOfWork, material_id: str) -> MaterialPage:
    """Everything known of one material."""
    db = work.db
    row = present(shelf.material(db, material_id), "material")
    resin = shelf.resin(db, material_id)
    sets = _lines(work, store.sets_of_material(db, material_id))
    warmth = effect(work, material_id)
    squares = guesses.depths(db, material_id)
    return MaterialPage(
        id=row.id,
        code=row.code,
        name=row.name,
        kind=row.kind,
        maker=resin.maker if resin else None,
        line=resin.line if resin else None,
        family=resin.family if resin else None,
        opacity=resin.opacity if resin else None,
        colour=resin.colour if resin else None,
        sets=sets,
        axis_s=_axis(sets),
        curve=CurveLine(
            penetration_depth_mm=prediction.penetration_depths(work, material_id).get(material_id), squares=len(squares)
        ),
        temperature=warmth.result,
        temperature_missing=warmth.missing,
        bottles=shelf.bottles(db, False, material_id, "", MOST),
        events=views(work, store.events_of_material(db, material_id, MOST)),
        campaigns=pages.campaigns_of_material(db, material_id, NEWEST),
        prints=pages.prints_of_material(db, material_id, NEWEST),
    )


def bottle(work: UnitOfWork, id_or_code: str) -> BottlePage:
    """What is known of one bottle, by its id or the code on its label."""
    db, today = work.db, work.clock().date()
    row = present(shelf.bottle(db, id_or_code) or shelf.bottle_by_code(db, id_or_code), "bottle")
    resin = shelf.resin(db, row.material_id)
    names = {key: rule.name for key, rule in rules(work).items()}
    uses = pages.uses_of_bottle(db, row.id, MOST)
    return BottlePage(
        bottle=row,
        open_days=(today - date.fromisoformat(row.opened_on)).days if row.opened_on else None,
        best_in_days=(date.fromisoformat(row.best_before) - today).days if row.best_before else None,
        settles=resin is not None and resin.opacity != "clear",
        uses=[use.model_copy(update={"words": names.get(use.words, use.words)}) for use in uses],
    )


def printer(work: UnitOfWork, printer_id: str) -> PrinterPage:
    """Everything known of one printer."""
    db = work.db
    view = printer_view(work, printer_id)
    sets = _lines(work, store.sets_of_printer(db, printer_id))
    light_map = plates.newest_map(db, printer_id)
    return PrinterPage(
        printer=view,
        sets=sets,
        axis_s=_axis(sets),
        chart=printer_chart(work, printer_id),
        map_source=light_map.source if light_map else None,
        map_at=light_map.measured_at if light_map else None,
        defects=[DefectLine.model_validate(d) for d in plates.defects(db, printer_id)],
        events=views(work, store.events_of_printer(db, printer_id, MOST)),
        campaigns=pages.campaigns_of_printer(db, printer_id, NEWEST),
        prints=pages.prints_of_printer(db, printer_id, NEWEST),
    )


def _lines(work: UnitOfWork, sets: list[store.LivingSet]) -> list[SetLine]:
    lived = states(work, sets)
    materials = {m.id: m.name for m in shelf.materials_by_id(work.db, sorted({s.material_id for s in sets}))}
    printers = {p.id: p.name for p in shelf.printers_by_id(work.db, sorted({s.printer_id for s in sets}))}
    lines = []
    for s in sets:
        life = lived[s.id]
        cause = life.causes[0] if life.causes else None
        lines.append(
            SetLine(
                code=s.code,
                material_id=s.material_id,
                material=materials[s.material_id],
                printer_id=s.printer_id,
                printer=printers[s.printer_id],
                layer_height_um=s.layer_height_um,
                exposure_s=s.exposure_s,
                exposure_step_s=s.exposure_step_s,
                lower_s=s.lower_s,
                upper_s=s.upper_s,
                latitude_pct=s.latitude_pct,
                temp_low_c=s.temp_low_c,
                temp_high_c=s.temp_high_c,
                issued_at=s.issued_at,
                state={"valid": "issued"}.get(life.state, life.state),
                why=f"{cause.name}. {cause.detail}".strip() if cause else None,
            )
        )
    return lines


def _axis(sets: list[SetLine]) -> tuple[float, float] | None:
    ends = [v for s in sets for v in (s.lower_s, s.upper_s, s.exposure_s) if v]
    return (min(ends) / 1.15, max(ends) * 1.15) if ends else None
