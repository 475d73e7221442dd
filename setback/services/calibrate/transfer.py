"""Start values carried over from another printer."""

from __future__ import annotations

from ...core.calibrate.transfer import Transfer, by_light_meter, by_reference_resin
from ...store import plate as plates
from ...store import shelf
from ...store.sets import validity as store
from ..unit_of_work import UnitOfWork, View, present

MOST_SETS = 5000


class TransferView(View):
    """Start values carried over from another printer."""

    transfers: list[Transfer]
    missing: str | None


def transfers(work: UnitOfWork, material_id: str, printer_id: str, layer_height_um: float) -> TransferView:
    """Start values for a pair from one other printer: by a resin calibrated on both, and by light readings of both."""
    target = present(shelf.printer(work.db, printer_id), "printer")
    sets = [s for s in store.all_sets(work.db, MOST_SETS) if s.layer_height_um == layer_height_um]
    on_this_printer = {s.material_id: s for s in sets if s.printer_id == printer_id}
    elsewhere = [s for s in sets if s.material_id == material_id and s.printer_id != printer_id]
    names = {m.id: m.name for m in shelf.materials_by_id(work.db, sorted({s.material_id for s in sets}))}
    printers = {p.id: p for p in shelf.printers_by_id(work.db, sorted({s.printer_id for s in sets} | {printer_id}))}
    found_transfers = []
    for source in elsewhere:
        for reference in (s for s in sets if s.printer_id == source.printer_id and s.material_id in on_this_printer):
            if reference.material_id == material_id:
                continue
            found_transfers.append(
                by_reference_resin(
                    source.exposure_s,
                    reference.exposure_s,
                    on_this_printer[reference.material_id].exposure_s,
                    names[reference.material_id],
                    printers[source.printer_id].name,
                    target.name,
                )
            )
        lit = light_ratio(work, source.printer_id, printer_id)
        if lit is not None:
            found_transfers.append(
                by_light_meter(source.exposure_s, *lit, printers[source.printer_id].name, target.name)
            )
    missing = (
        None
        if found_transfers
        else "It needs this material calibrated on another printer, and a resin calibrated on both."
    )
    return TransferView(transfers=found_transfers, missing=missing)


def light_ratio(work: UnitOfWork, first: str, other: str) -> tuple[float, float] | None:
    """Mean light of two plates by their light-meter maps, in the meter's unit."""
    maps = [plates.newest_map(work.db, p) for p in (first, other)]
    means = []
    for light_map in maps:
        if light_map is None or light_map.source != "light meter":
            return None
        flat = [v for row in light_map.readings for v in row]
        means.append(sum(flat) / len(flat))
    return means[0], means[1]
