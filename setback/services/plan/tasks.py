"""Tasks from the work itself: what open calibrations, tests, checks and vats need next, with minutes, places and order."""

from __future__ import annotations

import hashlib
import json
import math
from datetime import datetime, timedelta
from statistics import median

from pydantic import Field

from ...core.plan.contract import PlanDayInput, PlanTask, Resource, Span, Wait
from ...core.plan.hours import shifts
from ...core.plan.problem import both
from ...core.plan.steps import (
    Handling,
    PrintJob,
    Route,
    StepKind,
    lamp_key,
    prints_of,
    steps_of,
    steps_of_plate,
    wash_key,
)
from ...store import plan as store
from ...store import shelf, wash_baths
from ...store.reading import blind
from ..blends import batches, vats
from ..climate.probes import room_now
from ..unit_of_work import UnitOfWork, View, iso
from .confirming import Confirming, to_confirm
from .plan_settings import PlanSettings, plan_settings
from .plates import Ticks, shared_plates, ticks_of_prints

MOST_PRINTS = 80
BATCH_STEPS = {
    "cup": ("cup trial of", 10),
    "look": ("look at the cup of", 3),
    "pour": ("pour", 20),
    "stir": ("stir", 6),
}
"""What a batch waits for, in words, with minutes of a person; what was poured must not stand unstirred."""
HORIZON_MIN = 10 * 24 * 60
STIR_MIN = 3
WARM_MIN = 45
"""Of a warm start nobody computed yet: its own page says how long it takes."""
FINISHED_AFTER = timedelta(hours=store.LATEST_FINISH_H)
READINGS_LOOKED_AT = 200
LONGEST_READING_MIN = 20
MOST_SECOND_READINGS = 20
FEWEST_OF_HISTORY = 5
"""Fewer say nothing about how long a step takes here."""
NEWEST_TICKS = 30
LATE_TIMES = 1.5
"""A print that took so many times its plan was fetched late."""


class AlsoOn(View):
    """Another job whose pieces are on the same plate."""

    job: str
    link: str | None


class WorkTask(View):
    """A task, with what it stands for."""

    key: str
    kind: StepKind
    name: str
    job: str
    also: list[AlsoOn] = Field([], description="Other jobs on the same plate")
    link: str | None = Field(description="The page that does it")
    resource: str | None = Field(description="Key of what it takes")
    minutes: int
    person_min: int
    attended: bool
    resin: str | None
    material_id: str | None
    bottle_id: str | None
    ml: float = Field(description="Resin it takes")
    due_at: str | None
    note: str = ""
    recorded: bool = Field(description="It is done by the record it leaves on its page, not by a tick")

    @property
    def jobs(self) -> list[str]:
        """All it is a step of."""
        return [self.job, *(other.job for other in self.also)]


class PlanLane(View):
    """A row of the plan: a printer, a bath, a place."""

    key: str
    name: str
    detail: str
    places: int


class Collected(View):
    """The tasks of a lab with everything the planner asks for."""

    tasks: list[WorkTask]
    lanes: list[PlanLane]
    inputs: PlanDayInput
    begins_at: str = Field(description="Minute 0")
    made_from: str = Field(
        description="Seal of the work, the pins and the hours: another one, and the plan is an old one"
    )
    running: dict[str, str] = Field(description="Since when each task runs that was begun")


