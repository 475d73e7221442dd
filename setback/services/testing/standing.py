"""What can be tested: every material with its issued sets and how they stand."""

from __future__ import annotations

from collections import defaultdict

from ...core.status.validity import State
from ...store import shelf
from ...store import testing as tests
from ...store.sets import validity as living
from ...store.terms import MaterialKind
from ..sets.validity import states
from ..unit_of_work import UnitOfWork, View

MOST = 400


class SetStanding(View):
    """A set of a material, and how it stands."""

    code: str
    printer_id: str
    printer: str
    temp_low_c: float | None
    temp_high_c: float | None
    layer_height_um: float
    exposure_s: float
    state: State
    route: str | None


class MaterialStanding(View):
    """A material that can be tested, with its sets."""

    id: str
    name: str
    kind: MaterialKind
    what: str | None
    sets: list[SetStanding]


def materials(work: UnitOfWork) -> list[MaterialStanding]:
    """Materials by name; those that are bought in say what they are."""
    sets = living.all_sets(work.db, MOST)
    set_states = states(work, sets)
    printers = {p.id: p.name for p in shelf.printers_by_id(work.db, sorted({s.printer_id for s in sets}))}
    routes = shelf.route_names(work.db, sorted({s.route_version_id for s in sets if s.route_version_id}))
    by_material: dict[str, list[SetStanding]] = defaultdict(list)
    for set_row in sets:
        by_material[set_row.material_id].append(
            SetStanding(
                code=set_row.code,
                printer_id=set_row.printer_id,
                printer=printers.get(set_row.printer_id, ""),
                temp_low_c=set_row.temp_low_c,
                temp_high_c=set_row.temp_high_c,
                layer_height_um=set_row.layer_height_um,
                exposure_s=set_row.exposure_s,
                state=set_states[set_row.id].state,
                route=routes.get(set_row.route_version_id or ""),
            )
        )
    bought = {r.id: r.what for r in tests.references(work.db, MOST)}
    return [
        MaterialStanding(id=m.id, name=m.name, kind=m.kind, what=bought.get(m.id), sets=by_material[m.id])
        for m in shelf.materials(work.db, MOST)
    ]
