"""The Board: what can be printed with, and what needs a person today."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..store import calibrations as store
from ..store import parameter_sets, shelf
from .bench import Bench, View


class BoardPrinter(View):
    id: str
    name: str
    pixel_um: float
    screen_hours: float
    light_engine: str


class BoardMaterial(View):
    id: str
    name: str
    kind: str
    family: str | None
    opacity: str | None
    colour: str | None


class Cell(View):
    material_id: str
    printer_id: str
    state: Literal["issued", "calibrating"]
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


class Task(View):
    """One line of today's list, with one action."""

    kind: Literal["read", "print"]
    title: str
    detail: str
    action: str
    coupon_code: str | None
    calibration_id: str


class Board(View):
    layer_height_um: float | None
    layer_heights_um: list[float]
    printers: list[BoardPrinter]
    materials: list[BoardMaterial]
    cells: list[Cell]
    axis_s: tuple[float, float] | None = Field(description="Common exposure axis of the small strips")
    today: list[Task]
    waiting: int = Field(description="Coupons that wait for a reading, at every layer height")


def board(bench: Bench, layer_height_um: float | None) -> Board:
    """Materials × printers at one layer height, and today's list. A fixed number of queries."""
    db = bench.db
    heights = store.layer_heights(db)
    if layer_height_um is None and heights:
        layer_height_um = 50.0 if 50.0 in heights else heights[0]
    materials = shelf.materials(db)
    resins = {r.id: r for r in shelf.resins(db, False, "", 200)}
    sets = parameter_sets.board(db, layer_height_um) if layer_height_um is not None else []
    open_rows = store.open_at_height(db, layer_height_um) if layer_height_um is not None else []
    pairs = {
        row[0]: (row[1], row[2])
        for row in db.execute("SELECT id, material_id, printer_id FROM calibration WHERE closed_at IS NULL")
    }
    cells: dict[tuple[str, str], Cell] = {}
    for held in sets:
        cells[held.material_id, held.printer_id] = Cell(
            material_id=held.material_id,
            printer_id=held.printer_id,
            state="issued",
            exposure_s=held.exposure_s,
            lower_s=held.lower_s,
            upper_s=held.upper_s,
            latitude_pct=held.latitude_pct,
            temp_low_c=held.temp_low_c,
            temp_high_c=held.temp_high_c,
            set_id=held.id,
            set_code=held.code,
            set_version=held.version,
        )
    for row in open_rows:
        pair = pairs[row.id]
        if row.issued_code is not None:
            continue
        under = cells.get(pair)
        if under is not None and under.state == "calibrating":
            continue
        progress = {
            "calibration_id": row.id, "calibration_code": row.code, "coupons": row.coupons, "read": row.read,
            "waiting": row.printed_unread, "planned": row.planned, "lowest_s": row.lowest_s, "highest_s": row.highest_s,
        }  # fmt: skip
        if under is not None:
            cells[pair] = under.model_copy(update=progress)
        else:
            cells[pair] = Cell.model_validate(
                {"material_id": pair[0], "printer_id": pair[1], "state": "calibrating", **progress}
            )
    ends = [v for c in cells.values() for v in (c.lower_s, c.upper_s, c.exposure_s, c.lowest_s, c.highest_s) if v]
    waiting = store.waiting_for_reading(db, 200)
    tasks = [
        Task(
            kind="read",
            title=f"Coupon {w.code} waits for a reading",
            detail=f"{w.material} on {w.printer}, {w.exposure_s:g} s",
            action="Read it",
            coupon_code=w.code,
            calibration_id=w.calibration_id,
        )
        for w in waiting[:8]
    ]
    for row in open_rows:
        if row.planned:
            tasks.append(
                Task(
                    kind="print",
                    title=f"{row.planned} coupon{'s' if row.planned > 1 else ''} to print",
                    detail=f"{row.material} on {row.printer}, {row.code}",
                    action="Open",
                    coupon_code=None,
                    calibration_id=row.id,
                )
            )
    return Board(
        layer_height_um=layer_height_um,
        layer_heights_um=heights,
        printers=[BoardPrinter.model_validate(p) for p in shelf.printers(db, False, "", 60)],
        materials=[
            BoardMaterial(
                id=m.id, name=m.name, kind=m.kind,
                family=resins[m.id].family if m.id in resins else None,
                opacity=resins[m.id].opacity if m.id in resins else None,
                colour=resins[m.id].colour if m.id in resins else None,
            )
            for m in materials
        ],
        cells=list(cells.values()),
        axis_s=(min(ends) / 1.15, max(ends) * 1.15) if ends else None,
        today=tasks,
        waiting=len(waiting),
    )  # fmt: skip
