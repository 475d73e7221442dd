"""The card of an issued parameter set: what to type in, within which limits, and what it rests on."""

from __future__ import annotations

import io
import math
from typing import Any, Literal

from pydantic import Field

from ...core.calibrate.confirm import confirmed
from ...core.contract import Problem
from ...core.lab_form import SETTINGS, NumberForm, answer_in_lab_form, in_lab_form
from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step, shown
from ...core.prints.factors import rows_of, seen_at
from ...core.prints.window import PrintWindowInput
from ...core.window.contract import Window, WindowInput, WindowResult, window_outcome
from ...report.sheets import write_rows
from ...store import plate as plates
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.calibrate import stages
from ...store.prints import prints
from ...store.sets import parameter_sets
from ...store.terms import Policy
from ..calibrate.settings_to_type import setting_lines
from ..calibrate.windows import print_window_for, window_for
from ..climate.effect import effect, exposure_at
from ..files.coupon_files import Made
from ..lab import records
from ..lab_settings import base_address, lab_settings, number_form
from ..plate.light_maps import PlateQuery, result_of
from ..unit_of_work import UnitOfWork, View, present

CardFormat = Literal["txt", "csv", "json", "pdf"]
OUTSIDE = "Issued outside an offer"


class CardLine(View):
    """One line of the card, in the order people meet it in a slicing program."""

    group: str
    name: str
    value: str
    unit: str


class CardConfirmation(View):
    """A confirming print on the card."""

    code: str
    place: str
    what: str
    finding: str | None
    initials: str
    confirmed_at: str


class CardEvidence(View):
    """A coupon, square or try the set rests on, with the place where it can be looked at."""

    label: str
    link: str


class Changed(View):
    """What differs from the version before."""

    group: str
    name: str
    unit: str
    this: str
    other: str
    changed: bool


class SetComparison(View):
    """Two versions line by line."""

    this: str
    other: str
    lines: list[Changed]
    changed: int


class CorrectedAt(View):
    """The exposure at another temperature, with what the effect's interval makes of it."""

    temp_c: float
    exposure_s: float = Field(description="On the printer's steps")
    low_s: float
    high_s: float


class Correction(View):
    """How the exposure follows temperature, inside the range in which that was measured; only where the effect is shown."""

    percent_per_c: float
    percent_per_c_ci: tuple[float, float] | None
    low_c: float
    high_c: float
    rows: list[CorrectedAt]


class PrintsBehind(View):
    """Prints of parts that a set rests on."""

    prints: int
    parts: int = Field(description="Of those that tell of light")
    whole: int = Field(description="Parts that came out whole")
    wanted: float = Field(description="Share of parts that should come out whole")


class SetCard(View):
    """An issued parameter set: every setting to type into a slicing program, and what it rests on."""

    id: str
    code: str
    version: int
    versions: list[tuple[int, str]] = Field(description="(version, code) of this pair and layer height, newest first")
    newest: bool
    material_id: str
    material: str
    maker: str | None
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    exposure_step_s: float
    policy: Policy
    reason: str
    settings: Settings
    rest_is_delay: bool = Field(description="The printer's delay includes the motion")
    finish_route: str | None
    finish_steps: list[str]
    bottle: str | None
    bottle_left_ml: float | None
    temp_low_c: float | None
    temp_high_c: float | None
    correction: Correction | None = Field(description="None while one temperature is all that is known")
    tip_proven_mm: float | None
    growth_um: float | None = Field(description="Expected edge growth at the issued exposure, µm")
    growth_ci_um: tuple[float, float] | None
    chance: float | None = Field(
        description="That all requirements hold at the issued exposure; none by the earlier method"
    )
    outside_reason: str | None = Field(description="Why it was issued although the evidence did not offer it")
    earlier_method: bool = Field(
        description="The window was made by the method before chances; it can be looked at anew"
    )
    calibration_id: str
    calibration_code: str
    coupons: list[str]
    window: WindowResult
    initials: str
    issued_at: str
    core_version: str
    hash: str
    lines: list[CardLine] = Field(description="Every setting and limit, in the order people meet them")
    confirmations: list[CardConfirmation]
    from_prints: PrintsBehind | None = Field(
        None, description="The prints it rests on, where it was shown by prints of parts alone"
    )
    confirmed: bool = Field(description="Passed at the centre and at the worst place at this exposure")
    usable_pct: float | None = Field(description="Part of the plate that stays inside the window, by its map")
    usable_basis: str | None
    evidence: list[CardEvidence]


