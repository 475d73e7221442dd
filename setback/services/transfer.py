"""Start values carried over from another printer."""

from __future__ import annotations

from ..core.transfer import Transfer, by_light_meter, by_reference_resin
from ..store import plates, shelf
from ..store import validity as store
from .bench import Bench, View, present

MOST_SETS = 5000


class TransferView(View):
    """Start values carried over from another printer."""

    transfers: list[Transfer]
    missing: str | None


def transfers(bench: Bench, material_id: str, printer_id: str, layer_height_um: float) -> TransferView:
    """Start values for a pair from one other printer: by a resin calibrated on both, and by light readings of both."""
    target = present(shelf.printer(bench.db, printer_id), "printer")
    sets = [s for s in store.all_sets(bench.db, MOST_SETS) if s.layer_height_um == layer_height_um]
    here = {s.material_id: s for s in sets if s.printer_id == printer_id}
    own = [s for s in sets if s.material_id == material_id and s.printer_id != printer_id]
    names = {m.id: m.name for m in shelf.materials_by_id(bench.db, sorted({s.material_id for s in sets}))}
    printers = {p.id: p for p in shelf.printers_by_id(bench.db, sorted({s.printer_id for s in sets} | {printer_id}))}
    made = []
    for source in own:
        for reference in (s for s in sets if s.printer_id == source.printer_id and s.material_id in here):
            if reference.material_id == material_id:
                continue
            made.append(
                by_reference_resin(
                    source.exposure_s, reference.exposure_s, here[reference.material_id].exposure_s,
                    names[reference.material_id], printers[source.printer_id].name, target.name,
                )
            )  # fmt: skip
        lit = light_ratio(bench, source.printer_id, printer_id)
        if lit is not None:
            made.append(by_light_meter(source.exposure_s, *lit, printers[source.printer_id].name, target.name))
    missing = None if made else "It needs this material calibrated on another printer, and a resin calibrated on both."
    return TransferView(transfers=made, missing=missing)


def light_ratio(bench: Bench, one: str, other: str) -> tuple[float, float] | None:
    """Mean light of two plates by their light-meter maps, in the meter's unit."""
    maps = [plates.newest_map(bench.db, p) for p in (one, other)]
    means = []
    for held in maps:
        if held is None or held.source != "light meter":
            return None
        flat = [v for row in held.readings for v in row]
        means.append(sum(flat) / len(flat))
    return means[0], means[1]
