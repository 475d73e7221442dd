"""The Board: what can be printed with, and what needs a person today."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime, timedelta
from typing import Literal

from pydantic import Field

from ...core.climate.band import outside
from ...core.contract import Contract
from ...core.prints.window import METHOD as FROM_PRINTS
from ...core.status.validity import Cause, Validity
from ...core.testing.methods import METHODS
from ...store import earlier, shelf
from ...store import testing as tests
from ...store.calibrate import calibrations as store
from ...store.calibrate.calibrations import CalibrationListed
from ...store.calibrate.guesses import GuessRow
from ...store.lab import put_off as put_off_store
from ...store.prints import log as print_log
from ...store.reading import blind
from ...store.sets import validity as lives
from ...store.terms import LightEngine
from ..blends import vats
from ..calibrate import prediction
from ..climate.probes import room_now
from ..earlier import provisional
from ..lab_settings import lab_settings
from ..unit_of_work import UnitOfWork, View
from .put_off import PutOffView, waiting_since
from .validity import states

CellState = Literal["issued", "due", "lapsed", "calibrating", "in use", "predicted"]
STATES: dict[str, CellState] = {"valid": "issued", "due": "due", "lapsed": "lapsed"}
MOST_ROWS = 200
FIRST_ROWS = 40
MOST_TASKS = 8
# More sets than these with one cause are one line of the list.
MOST_ALIKE = 3
USUAL_UM = 50.0
BEST_BEFORE_DAYS = 30


class BoardQuery(Contract):
    """The layer height the Board is for."""

    layer_height_um: float | None = Field(None, gt=0, le=1000)
    after: str = Field("", max_length=80, description="Name of the last material seen")
    limit: int = Field(FIRST_ROWS, ge=1, le=MOST_ROWS)
    family: str | None = Field(None, max_length=20)
    printer_id: str | None = Field(None, max_length=40)
    attention: bool = Field(False, description="Only materials with a cell that is due or lapsed")


class BoardPrinter(View):
    """A printer's column."""

    id: str
    name: str
    pixel_um: float
    screen_hours: float
    light_engine: LightEngine


class Cell(View):
    """A pair: its set and state, or its first estimate."""

    material_id: str
    printer_id: str
    state: CellState
    exposure_s: float | None = None
    lower_s: float | None = None
    upper_s: float | None = None
    latitude_pct: float | None = None
    temp_low_c: float | None = None
    temp_high_c: float | None = None
    set_id: str | None = None
    set_code: str | None = None
    set_version: int | None = None
    calibration_id: str | None = None
    calibration_code: str | None = None
    coupons: int = 0
    read: int = 0
    waiting: int = Field(0, description="Printed and not read")
    planned: int = 0
    lowest_s: float | None = None
    highest_s: float | None = None
    from_prints: bool = Field(False, description="Its set was, or is to be, shown by prints of parts alone")
    why: str | None = Field(None, description="Why it is due or lapsed, or what the guess rests on")
    provisional_code: str | None = Field(None, description="Of settings in use that nothing here shows")
    in_use_days: int | None = Field(None, description="How long they have been in use")
    source_words: str | None = Field(None, description="Where they come from")


class Task(View):
    """One line of today's list, with one action."""

    kind: Literal["start", "read", "blind", "print", "check", "test", "vat", "cold", "bottle", "outcome"]
    title: str
    detail: str
    action: str
    coupon_code: str | None = None
    calibration_id: str | None = None
    blind_id: str | None = None
    set_code: str | None = None
    test_code: str | None = None
    printer_id: str | None = Field(None, description="Of a vat, a cold one, or one to begin on")
    material_id: str | None = Field(None, description="To begin with")
    bottle_code: str | None = None
    print_code: str | None = Field(None, description="A print that waits for its outcome")
    attention: bool = Field(False, description="Several at once: the Board shows those that need attention")
    key: str = Field("", description="Names the entry from day to day, to put it off by")


