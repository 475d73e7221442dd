"""Settings in use that nothing here shows: entered, changed, withdrawn, and what prints and later sets say of them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from pydantic import Field

from ...core.calibrate.sources import BORROWED_RATIO, on_steps
from ...core.contract import Contract, Millimetres, Problem, Seconds
from ...core.printing.plausible import check_layer_height
from ...core.printing.settings import Settings, setting_fields
from ...core.prints.window import PrintWindowInput
from ...core.window.contract import WindowOutcome
from ...store import earlier as store
from ...store import shelf
from ...store.codes import next_code
from ...store.prints import log
from ...store.rows import insert, update
from ...store.sets import parameter_sets
from ...store.terms import SettingsSource
from ..both_versions import same_version
from ..calibrate import starting
from ..calibrate.cut_offs import cut_offs
from ..calibrate.next_steps import FirstStep, first_step
from ..calibrate.settings_to_type import SettingLine, setting_lines
from ..calibrate.windows import print_window_for
from ..prints.evidence import outcomes_with
from ..reading.readings import Reason
from ..shelf.entry import Day, Note, Version, live_material, version_of
from ..unit_of_work import Conflict, UnitOfWork, View, present

WHOLE_SHARE = 0.95
"""Share of parts that come out whole inside the window that prints of settings in use make."""
MOST_PAIRS = 5000
SOURCE_WORDS: dict[SettingsSource, str] = {
    "maker": "from the maker",
    "other workshop": "from another workshop",
    "own habit": "own habit",
}


class ProvisionalInput(Contract):
    """Settings that are in use, and where they come from."""

    material_id: str = Field(max_length=40)
    printer_id: str = Field(max_length=40)
    layer_height_um: float = Field(gt=0, le=1000)
    exposure_s: Seconds
    settings: Settings = Field(
        default_factory=Settings, description="Those that are known; the usual ones stand for the others"
    )
    tip_mm: Millimetres | None = Field(None, description="Thinnest support tip that holds")
    finish_route_id: str | None = Field(None, max_length=40)
    source: SettingsSource
    source_note: Note = Field("", description="Which maker’s sheet, which workshop, whose habit")
    in_use_since: Day | None = None
    note: Note = ""
    version: Version = None


class HollowWindow(View):
    """What prints of parts say of settings in use: nothing was measured on them."""

    prints: int
    lower_s: float | None = Field(description="Least exposure at which enough parts came out whole, so far as printed")
    upper_s: float | None
    words: str


class CalibratedLater(View):
    """The set that took the place of settings in use, and how far they were off."""

    set_code: str
    exposure_s: float
    issued_at: str
    off_pct: float = Field(description="By how much the exposure in use was longer (+) or shorter (-) than the set’s")
    inside: bool | None = Field(description="Whether it lay inside the window that was found")
    words: str
    provisional_code: str
    entered_by: str


class ProvisionalView(View):
    """Settings in use, not shown."""

    id: str
    code: str
    version: int
    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    settings: Settings
    stated: list[str]
    tip_mm: float | None
    finish_route_version_id: str | None
    source: SettingsSource
    source_words: str
    source_note: str
    in_use_since: str | None
    age_days: int | None = Field(description="How long they have been in use; null where that is not known")
    note: str
    table_code: str | None = Field(description="The table they were taken from")
    table_row: int | None
    initials: str
    entered_at: str
    withdrawn_at: str | None
    withdrawn_reason: str | None
    state: Literal["in use", "superseded", "withdrawn"]


class ProvisionalPage(ProvisionalView):
    """The same with what is known of them, and what to do next."""

    setting_lines: list[SettingLine] = Field(description="What to type into the slicing program")
    usual_lines: list[str] = Field(description="Names of those lines that nobody stated: as usual")
    history: list[store.ProvisionalVersion]
    from_prints: HollowWindow | None = Field(description="Null while no print of parts was logged with them")
    calibrated: CalibratedLater | None
    next: FirstStep | None = Field(description="The cheapest coupon that would show most")
    range_s: tuple[float, float] = Field(description="Where a calibration would look first")
    finish_route_id: str | None = Field(description="The finish route parts get")
    finish_route: str | None = Field(description="Its name and version")


class ProvisionalQuery(Contract):
    """A page of the list, entered last first."""

    before: str = Field("", max_length=20, description="Code of the last one seen")
    limit: int = Field(200, ge=1, le=500)


class ProvisionalWithdrawn(Contract):
    """Why settings in use no longer stand."""

    reason: Reason


def put(work: UnitOfWork, request: ProvisionalInput) -> ProvisionalPage:
    """Keep settings that are in use.

    Raises
    ------
    Problem
        With the field that cannot be meant.
    """
    with work.write() as answer:
        return answer(page(work, keep(work, request)))


def keep(work: UnitOfWork, request: ProvisionalInput, table: tuple[str, int] | None = None) -> str:
    """The same inside whoever's transaction, with the table and row they come from; the code they got."""
    values = _checked(work, request)
    code = next_code(work.db, "U")
    table_id, row = table or (None, None)
    insert(
        work.db,
        "provisional_set",
        code=code,
        version=1,
        earlier_table_id=table_id,
        table_row=row,
        **_new(work),
        **values,
    )
    return code


