"""Climate: probes, their trace and imports, chambers, warm starts, flow, and what temperature does."""

from __future__ import annotations

from typing import Any

from flask import request
from pydantic import AwareDatetime, Field

from ..core.contract import Contract
from ..services.climate import chambers, effect, flow, gate, imports, probes, trace, warm_starts
from ..services.lab import jobs
from ..services.unit_of_work import iso
from ..store.climate.warm_starts import FlowReading, Heater, KnownMaterial, PrintedMaterial
from .lab.jobs import wake
from .wiring import Blueprint, list_of, takes, work

blueprint = Blueprint("climate", __name__, url_prefix="/api", tag="Climate")


class FileQuery(Contract):
    """The name of a logger's file."""

    name: str = Field("log.csv", max_length=300, description="Of the file, as the person knows it")


class HowWarmQuery(Contract):
    """The place whose temperature is asked for."""

    printer_id: str = Field(max_length=40)
    at: AwareDatetime | None = Field(None, description="A moment in the past; now when not given")


@blueprint.get("/probes")
@blueprint.output(list_of(probes.ProbeView))
def all_probes() -> Any:
    """Probes with their newest samples."""
    return {"items": probes.probes(work())}


@blueprint.get("/probe-drivers")
@blueprint.output(list_of(probes.ProbeDriver))
def probe_drivers() -> Any:
    """Ways a probe can be read."""
    return {"items": probes.drivers()}


@blueprint.post("/probes")
@takes(blueprint, probes.ProbeInput)
@blueprint.output(probes.ProbeView, status_code=201)
def add_probe(body: probes.ProbeInput) -> Any:
    """Add a probe."""
    return probes.add(work(), body)


@blueprint.put("/probes/<probe_id>")
@takes(blueprint, probes.ProbeInput)
@blueprint.output(probes.ProbeView)
def change_probe(probe_id: str, body: probes.ProbeInput) -> Any:
    """Change a probe."""
    return probes.change(work(), probe_id, body)


@blueprint.post("/probes/<probe_id>/retire")
@blueprint.output(probes.ProbeView)
def retire_probe(probe_id: str) -> Any:
    """Take a probe out of the lists."""
    return probes.retire(work(), probe_id)


@blueprint.post("/probes/<probe_id>/restore")
@blueprint.output(probes.ProbeView)
def restore_probe(probe_id: str) -> Any:
    """Bring a retired probe back."""
    return probes.retire(work(), probe_id, back=True)


@blueprint.post("/probes/<probe_id>/samples")
@takes(blueprint, probes.SampleInput)
@blueprint.output(probes.ProbeView, status_code=201)
def note_sample(probe_id: str, body: probes.SampleInput) -> Any:
    """Note a temperature read by eye."""
    return probes.note_sample(work(), probe_id, body)


@blueprint.post("/probes/<probe_id>/read")
@blueprint.output(probes.ProbeView)
def read_probe(probe_id: str) -> Any:
    """Read a probe that is connected."""
    return probes.read_now(work(), probe_id)


@blueprint.get("/probes/<probe_id>/trace")
@takes(blueprint, trace.TraceQuery, "query")
@blueprint.output(trace.TraceView)
def probe_trace(probe_id: str, query: trace.TraceQuery) -> Any:
    """Temperatures of a probe over time, with its excursions and what was done."""
    return trace.trace(work(), probe_id, query)


@blueprint.get("/room")
@blueprint.output(probes.RoomNow)
def room() -> Any:
    """The temperature of the room now."""
    return probes.room_now(work())


@blueprint.get("/how-warm")
@takes(blueprint, HowWarmQuery, "query")
@blueprint.output(probes.HowWarmAnswer)
def how_warm(query: HowWarmQuery) -> Any:
    """The freshest temperature of a place."""
    unit = work()
    if query.at is not None:
        return {"now": probes.how_warm_at(unit, query.printer_id, iso(query.at)), "last": None}
    return {"now": probes.how_warm(unit, query.printer_id), "last": probes.last_start(unit, query.printer_id)}


@blueprint.post("/probe-files")
@takes(blueprint, FileQuery, "query")
@blueprint.output(imports.FileView, status_code=201)
@blueprint.doc(description="The file itself is the body of the request.")
def receive_file(query: FileQuery) -> Any:
    """Receive a logger's file, and say how it may be read."""
    # The service measures it as it arrives, and says what to do in its own words.
    request.max_content_length = None
    return imports.receive(work(), query.name, request.stream, request.content_length)


@blueprint.get("/probe-files/<file_id>")
@blueprint.output(imports.FileView)
def probe_file(file_id: str) -> Any:
    """A file that was received, with its columns."""
    return imports.file(work(), file_id)


@blueprint.post("/probes/<probe_id>/imports")
@takes(blueprint, imports.ImportInput)
@blueprint.output(jobs.JobView, status_code=201)
def import_samples(probe_id: str, body: imports.ImportInput) -> Any:
    """Import the samples of a received file, as a job."""
    job = jobs.import_samples(work(), probe_id, body)
    wake()
    return job


@blueprint.get("/heaters")
@blueprint.output(list_of(Heater))
def heaters() -> Any:
    """Heaters on the shelf."""
    return {"items": chambers.heaters(work())}


@blueprint.post("/heaters")
@takes(blueprint, chambers.HeaterInput)
@blueprint.output(Heater, status_code=201)
def add_heater(body: chambers.HeaterInput) -> Any:
    """Add a heater."""
    return chambers.add_heater(work(), body)


