"""Will it be enough? What a plan takes of bottles, baths, gloves, printers, a person and money."""

from __future__ import annotations

from pydantic import Field

from ...core.plan.contract import Schedule
from ...store import plan as store
from ...store import shelf, wash_baths
from ..lab_settings import lab_settings
from ..unit_of_work import UnitOfWork, View
from .plan_settings import PlanSettings
from .tasks import WorkTask


class BottleBudget(View):
    """A material's resin: what the plan takes, and whether its bottles hold it."""

    material_id: str
    material: str
    left_ml: float = Field(description="In all its bottles on the shelf")
    needs_ml: float
    bottles: list[str] = Field(description="Codes of those that are drawn on, in order")
    runs_out_at_key: str | None = Field(description="The task with which they run out")
    open_next: str | None = Field(description="The bottle to open when the first is empty")


class BathBudget(View):
    """A wash bath: loads so far, and with the plan."""

    name: str
    loads: int
    planned: int
    most_loads: int


class PrinterBudget(View):
    """Hours a printer runs."""

    printer: str
    minutes: int
    prints: int = Field(description="Prints the plan has on it")
    film_prints: int = Field(description="Prints on its film so far")


class Budget(View):
    """What the plan takes."""

    resins: list[BottleBudget]
    baths: list[BathBudget]
    printers: list[PrinterBudget]
    gloves: int
    person_min: int
    person_there_min: int = Field(description="Minutes of work there are until the plan ends")
    cost: float | None = Field(description="Of its resin, in the lab's currency; null where no price is known")
    currency: str


def budget(
    work: UnitOfWork, tasks: list[WorkTask], best: Schedule, shifts: list[tuple[int, int]], settings: PlanSettings
) -> Budget:
    """What planned tasks take. A fixed number of queries."""
    begins = {row.key: row.start_min for row in best.tasks}
    ordered = sorted((task for task in tasks if task.key in begins), key=lambda task: begins[task.key])
    prints = [task for task in ordered if task.kind == "print"]
    resins, cost = _resins(work, prints)
    changes = best.changes * settings.handling.change_min
    return Budget(
        resins=resins,
        baths=_baths(work, ordered),
        printers=_printers(work, prints),
        gloves=len(prints) * settings.gloves_per_print,
        person_min=sum(task.person_min for task in ordered) + changes,
        person_there_min=sum(min(end, best.finish_min) - start for start, end in shifts if start < best.finish_min),
        cost=cost,
        currency=lab_settings(work).currency,
    )


def _resins(work: UnitOfWork, prints: list[WorkTask]) -> tuple[list[BottleBudget], float | None]:
    by_material: dict[str, list[WorkTask]] = {}
    for task in prints:
        if task.material_id is not None:
            by_material.setdefault(task.material_id, []).append(task)
    bottles = shelf.bottles_of(work.db, list(by_material))
    prices = shelf.prices(work.db, list(by_material))
    rows, costs = [], []
    for material_id, tasks in by_material.items():
        on_shelf = [bottle for bottle in bottles if bottle.material_id == material_id]
        first = {task.bottle_id for task in tasks}
        on_shelf.sort(key=lambda bottle: (bottle.id not in first, bottle.opened_on is None, bottle.code))
        left_ml = sum(bottle.left_ml for bottle in on_shelf)
        used, runs_out = 0.0, None
        for task in tasks:
            used += task.ml
            if used > left_ml and runs_out is None:
                runs_out = task.key
        first_left = on_shelf[0].left_ml if on_shelf else 0.0
        rows.append(
            BottleBudget(
                material_id=material_id,
                material=tasks[0].resin or "",
                left_ml=left_ml,
                needs_ml=used,
                bottles=[bottle.code for bottle in on_shelf],
                runs_out_at_key=runs_out,
                open_next=on_shelf[1].code if used > first_left and len(on_shelf) > 1 else None,
            )
        )
        price = prices.get(material_id)
        if price is not None:
            costs.append(used / 1000 * price)
    return rows, sum(costs) if costs else None


def _baths(work: UnitOfWork, tasks: list[WorkTask]) -> list[BathBudget]:
    loads: dict[str, int] = {}
    for task in tasks:
        if task.kind == "wash" and task.resource:
            loads[task.resource] = loads.get(task.resource, 0) + 1
    rows = wash_baths.baths(work.db, False, "", 200, work.now())
    return [
        BathBudget(
            name=row.name,
            loads=row.loads,
            planned=loads.get(f"wash {row.wash_fluid.strip().casefold()}", 0),
            most_loads=row.most_loads,
        )
        for row in rows
        if f"wash {row.wash_fluid.strip().casefold()}" in loads
    ]


def _printers(work: UnitOfWork, prints: list[WorkTask]) -> list[PrinterBudget]:
    names = {printer.id: printer.name for printer in shelf.printers(work.db, False, "", 200)}
    by_printer: dict[str, list[int]] = {}
    for task in prints:
        by_printer.setdefault(task.resource or "", []).append(task.minutes)
    on_film = store.prints_on_film(work.db, list(by_printer))
    return [
        PrinterBudget(printer=names[key], minutes=sum(took), prints=len(took), film_prints=on_film.get(key, 0))
        for key, took in by_printer.items()
        if key in names
    ]
