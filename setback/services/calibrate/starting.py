"""What a new calibration starts with: bottle, finish route, range, sizes, and settings from experience."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import Field

from ...core.calibrate.part_uses import USES, PartUse, limits_for
from ...core.calibrate.sources import BORROWED_RATIO, SOURCES, SourceKey, around, on_steps
from ...core.calibrate.starting_settings import Kin, base_exposure, most_like
from ...core.contract import Contract
from ...core.printing.settings import SettingField, Settings, setting_fields
from ...core.window.lanes import Limits
from ...store import borrowed, earlier, shelf
from ...store.calibrate import guesses, stages
from ...store.qualify import briefs as brief_store
from ...store.sets import parameter_sets
from ..unit_of_work import UnitOfWork, View, present
from . import base_rules
from .calibrations import GuessKept, Series, series
from .prediction import curves, to_keep

OF_BRIEFS = ("set.wall", "set.slot", "set.tip", "set.growth")
"""Requirements of a brief that are limits of a calibration: wall, slot, support tip, edge growth."""
MOST_BRIEFS = 20
WATERY = ("water", "rinse")
SOURCE_OF: dict[str, SourceKey] = {"maker": "maker", "other workshop": "borrowed", "own habit": "own guess"}
"""Of settings in use: what a range round them comes from."""


class StartQuery(Contract):
    """The pair and layer height a calibration would be of."""

    material_id: str = Field(max_length=40)
    printer_id: str = Field(max_length=40)
    layer_height_um: float = Field(50, gt=0, le=1000)


class StartSource(View):
    """A source a calibration can start from, with the range it brings along."""

    key: SourceKey
    name: str
    trust: str
    low_s: float | None
    high_s: float | None


class PartUseView(View):
    """What the parts may be for, with the limits that follow on this printer."""

    key: str
    name: str
    words: str
    limits: Limits = Field(description="In sizes this printer draws; each may be changed")


class StartView(View):
    """What a calibration of a material on a printer starts with; a person may change all of it."""

    bottle_id: str | None
    finish_route_id: str | None
    source: SourceKey = Field(description="The narrowest of what is at hand")
    sources: list[StartSource] = Field(description="In order of rising trust")
    guess: GuessKept
    uses: list[PartUseView] = Field(description="What the parts may be for; the first is the usual one")
    limits: Limits
    series: Series
    settings: Settings
    settings_from: str | None = Field(description="What the settings are taken from, where there is anything")
    base_from: str | None = Field(description="What the base exposure is reckoned from, where that is something else")
    setting_fields: list[SettingField] = Field(description="How settings are asked for on this printer")


def start(work: UnitOfWork, query: StartQuery) -> StartView:
    """First suggestions for a calibration: bottle, finish route, range, sizes the coupons carry."""
    material = present(shelf.material(work.db, query.material_id), "material")
    printer = present(shelf.printer(work.db, query.printer_id), "printer")
    resin = shelf.resin(work.db, material.id)
    sizes = series(printer, 50)
    guess = GuessKept.model_validate(to_keep(work, material.id, printer.id, query.layer_height_um))
    in_use = next(iter(earlier.provisional_of(work.db, material.id, printer.id, query.layer_height_um)), None)
    theirs = borrowed.borrowed_of(work.db, material.id, printer.id, query.layer_height_um)
    sources = _first_sources(resin, printer, guess, in_use, theirs[0] if theirs else None)
    experience = _experience(work, material.id, resin, printer, in_use)
    by_depth = _by_depth(work, material.id, printer.id, query.layer_height_um)
    expected_s = by_depth or (in_use.exposure_s if in_use else guess.exposure_s)
    settings, base_from = _with_base(work, experience.settings, material.id, printer, expected_s)
    uses = _uses(work, sizes, resin is not None and resin.opacity == "opaque", experience.tip_mm)
    return StartView(
        bottle_id=_in_use(shelf.bottles(work.db, False, material.id, "", 200)),
        finish_route_id=_route(shelf.finish_routes(work.db, False, "", 200), resin.wash_class if resin else "solvent"),
        source=SOURCE_OF[in_use.source] if in_use else _narrowest(sources, bool(guesses.known(work.db))),
        sources=sources,
        guess=guess,
        series=sizes,
        settings=settings,
        settings_from=experience.words,
        base_from=base_from,
        setting_fields=setting_fields(printer.delay_includes_motion, printer.light_power_adjustable),
        uses=uses,
        limits=uses[0].limits,
    )


@dataclass(frozen=True)
class Experience:
    """Settings that are there already, with where they come from and the thinnest tip that held with them."""

    settings: Settings
    words: str | None
    tip_mm: float | None


def _experience(
    work: UnitOfWork,
    material_id: str,
    resin: shelf.Resin | None,
    printer: shelf.Printer,
    in_use: earlier.ProvisionalSet | None,
) -> Experience:
    """Settings of the set on this printer that is most like; of the pair itself before what is in use, and that before any other."""
    rows = parameter_sets.newest_of_materials(work.db, printer.id)
    resins = {row.id: row for row in shelf.resins_by_id(work.db, [row.material_id for row in rows])}
    kin = {row.id: _kin(row.code, row.material_id, resins.get(row.material_id), row.issued_at) for row in rows}
    best = most_like(_kin("", material_id, resin, ""), list(kin.values()))
    if in_use is not None and (best is None or best[0].material_id != material_id):
        return Experience(
            Settings.model_validate(in_use.settings), f"As in {in_use.code}, in use and not shown", in_use.tip_mm
        )
    if best is None:
        return Experience(Settings(), None, None)
    row = next(row for row in rows if row.code == best[0].code)
    return Experience(_settings_of(row), f"As in {row.code}, {best[1]} on {printer.name}", row.tip_proven_mm)


def _by_depth(work: UnitOfWork, material_id: str, printer_id: str, layer_height_um: float) -> float | None:
    """The exposure that depth squares of the pair ask for at a layer height, s."""
    curve = curves(work, material_id).get((material_id, printer_id))
    at_height = (
        [
            exposure_at.exposure_s
            for exposure_at in curve.layer_exposures
            if exposure_at.layer_height_um == layer_height_um
        ]
        if curve
        else []
    )
    return at_height[0] if at_height else None


def _kin(code: str, material_id: str, resin: shelf.Resin | None, issued_at: str) -> Kin:
    line = f"{resin.maker} {resin.line}" if resin and resin.line else None
    return Kin(code, material_id, line, resin.family if resin else None, resin.opacity if resin else None, issued_at)


def _with_base(
    work: UnitOfWork, settings: Settings, material_id: str, printer: shelf.Printer, expected_s: float
) -> tuple[Settings, str | None]:
    """The base exposure that gripped before, else by the rule of the printer or the lab, else as it is."""
    gripped = stages.newest_grip(work.db, material_id, printer.id)
    if gripped is not None:
        words = f"Base exposure: {gripped.base_exposure_s:g} s gripped as wanted in {gripped.calibration_code}"
        return settings.model_copy(update={"base_exposure_s": gripped.base_exposure_s}), words
    rule, whose = base_rules.rule_for(work, printer.id)
    by_rule = base_exposure(expected_s, rule, printer.exposure_step_s)
    if by_rule is None:
        return settings, None
    return settings.model_copy(update={"base_exposure_s": by_rule[0]}), f"Base exposure: {by_rule[1]}, by {whose}"


def _first_sources(
    resin: shelf.Resin | None,
    printer: shelf.Printer,
    guess: GuessKept,
    in_use: earlier.ProvisionalSet | None,
    theirs: borrowed.BorrowedSet | None,
) -> list[StartSource]:
    """Sources that need nothing printed, each with the range it brings along."""
    maker = (resin.maker_low_s, resin.maker_high_s) if resin else (None, None)
    likely = on_steps(guess.low_s, guess.high_s, printer.exposure_step_s)
    ranges = {
        "own guess": (None, None),
        "maker": maker,
        "borrowed": (None, None),
        "prediction": (likely.low_s, likely.high_s),
    }
    if theirs is not None:
        carried = on_steps(theirs.low_s, theirs.high_s, printer.exposure_step_s)
        ranges["borrowed"] = (carried.low_s, carried.high_s)
    if in_use is not None:
        near = around(in_use.exposure_s, BORROWED_RATIO, printer.exposure_step_s)
        ranges[SOURCE_OF[in_use.source]] = (near.low_s, near.high_s)
    return [
        StartSource(key=s.key, name=s.name, trust=s.trust, low_s=ranges[s.key][0], high_s=ranges[s.key][1])
        for s in SOURCES.values()
        if s.key in ranges
    ]


def _narrowest(sources: list[StartSource], only_known: bool) -> SourceKey:
    """The narrower of the maker's range and the shop's own guess; a guess counts once something is calibrated."""
    usable = [s for s in sources if s.low_s and s.high_s and (only_known or s.key != "prediction")]
    best = min(usable, key=lambda s: (s.high_s or 1) / (s.low_s or 1), default=None)
    return best.key if best else "own guess"


def _settings_of(row: parameter_sets.SetRow) -> Settings:
    """Settings as a set has them."""
    return Settings.model_validate({name: row.settings[name] for name in Settings.model_fields if name in row.settings})


def _uses(work: UnitOfWork, sizes: Series, is_opaque: bool, tip_mm: float | None) -> list[PartUseView]:
    """What the parts may be for: the kinds of part, on the support tip that held before, and briefs where they ask for sizes."""
    kinds = [
        PartUseView(
            key=use.key,
            name=use.name,
            words=use.words,
            limits=_on_tip(
                limits_for(use, sizes.walls_mm, sizes.slots_mm, sizes.tips_mm, is_opaque), sizes.tips_mm, tip_mm
            ),
        )
        for use in USES
    ]
    for brief in brief_store.briefs(work.db, False, "", MOST_BRIEFS):
        asked = {
            exposure_at["property"]: float(exposure_at["limit"])
            for exposure_at in brief.requirements
            if exposure_at["property"] in OF_BRIEFS
        }
        if asked:
            use = PartUse(brief.code, brief.name, brief.use, *(asked.get(name) for name in OF_BRIEFS))
            limits = limits_for(use, sizes.walls_mm, sizes.slots_mm, sizes.tips_mm, is_opaque)
            kinds.append(PartUseView(key=brief.code, name=f"Brief: {brief.name}", words=brief.use, limits=limits))
    return kinds


def _on_tip(limits: Limits, tips_mm: list[float], tip_mm: float | None) -> Limits:
    """The limits with the tip of the coupon's series that is nearest to the one that held before."""
    if tip_mm is None or limits.tips_size_mm is None or not tips_mm:
        return limits
    return limits.model_copy(update={"tips_size_mm": min(tips_mm, key=lambda size: abs(size - tip_mm))})


def _in_use(bottles: list[shelf.Bottle]) -> str | None:
    """The bottle in use: opened ones before closed ones, then the one with least left, so that it is finished first."""
    usable = [b for b in bottles if b.retired_at is None and b.left_ml > 0]
    usable.sort(key=lambda b: (b.opened_on is None, b.left_ml))
    return usable[0].id if usable else None


def _route(routes: list[shelf.FinishRoute], wash_class: str) -> str | None:
    """A route whose fluid suits the wash class; the only one there is; else none."""
    water = wash_class == "water"
    suits = [r for r in routes if any(word in r.wash_fluid.lower() for word in WATERY) == water]
    if suits:
        return suits[0].id
    return routes[0].id if len(routes) == 1 else None
