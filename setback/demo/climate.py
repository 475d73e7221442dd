"""The climate of Skerry Point: three probes, a heater, one logged heating, flow of two resins, and a year of prints."""

from __future__ import annotations

from datetime import datetime, timedelta

from ..services import print_log
from ..services.climate import chambers, flow, probes
from ..simulate.devices import Heating, ProbeSetting, SimulatedProbe
from ..store import probes as store
from ..store.database import writing
from .shed import DEMO_NOW, Shed

EVERY_S = 600
LOGGED_DAYS = 200
# Chamber of Cormorant with the panel heater: what the demo's heating curve hides.
LOSS_W_PER_K, HEAT_J_PER_K, PANEL_W = 1.7, 3900.0, 60.0
HEATED_AT = DEMO_NOW.replace(day=19, hour=13, minute=0)
HEATED_S = 80 * 60
# Rinsewell on Gannet: °C of the resin at the start, prints begun, prints that came out whole.
YEAR_OF_PRINTS = ((9, 5, 1), (13, 6, 2), (16, 6, 4), (19, 8, 7), (22, 9, 9), (24, 8, 8), (26, 5, 5))
FLOW = {
    "Slate 2": ((8, 1050), (15, 610), (20, 425), (25, 300), (30, 225)),
    "Ironwrack": ((12, 4100), (18, 2500), (24, 1550), (29, 1120)),
}


def climate(shed: Shed, ids: dict[str, str]) -> None:
    now = shed.time
    shed.work_as("IM")
    _prints(shed, ids)
    shed.time = DEMO_NOW - timedelta(hours=20)
    _probes(shed, ids)
    _flow(shed, ids)
    shed.time = max(now, shed.time)


def _prints(shed: Shed, ids: dict[str, str]) -> None:
    """Covers and trays through the seasons, some begun too cold on purpose or in a hurry."""
    begun = [(temp, number < whole) for temp, made, whole in YEAR_OF_PRINTS for number in range(made)]
    shed.noise.shuffle(begun)
    for number, (temp, whole) in enumerate(begun):
        shed.time = DEMO_NOW - timedelta(days=270 - 5.2 * number)
        given = print_log.LogInput(
            printer_id=ids["Gannet"], set_code="S-003", temp_c=temp, temp_place="resin", volume_ml=8,
            parts=[print_log.PrintedPartInput(name="tray cover", outcome="whole" if whole else "missing")],
            seen="" if whole else "First layers stayed in the vat.",
            outside_band="Not worth heating for one cover." if not 20.5 <= temp <= 27.5 else "",
        )  # fmt: skip
        made = print_log.log(shed.bench, given)
        if not whole:
            shed.pass_time(minutes=20)
            print_log.vat_searched(shed.bench, made.id)


def _probes(shed: Shed, ids: dict[str, str]) -> None:
    heater = chambers.add_heater(shed.bench, chambers.HeaterInput(name="Panel heater", watts=PANEL_W, cut_out=True))
    chambers.add_heater(shed.bench, chambers.HeaterInput(name="Old fan heater", watts=400, cut_out=False))
    heating = Heating(
        HEATED_AT.timestamp(), HEATED_AT.timestamp() + HEATED_S, 60.0, 6.5 + PANEL_W / LOSS_W_PER_K,
        HEAT_J_PER_K / LOSS_W_PER_K,
    )  # fmt: skip
    made: list[probes.ProbeView] = []
    for name, place, printer, heatings in (
        ("Shed wall", "room", None, ()),
        ("Cormorant chamber", "chamber air", "Cormorant", (heating,)),
        ("Cormorant resin", "resin", "Cormorant", ()),
    ):
        given = probes.ProbeInput.model_validate(
            {"name": name, "place": place, "printer_id": ids[printer] if printer else None, "driver": "simulated"}
        )
        probe = probes.add(shed.bench, given)
        _log(shed, probe.id, SimulatedProbe(ProbeSetting(place, len(made) + 1, heatings)))
        made.append(probe)
    fitted = chambers.FitInput(
        probe_id=made[1].id, heater_id=heater.id, from_at=_text(HEATED_AT),
        to_at=_text(HEATED_AT + timedelta(seconds=HEATED_S)),
    )  # fmt: skip
    chambers.fit(shed.bench, fitted)


def _log(shed: Shed, probe_id: str, driver: SimulatedProbe) -> None:
    """Every ten minutes for half a year; every minute in the last three days."""
    end = int(DEMO_NOW.timestamp())
    close = end - 3 * 86_400
    moments = [*range(end - LOGGED_DAYS * 86_400, close, EVERY_S), *range(close, end + 1, 60)]
    samples = []
    for at in moments:
        said = driver.read(datetime.fromtimestamp(at, DEMO_NOW.tzinfo))
        samples.append((at, said.temp_c, said.humidity_pct))
    row = store.probe(shed.bench.db, probe_id)
    assert row is not None
    with writing(shed.bench.db):
        # Adding it read it once, at a moment the clock of the demo happened to stand at.
        shed.bench.db.execute("DELETE FROM probe_sample WHERE probe = ?", (row.number,))
        shed.bench.db.execute("DELETE FROM probe_step WHERE probe = ?", (row.number,))
        store.add_samples(shed.bench.db, row.number, samples)
        store.sum_up(shed.bench.db, row.number, moments[0], moments[-1])


def _flow(shed: Shed, ids: dict[str, str]) -> None:
    for name, readings in FLOW.items():
        for temp_c, value in readings:
            shed.pass_time(minutes=12)
            flow.add(shed.bench, flow.FlowInput(material_id=ids[name], temp_c=temp_c, value=value))


def _text(at: datetime) -> str:
    return at.strftime("%Y-%m-%dT%H:%M:%SZ")
