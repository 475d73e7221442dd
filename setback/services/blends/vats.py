"""What is in each printer now: derived from its ledger alone; a late correction re-derives all that follows."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, StringConstraints

from ...core.blends.top_up import TopUpInput, TopUpResult, top_up
from ...core.blends.vat import Content, Entry, State, by_component, distance, fractions, replay
from ...core.contract import Contract, Problem
from ...store import blends as store
from ...store import shelf
from ...store.rows import insert, update
from ...store.terms import LedgerKind
from ..sets.events import EventInput, Touched, take_back
from ..sets.events import preview as preview_event
from ..sets.events import put as put_event
from ..shelf.entry import Name, Note
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
from .recipes import RecipeInput, RecipePart
from .recipes import put as put_recipe

# Two mixtures nearer than this are one material; a percent of another moves exposure less than a step does.
SAME = 0.01
STIR_AFTER_H = 12.0
SLACK_S = 300
TOPPED_UP = "vat-topped-up"


class VatInput(Contract):
    """Something poured into a vat, taken out, returned or called by a name; millilitres."""

    kind: Literal["fill", "pour", "feed", "drain", "empty", "stir"]
    volume_ml: Annotated[float, Field(ge=0, le=50_000)] = 0
    bottle_id: str | None = Field(None, max_length=40, description="Where it comes from")
    to_bottle_id: str | None = Field(None, max_length=40, description="Where a drain goes, through a strainer")
    at: AwareDatetime | None = Field(None, description="Now when not given")
    new_name: Name | None = Field(None, description="What the mixture is called from now on, as a material of its own")
    contamination: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] | None = Field(
        None, description="Or why it is left as a stated contamination"
    )
    note: Note = ""


class VatReason(Contract):
    """Why an entry is withdrawn."""

    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=300)]


class TopUpAsked(Contract):
    """The mixture a vat should come to, and how full."""

    material_id: str = Field(max_length=40, description="The recipe to reach")
    final_ml: float | None = Field(None, gt=0, le=50_000, description="The fill line when not given")


class Layer(View):
    """A component of what is in the vat."""

    material_id: str
    material: str
    volume_ml: float
    fraction: float
    lots: list[str]


class LedgerLine(View):
    """One entry of a vat, with what the vat held after it."""

    id: str
    kind: LedgerKind
    at: str
    words: str
    volume_ml: float
    after_ml: float | None
    initials: str | None
    note: str
    withdrawn_reason: str | None
    can_withdraw: bool
    impossible: str | None = Field(description="Why it cannot have been, by what the ledger says now")


class VatView(View):
    """What is in a vat, in layers of material and lot, and how it came there."""

    printer_id: str
    printer: str
    capacity_ml: float
    fill_line_ml: float
    volume_ml: float
    layers: list[Layer]
    is_called: str | None = Field(description="The material it is, by its composition")
    material_id: str | None
    contamination: str | None
    standing_h: float | None
    stirred_h: float | None
    stir_due: bool
    over_limit: str | None = Field(description="Longer in the vat than a maker allows")
    ledger: list[LedgerLine]


class VatPreview(View):
    """What an entry would make of the vat, before it is kept."""

    layers: list[Layer]
    volume_ml: float
    was: str | None
    becomes: str | None = Field(description="The material it would be; None when this shop has no name for it")
    mixes: bool = Field(description="It is something else than before: it wants a name or a stated contamination")
    touched: list[Touched]


class TopUpView(View):
    """What to drain and pour to come to a mixture."""

    result: TopUpResult
    target: str
    final_ml: float
    pours: list[Layer]
    in_vat: list[Layer]


def vats(work: UnitOfWork) -> list[VatView]:
    """Every printer's vat. A fixed number of queries, whatever the number of printers."""
    printers = shelf.printers(work.db, False, "", 200)
    return _views(work, printers)


def vat(work: UnitOfWork, printer_id: str) -> VatView:
    """What is in the vat of one printer."""
    return _views(work, [present(shelf.printer(work.db, printer_id), "printer")])[0]