def check(work: UnitOfWork, request: ProvisionalInput) -> None:
    """Refuse what cannot be meant, and keep nothing.

    Raises
    ------
    Problem
        With the field.
    """
    _checked(work, request)


def change(work: UnitOfWork, code: str, request: ProvisionalInput) -> ProvisionalPage:
    """Keep a new version of them; the earlier ones stay. Material, printer and layer height cannot change.

    Raises
    ------
    Conflict
        When they were changed meanwhile, or withdrawn.
    """
    with work.write() as answer:
        row = present(store.provisional(work.db, code), "set of settings")
        same_version(row, version_of(request.version), row.code, request)
        if row.withdrawn_at is not None:
            raise Conflict(f"{row.code} was withdrawn.")
        if (request.material_id, request.printer_id, request.layer_height_um) != (
            row.material_id,
            row.printer_id,
            row.layer_height_um,
        ):
            message = (
                f"{row.code} is for {row.material} on {row.printer} at {row.layer_height_um:g} µm: enter others anew."
            )
            raise Problem(message, {"material_id": message})
        insert(
            work.db,
            "provisional_set",
            code=code,
            version=row.version + 1,
            earlier_table_id=row.earlier_table_id,
            table_row=row.table_row,
            **_new(work),
            **_checked(work, request),
        )
        return answer(page(work, code))


def withdraw(work: UnitOfWork, code: str, request: ProvisionalWithdrawn) -> ProvisionalPage:
    """Let settings no longer stand: they were a slip, or nobody uses them."""
    with work.write() as answer:
        row = present(store.provisional(work.db, code), "set of settings")
        if row.withdrawn_at is None:
            update(work.db, "provisional_set", row.id, withdrawn_at=work.now(), withdrawn_reason=request.reason)
        return answer(page(work, code))


def restore(work: UnitOfWork, code: str) -> ProvisionalPage:
    """Undo a withdrawal."""
    with work.write() as answer:
        row = present(store.provisional(work.db, code), "set of settings")
        update(work.db, "provisional_set", row.id, withdrawn_at=None, withdrawn_reason=None)
        return answer(page(work, code))


def listed(work: UnitOfWork, query: ProvisionalQuery) -> list[ProvisionalView]:
    """Those that stand, entered last first. Two queries."""
    calibrated = store.calibrated_triples(work.db)
    return [
        _view(work, row, (row.material_id, row.printer_id, row.layer_height_um) in calibrated)
        for row in store.provisional_sets(work.db, query.before, query.limit)
    ]


def count(work: UnitOfWork) -> int:
    """How many settings in use stand."""
    return store.provisional_count(work.db)