class TaskPutOff(View):
    """An entry that waits: what it says, until when and why."""

    task: Task = Field(description="The entry as it would stand there")
    put_off: PutOffView = Field(description="Until when, why and by whom")


class Board(View):
    """Materials over printers, and what waits to be done."""

    layer_height_um: float | None
    layer_heights_um: list[float]
    families: list[str]
    printers: list[BoardPrinter]
    materials: list[shelf.BoardMaterial]
    more_after: str | None = Field(description="Ask for what comes after this name; None when all is shown")
    cells: list[Cell]
    axis_s: tuple[float, float] | None = Field(description="Common exposure axis of the small strips")
    on: str = Field(description="The day it is by the lab's clock")
    today: list[Task]
    later: list[TaskPutOff] = Field(description="What would stand in today's list and was put off")
    waiting: int = Field(description="Coupons that wait for a reading, at every layer height")


def board(work: UnitOfWork, query: BoardQuery) -> Board:
    """Materials × printers at one layer height, and today's list.

    A fixed number of queries, and no row of a material that is not shown.
    """
    db = work.db
    heights = _heights(work)
    height = _usual(heights) if query.layer_height_um is None else query.layer_height_um
    every = shelf.printers(db, False, "", MOST_ROWS)
    printers = [p for p in every if query.printer_id in (None, p.id)]
    most = MOST_ROWS if query.attention else query.limit
    rows = shelf.board_rows(db, query.after, most + 1, query.family)
    more = len(rows) > most
    rows = rows[:most]
    ids, names = [r.id for r in rows], {r.id: r.name for r in rows}
    sets = lives.sets_at(db, height, ids) if height is not None else []
    lived = states(work, sets)
    open_rows = store.open_at_height(db, height, ids) if height is not None else []
    guesses = prediction.for_board(work, height, ids) if height is not None else {}
    in_use = provisional.for_board(work, height, ids) if height is not None else []
    printer_ids = {p.id for p in printers}
    cells = [c for c in _cells(sets, lived, open_rows, in_use, guesses) if c.printer_id in printer_ids]
    if query.attention:
        material_ids = {c.material_id for c in cells if c.state in ("due", "lapsed")}
        rows = [r for r in rows if r.id in material_ids]
        cells = [c for c in cells if c.material_id in material_ids]
    ends = [v for c in cells for v in (c.lower_s, c.upper_s, c.exposure_s, c.lowest_s, c.highest_s) if v]
    waiting = store.waiting_for_reading(db, MOST_ROWS)
    printer_names = {p.id: p.name for p in every}
    tasks = [
        *([] if store.layer_heights(db) else _first_task(rows, printers)),
        *_reading_tasks(work, waiting),
        *_cold_tasks(work, sets, printer_names),
        *_vat_tasks(work),
        *_test_tasks(tests.at_the_bench(db, MOST_TASKS)),
        *_set_tasks(sets, lived, names, printer_names),
        *_bottle_tasks(work),
        *_running_tasks(work),
        *_print_tasks(open_rows),
    ]
    today, later = _put_off(work, tasks)
    return Board(
        layer_height_um=height,
        layer_heights_um=heights,
        families=shelf.families(db),
        printers=[BoardPrinter.model_validate(p) for p in printers],
        materials=rows,
        more_after=rows[-1].name if more and rows else None,
        cells=cells,
        axis_s=(min(ends) / 1.15, max(ends) * 1.15) if ends else None,
        on=work.now()[:10],
        today=today,
        later=later,
        waiting=len(waiting),
    )


def checks_due(work: UnitOfWork) -> list[Task]:
    """Of today's list as the Board opens: the sets that are due or lapsed, without those put off. Nothing else is looked at."""
    height = _usual(_heights(work))
    if height is None:
        return []
    materials = {r.id: r.name for r in shelf.board_rows(work.db, "", BoardQuery().limit, None)}
    printers = {p.id: p.name for p in shelf.printers(work.db, False, "", MOST_ROWS)}
    sets = lives.sets_at(work.db, height, list(materials))
    today, _ = _put_off(work, _set_tasks(sets, states(work, sets), materials, printers))
    return today


