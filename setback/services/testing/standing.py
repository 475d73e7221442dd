"""What can be tested: every material with its issued sets and how they stand."""

from __future__ import annotations

from collections import defaultdict

from ...store import shelf, tests
from ...store import validity as living
from ..bench import Bench, View
from ..validity import states

MOST = 400


class SetStanding(View):
    code: str
    printer_id: str
    printer: str
    temp_low_c: float | None
    temp_high_c: float | None
    layer_height_um: float
    exposure_s: float
    state: str
    route: str | None


class MaterialStanding(View):
    id: str
    name: str
    kind: str
    what: str | None
    sets: list[SetStanding]


def materials(bench: Bench) -> list[MaterialStanding]:
    """Materials by name; those that are bought in say what they are."""
    sets = living.all_sets(bench.db, MOST)
    held = states(bench, sets)
    printers = {p.id: p.name for p in shelf.printers_by_id(bench.db, sorted({s.printer_id for s in sets}))}
    routes = shelf.route_names(bench.db, sorted({s.route_version_id for s in sets if s.route_version_id}))
    by_material: dict[str, list[SetStanding]] = defaultdict(list)
    for one in sets:
        by_material[one.material_id].append(
            SetStanding(
                code=one.code, printer_id=one.printer_id, printer=printers.get(one.printer_id, ""),
                temp_low_c=one.temp_low_c, temp_high_c=one.temp_high_c, layer_height_um=one.layer_height_um,
                exposure_s=one.exposure_s, state=held[one.id].state, route=routes.get(one.route_version_id or ""),
            )
        )  # fmt: skip
    bought = {r.id: r.what for r in tests.references(bench.db, MOST)}
    return [
        MaterialStanding(id=m.id, name=m.name, kind=m.kind, what=bought.get(m.id), sets=by_material[m.id])
        for m in shelf.materials(bench.db, MOST)
    ]