def page(work: UnitOfWork, code: str) -> ProvisionalPage:
    """One of them, with what prints and later sets say of it and what would show most."""
    row = present(store.provisional(work.db, code), "set of settings")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    issued = store.calibrated_since(work.db, row.material_id, row.printer_id, row.layer_height_um)
    settings = Settings.model_validate(row.settings)
    around = on_steps(row.exposure_s / BORROWED_RATIO, row.exposure_s * BORROWED_RATIO, printer.exposure_step_s)
    range_s = (around.low_s, around.high_s)
    start = starting.start(
        work,
        starting.StartQuery(
            material_id=row.material_id, printer_id=row.printer_id, layer_height_um=row.layer_height_um
        ),
    )
    version_id = row.finish_route_version_id
    route = shelf.finish_route_version(work.db, version_id) if version_id else None
    return ProvisionalPage(
        **_view(work, row, issued is not None).model_dump(),
        setting_lines=setting_lines(
            settings, row.layer_height_um, f"{row.exposure_s:g}", printer.delay_includes_motion
        ),
        usual_lines=[
            field.label for field in setting_fields(printer.delay_includes_motion) if field.key not in row.stated
        ],
        history=store.provisional_versions(work.db, code),
        from_prints=from_prints(work, row, printer.exposure_step_s),
        calibrated=_later(row, issued) if issued else None,
        next=None if issued else first_step(printer, settings, row.layer_height_um, start.limits, range_s),
        range_s=range_s,
        finish_route_id=route.id if route else None,
        finish_route=f"{route.name}, version {route.version}" if route else None,
    )


@dataclass(frozen=True)
class InUse:
    """Settings in use with the window of their prints."""

    settings: ProvisionalView
    window: HollowWindow | None


def for_board(work: UnitOfWork, layer_height_um: float, material_ids: list[str]) -> list[InUse]:
    """Those of some materials at one layer height; of each pair the newest. Windows are computed where prints tell one."""
    newest = {
        (row.material_id, row.printer_id): row for row in store.provisional_at(work.db, layer_height_um, material_ids)
    }
    if not newest:
        return []
    printed = with_prints(work)
    steps = {
        printer.id: printer.exposure_step_s for printer in shelf.printers_by_id(work.db, [key[1] for key in newest])
    }
    return [
        InUse(
            _view(work, row, False),
            from_prints(work, row, steps[row.printer_id]) if (*pair, layer_height_um) in printed else None,
        )
        for pair, row in newest.items()
    ]


def with_prints(work: UnitOfWork) -> set[tuple[str, str, float]]:
    """Material, printer and layer height of which parts were printed at two exposures or more."""
    pairs = log.printed_pairs(work.db, MOST_PAIRS)
    return {(row.material_id, row.printer_id, row.layer_height_um) for row in pairs if row.exposures >= 2}


def from_prints(work: UnitOfWork, row: store.ProvisionalSet, step_s: float) -> HollowWindow | None:
    """The hollow window of the prints that were logged with these settings at whatever exposure."""
    outcomes, _ = outcomes_with(
        work, row.material_id, row.printer_id, row.layer_height_um, Settings.model_validate(row.settings)
    )
    if not outcomes:
        return None
    inputs = PrintWindowInput(prints=outcomes, target=WHOLE_SHARE, exposure_step_s=step_s, cut_offs=cut_offs(work))
    prints = len({outcome.print for outcome in outcomes})
    window = _window_of(print_window_for(inputs))
    counted = f"{prints} print{'s' if prints > 1 else ''} of parts"
    if window is None:
        words = f"{counted}: not enough to say between which exposures parts come out whole."
    else:
        words = f"{counted} came out whole from {window[0]:g} to {window[1]:g} s. Nothing was measured on them."
    return HollowWindow(
        prints=prints, lower_s=window[0] if window else None, upper_s=window[1] if window else None, words=words
    )


def _window_of(outcome: WindowOutcome) -> tuple[float, float] | None:
    return (outcome.window.lower_s, outcome.window.upper_s) if outcome.window is not None else None