def collect(work: UnitOfWork, seconds: float = 10) -> Collected:
    """Everything that waits to be done, and what it takes. A fixed number of queries."""
    settings = plan_settings(work)
    handling = corrected(work, settings.handling)
    now = work.clock().replace(second=0, microsecond=0)
    prints = store.prints_to_do(work.db, iso(now - FINISHED_AFTER), MOST_PRINTS)
    ticks = {tick.task_key: tick for tick in store.ticks(work.db, iso(now - timedelta(days=14)))}
    due = store.due_of_jobs(work.db)
    standing = vats.vats(work)
    limits = _vat_limits(work, standing)
    tasks: list[WorkTask] = []
    planned: list[PlanTask] = []
    waits: list[Wait] = []
    running: dict[str, str] = {}
    busy_min = 0
    room = room_now(work).room
    by_print = ticks_of_prints(list(ticks.values()))
    ratios = store.print_ratios(work.db, NEWEST_TICKS, FEWEST_OF_HISTORY, LATE_TIMES)
    for plate in shared_plates(prints, by_print):
        print_jobs = [
            _print_job(row, handling, by_print, now, room.temp_c if room else None, ratios.get(row.printer_id, 1.0))
            for row in plate
        ]
        steps, between = steps_of_plate(print_jobs, handling)
        waits += between
        for step in steps:
            on_it = [row for row in plate if row.code in prints_of(step.key)[0]]
            if on_it[0].started_at is not None and step.key.endswith(" print"):
                running[step.key] = on_it[0].started_at
            planned.append(step)
            tasks.append(_of_prints(on_it, step, due))
    for confirming in to_confirm(work):
        done = {
            step for print_code, step in by_print if print_code == confirming.key and by_print[print_code, step].done_at
        }
        steps, between = steps_of(confirming.print_job(done, handling.coupon_min), handling)
        waits += between
        planned += steps
        tasks += [_of_confirming(confirming, step, due) for step in steps]
    running |= {step.key: ticks[step.key].begun_at for step in planned if step.key in ticks}
    for at, step in enumerate(planned):
        if step.key in running:
            busy_min = max(busy_min, _busy_min(step, running[step.key], now))
            planned[at] = _under_way(step, running[step.key], now)
    for task, step in [
        *_vats(work, standing, ticks),
        *_batches(work, now),
        *_second_readings(work, handling.coupon_min),
        *_own(work),
    ]:
        tasks.append(task)
        planned.append(step)
    planned = [_in_its_vat(step, limits) for step in _with_due(planned, tasks, now)]
    pinned = store.pins(work.db)
    planned = [_pinned(step, pinned, now) for step in planned]
    resources, lanes = _resources(work, settings, handling, planned, running, standing, now)
    inputs = PlanDayInput(
        tasks=planned,
        resources=resources,
        waits=waits,
        shifts=[
            Span(from_min=a, to_min=b)
            for a, b in both(shifts(settings.hours, now, HORIZON_MIN), [(busy_min, HORIZON_MIN)])
            if b > a
        ]
        or [_never()],
        horizon_min=HORIZON_MIN,
        seconds=seconds,
    )
    return Collected(
        tasks=tasks,
        lanes=lanes,
        inputs=inputs,
        begins_at=iso(now),
        made_from=_seal(inputs, tasks, pinned, settings.version),
        running=running,
    )


def _never() -> Span:
    """Nobody works in the time that is planned: a minute after it, so that everything is left out and says so."""
    return Span(from_min=HORIZON_MIN, to_min=HORIZON_MIN + 1)


def corrected(work: UnitOfWork, handling: Handling) -> Handling:
    """Minutes as this lab's own readings and ticks have them, where there are enough of either."""
    gaps = store.reading_gaps_min(work.db, LONGEST_READING_MIN, READINGS_LOOKED_AT)
    changes: dict[str, int] = {}
    if len(gaps) >= FEWEST_OF_HISTORY:
        changes["coupon_min"] = max(1, round(median(gaps)))
    for row in store.took(work.db, NEWEST_TICKS):
        if row.count >= FEWEST_OF_HISTORY and row.kind == "wash" and row.planned_min > 0:
            changes["wash_min"] = max(0, round(handling.wash_min * row.took_min / row.planned_min))
    return handling.model_copy(update=changes)


def _print_job(
    row: store.PrintToDo,
    handling: Handling,
    ticks: Ticks,
    now: datetime,
    room_c: float | None,
    ratio: float,
) -> PrintJob:
    job = _job(row)
    readings = len(row.coupons) or row.specimens
    cold = row.status == "planned" and row.temp_low_c is not None and room_c is not None and room_c < row.temp_low_c
    is_old = row.printed_at is not None and now - datetime.fromisoformat(row.printed_at) > FINISHED_AFTER
    is_finished = is_old or (row.status == "printed" and not readings)
    to_do: list[StepKind] = ["warm", "print"] if row.status == "planned" else []
    to_do += ["read"] if is_finished else ["wash", "dry", "cure", "read"]
    began = {step for print_code, step in ticks if print_code == row.code}
    done = {step for step in began if ticks[row.code, step].done_at}
    if row.started_at is not None or "print" in began:
        to_do = [step for step in to_do if step != "warm"]
    route = None
    if row.wash_fluid is not None and row.lamp is not None:
        route = Route(
            wash_fluid=row.wash_fluid,
            lamp=row.lamp,
            wash_min=row.wash_min or 0,
            dry_min=row.dry_min or 0,
            air_min=row.air_min or 0,
            cure_min=row.cure_min or 0,
        )
    return PrintJob(
        key=row.code,
        name=_name(row),
        job=job,
        printer=row.printer_id,
        resin=row.material,
        minutes=ratio * row.duration_s / 60,
        route=route,
        readings=readings,
        reading_min=handling.coupon_min if row.coupons else handling.specimen_min,
        rest_before_reading_min=round(60 * (row.age_h or 0)),
        attended=cold,
        warm_min=WARM_MIN if cold and "print" not in began else 0,
        to_do=[step for step in to_do if step not in done],
    )