def _heights(work: UnitOfWork) -> list[float]:
    """Layer heights that anything is known of, ascending, µm."""
    return sorted({*store.layer_heights(work.db), *earlier.provisional_heights(work.db)})


def _usual(heights: list[float]) -> float | None:
    """The layer height the Board opens with."""
    return USUAL_UM if USUAL_UM in heights else heights[0] if heights else None


def _cells(
    sets: list[lives.LivingSet],
    lived: dict[str, Validity],
    open_rows: list[CalibrationListed],
    in_use: list[provisional.InUse],
    guesses: dict[tuple[str, str], GuessRow],
) -> list[Cell]:
    """An issued set first, then a campaign under way, then settings in use, then a guess."""
    cells: dict[tuple[str, str], Cell] = {}
    for living_set in sets:
        life = lived[living_set.id]
        cells[living_set.material_id, living_set.printer_id] = Cell(
            material_id=living_set.material_id,
            printer_id=living_set.printer_id,
            state=STATES[life.state],
            exposure_s=living_set.exposure_s,
            lower_s=living_set.lower_s,
            upper_s=living_set.upper_s,
            latitude_pct=living_set.latitude_pct,
            temp_low_c=living_set.temp_low_c,
            temp_high_c=living_set.temp_high_c,
            set_id=living_set.id,
            set_code=living_set.code,
            set_version=living_set.version,
            from_prints=living_set.method == FROM_PRINTS,
            why=_words(life.causes[0]) if life.causes else None,
        )
    for row in open_rows:
        pair = (row.material_id, row.printer_id)
        under = cells.get(pair)
        if row.issued_code is not None or (under is not None and under.state == "calibrating"):
            continue
        progress = {
            "calibration_id": row.id,
            "calibration_code": row.code,
            "coupons": row.coupons,
            "read": row.read,
            "waiting": row.printed_unread,
            "planned": row.planned,
            "lowest_s": row.lowest_s,
            "highest_s": row.highest_s,
        }
        if under is not None:
            cells[pair] = under.model_copy(update=progress)
        else:
            cells[pair] = Cell.model_validate(
                {
                    "material_id": pair[0],
                    "printer_id": pair[1],
                    "state": "calibrating",
                    "from_prints": row.whole_share is not None,
                    **progress,
                }
            )
    for settings_row in in_use:
        pair = (settings_row.settings.material_id, settings_row.settings.printer_id)
        if pair not in cells:
            cells[pair] = _in_use_cell(settings_row)
    for pair, guess in guesses.items():
        if pair not in cells:
            cells[pair] = Cell(
                material_id=pair[0],
                printer_id=pair[1],
                state="predicted",
                exposure_s=guess.exposure_s,
                lower_s=guess.low_s,
                upper_s=guess.high_s,
                why=guess.basis,
            )
    return list(cells.values())


def _in_use_cell(row: provisional.InUse) -> Cell:
    """Settings in use, not shown, with the window of their prints where there is one."""
    settings, window = row.settings, row.window
    return Cell(
        material_id=settings.material_id,
        printer_id=settings.printer_id,
        state="in use",
        exposure_s=settings.exposure_s,
        lower_s=window.lower_s if window else None,
        upper_s=window.upper_s if window else None,
        from_prints=window is not None and window.lower_s is not None,
        provisional_code=settings.code,
        in_use_days=settings.age_days,
        source_words=settings.source_words,
    )


def _put_off(work: UnitOfWork, tasks: list[Task]) -> tuple[list[Task], list[TaskPutOff]]:
    """What is for today, and what was put off."""
    rows, today, later = put_off_store.put_off(work.db), [], []
    for task in (task.model_copy(update={"key": _key(task)}) for task in tasks):
        since = waiting_since(rows, task.key, task.detail, work.now()[:10])
        if since is None:
            today.append(task)
        else:
            later.append(TaskPutOff(task=task, put_off=since))
    return today, later


