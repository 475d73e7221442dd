"""Steps of a change of resin and of a leak, ticked one after the other; the records that follow them are made by themselves."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Problem
from ...core.printing.guides import GUIDES, Guide, GuideStep
from ...store import guides as store
from ...store import shelf
from ...store.rows import insert, update
from ..sets.events import EventInput, put
from ..unit_of_work import Conflict, NotFound, UnitOfWork, View, present
from . import vats


class StepView(GuideStep):
    """A step, and whether it was done."""

    done_at: str | None = Field(description="When it was done")
    initials: str | None = Field(description="Who did it")
    noted: str | None = Field(description="The record that followed it, in words")


class GuideView(View):
    """A guide on a printer, with what was done of it."""

    key: str
    name: str
    purpose: str = Field(description="What it comes to")
    printer_id: str
    printer: str
    steps: list[StepView] = Field(description="In their order")
    next: str | None = Field(description="The step to do now; null when all are done")


NOTED = {
    "vat-emptied": "The vat's ledger says that it is empty; what went back is added to its bottle on the Shelf.",
    "film-replaced": "The new film is noted; sets it touches fall due.",
}


def guide(work: UnitOfWork, printer_id: str, key: str) -> GuideView:
    """A guide as it stands on a printer."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    steps = _steps_of(key).steps
    run = store.open_run(work.db, printer.id, key)
    done = {step.step_key: step for step in store.steps_done(work.db, run.id)} if run else {}
    views = [
        StepView(
            **step.model_dump(),
            done_at=done[step.key].done_at if step.key in done else None,
            initials=done[step.key].initials if step.key in done else None,
            noted=NOTED[step.records] if step.key in done and step.records else None,
        )
        for step in steps
    ]
    return GuideView(
        key=key,
        name=GUIDES[key].name,
        purpose=GUIDES[key].purpose,
        printer_id=printer.id,
        printer=printer.name,
        steps=views,
        next=next((step.key for step in views if step.done_at is None), None),
    )


def tick(work: UnitOfWork, printer_id: str, key: str, step_key: str) -> GuideView:
    """Note that a step was done, with the record that follows it.

    Raises
    ------
    Conflict
        When a step before it was not done: the order is what keeps people and screen whole.
    """
    with work.write() as answer:
        printer = present(shelf.printer(work.db, printer_id), "printer")
        step = _step(key, step_key)
        to_do = [step for step in guide(work, printer_id, key).steps if step.done_at is None]
        if step.key not in [other.key for other in to_do]:
            raise Conflict("This step is done already.")
        if to_do[0].key != step.key:
            raise Conflict(f"First: {to_do[0].words}")
        run = store.open_run(work.db, printer.id, key)
        run_id = run.id if run else work.new_id()
        if run is None:
            insert(
                work.db,
                "guide_run",
                id=run_id,
                printer_id=printer.id,
                guide_key=key,
                started_at=work.now(),
                technician_id=work.technician_id(),
            )
        insert(
            work.db,
            "guide_step",
            run_id=run_id,
            step_key=step.key,
            done_at=work.now(),
            technician_id=work.technician_id(),
        )
        _record(work, printer.id, step)
        return answer(guide(work, printer_id, key))


def undo(work: UnitOfWork, printer_id: str, key: str, step_key: str) -> GuideView:
    """Undo the last tick; a record that followed it stays, and is withdrawn where it stands."""
    with work.write() as answer:
        step = _step(key, step_key)
        run = present(store.open_run(work.db, printer_id, key), "guide")
        done = store.steps_done(work.db, run.id)
        if not done or done[-1].step_key != step.key:
            raise Conflict("Only the last step that was done can be undone.")
        if step.records:
            raise Conflict("A record followed this step: withdraw it in the vat's ledger or the printer's events.")
        store.undo_step(work.db, run.id, step.key)
        return answer(guide(work, printer_id, key))


def end(work: UnitOfWork, printer_id: str, key: str) -> GuideView:
    """End a guide, done or not; the next time it begins anew."""
    with work.write() as answer:
        run = present(store.open_run(work.db, printer_id, key), "guide")
        update(work.db, "guide_run", run.id, ended_at=work.now())
        return answer(guide(work, printer_id, key))


def _record(work: UnitOfWork, printer_id: str, step: GuideStep) -> None:
    if step.records == "film-replaced":
        put(work, EventInput(kind="film-replaced", printer_id=printer_id, note="By the guide."))
    if step.records == "vat-emptied" and vats.vat(work, printer_id).volume_ml > 0:
        vats.put(work, printer_id, vats.VatInput(kind="empty", note="By the guide."))


def _steps_of(key: str) -> Guide:
    if key not in GUIDES:
        raise NotFound(f"There is no guide called {key}.")
    return GUIDES[key]


def _step(key: str, step_key: str) -> GuideStep:
    for step in _steps_of(key).steps:
        if step.key == step_key:
            return step
    message = f"{GUIDES[key].name} has no step called {step_key}."
    raise Problem(message, {"step": message})