def _later(row: store.ProvisionalSet, issued: store.CalibratedSince) -> CalibratedLater:
    """How far the settings were off, seen from the set that was issued later."""
    off_pct = 100 * (row.exposure_s / issued.exposure_s - 1)
    inside = None
    if issued.lower_s is not None and issued.upper_s is not None:
        inside = issued.lower_s <= row.exposure_s <= issued.upper_s
    size = (
        f"{abs(off_pct):.0f} % {'longer' if off_pct > 0 else 'shorter'} than" if abs(off_pct) >= 0.5 else "the same as"
    )
    where = "" if inside is None else f", {'inside' if inside else 'outside'} its window"
    return CalibratedLater(
        set_code=issued.code,
        exposure_s=issued.exposure_s,
        issued_at=issued.issued_at,
        off_pct=off_pct,
        inside=inside,
        provisional_code=row.code,
        entered_by=row.initials,
        words=f"{row.exposure_s:g} s was {size} the {issued.exposure_s:g} s of {issued.code}{where}.",
    )


def before_set(work: UnitOfWork, set_code: str) -> list[CalibratedLater]:
    """What was in use before a set was issued, the newest first, and how far that was off."""
    row = present(parameter_sets.parameter_set(work.db, set_code), "set")
    issued = store.CalibratedSince(
        code=row.code,
        exposure_s=row.exposure_s,
        issued_at=row.issued_at,
        lower_s=(row.result.get("window") or {}).get("lower_s"),
        upper_s=(row.result.get("window") or {}).get("upper_s"),
    )
    rows = store.provisional_of(work.db, row.material_id, row.printer_id, row.layer_height_um)
    return [_later(before, issued) for before in rows]


def _view(work: UnitOfWork, row: store.ProvisionalSet, is_calibrated: bool) -> ProvisionalView:
    age = (work.clock().date() - date.fromisoformat(row.in_use_since)).days if row.in_use_since else None
    state = "withdrawn" if row.withdrawn_at else "superseded" if is_calibrated else "in use"
    values: dict[str, Any] = row.model_dump() | {
        "settings": Settings.model_validate(row.settings),
        "source_words": SOURCE_WORDS[row.source],
        "age_days": age if age is None else max(age, 0),
        "state": state,
    }
    return ProvisionalView.model_validate(values)


def _new(work: UnitOfWork) -> dict[str, Any]:
    return {"id": work.new_id(), "technician_id": work.technician().id, "entered_at": work.now()}


def _checked(work: UnitOfWork, request: ProvisionalInput) -> dict[str, Any]:
    """The columns of what was entered; refuses what cannot be meant, with its field."""
    check_layer_height(request.layer_height_um)
    material = live_material(work, request.material_id)
    if material.kind not in ("resin", "blend"):
        message = f"{material.name} is not printed with."
        raise Problem(message, {"material_id": message})
    printer = shelf.printer(work.db, request.printer_id)
    if printer is None or printer.retired_at is not None:
        message = "This printer is not on the shelf."
        raise Problem(message, {"printer_id": message})
    if request.exposure_s < printer.exposure_step_s - 1e-9:
        message = f"{printer.name} sets {printer.exposure_step_s:g} s at least."
        raise Problem(message, {"exposure_s": message})
    if request.in_use_since is not None and request.in_use_since > work.now()[:10]:
        message = "That day has not come yet."
        raise Problem(message, {"in_use_since": message})
    route = None
    if request.finish_route_id is not None:
        route = present(shelf.finish_route(work.db, request.finish_route_id), "finish route")
    return {
        "material_id": material.id,
        "printer_id": printer.id,
        "layer_height_um": request.layer_height_um,
        "exposure_s": request.exposure_s,
        "settings": request.settings.model_dump(),
        "stated": sorted(request.settings.model_fields_set),
        "tip_mm": request.tip_mm,
        "finish_route_version_id": route.version_id if route else None,
        "source": request.source,
        "source_note": request.source_note,
        "in_use_since": request.in_use_since,
        "note": request.note,
    }
