"""Events: what happened to a printer, a bottle or a material, and which sets it touches."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import AwareDatetime, Field

from ...core.contract import Contract, Problem
from ...core.status.validity import Effect, Rule, touches
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ...store.sets import validity as store
from ..reading.readings import Reason
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
from .validity import facts, happening_of, rules

# Clocks of two machines may differ by this much.
SLACK_S = 300
WANTED = {
    "printer": ("printer_id",),
    "bottle": ("bottle_id",),
    "material": ("material_id",),
    "pair": ("printer_id", "material_id"),
}
WORDS = {"printer_id": "printer", "bottle_id": "bottle", "material_id": "material"}
MOST_SETS = 5000


class EventInput(Contract):
    """Something that happened to a printer, bottle or material."""

    kind: str = Field(max_length=40)
    printer_id: str | None = Field(None, max_length=40)
    material_id: str | None = Field(None, max_length=40)
    bottle_id: str | None = Field(None, max_length=40)
    happened_at: AwareDatetime | None = Field(None, description="Now when not given")
    screen_hours: float | None = Field(None, ge=0, le=1_000_000)
    note: Note = ""


class EventView(store.EventRow):
    """An event, and what it does to sets."""

    name: str


class Touched(View):
    """A set an event would touch."""

    set_code: str
    material_id: str
    printer_id: str
    material: str
    printer: str
    layer_height_um: float
    effect: Effect
    renewed_by: list[str]


class EventPreview(View):
    """What recording an event would do, before it is recorded."""

    name: str
    why: str
    touched: list[Touched]


class Recorded(View):
    """An event that was recorded, and the sets it touches."""

    event: EventView
    touched: list[Touched]


def preview(work: UnitOfWork, request: EventInput) -> EventPreview:
    """Which sets an event would make due or lapse."""
    rule = _rule(work, request)
    _check(work, rule, request)
    return EventPreview(name=rule.name, why=rule.why, touched=_touched(work, rule, _as_row(work, request)))


def record(work: UnitOfWork, request: EventInput) -> Recorded:
    """Record an event; a printer's screen hours follow it.

    Raises
    ------
    Problem
        When it lies in the future or before its printer was there, hours run backwards, or what it concerns is
        missing.
    """
    rule = _rule(work, request)
    with work.write() as answer:
        row = present(store.event(work.db, put(work, request)), "event")
        return answer(Recorded(event=_view(row, rules(work)), touched=_touched(work, rule, row)))


def put(work: UnitOfWork, request: EventInput) -> str:
    """The write of :func:`record`, for whoever has a transaction open; its id."""
    rule = _rule(work, request)
    technician = work.technician()
    _check(work, rule, request)
    event_id = work.new_id()
    insert(
        work.db,
        "event",
        id=event_id,
        code=next_code(work.db, "E"),
        kind=request.kind,
        printer_id=request.printer_id,
        material_id=request.material_id,
        bottle_id=request.bottle_id,
        happened_at=_when(work, request),
        screen_hours=request.screen_hours,
        note=request.note,
        technician_id=technician.id,
        recorded_at=work.now(),
    )
    if request.printer_id is not None and (request.screen_hours is not None or rule.resets_hours):
        hours = 0.0 if rule.resets_hours else request.screen_hours
        update(work.db, "printer", request.printer_id, screen_hours=hours)
    return event_id


def take_back(work: UnitOfWork, event_id: str, reason: str) -> None:
    """The write of :func:`withdraw`, for whoever has a transaction open."""
    update(work.db, "event", event_id, withdrawn_at=work.now(), withdrawn_reason=reason)


def withdraw(work: UnitOfWork, event_id: str, reason: Reason) -> EventView:
    """Take back an event recorded by mistake: what it had lapsed comes back. It stays on record."""
    with work.write() as answer:
        row = present(store.event(work.db, event_id), "event")
        if row.withdrawn_at is not None:
            raise Conflict(f"{row.code} is withdrawn already.")
        take_back(work, event_id, reason)
        return answer(_view(present(store.event(work.db, event_id), "event"), rules(work)))


def restore(work: UnitOfWork, event_id: str) -> EventView:
    """Let a withdrawn event count again."""
    with work.write() as answer:
        present(store.event(work.db, event_id), "event")
        update(work.db, "event", event_id, withdrawn_at=None, withdrawn_reason=None)
        return answer(_view(present(store.event(work.db, event_id), "event"), rules(work)))


def views(work: UnitOfWork, rows: list[store.EventRow]) -> list[EventView]:
    """Events with their rules in words."""
    all_rules = rules(work)
    return [_view(row, all_rules) for row in rows]


def _view(row: store.EventRow, all_rules: dict[str, Rule]) -> EventView:
    name = all_rules[row.kind].name if row.kind in all_rules else row.kind
    return EventView(
        **vars(row),
        name=name,
    )


def _rule(work: UnitOfWork, request: EventInput) -> Rule:
    rule = rules(work).get(request.kind)
    if rule is None or rule.derived:
        message = "Choose a kind of event." if rule is None else f"“{rule.name}” follows from the records by itself."
        raise Problem(message, {"kind": message})
    return rule


def _when(work: UnitOfWork, request: EventInput) -> str:
    return iso(request.happened_at) if request.happened_at is not None else work.now()


def _check(work: UnitOfWork, rule: Rule, request: EventInput) -> None:
    fields: dict[str, str] = {}
    for name in WANTED.get(rule.subject, ()):
        if getattr(request, name) is None:
            fields[name] = f"Say which {WORDS[name]}."
    printer = shelf.printer(work.db, request.printer_id) if request.printer_id else None
    if request.printer_id and printer is None:
        fields["printer_id"] = "Choose a printer that is on the shelf."
    if request.bottle_id and shelf.bottle(work.db, request.bottle_id) is None:
        fields["bottle_id"] = "Choose a bottle that is on the shelf."
    if request.material_id and shelf.material(work.db, request.material_id) is None:
        fields["material_id"] = "Choose a material that is on the shelf."
    now = work.clock().astimezone(UTC)
    at = request.happened_at or now
    if (at - now).total_seconds() > SLACK_S:
        fields["happened_at"] = "This lies in the future."
    elif printer is not None and at < datetime.fromisoformat(printer.created_at) and request.happened_at is not None:
        fields["happened_at"] = f"{printer.name} came onto the shelf on {printer.created_at[:10]}, after that."
    if request.screen_hours is not None and printer is not None and "happened_at" not in fields:
        problem = _hours_back(work, printer.id, request.screen_hours, iso(at))
        if problem:
            fields["screen_hours"] = problem
    if fields:
        raise Problem("The event cannot be recorded like this.", fields)


def _hours_back(work: UnitOfWork, printer_id: str, hours: float, at: str) -> str | None:
    """Hours may only rise between replacements of the screen."""
    before = store.newest_hours(work.db, printer_id, at)
    if before is None:
        return None
    kind, noted = before
    rule = rules(work).get(kind)
    floor = 0.0 if rule is not None and rule.resets_hours else noted
    return f"{noted:g} h were noted before: hours run forwards." if hours < floor else None


def _as_row(work: UnitOfWork, request: EventInput) -> store.EventRow:
    """The event as it would be read back, for a preview."""
    bottle = shelf.bottle(work.db, request.bottle_id) if request.bottle_id else None
    return store.EventRow(
        id="",
        code="",
        kind=request.kind,
        printer_id=request.printer_id,
        printer=None,
        material_id=bottle.material_id if bottle else request.material_id,
        material=None,
        bottle_id=request.bottle_id,
        bottle=bottle.code if bottle else None,
        lot=bottle.lot if bottle else None,
        finish_route_id=None,
        finish_route=None,
        happened_at=_when(work, request),
        screen_hours=request.screen_hours,
        note=request.note,
        initials="",
        recorded_at="",
        withdrawn_at=None,
        withdrawn_reason=None,
    )


def _touched(work: UnitOfWork, rule: Rule, row: store.EventRow) -> list[Touched]:
    happening = happening_of(row)
    if row.printer_id is not None:
        near = store.sets_of_printer(work.db, row.printer_id)
    elif row.material_id is not None:
        near = store.sets_of_material(work.db, row.material_id)
    else:
        near = []
    materials = {m.id: m.name for m in shelf.materials(work.db, MOST_SETS)}
    printers = {p.id: p.name for p in shelf.printers(work.db, False, "", 200)}
    return [
        Touched(
            set_code=s.code,
            material_id=s.material_id,
            printer_id=s.printer_id,
            material=materials.get(s.material_id, ""),
            printer=printers.get(s.printer_id, ""),
            layer_height_um=s.layer_height_um,
            effect=rule.effect,
            renewed_by=list(rule.renewed_by),
        )
        for s in near
        if s.issued_at <= row.happened_at and touches(rule, happening, facts(s))
    ]