def preview(work: UnitOfWork, printer_id: str, request: VatInput) -> VatPreview:
    """What the vat would hold, and which sets that would touch."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    names = _Names(work)
    before, after = _before_and_after(work, printer, request, names)
    called, becomes = names.of(before.contents if before else {}), names.of(after.contents)
    mixes = _mixes(before, after, called, becomes, request)
    touched = []
    if mixes and called is not None:
        event = EventInput(kind=TOPPED_UP, printer_id=printer.id, material_id=called, happened_at=request.at)
        touched = preview_event(work, event).touched
    return VatPreview(
        layers=names.layers(after.contents),
        volume_ml=after.volume_ml,
        was=names.name(called),
        becomes=names.name(becomes),
        mixes=mixes,
        touched=touched,
    )


def enter(work: UnitOfWork, printer_id: str, request: VatInput) -> VatView:
    """Keep an entry. What makes something else of the vat wants a name or a stated contamination.

    Raises
    ------
    Problem
        When more goes in than the vat holds, more out than there is, a bottle has not enough left or is retired, or
        an entry in the past would make a later level negative.
    Conflict
        When the mixture has no name yet.
    """
    with work.write() as answer:
        put(work, printer_id, request)
        return answer(vat(work, printer_id))


def put(work: UnitOfWork, printer_id: str, request: VatInput) -> None:
    """The write of :func:`enter`, for whoever has a transaction open."""
    technician = work.technician()
    printer = present(shelf.printer(work.db, printer_id), "printer")
    names = _Names(work)
    before, after = _before_and_after(work, printer, request, names)
    called, becomes = names.of(before.contents if before else {}), names.of(after.contents)
    mixes = _mixes(before, after, called, becomes, request)
    likely_ml = becomes
    if mixes and becomes is None:
        if request.new_name is None and not request.contamination:
            message = "Give the mixture a name of its own, or state that it is a contamination."
            raise Conflict(
                f"This makes something else of the vat: {names.words(after.contents)}.", {"new_name": message}
            )
        if request.new_name is not None:
            likely_ml = _named(work, request, after.contents)
    event_id = None
    if mixes and called is not None:
        note = f"Poured into the vat: now {names.words(after.contents)}."
        event = EventInput(kind=TOPPED_UP, printer_id=printer.id, material_id=called, happened_at=request.at, note=note)
        event_id = put_event(work, event)
    _draw_down(work, request)
    insert(
        work.db,
        "vat_entry",
        id=work.new_id(),
        printer_id=printer.id,
        kind=request.kind,
        at=_when(work, request),
        volume_ml=request.volume_ml,
        bottle_id=request.bottle_id,
        to_bottle_id=request.to_bottle_id,
        meant_id=likely_ml,
        stated=request.contamination if mixes else None,
        event_id=event_id,
        note=request.note,
        technician_id=technician.id,
        recorded_at=work.now(),
    )


def withdraw(work: UnitOfWork, entry_id: str, request: VatReason) -> VatView:
    """Take back an entry made by mistake: bottles get theirs back, what it lapsed comes back, all that follows is re-derived."""
    with work.write() as answer:
        row = present(store.entry(work.db, entry_id), "entry")
        if row.withdrawn_at is not None:
            raise Conflict("This entry is withdrawn already.")
        printer = present(shelf.printer(work.db, row.printer_id), "printer")
        rows = [r for r in store.ledger(work.db, [printer.id]) if r.id != row.id and r.withdrawn_at is None]
        shares = _shares(work, [*rows, row])
        _, fault = replay([_entry(r, shares) for r in rows], printer.vat_capacity_ml)
        _, already = replay([_entry(r, shares) for r in [*rows, row]], printer.vat_capacity_ml)
        new = [w for w in fault if w.entry_id not in {a.entry_id for a in already}]
        if new:
            raise Conflict(f"Without it a later entry cannot have been: {new[0].message}")
        update(work.db, "vat_entry", row.id, withdrawn_at=work.now(), withdrawn_reason=request.reason)
        if row.bottle_id:
            shelf.pour_into_bottle(work.db, row.bottle_id, row.volume_ml)
        if row.event_id:
            take_back(work, row.event_id, f"The pour was withdrawn: {request.reason}")
        return answer(vat(work, printer.id))


def reach(work: UnitOfWork, printer_id: str, request: TopUpAsked) -> TopUpView:
    """What to pour to reach a recipe at the fill line, with the least drained first."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    final = request.final_ml or printer.fill_line_ml
    if final > printer.vat_capacity_ml:
        message = f"{printer.name}'s vat holds {printer.vat_capacity_ml:g} ml."
        raise Problem(message, {"final_ml": message})
    names = _Names(work)
    target = names.composition(request.material_id)
    if target is None:
        raise Problem("Choose a resin or a blend.", {"material_id": "Choose a resin or a blend."})
    state = _now(work, printer)
    shares_in_vat = fractions(state.contents) if state else {}
    result = top_up(
        TopUpInput(
            vat_volume_ml=state.volume_ml if state else 0.0,
            vat_fractions=shares_in_vat,
            target_fractions=target,
            final_volume_ml=final,
        )
    )
    pours = [
        Layer(material_id=m, material=names.name(m) or m, volume_ml=v, fraction=v / final, lots=[])
        for m, v in result.pours_ml.items()
        if v > 0.05
    ]
    return TopUpView(
        result=result,
        target=names.name(request.material_id) or "",
        final_ml=final,
        pours=sorted(pours, key=lambda p: -p.volume_ml),
        in_vat=names.layers(state.contents if state else {}),
    )