def _key(task: Task) -> str:
    """Its kind and what it is about."""
    about = task.blind_id or task.coupon_code or task.set_code or task.test_code or task.bottle_code
    return f"{task.kind} {about or task.calibration_id or task.printer_id or task.material_id or task.title}"


def _bottle_tasks(work: UnitOfWork) -> list[Task]:
    """Bottles past their best, or soon; materials in use of which little is left."""
    today = work.clock().date()
    tasks = []
    for row in shelf.bottles_to_mind(work.db, (today + timedelta(days=BEST_BEFORE_DAYS)).isoformat(), MOST_TASKS):
        is_past = row.best_before is not None and row.best_before < today.isoformat()
        title = f"{row.code} is past its best" if is_past else f"{row.code} is best before {row.best_before}"
        detail = f"{row.material}, lot {row.lot}, {row.left_ml:.0f} ml left"
        tasks.append(Task(kind="bottle", title=title, detail=detail, action="Open it", bottle_code=row.code))
    low_ml = lab_settings(work).low_stock_ml
    for stock in shelf.low_stock(work.db, low_ml, MOST_TASKS):
        left = f"{stock.left_ml:.0f} ml are left" if stock.left_ml >= 0.5 else "nothing is left"
        tasks.append(
            Task(
                kind="bottle",
                title=f"{stock.name} runs low",
                detail=f"{left} in its bottles; said below {low_ml:g} ml.",
                action="Show its bottles",
                material_id=stock.id,
            )
        )
    return tasks[:MOST_TASKS]


def _words(cause: Cause) -> str:
    return f"{cause.name}. {cause.detail}".strip() if cause.detail else f"{cause.name}."


def _first_task(materials: list[shelf.BoardMaterial], printers: list[shelf.Printer]) -> list[Task]:
    """Nothing was ever calibrated here: where all the rest begins."""
    if not materials or not printers:
        return []
    material, printer = materials[0], printers[0]
    return [
        Task(
            kind="start",
            title=f"Calibrate {material.name} on {printer.name}",
            action="Start a calibration",
            detail="Nothing is calibrated yet. The first coupons find the exposure; all else rests on it.",
            material_id=material.id,
            printer_id=printer.id,
        )
    ]


def _reading_tasks(work: UnitOfWork, waiting: list[store.Waiting]) -> list[Task]:
    tasks = [
        Task(
            kind="read",
            title=f"Coupon {w.code} waits for a reading",
            detail=f"{w.material} on {w.printer}, {w.exposure_s:g} s",
            action="Read it",
            coupon_code=w.code,
            calibration_id=w.calibration_id,
        )
        for w in waiting[:MOST_TASKS]
    ]
    return tasks + [
        Task(
            kind="blind",
            title=f"Coupon {w.code}: a second reading is wanted",
            detail=f"{w.material} on {w.printer}, asked by {w.asked_by}: another technician reads it",
            action="Read it",
            coupon_code=w.code,
            calibration_id=w.calibration_id,
            blind_id=w.id,
        )
        for w in blind.waiting(work.db, MOST_TASKS)
    ]


def _set_tasks(
    sets: list[lives.LivingSet], lived: dict[str, Validity], materials: dict[str, str], printers: dict[str, str]
) -> list[Task]:
    """Sets that are due or lapsed, lapsed ones first."""
    tasks = []
    for state, action in (("lapsed", "Check or recalibrate"), ("due", "Print a check coupon")):
        by_cause: dict[str, list[lives.LivingSet]] = defaultdict(list)
        for living_set in sets:
            if lived[living_set.id].state == state:
                by_cause[lived[living_set.id].causes[0].name].append(living_set)
        for cause, alike in by_cause.items():
            if len(alike) > MOST_ALIKE:
                message = (
                    f"{len(alike)} sets have lapsed" if state == "lapsed" else f"{len(alike)} sets are due for a check"
                )
                tasks.append(Task(kind="check", title=message, detail=f"{cause}.", action="Show them", attention=True))
                continue
            tasks += [
                _set_task(living_set, lived[living_set.id], state, action, materials, printers) for living_set in alike
            ]
    return tasks[:MOST_TASKS]