def _job(row: store.PrintToDo) -> str:
    return row.calibration_code or row.test_code or row.set_code or row.code


def _name(row: store.PrintToDo) -> str:
    if row.is_check:
        return f"check of {row.set_code}"
    if len(row.coupons) == 1:
        return f"{row.coupons[0]}, {_job(row)}"
    if row.coupons:
        return f"{len(row.coupons)} coupons, {_job(row)}"
    if row.specimens:
        return f"{row.specimens} specimen{'s' if row.specimens > 1 else ''}, {row.test_code}"
    return row.code


def _of_prints(rows: list[store.PrintToDo], step: PlanTask, due: dict[str, str]) -> WorkTask:
    """A step of the prints of one plate."""
    row, jobs = rows[0], [_job(row) for row in rows]
    kind = _kind(step)
    return WorkTask(
        key=step.key,
        kind=kind,
        name=step.name,
        job=jobs[0],
        also=[AlsoOn(job=_job(other), link=_page(other, kind)) for other in rows[1:]],
        link=_page(row, kind),
        resource=step.resource,
        minutes=step.minutes,
        person_min=step.person_min,
        attended=step.attended,
        resin=step.resin,
        material_id=row.material_id,
        bottle_id=row.bottle_id,
        ml=sum(row.volume_ml for row in rows) if kind == "print" else 0,
        due_at=min((due[job] for job in jobs if job in due), default=None),
        note=f"On one plate: {' and '.join(row.code for row in rows)}." if len(rows) > 1 else "",
        recorded=kind in ("print", "read"),
    )


def _kind(step: PlanTask) -> StepKind:
    return prints_of(step.key)[1]  # type: ignore[return-value]


def _page(row: store.PrintToDo, kind: StepKind) -> str:
    """Where a step of a print is done."""
    if kind == "read" and row.coupons:
        return f"/coupons/{row.coupons[0]}"
    if kind == "warm":
        return "/climate/warm-start" + (f"?printer={row.printer_id}&set={row.set_code}" if row.set_code else "")
    if row.calibration_id:
        return f"/calibrate/{row.calibration_id}"
    return (
        f"/test/{row.test_code}" if row.test_code else f"/sets/{row.set_code}" if row.set_code else f"/log/{row.code}"
    )


def _of_confirming(confirming: Confirming, step: PlanTask, due: dict[str, str]) -> WorkTask:
    """A step of the prints that confirm a calibration; they leave no record before they are looked at."""
    calibration, kind = confirming.open_arm.calibration, _kind(step)
    coupon = confirming.cost.coupons[0]
    return WorkTask(
        key=step.key,
        kind=kind,
        name=step.name,
        job=calibration.code,
        link=f"/calibrate/{calibration.id}?step=confirm",
        resource=step.resource,
        minutes=step.minutes,
        person_min=step.person_min,
        attended=step.attended,
        resin=step.resin,
        material_id=calibration.material_id,
        bottle_id=calibration.bottle_id,
        ml=coupon.volume_ml * len(confirming.places) if kind == "print" else 0,
        due_at=due.get(calibration.code),
        note=f"Support coupons at {coupon.exposure_s:g} s, or a demanding part." if kind == "print" else "",
        recorded=kind == "read",
    )


def _under_way(step: PlanTask, began: str, now: datetime) -> PlanTask:
    """A step that was begun goes on from now for what is left of it; who is at it is busy first (:func:`_busy_min`)."""
    minutes = max(1, step.minutes - _elapsed_min(began, now))
    return step.model_copy(update={"minutes": minutes, "person_min": 0, "attended": False, "pinned_min": 0})


def _busy_min(step: PlanTask, began: str, now: datetime) -> int:
    """Minutes a step that was begun still needs somebody."""
    return max(0, step.person_min - _elapsed_min(began, now))