def card(work: UnitOfWork, id_or_code: str) -> SetCard:
    """The card of an issued set, from what was kept when it was issued."""
    db = work.db
    row = present(parameter_sets.parameter_set(db, id_or_code), "parameter set")
    material = present(shelf.material(db, row.material_id), "material")
    resin = shelf.resin(db, row.material_id)
    printer = present(shelf.printer(db, row.printer_id), "printer")
    bottle = shelf.bottle(db, row.bottle_id) if row.bottle_id else None
    route = shelf.finish_route_version(db, row.finish_route_version_id) if row.finish_route_version_id else None
    calibration = present(store.calibration(db, row.calibration_id), "calibration")
    window = window_outcome(row.result)
    versions = parameter_sets.versions(db, row.material_id, row.printer_id, row.layer_height_um)
    made_of = prints.confirmations(db, row.calibration_id)
    at_this = [c for c in made_of if abs(c.exposure_s - row.exposure_s) < 1e-9]
    usable, basis = _usable(work, row, window.window)
    near = [p for p in window.predictions if abs(p.exposure_s - row.exposure_s) < 1e-9]
    card_view = SetCard(
        lines=[],
        confirmations=[CardConfirmation.model_validate(c) for c in at_this],
        confirmed=confirmed([(c.place, c.exposure_s) for c in at_this if c.finding is None], row.exposure_s),
        usable_pct=usable,
        usable_basis=basis,
        evidence=_evidence(work, row, [str(c["label"]) for c in _coupons(row.input)]),
        **{name: getattr(row, name) for name in _OWN},
        versions=list(versions.items()),
        newest=max(versions) == row.version,
        material=material.name,
        maker=resin.maker if resin else None,
        printer=printer.name,
        exposure_step_s=printer.exposure_step_s,
        settings=Settings.model_validate(row.settings),
        rest_is_delay=printer.delay_includes_motion,
        finish_route=f"{route.name}, version {route.version}" if route else None,
        finish_steps=_finish_steps(route) if route else [],
        bottle=f"{bottle.code}, lot {bottle.lot}" if bottle else None,
        bottle_left_ml=bottle.left_ml if bottle else None,
        correction=_correction(work, row, printer.exposure_step_s),
        growth_um=near[0].growth_um if near else None,
        growth_ci_um=near[0].growth_ci_um if near else None,
        chance=window.p_at(row.exposure_s),
        earlier_method=not window.method,
        from_prints=_prints_behind(row),
        calibration_code=calibration.code,
        coupons=[str(c["label"]) for c in _coupons(row.input)],
        window=window,
        initials=shelf.initials(db, row.technician_id),
    )
    return card_view.model_copy(update={"lines": card_lines(card_view)})


_OWN = (
    "id",
    "code",
    "version",
    "material_id",
    "printer_id",
    "layer_height_um",
    "exposure_s",
    "policy",
    "reason",
    "temp_low_c",
    "temp_high_c",
    "tip_proven_mm",
    "calibration_id",
    "issued_at",
    "core_version",
    "hash",
    "outside_reason",
)


