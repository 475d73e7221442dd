"""Events: what happened to a printer, a bottle or a material, and which sets it touches."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import AwareDatetime, Field

from ..core.contract import Contract, Problem
from ..core.validity import Rule, touches
from ..store import shelf
from ..store import validity as store
from ..store.codes import next_code
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, iso, present
from .readings import Reason
from .shelf.entry import Note
from .validity import facts, happening_of, rules

# Clocks of two machines may differ by this much.
SLACK_S = 300
WANTED = {
    "printer": ("printer_id",), "bottle": ("bottle_id",), "material": ("material_id",), "pair": ("printer_id", "material_id"),
}  # fmt: skip
WORDS = {"printer_id": "printer", "bottle_id": "bottle", "material_id": "material"}
MOST_SETS = 5000


class EventInput(Contract):
    kind: str = Field(max_length=40)
    printer_id: str | None = Field(None, max_length=40)
    material_id: str | None = Field(None, max_length=40)
    bottle_id: str | None = Field(None, max_length=40)
    happened_at: AwareDatetime | None = Field(None, description="Now when not given")
    screen_hours: float | None = Field(None, ge=0, le=1_000_000)
    note: Note = ""


class EventView(View):
    id: str
    code: str
    kind: str
    name: str
    printer_id: str | None
    printer: str | None
    material: str | None
    bottle: str | None
    happened_at: str
    screen_hours: float | None
    note: str
    initials: str
    withdrawn_at: str | None
    withdrawn_reason: str | None


class Touched(View):
    """A set an event would touch."""

    set_code: str
    material_id: str
    printer_id: str
    material: str
    printer: str
    layer_height_um: float
    effect: str
    renewed_by: list[str]


class EventPreview(View):
    """What recording an event would do, before it is recorded."""

    name: str
    why: str
    touched: list[Touched]


class Recorded(View):
    event: EventView
    touched: list[Touched]


def preview(bench: Bench, given: EventInput) -> EventPreview:
    """Which sets an event would make due or lapse."""
    rule = _rule(bench, given)
    _check(bench, rule, given)
    return EventPreview(name=rule.name, why=rule.why, touched=_touched(bench, rule, _as_row(bench, given)))


def record(bench: Bench, given: EventInput) -> Recorded:
    """Record an event; a printer's screen hours follow it.

    Raises
    ------
    Problem
        When it lies in the future or before its printer was there, hours run backwards, or what it concerns is
        missing.
    """
    rule = _rule(bench, given)
    with bench.write() as answer:
        row = present(store.event(bench.db, put(bench, given)), "event")
        return answer(Recorded(event=_view(row, rules(bench)), touched=_touched(bench, rule, row)))


def put(bench: Bench, given: EventInput) -> str:
    """The write of :func:`record`, for whoever has a transaction open; its id."""
    rule = _rule(bench, given)
    who = bench.technician()
    _check(bench, rule, given)
    event_id = bench.new_id()
    insert(
        bench.db, "event", id=event_id, code=next_code(bench.db, "E"), kind=given.kind, printer_id=given.printer_id,
        material_id=given.material_id, bottle_id=given.bottle_id, happened_at=_when(bench, given),
        screen_hours=given.screen_hours, note=given.note, technician_id=who.id, recorded_at=bench.now(),
    )  # fmt: skip
    if given.printer_id is not None and (given.screen_hours is not None or rule.resets_hours):
        hours = 0.0 if rule.resets_hours else given.screen_hours
        update(bench.db, "printer", given.printer_id, screen_hours=hours)
    return event_id


def take_back(bench: Bench, event_id: str, reason: str) -> None:
    """The write of :func:`withdraw`, for whoever has a transaction open."""
    update(bench.db, "event", event_id, withdrawn_at=bench.now(), withdrawn_reason=reason)


def withdraw(bench: Bench, event_id: str, reason: Reason) -> EventView:
    """Take back an event recorded by mistake: what it had lapsed comes back. It stays on record."""
    with bench.write() as answer:
        row = present(store.event(bench.db, event_id), "event")
        if row.withdrawn_at is not None:
            raise Conflict(f"{row.code} is withdrawn already.")
        take_back(bench, event_id, reason)
        return answer(_view(present(store.event(bench.db, event_id), "event"), rules(bench)))


def restore(bench: Bench, event_id: str) -> EventView:
    with bench.write() as answer:
        present(store.event(bench.db, event_id), "event")
        update(bench.db, "event", event_id, withdrawn_at=None, withdrawn_reason=None)
        return answer(_view(present(store.event(bench.db, event_id), "event"), rules(bench)))


def views(bench: Bench, rows: list[store.EventRow]) -> list[EventView]:
    held = rules(bench)
    return [_view(row, held) for row in rows]


def _view(row: store.EventRow, held: dict[str, Rule]) -> EventView:
    name = held[row.kind].name if row.kind in held else row.kind
    return EventView(
        id=row.id, code=row.code, kind=row.kind, name=name, printer_id=row.printer_id, printer=row.printer,
        material=row.material, bottle=row.bottle, happened_at=row.happened_at, screen_hours=row.screen_hours,
        note=row.note, initials=row.initials, withdrawn_at=row.withdrawn_at, withdrawn_reason=row.withdrawn_reason,
    )  # fmt: skip


def _rule(bench: Bench, given: EventInput) -> Rule:
    rule = rules(bench).get(given.kind)
    if rule is None or rule.derived:
        said = "Choose a kind of event." if rule is None else f"“{rule.name}” follows from the records by itself."
        raise Problem(said, {"kind": said})
    return rule


def _when(bench: Bench, given: EventInput) -> str:
    return iso(given.happened_at) if given.happened_at is not None else bench.now()


def _check(bench: Bench, rule: Rule, given: EventInput) -> None:
    fields: dict[str, str] = {}
    for name in WANTED.get(rule.subject, ()):
        if getattr(given, name) is None:
            fields[name] = f"Say which {WORDS[name]}."
    printer = shelf.printer(bench.db, given.printer_id) if given.printer_id else None
    if given.printer_id and printer is None:
        fields["printer_id"] = "Choose a printer that is on the shelf."
    if given.bottle_id and shelf.bottle(bench.db, given.bottle_id) is None:
        fields["bottle_id"] = "Choose a bottle that is on the shelf."
    if given.material_id and shelf.material(bench.db, given.material_id) is None:
        fields["material_id"] = "Choose a material that is on the shelf."
    now = bench.clock().astimezone(UTC)
    at = given.happened_at or now
    if (at - now).total_seconds() > SLACK_S:
        fields["happened_at"] = "This lies in the future."
    elif printer is not None and at < datetime.fromisoformat(printer.created_at) and given.happened_at is not None:
        fields["happened_at"] = f"{printer.name} came onto the shelf on {printer.created_at[:10]}, after that."
    if given.screen_hours is not None and printer is not None and "happened_at" not in fields:
        said = _hours_back(bench, printer.id, given.screen_hours, iso(at))
        if said:
            fields["screen_hours"] = said
    if fields:
        raise Problem("The event cannot be recorded like this.", fields)


def _hours_back(bench: Bench, printer_id: str, hours: float, at: str) -> str | None:
    """Hours may only rise between replacements of the screen."""
    before = store.newest_hours(bench.db, printer_id, at)
    if before is None:
        return None
    kind, noted = before
    held = rules(bench).get(kind)
    floor = 0.0 if held is not None and held.resets_hours else noted
    return f"{noted:g} h were noted before: hours run forwards." if hours < floor else None


def _as_row(bench: Bench, given: EventInput) -> store.EventRow:
    """The event as it would be read back, for a preview."""
    bottle = shelf.bottle(bench.db, given.bottle_id) if given.bottle_id else None
    return store.EventRow(
        id="", code="", kind=given.kind, printer_id=given.printer_id, printer=None,
        material_id=bottle.material_id if bottle else given.material_id, material=None, bottle_id=given.bottle_id,
        bottle=bottle.code if bottle else None, lot=bottle.lot if bottle else None, finish_route_id=None,
        finish_route=None, happened_at=_when(bench, given), screen_hours=given.screen_hours, note=given.note,
        initials="", recorded_at="", withdrawn_at=None, withdrawn_reason=None,
    )  # fmt: skip


def _touched(bench: Bench, rule: Rule, row: store.EventRow) -> list[Touched]:
    happening = happening_of(row)
    if row.printer_id is not None:
        near = store.sets_of_printer(bench.db, row.printer_id)
    elif row.material_id is not None:
        near = store.sets_of_material(bench.db, row.material_id)
    else:
        near = []
    materials = {m.id: m.name for m in shelf.materials(bench.db, MOST_SETS)}
    printers = {p.id: p.name for p in shelf.printers(bench.db, False, "", 200)}
    return [
        Touched(
            set_code=s.code, material_id=s.material_id, printer_id=s.printer_id, material=materials.get(s.material_id, ""),
            printer=printers.get(s.printer_id, ""), layer_height_um=s.layer_height_um, effect=rule.effect,
            renewed_by=list(rule.renewed_by),
        )
        for s in near
        if s.issued_at <= row.happened_at and touches(rule, happening, facts(s))
    ]  # fmt: skip