def _elapsed_min(began: str, now: datetime) -> int:
    return max(0, int((now - datetime.fromisoformat(began)).total_seconds() // 60))


def _vats(
    work: UnitOfWork, standing: list[vats.VatView], ticks: dict[str, store.Tick]
) -> list[tuple[WorkTask, PlanTask]]:
    """Vats that want a stir."""
    rows = []
    for vat in standing:
        key = f"{vat.printer} {work.now()[:10]} vat"
        if vat.stir_due and not (key in ticks and ticks[key].done_at):
            name = f"stir the vat of {vat.printer}"
            rows.append(_by_hand(key, "vat", name, vat.printer, STIR_MIN, f"/blend/vat/{vat.printer_id}", None, ""))
    return rows


def _batches(work: UnitOfWork, now: datetime) -> list[tuple[WorkTask, PlanTask]]:
    """Batches that wait for a cup trial, a look at the cup, the pour or the stir; a cup stands its hours first."""
    rows = []
    for batch in batches.batches(work):
        if batch.next not in BATCH_STEPS:
            continue
        words, minutes = BATCH_STEPS[batch.next]
        key, name = f"{batch.code} {batch.next} blend", f"{words} {batch.code}, {batch.blend}"
        task, step = _by_hand(key, "blend", name, batch.code, minutes, f"/blend/batches/{batch.code}", None, "")
        if batch.next == "look" and batch.cup_at is not None:
            ready = math.ceil(60 * batch.cup_hours) + _minute(batch.cup_at, now)
            step = step.model_copy(update={"windows": [Span(from_min=max(ready, 0), to_min=HORIZON_MIN + 1)]})
        rows.append((task, step))
    return rows


def _second_readings(work: UnitOfWork, coupon_min: int) -> list[tuple[WorkTask, PlanTask]]:
    """Coupons of which a second reading is asked for; it is done when somebody else reads them."""
    rows = []
    for waiting in blind.waiting(work.db, MOST_SECOND_READINGS):
        name = f"read {waiting.code} a second time, asked by {waiting.asked_by}"
        key, link = f"{waiting.code} second read", f"/blind/{waiting.id}"
        task, step = _by_hand(key, "read", name, waiting.code, coupon_min, link, None, "Another technician reads it.")
        rows.append((task, step))
    return rows


def _own(work: UnitOfWork) -> list[tuple[WorkTask, PlanTask]]:
    return [
        _by_hand(f"{row.code} own", "own", row.name, row.code, row.minutes, None, row.due_at, row.note)
        for row in store.own_tasks(work.db)
    ]


def _by_hand(
    key: str, kind: StepKind, name: str, job: str, minutes: int, link: str | None, due_at: str | None, note: str
) -> tuple[WorkTask, PlanTask]:
    task = WorkTask(
        key=key,
        kind=kind,
        name=name,
        job=job,
        link=link,
        resource=None,
        minutes=minutes,
        person_min=minutes,
        attended=False,
        resin=None,
        material_id=None,
        bottle_id=None,
        ml=0,
        due_at=due_at,
        note=note,
        recorded=kind in ("blend", "read"),
    )
    return task, PlanTask(key=key, name=name, job=job, minutes=minutes, person_min=minutes)


def _with_due(planned: list[PlanTask], tasks: list[WorkTask], now: datetime) -> list[PlanTask]:
    """Due dates at the last step of what they are for."""
    last = {job: task.key for task in tasks for job in task.jobs}
    ends = set(last.values())
    due = {task.key: task.due_at for task in tasks if task.due_at and (task.key in ends or task.kind == "read")}
    return [
        step.model_copy(update={"due_min": max(0, _minute(str(due[step.key]), now))}) if step.key in due else step
        for step in planned
    ]


def _vat_limits(work: UnitOfWork, standing: list[vats.VatView]) -> dict[tuple[str, str], int]:
    """Minutes a resin may still be in the vat it is in, where its maker limits them: by printer and resin."""
    hours = shelf.vat_hours(work.db, [vat.material_id for vat in standing if vat.material_id])
    return {
        (vat.printer_id, vat.is_called or ""): max(0, math.floor(60 * (hours[vat.material_id] - vat.standing_h)))
        for vat in standing
        if vat.material_id in hours and vat.standing_h is not None
    }


def _in_its_vat(step: PlanTask, limits: dict[tuple[str, str], int]) -> PlanTask:
    """A print ends before its resin is longer in the vat than its maker allows; one that runs is let end."""
    minutes_left = limits.get((step.resource or "", step.resin or ""))
    if minutes_left is None or step.pinned_min == 0:
        return step
    reason = "its resin would be in the vat longer than its maker allows: empty the vat and fill it anew"
    return step.model_copy(update={"windows": [Span(from_min=0, to_min=max(minutes_left, 1))], "windows_why": reason})


def _pinned(step: PlanTask, pins: dict[str, str], now: datetime) -> PlanTask:
    if step.key not in pins or step.pinned_min is not None:
        return step
    minute = _minute(pins[step.key], now)
    # A pin that has passed no longer holds anything.
    return step.model_copy(update={"pinned_min": minute}) if minute >= 0 else step


def _minute(at: str, now: datetime) -> int:
    return math.floor((datetime.fromisoformat(at) - now).total_seconds() / 60)


def _resources(
    work: UnitOfWork,
    settings: PlanSettings,
    handling: Handling,
    planned: list[PlanTask],
    running: dict[str, str],
    standing: list[vats.VatView],
    now: datetime,
) -> tuple[list[Resource], list[PlanLane]]:
    """Printers, baths, places to dry and lamps that anything is planned on."""
    used = {step.resource for step in planned if step.resource}
    in_vats = {vat.printer_id: vat.is_called for vat in standing}
    # What runs has its resin in the vat, whatever the ledger was told.
    in_vats |= {step.resource: step.resin for step in planned if step.resource and step.resin and step.key in running}
    down = {row.printer_id: row for row in store.printers_down(work.db)}
    baths = wash_baths.baths(work.db, False, "", 200, work.now())
    resources: list[Resource] = []
    lanes: list[PlanLane] = []
    for printer in shelf.printers(work.db, False, "", 200):
        if printer.id not in used:
            continue
        row = down.get(printer.id)
        resin = in_vats.get(printer.id)
        opens = None if row is None else _until(row, now)
        resources.append(
            Resource(key=printer.id, name=printer.name, resin=resin, change_min=handling.change_min, open=opens)
        )
        detail = f"down: {row.reason}" if row else resin or "vat empty or unknown"
        lanes.append(PlanLane(key=printer.id, name=printer.name, detail=detail, places=1))
    for key in sorted(key for key in used if key.startswith("wash ")):
        fluid = key.removeprefix("wash ")
        places = max(1, sum(wash_key(bath.wash_fluid) == key and bath.stage == "dirty" for bath in baths))
        resources.append(Resource(key=key, name=f"Wash, {fluid}", places=places))
        lanes.append(PlanLane(key=key, name="Wash", detail=fluid, places=places))
    if "dry" in used:
        resources.append(Resource(key="dry", name="Dry", places=settings.dry_places))
        lanes.append(
            PlanLane(key="dry", name="Dry", detail=f"{settings.dry_places} places", places=settings.dry_places)
        )
    for key in sorted(key for key in used if key.startswith(lamp_key(""))):
        lamp = key.removeprefix(lamp_key(""))
        resources.append(Resource(key=key, name=lamp, places=settings.lamp_places))
        lanes.append(
            PlanLane(key=key, name="Cure", detail=f"{lamp}, {settings.lamp_places} places", places=settings.lamp_places)
        )
    return resources, lanes


def _until(row: store.PrinterDown, now: datetime) -> list[Span]:
    """When a printer that is down is open again: from its date on, or not in this plan."""
    back = HORIZON_MIN if row.until_at is None else min(max(_minute(row.until_at, now), 0), HORIZON_MIN)
    return [Span(from_min=back, to_min=HORIZON_MIN + 1)]


def _seal(inputs: PlanDayInput, tasks: list[WorkTask], pins: dict[str, str], settings_version: int) -> str:
    """The same as long as nothing the plan rests on changed; that time passes does not count."""
    about = [
        sorted(
            (task.key, task.minutes if task.pinned_min != 0 else 0, task.resource or "", task.attended)
            for task in inputs.tasks
        ),
        [wait.model_dump() for wait in inputs.waits],
        [(row.key, row.places, row.resin, row.open is not None) for row in inputs.resources],
        sorted(pins.items()),
        sorted((task.key, task.due_at or "") for task in tasks),
        settings_version,
    ]
    return hashlib.sha256(json.dumps(about, separators=(",", ":")).encode()).hexdigest()[:16]