class _Names:
    """Materials by name and composition, looked up once."""

    def __init__(self, work: UnitOfWork) -> None:
        materials = shelf.materials(work.db, 2000)
        self.by_id = {m.id: m.name for m in materials}
        self.recipes: dict[str, dict[str, float]] = {m.id: {m.id: 1.0} for m in materials if m.kind in ("resin", "dye")}
        for part in store.parts(work.db, [m.id for m in materials if m.kind == "blend"]):
            self.recipes.setdefault(part.blend_id, {})[part.part_id] = part.fraction

    def name(self, material_id: str | None) -> str | None:
        """Name of a material, None for one that nobody knows."""
        return self.by_id.get(material_id) if material_id else None

    def composition(self, material_id: str) -> dict[str, float] | None:
        """Parts of a blend by name; None for a resin."""
        return self.recipes.get(material_id)

    def of(self, contents: Content) -> str | None:
        """The material that has this composition, within a percent; None when empty or nameless."""
        shares = fractions(contents)
        if not shares:
            return None
        nearest = min(self.recipes, key=lambda m: distance(self.recipes[m], shares), default=None)
        return nearest if nearest is not None and distance(self.recipes[nearest], shares) <= SAME else None

    def layers(self, contents: Content) -> list[Layer]:
        """Contents as layers, the largest first."""
        total = sum(contents.values())
        lots: dict[str, list[str]] = defaultdict(list)
        for material, lot in contents:
            lots[material].append(lot)
        listed = [
            Layer(
                material_id=m, material=self.by_id.get(m, m), volume_ml=v, fraction=v / total, lots=sorted(set(lots[m]))
            )
            for m, v in by_component(contents).items()
            if v > 0.05
        ]
        return sorted(listed, key=lambda layer: -layer.volume_ml)

    def words(self, contents: Content) -> str:
        """Contents in words."""
        return ", ".join(f"{100 * layer.fraction:.0f} % {layer.material}" for layer in self.layers(contents))


def _mixes(before: State | None, after: State, called: str | None, becomes: str | None, request: VatInput) -> bool:
    """Whether an entry makes something else of what was there."""
    if request.kind not in ("fill", "pour", "feed") or before is None or before.volume_ml < 0.5:
        return False
    if called is not None and called == becomes:
        return False
    return distance(fractions(before.contents), fractions(after.contents)) > SAME


def _before_and_after(
    work: UnitOfWork, printer: shelf.Printer, request: VatInput, names: _Names
) -> tuple[State | None, State]:
    """The vat just before and just after an entry that is not kept yet; refuses what cannot be."""
    at = _when(work, request)
    _check(work, request, at)
    rows = [r for r in store.ledger(work.db, [printer.id]) if r.withdrawn_at is None]
    shares = _shares(work, rows)
    new = Entry(
        "new", request.kind, at, request.volume_ml, _of_bottle(work, request.bottle_id) if request.bottle_id else {}
    )
    entries = [_entry(r, shares) for r in rows]
    _, already = replay(entries, printer.vat_capacity_ml)
    states, fault = replay([*entries, new], printer.vat_capacity_ml)
    fresh = [w for w in fault if w.entry_id not in {a.entry_id for a in already}]
    if fresh:
        later = fresh[0].entry_id != "new"
        message = f"With this a later entry cannot have been: {fresh[0].message}" if later else fresh[0].message
        raise Problem(message, {"at" if later else "volume_ml": message})
    place = next(i for i, s in enumerate(states) if s.entry_id == "new")
    _check_return(work, request, names, states[place - 1] if place else None)
    return (states[place - 1] if place else None), states[place]