def _set_task(
    living_set: lives.LivingSet,
    life: Validity,
    state: str,
    action: str,
    materials: dict[str, str],
    printers: dict[str, str],
) -> Task:
    name = f"{materials[living_set.material_id]} on {printers.get(living_set.printer_id, '')}"
    title = f"{name} has lapsed" if state == "lapsed" else f"{name} is due for a check"
    return Task(kind="check", title=title, detail=_words(life.causes[0]), action=action, set_code=living_set.code)


def _cold_tasks(work: UnitOfWork, sets: list[lives.LivingSet], printers: dict[str, str]) -> list[Task]:
    """The room is colder than the sets allow: said before anybody prints."""
    room = room_now(work).room
    if room is None:
        return []
    cold = [s for s in sets if outside(room.temp_c, s.temp_low_c, s.temp_high_c) == "below"]
    if not cold:
        return []
    where = sorted({printers.get(s.printer_id, "") for s in cold})
    lowest = min(s.temp_low_c for s in cold if s.temp_low_c is not None)
    many = "1 set was" if len(cold) == 1 else f"{len(cold)} sets were"
    detail = f"{many} found at {lowest:g} °C or warmer ({', '.join(where)}): cold resin lets the first layers go."
    title = f"Cold room: {room.temp_c:.0f} °C"
    return [Task(kind="cold", title=title, detail=detail, action="Plan a warm start", printer_id=cold[0].printer_id)]


def _vat_tasks(work: UnitOfWork) -> list[Task]:
    """Vats that stand too long, or want a stir."""
    tasks = []
    for vat in vats.vats(work):
        reason = vat.over_limit or (
            "It has stood without a stir: settled pigment looks like a wrong exposure." if vat.stir_due else None
        )
        if reason:
            contents = vat.is_called or "A mixture"
            title = f"Vat of {vat.printer}: {'too long in it' if vat.over_limit else 'stir it'}"
            tasks.append(
                Task(
                    kind="vat",
                    title=title,
                    detail=f"{contents}. {reason}",
                    action="Open the vat",
                    printer_id=vat.printer_id,
                )
            )
    return tasks[:MOST_TASKS]


def _test_tasks(waiting: list[tests.AtTheBench]) -> list[Task]:
    """Tests with specimens that can be read, then those whose plates are to be printed."""
    tasks = []
    for test in sorted(waiting, key=lambda w: w.ready == 0):
        what_is_left = (
            f"{test.ready} specimens to read" if test.ready else f"{test.to_print} plates of specimens to print"
        )
        if max(test.ready, test.to_print) == 1:
            what_is_left = what_is_left.replace("specimens to", "specimen to").replace("plates", "plate")
        detail = f"{METHODS[test.method].name}, {test.materials}"
        tasks.append(
            Task(kind="test", title=f"{test.code}: {what_is_left}", detail=detail, action="Open", test_code=test.code)
        )
    return tasks


def _running_tasks(work: UnitOfWork) -> list[Task]:
    """Prints that should be done by now, and nobody said how they came out."""
    now = work.clock()
    tasks = []
    for row in print_log.running(work.db):
        over = datetime.fromisoformat(row.started_at or row.planned_at) + timedelta(seconds=row.duration_s)
        if over <= now:
            tasks.append(
                Task(
                    kind="outcome",
                    title=f"{row.code}: how did it come out?",
                    detail=f"{row.material or 'A print'} on {row.printer}",
                    action="Say how",
                    print_code=row.code,
                )
            )
    return tasks[:MOST_TASKS]


def _print_tasks(open_rows: list[CalibrationListed]) -> list[Task]:
    return [
        Task(
            kind="print",
            title=f"{row.planned} coupon{'s' if row.planned > 1 else ''} to print",
            detail=f"{row.material} on {row.printer}, {row.code}",
            action="Open",
            calibration_id=row.id,
        )
        for row in open_rows
        if row.planned
    ][:MOST_TASKS]