def _correction(work: UnitOfWork, row: parameter_sets.SetRow, step_s: float) -> Correction | None:
    """The set's exposure moved along the material's temperature effect, whole degrees of the fitted range only."""
    effect_view = effect(work, row.material_id)
    if (
        effect_view.result is None
        or row.temp_low_c is None
        or row.temp_high_c is None
        or not effect_view.result.corrects
    ):
        return None
    low, high = effect_view.result.fitted_range_c
    middle_c = (row.temp_low_c + row.temp_high_c) / 2
    at_middle = exposure_at(effect_view, middle_c)
    if at_middle is None or not at_middle.exposure_s or high - low < 2:
        return None
    every = max(round((high - low) / 5), 1)
    rows = []
    for temp in range(math.ceil(low), math.floor(high) + 1, every):
        at_temp = exposure_at(effect_view, temp)
        if at_temp is not None and at_temp.exposure_s and effect_view.result.percent_per_c_ci is not None:
            moved = round_to_step(row.exposure_s * at_temp.exposure_s / at_middle.exposure_s, step_s)
            ends = [row.exposure_s * (1 + p / 100) ** (temp - middle_c) for p in effect_view.result.percent_per_c_ci]
            rows.append(CorrectedAt(temp_c=float(temp), exposure_s=moved, low_s=min(ends), high_s=max(ends)))
    return Correction(
        percent_per_c=effect_view.result.percent_per_c,
        percent_per_c_ci=effect_view.result.percent_per_c_ci,
        low_c=low,
        high_c=high,
        rows=rows,
    )


def _coupons(stored: dict[str, Any]) -> list[dict[str, Any]]:
    """Coupons of the evidence; a set that rests on prints of parts has none."""
    return list(stored.get("coupons", []))


def _prints_behind(row: parameter_sets.SetRow) -> PrintsBehind | None:
    if "prints" not in row.input:
        return None
    inputs = PrintWindowInput.model_validate(row.input)
    exposures = seen_at(inputs.prints, rows_of(inputs.prints))
    return PrintsBehind(
        prints=len({outcome.print for outcome in inputs.prints}),
        parts=sum(at.whole + at.under + at.over for at in exposures),
        whole=sum(at.whole for at in exposures),
        wanted=inputs.target,
    )


def _finish_steps(route: shelf.FinishRoute) -> list[str]:
    temp = f" at {route.cure_temp_c:g} °C" if route.cure_temp_c is not None else ""
    supports = f"Supports off {route.supports_off}"
    steps = [
        f"Wash in {route.wash_fluid}, {route.wash_method}: dirty bath {route.dirty_bath_min:g} min, "
        f"clean bath {route.clean_bath_min:g} min",
        f"Dry {route.dry_min:g} min" + (f", air {route.air_min:g} min" if route.air_min else ""),
        f"Cure {route.cure_min:g} min, {route.lamp}{temp}",
    ]
    return [*steps[:2], supports, steps[2]] if route.supports_off == "before cure" else [*steps, supports]


def usable_plate(work: UnitOfWork, row: parameter_sets.SetRow) -> float | None:
    """Percent of the plate inside the set's window, where there is a map."""
    return _usable(work, row, window_outcome(row.result).window)[0]


def _usable(work: UnitOfWork, row: parameter_sets.SetRow, window: Window | None) -> tuple[float | None, str | None]:
    """Part of the plate inside the set's window, by the newest map of its printer."""
    light_map = plates.newest_map(work.db, row.printer_id)
    if light_map is None or window is None:
        return None, None
    query = PlateQuery(exposure_s=row.exposure_s, window_lower_s=window.lower_s, window_upper_s=window.upper_s)
    basis = f"{light_map.source} map of {light_map.measured_at[:10]}"
    return round(100 * result_of(light_map, query).usable_fraction), basis


def _evidence(work: UnitOfWork, row: parameter_sets.SetRow, coupons: list[str]) -> list[CardEvidence]:
    links = [CardEvidence(label=code, link=f"/coupons/{code}") for code in coupons]
    done = stages.done(work.db, row.calibration_id)
    for stage, name in (("depth", "depth squares"), ("first-layer", "first layer"), ("confirm", "confirmation")):
        if stage in done:
            links.append(CardEvidence(label=name, link=f"/calibrate/{row.calibration_id}?step={stage}"))
    return links