def _check(work: UnitOfWork, request: VatInput, at: str) -> None:
    problems: dict[str, str] = {}
    if request.kind in ("fill", "pour", "feed", "drain") and request.volume_ml <= 0:
        problems["volume_ml"] = "How many millilitres?"
    if request.kind in ("fill", "pour", "feed"):
        bottle = shelf.bottle(work.db, request.bottle_id) if request.bottle_id else None
        if bottle is None:
            problems["bottle_id"] = "From which bottle?"
        elif bottle.retired_at is not None:
            problems["bottle_id"] = f"{bottle.code} is retired."
        elif bottle.left_ml < request.volume_ml - 1e-6:
            problems["volume_ml"] = f"{bottle.code} holds {bottle.left_ml:.0f} ml."
    if (datetime.fromisoformat(at) - work.clock()).total_seconds() > SLACK_S:
        problems["at"] = "This lies in the future."
    if problems:
        raise Problem("It cannot be entered like this.", problems)


def _check_return(work: UnitOfWork, request: VatInput, names: _Names, before: State | None) -> None:
    """What goes back into a bottle must be what the bottle holds."""
    if request.kind != "drain" or request.to_bottle_id is None:
        return
    bottle = present(shelf.bottle(work.db, request.to_bottle_id), "bottle")
    called = names.of(before.contents) if before else None
    message = None
    if bottle.material_id != called:
        message = f"{bottle.code} holds {bottle.material}; the vat holds {names.name(called) or 'a mixture'}. Give it a bottle of its own."
    elif bottle.left_ml + request.volume_ml > bottle.volume_ml + 1e-6:
        message = f"{bottle.code} has room for {bottle.volume_ml - bottle.left_ml:.0f} ml."
    if message:
        raise Problem(message, {"to_bottle_id": message})


def _when(work: UnitOfWork, request: VatInput) -> str:
    return iso(request.at) if request.at is not None else work.now()


def _draw_down(work: UnitOfWork, request: VatInput) -> None:
    if request.kind in ("fill", "pour", "feed") and request.bottle_id:
        shelf.draw_from_bottle(work.db, request.bottle_id, request.volume_ml)
    if request.kind == "drain" and request.to_bottle_id:
        shelf.pour_into_bottle(work.db, request.to_bottle_id, request.volume_ml)


def _named(work: UnitOfWork, request: VatInput, contents: Content) -> str:
    """The mixture as a material of its own, with its real fractions."""
    shares = {m: f for m, f in fractions(contents).items() if f > 1e-4}
    total = sum(shares.values())
    parts = [RecipePart(material_id=m, fraction=f / total) for m, f in shares.items()]
    recipe = RecipeInput(
        name=request.new_name or "", parts=parts, note="From a vat.", forbidden_reason="It was in the vat already."
    )
    return put_recipe(work, recipe, "vat")


def _now(work: UnitOfWork, printer: shelf.Printer) -> State | None:
    rows = [r for r in store.ledger(work.db, [printer.id]) if r.withdrawn_at is None]
    states, _ = replay([_entry(r, _shares(work, rows)) for r in rows], printer.vat_capacity_ml)
    return states[-1] if states else None


def _entry(row: store.LedgerRow, shares: dict[str, Content]) -> Entry:
    return Entry(row.id, row.kind, row.at, row.volume_ml, shares.get(row.bottle_id or "", {}))


def _of_bottle(work: UnitOfWork, bottle_id: str) -> Content:
    bottle = present(shelf.bottle(work.db, bottle_id), "bottle")
    poured = store.pours_of_bottles(work.db, [bottle_id]).get(bottle_id)
    return _composition(bottle.material_id, bottle.lot, poured)


