"""The climate of Skerry Point: three probes, a heater, one logged heating, flow of two resins, and a year of prints."""

from __future__ import annotations

from datetime import datetime, timedelta

from ..services.climate import chambers, flow, probes
from ..services.prints import print_log
from ..services.prints.parts import CountedPart
from ..simulate.devices import Heating, ProbeSetting, SimulatedProbe
from ..store.climate import probes as store
from ..store.database import writing
from .shed import Shed

EVERY_S = 600
LOGGED_DAYS = 200
# Chamber of Cormorant with the panel heater: what the demo's heating curve hides.
LOSS_W_PER_K, HEAT_J_PER_K, PANEL_W = 1.7, 3900.0, 60.0
HEATED_S = 80 * 60
# Rinsewell on Gannet: °C of the resin at the start, prints begun, prints that came out whole.
YEAR_OF_PRINTS = ((9, 5, 1), (13, 6, 2), (16, 6, 4), (19, 8, 7), (22, 9, 9), (24, 8, 8), (26, 5, 5))
FLOW = {
    "Slate 2": ((8, 1050), (15, 610), (20, 425), (25, 300), (30, 225)),
    "Ironwrack": ((12, 4100), (18, 2500), (24, 1550), (29, 1120)),
}


def climate(lab: Shed, ids: dict[str, str]) -> None:
    now = lab.time
    lab.work_as("IM")
    _prints(lab, ids)
    lab.time = lab.now - timedelta(hours=20)
    _probes(lab, ids)
    _flow(lab, ids)
    lab.time = max(now, lab.time)


def _prints(lab: Shed, ids: dict[str, str]) -> None:
    """Covers and trays through the seasons, some begun too cold on purpose or in a hurry."""
    begun = [(temp, number < whole) for temp, printed, whole in YEAR_OF_PRINTS for number in range(printed)]
    lab.noise.shuffle(begun)
    for number, (temp, whole) in enumerate(begun):
        lab.time = lab.now - timedelta(days=270 - 5.2 * number)
        request = print_log.LogInput(
            printer_id=ids["Gannet"],
            set_code="S-003",
            temp_c=temp,
            temp_place="resin",
            volume_ml=8,
            parts=[CountedPart(name="tray cover", outcome="whole" if whole else "missing")],
            seen="" if whole else "First layers stayed in the vat.",
            outside_band="Not worth heating for one cover." if not 20.5 <= temp <= 27.5 else "",
        )
        printed = print_log.log(lab.work, request)
        if not whole:
            lab.pass_time(minutes=20)
            print_log.vat_searched(lab.work, printed.id)


def _probes(lab: Shed, ids: dict[str, str]) -> None:
    heater = chambers.add_heater(lab.work, chambers.HeaterInput(name="Panel heater", watts=PANEL_W, cut_out=True))
    chambers.add_heater(lab.work, chambers.HeaterInput(name="Old fan heater", watts=400, cut_out=False))
    heating = Heating(
        _heated_at(lab).timestamp(),
        _heated_at(lab).timestamp() + HEATED_S,
        60.0,
        6.5 + PANEL_W / LOSS_W_PER_K,
        HEAT_J_PER_K / LOSS_W_PER_K,
    )
    probe_views: list[probes.ProbeView] = []
    for name, place, printer, heatings in (
        ("Shed wall", "room", None, ()),
        ("Cormorant chamber", "chamber air", "Cormorant", (heating,)),
        ("Cormorant resin", "resin", "Cormorant", ()),
    ):
        request = probes.ProbeInput.model_validate(
            {"name": name, "place": place, "printer_id": ids[printer] if printer else None, "driver": "simulated"}
        )
        probe = probes.add(lab.work, request)
        _log(lab, probe.id, SimulatedProbe(ProbeSetting(place, len(probe_views) + 1, heatings, lab.days_moved)))
        probe_views.append(probe)
    fitted = chambers.FitInput(
        probe_id=probe_views[1].id,
        heater_id=heater.id,
        from_at=_text(_heated_at(lab)),
        to_at=_text(_heated_at(lab) + timedelta(seconds=HEATED_S)),
    )
    chambers.fit(lab.work, fitted)


def _log(lab: Shed, probe_id: str, driver: SimulatedProbe) -> None:
    """Every ten minutes for half a year; every minute in the last three days."""
    end = int(lab.now.timestamp())
    close = end - 3 * 86_400
    moments = [*range(end - LOGGED_DAYS * 86_400, close, EVERY_S), *range(close, end + 1, 60)]
    samples = [
        (at, reading.temp_c, reading.humidity_pct)
        for at, reading in zip(moments, driver.readings(moments), strict=True)
    ]
    row = store.probe(lab.work.db, probe_id)
    assert row is not None
    with writing(lab.work.db):
        # Adding it read it once, at a moment the clock of the demo happened to stand at.
        store.remove_samples(lab.work.db, row.number)
        store.add_samples(lab.work.db, row.number, samples)
        store.sum_up(lab.work.db, row.number, moments[0], moments[-1])


def _flow(lab: Shed, ids: dict[str, str]) -> None:
    for name, readings in FLOW.items():
        for temp_c, value in readings:
            lab.pass_time(minutes=12)
            flow.add(lab.work, flow.FlowInput(material_id=ids[name], temp_c=temp_c, value=value))


def _heated_at(lab: Shed) -> datetime:
    return lab.on_day(-2, 13, 0)


def _text(at: datetime) -> str:
    return at.strftime("%Y-%m-%dT%H:%M:%SZ")