def card_lines(card: SetCard) -> list[CardLine]:
    """The card as lines: settings first, as a slicing program asks for them, then what they are valid for."""
    window = card.window.window
    exposure = shown(card.exposure_s, card.exposure_step_s)

    def line(group: str, name: str, value: object, unit: str = "") -> CardLine:
        """A line of the card, with its unit."""
        return CardLine(
            group=group, name=name, value=f"{value:g}" if isinstance(value, float) else str(value), unit=unit
        )

    lines = [
        line(SETTINGS, setting.name, setting.value, setting.unit)
        for setting in setting_lines(card.settings, card.layer_height_um, exposure, card.rest_is_delay)
    ]
    if card.growth_um is not None:
        growth = f"about {-card.growth_um:+.0f}"
        if card.growth_ci_um is not None:
            growth += f" ({-card.growth_ci_um[1]:+.0f} to {-card.growth_ci_um[0]:+.0f})"
        lines.append(line(SETTINGS, "Size compensation per edge", growth, "µm"))
    if card.window.scale_error_pct is not None:
        scale = 100 / (1 + card.window.scale_error_pct / 100)
        lines.append(line(SETTINGS, "Scale for shrinkage", f"about {scale:.2f}", "%"))
    if window is not None:
        ends = f"{window.lower_s:.3g} to {window.upper_s:.3g}"
        lines += [
            line("Valid for", "Window", ends, "s"),
            line("Valid for", "Latitude", "not shown: an end is not found", "")
            if window.latitude_pct is None
            else line("Valid for", "Latitude", f"{window.latitude_pct:.0f}", "%"),
        ]
    if card.from_prints is not None:
        lines += [line("Valid for", name, value) for name, value in _lines_from_prints(card.from_prints)]
    if card.chance is not None:
        name = f"{100 * card.from_prints.wanted:g} % whole with" if card.from_prints else "All requirements hold with"
        lines.append(line("Valid for", name, chance_words(card.chance), "%"))
    if card.earlier_method:
        lines.append(line("Valid for", "Window by", "the earlier method, without chances"))
    if card.outside_reason is not None:
        lines.append(line("Valid for", OUTSIDE, card.outside_reason))
    band = None if card.temp_low_c is None else f"{card.temp_low_c:g} to {card.temp_high_c:g}"
    lines += [
        line("Valid for", "Bottle", card.bottle or "not noted"),
        line("Valid for", "Temperature", band or "not noted", "°C" if band else ""),
        *_correction_lines(card),
        line(
            "Valid for", "Thinnest tip shown to hold", card.tip_proven_mm or "none", "mm" if card.tip_proven_mm else ""
        ),
        line(
            "Valid for",
            "Usable plate",
            "no map" if card.usable_pct is None else f"{card.usable_pct:.0f}",
            "" if card.usable_pct is None else "%",
        ),
        line("Valid for", "Confirmed", "centre and worst place" if card.confirmed else "not at both places"),
        line("Finish", "Route", card.finish_route or "not noted"),
    ]
    return lines + [line("Finish", str(i), step) for i, step in enumerate(card.finish_steps, 1)]


def _lines_from_prints(behind: PrintsBehind) -> list[tuple[str, str]]:
    return [
        ("Window from", "prints of parts"),
        ("Parts printed", f"{behind.whole} of {behind.parts} whole, in {behind.prints} prints"),
    ]


def chance_words(chance: float) -> str:
    """A chance in percent; one that was reckoned is never quite sure, nor quite impossible."""
    return ">99" if chance >= 0.995 else "<1" if chance < 0.005 else f"{100 * chance:.0f}"


def _correction_lines(card: SetCard) -> list[CardLine]:
    if card.correction is None:
        return []
    rows = ", ".join(
        f"~{row.exposure_s:g} s ({row.low_s:.3g} to {row.high_s:.3g}) at {row.temp_c:g} °C"
        for row in card.correction.rows
    )
    return [CardLine(group="Valid for", name="Exposure by temperature", value=rows, unit="")]


class WindowAnew(View):
    """The evidence of an issued set under today's method, beside what it was issued with."""

    window: WindowResult
    chance: float | None = Field(description="That all requirements hold at the issued exposure")
    offered: bool = Field(description="Whether the exposure would be offered today")


def anew(work: UnitOfWork, id_or_code: str) -> WindowAnew:
    """Look at the evidence of a set again; the set keeps the window it was issued with."""
    row = present(parameter_sets.parameter_set(work.db, id_or_code), "parameter set")
    if "prints" in row.input:
        window = print_window_for(PrintWindowInput.model_validate(row.input))
    else:
        window = window_for(WindowInput.model_validate(row.input))
    return WindowAnew(window=window, chance=window.p_at(row.exposure_s), offered=window.offers(row.exposure_s))