def _shares(work: UnitOfWork, rows: list[store.LedgerRow]) -> dict[str, Content]:
    """What each bottle of a ledger brings in: its resin and lot, or what its batch was really poured from."""
    by_bottle = {r.bottle_id: r for r in rows if r.bottle_id is not None}
    poured = store.pours_of_bottles(work.db, list(by_bottle))
    return {b: _composition(r.material_id or "", r.lot or "", poured.get(b)) for b, r in by_bottle.items()}


def _composition(material_id: str, lot: str, poured: list[store.PourRow] | None) -> Content:
    if not poured:
        return {(material_id, lot): 1.0}
    total = sum(p.poured_ml or 0 for p in poured)
    return {(p.part_id, p.lot or ""): (p.poured_ml or 0) / total for p in poured if p.poured_ml}


def _views(work: UnitOfWork, printers: list[shelf.Printer]) -> list[VatView]:
    rows: dict[str, list[store.LedgerRow]] = defaultdict(list)
    for row in store.ledger(work.db, [p.id for p in printers]):
        rows[row.printer_id].append(row)
    shares = _shares(work, [r for of_printer in rows.values() for r in of_printer])
    names = _Names(work)
    limits = {i.id: i.vat_hours for i in store.ingredients(work.db) if i.vat_hours is not None}
    now = work.clock()
    return [_view(printer, rows[printer.id], shares, names, limits, now) for printer in printers]


def _view(
    printer: shelf.Printer,
    rows: list[store.LedgerRow],
    shares: dict[str, Content],
    names: _Names,
    limits: dict[str, float],
    now: datetime,
) -> VatView:
    live = [r for r in rows if r.withdrawn_at is None]
    states, fault = replay([_entry(r, shares) for r in live], printer.vat_capacity_ml)
    after = {s.entry_id: s.volume_ml for s in states}
    faults = {w.entry_id: w.message for w in fault}
    state = states[-1] if states else None
    contents = state.contents if state else {}
    standing, stirred = (
        _hours(state.filled_at if state else None, now),
        _hours(state.stirred_at if state else None, now),
    )
    called = names.of(contents)
    over = [
        f"{names.name(m)} may stay {_span(limits[m])} in a vat; it has been there {_span(standing)}."
        for m in by_component(contents)
        if m in limits and standing is not None and standing > limits[m]
    ]
    last_stir = stirred if stirred is not None else standing
    return VatView(
        printer_id=printer.id,
        printer=printer.name,
        capacity_ml=printer.vat_capacity_ml,
        fill_line_ml=printer.fill_line_ml,
        volume_ml=state.volume_ml if state else 0.0,
        layers=names.layers(contents),
        is_called=names.name(called),
        material_id=called,
        contamination=next((r.stated for r in reversed(live) if r.stated and r.kind != "print"), None)
        if called is None
        else None,
        standing_h=standing,
        stirred_h=stirred,
        stir_due=bool(contents) and last_stir is not None and last_stir > STIR_AFTER_H,
        over_limit=" ".join(over) or None,
        ledger=[_line(r, after, faults) for r in reversed(rows)],
    )


def _hours(since: str | None, now: datetime) -> float | None:
    return None if since is None else max((now - datetime.fromisoformat(since)).total_seconds() / 3600, 0.0)


_WORDS = {
    "fill": "filled with {what}",
    "pour": "{what} poured in",
    "feed": "fed from {what}",
    "print": "used by {stated}",
    "drain": "drained{to}",
    "empty": "emptied and cleaned",
    "stir": "stirred",
}


def _line(row: store.LedgerRow, after: dict[str, float], message: dict[str, str]) -> LedgerLine:
    contents = f"{row.material}, {row.bottle_code}, lot {row.lot}" if row.material else ""
    to = f" through a strainer into {row.to_bottle_code}" if row.to_bottle_code else ""
    return LedgerLine(
        id=row.id,
        kind=row.kind,
        at=row.at,
        words=_WORDS[row.kind].format(what=contents, stated=row.stated, to=to),
        volume_ml=row.volume_ml,
        after_ml=after.get(row.id),
        initials=row.initials,
        note=row.note,
        withdrawn_reason=row.withdrawn_reason,
        can_withdraw=row.kind != "print" and row.withdrawn_at is None,
        impossible=message.get(row.id),
    )


def _span(hours: float) -> str:
    """Hours under two days, days from then on."""
    return f"{hours:.0f} h" if hours < 48 else f"{hours / 24:.0f} days"