@blueprint.put("/heaters/<heater_id>")
@takes(blueprint, chambers.HeaterInput)
@blueprint.output(Heater)
def change_heater(heater_id: str, body: chambers.HeaterInput) -> Any:
    """Change a heater."""
    return chambers.change_heater(work(), heater_id, body)


@blueprint.get("/chamber-fits")
@blueprint.output(list_of(chambers.ChamberFit))
def chamber_fits() -> Any:
    """How the chambers answered to heaters."""
    return {"items": chambers.fits(work())}


@blueprint.post("/chamber-fits")
@takes(blueprint, chambers.FitInput)
@blueprint.output(chambers.ChamberFit, status_code=201)
def fit_chamber(body: chambers.FitInput) -> Any:
    """Learn a chamber from a logged warming."""
    return chambers.fit(work(), body)


@blueprint.post("/chamber-fits/<fit_id>/withdraw")
@blueprint.output(chambers.ChamberFit)
def withdraw_fit(fit_id: str) -> Any:
    """Withdraw what was learnt of a chamber."""
    return chambers.withdraw(work(), fit_id)


@blueprint.post("/chamber-fits/<fit_id>/restore")
@blueprint.output(chambers.ChamberFit)
def restore_fit(fit_id: str) -> Any:
    """Let a withdrawn fit count again."""
    return chambers.withdraw(work(), fit_id, back=True)


@blueprint.post("/warm-starts/quote")
@takes(blueprint, warm_starts.WarmStartAsked)
@blueprint.output(warm_starts.WarmStartQuote)
def quote_warm_start(body: warm_starts.WarmStartAsked) -> Any:
    """The steps of a warm start, before it is begun."""
    return warm_starts.quote(work(), body)


@blueprint.get("/warm-starts")
@blueprint.output(list_of(warm_starts.WarmStartView))
def past_warm_starts() -> Any:
    """Warm starts, newest first."""
    return {"items": warm_starts.past(work())}


@blueprint.post("/warm-starts")
@takes(blueprint, warm_starts.WarmStartAsked)
@blueprint.output(warm_starts.WarmStartView, status_code=201)
def begin_warm_start(body: warm_starts.WarmStartAsked) -> Any:
    """Begin a warm start."""
    return warm_starts.begin(work(), body)


@blueprint.get("/warm-starts/<id_or_code>")
@blueprint.output(warm_starts.WarmStartView)
def warm_start(id_or_code: str) -> Any:
    """One warm start with its steps."""
    return warm_starts.one(work(), id_or_code)


@blueprint.post("/warm-starts/<id_or_code>/stop")
@blueprint.output(warm_starts.WarmStartView)
def stop_warm_start(id_or_code: str) -> Any:
    """Stop a warm start."""
    return warm_starts.stop(work(), id_or_code)


@blueprint.get("/materials/<material_id>/flow")
@takes(blueprint, flow.FlowQuery, "query")
@blueprint.output(flow.FlowView)
def material_flow(material_id: str, query: flow.FlowQuery) -> Any:
    """How a material flows over temperature."""
    return flow.flow(work(), material_id, query)


@blueprint.post("/flow-readings")
@takes(blueprint, flow.FlowInput)
@blueprint.output(FlowReading, status_code=201)
def add_flow(body: flow.FlowInput) -> Any:
    """Note a viscosity or a flow time."""
    return flow.add(work(), body)


@blueprint.post("/flow-readings/<reading_id>/withdraw")
@takes(blueprint, flow.Withdrawal)
@blueprint.output(flow.FlowReadingState)
def withdraw_flow(reading_id: str, body: flow.Withdrawal) -> Any:
    """Withdraw a reading of flow, with a reason."""
    return flow.withdraw(work(), reading_id, body)


@blueprint.post("/flow-readings/<reading_id>/restore")
@blueprint.output(flow.FlowReadingState)
def restore_flow(reading_id: str) -> Any:
    """Let a withdrawn reading of flow count again."""
    return flow.withdraw(work(), reading_id, None)


@blueprint.get("/climate-materials")
@blueprint.output(list_of(KnownMaterial))
def climate_materials() -> Any:
    """Materials with what is known of their climate."""
    return {"items": effect.materials(work())}


@blueprint.get("/printed-materials")
@blueprint.output(list_of(PrintedMaterial))
def printed_materials() -> Any:
    """Materials that were printed at known temperatures."""
    return {"items": effect.printed(work())}


@blueprint.get("/materials/<material_id>/temperature-effect")
@blueprint.output(effect.EffectView)
def temperature_effect(material_id: str) -> Any:
    """How the exposure of a material changes with temperature."""
    return effect.effect(work(), material_id, drawn=True)


@blueprint.get("/materials/<material_id>/success")
@takes(blueprint, effect.SuccessQuery, "query")
@blueprint.output(effect.SuccessView)
def success(material_id: str, query: effect.SuccessQuery) -> Any:
    """How often prints of a material succeed, over temperature."""
    return effect.success(work(), material_id, query)


@blueprint.get("/band")
@takes(blueprint, gate.BandQuery, "query")
@blueprint.output(gate.BandCheck)
def band(query: gate.BandQuery) -> Any:
    """Whether a set may be printed at this temperature, and what may be done."""
    return gate.band(work(), query)