def compare(work: UnitOfWork, id_or_code: str, other: str) -> SetComparison:
    """Two versions line by line, changed lines marked.

    Raises
    ------
    Problem
        When they are not of one material, printer and layer height: nothing would be comparable.
    """
    this, that = card(work, id_or_code), card(work, other)
    if (this.material_id, this.printer_id, this.layer_height_um) != (
        that.material_id,
        that.printer_id,
        that.layer_height_um,
    ):
        message = f"{that.code} is of another material, printer or layer height than {this.code}."
        raise Problem(message, {"other": message})
    names = dict.fromkeys((x.group, x.name) for x in (*this.lines, *that.lines))
    mine, theirs = ({(x.group, x.name): x for x in set_card.lines} for set_card in (this, that))
    lines = []
    for key in names:
        a, b = mine.get(key), theirs.get(key)
        left_text, right_text = (a.value if a else "—"), (b.value if b else "—")
        unit = a.unit if a and a.unit else b.unit if b else ""
        lines.append(
            Changed(
                group=key[0], name=key[1], unit=unit, this=left_text, other=right_text, changed=left_text != right_text
            )
        )
    return SetComparison(this=this.code, other=that.code, lines=lines, changed=sum(x.changed for x in lines))


def _as_read(set_card: SetCard, form: NumberForm) -> list[tuple[str, str, str, str]]:
    """Group, name, value and unit of each line, as this lab reads numbers."""
    lines = [line.model_dump() for line in set_card.lines]
    if not form.is_usual:
        lines = answer_in_lab_form(lines, form)
    return [(line["group"], line["name"], line["value"], line["unit"]) for line in lines]


def exported(work: UnitOfWork, id_or_code: str, file_format: CardFormat) -> Made:
    """The card as plain text, CSV, JSON or an A4 page with a QR code that opens it."""
    set_card = card(work, id_or_code)
    title = f"{set_card.material} on {set_card.printer}, {set_card.layer_height_um:g} µm"
    lab = lab_settings(work).name
    issued = f"{f'{lab}: ' if lab else ''}{set_card.code}, version {set_card.version}, issued {set_card.issued_at[:10]} by {set_card.initials}"
    if file_format == "json":
        content, mime = set_card.model_dump_json(indent=1).encode(), "application/json"
    elif file_format == "csv":
        out = io.StringIO()
        write_rows(out, [["group", "name", "value", "unit"]])
        write_rows(out, ([x.group, x.name, x.value, x.unit] for x in set_card.lines))
        content, mime = out.getvalue().encode(), "text/csv"
    elif file_format == "txt":
        wide = max(len(x.name) for x in set_card.lines)
        rows = [title, issued, ""]
        lines = _as_read(set_card, number_form(work.db))
        for group in dict.fromkeys(line[0] for line in lines):
            rows.append(group)
            rows += [f"  {name:<{wide}}  {value} {unit}".rstrip() for of, name, value, unit in lines if of == group]
        rows += ["", f"Why: {set_card.reason}", f"SHA-256 {set_card.hash}"]
        content, mime = "\n".join(rows).encode(), "text/plain; charset=utf-8"
    else:
        from ...report.card import card_page

        window = set_card.window.window
        form = number_form(work.db)
        lines = [line for line in _as_read(set_card, form) if line[1] != OUTSIDE]
        content = card_page(
            title,
            issued,
            in_lab_form(shown(set_card.exposure_s, set_card.exposure_step_s), form),
            lines,
            (window.lower_s, window.upper_s) if window else None,
            set_card.exposure_s,
            set_card.reason,
            set_card.outside_reason,
            set_card.hash,
            f"{base_address(work)}/sets/{set_card.code}",
            records.head_line(work),
            records.warning(work),
        )
        content = records.signed(work, content)
        mime = "application/pdf"
    return Made(content, mime, f"{set_card.code}.{file_format}", set_card.code, 0.0)
