"""Climate: probes, their trace and imports, chambers, warm starts, flow, and what temperature does."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import request
from pydantic import Field

from ..core.contract import Contract
from ..services import jobs
from ..services.climate import chambers, effect, flow, gate, imports, probes, trace, warm_starts
from .jobs import wake
from .wiring import bench, list_of, takes

blueprint = APIBlueprint("climate", __name__, url_prefix="/api", tag="Climate")


class FileQuery(Contract):
    name: str = Field("log.csv", max_length=300, description="Of the file, as the person knows it")


class HowWarmQuery(Contract):
    printer_id: str = Field(max_length=40)


@blueprint.get("/probes")
@blueprint.output(list_of(probes.ProbeView))
def all_probes() -> Any:
    return {"items": probes.probes(bench())}


@blueprint.post("/probes")
@takes(blueprint, probes.ProbeInput)
@blueprint.output(probes.ProbeView, status_code=201)
def add_probe(given: probes.ProbeInput) -> Any:
    return probes.add(bench(), given)


@blueprint.put("/probes/<probe_id>")
@takes(blueprint, probes.ProbeInput)
@blueprint.output(probes.ProbeView)
def change_probe(probe_id: str, given: probes.ProbeInput) -> Any:
    return probes.change(bench(), probe_id, given)


@blueprint.post("/probes/<probe_id>/retire")
@blueprint.output(probes.ProbeView)
def retire_probe(probe_id: str) -> Any:
    return probes.retire(bench(), probe_id)


@blueprint.post("/probes/<probe_id>/restore")
@blueprint.output(probes.ProbeView)
def restore_probe(probe_id: str) -> Any:
    return probes.retire(bench(), probe_id, back=True)


@blueprint.post("/probes/<probe_id>/samples")
@takes(blueprint, probes.SampleInput)
@blueprint.output(probes.ProbeView, status_code=201)
def note_sample(probe_id: str, given: probes.SampleInput) -> Any:
    return probes.note_sample(bench(), probe_id, given)


@blueprint.post("/probes/<probe_id>/read")
@blueprint.output(probes.ProbeView)
def read_probe(probe_id: str) -> Any:
    return probes.read_now(bench(), probe_id)


@blueprint.get("/probes/<probe_id>/trace")
@takes(blueprint, trace.TraceQuery, "query")
@blueprint.output(trace.TraceView)
def probe_trace(probe_id: str, given: trace.TraceQuery) -> Any:
    return trace.trace(bench(), probe_id, given)


@blueprint.get("/room")
@blueprint.output(probes.RoomNow)
def room() -> Any:
    return probes.room_now(bench())


@blueprint.get("/how-warm")
@takes(blueprint, HowWarmQuery, "query")
@blueprint.output(probes.HowWarmAnswer)
def how_warm(given: HowWarmQuery) -> Any:
    held = bench()
    return {"now": probes.how_warm(held, given.printer_id), "last": probes.last_start(held, given.printer_id)}


@blueprint.post("/probe-files")
@takes(blueprint, FileQuery, "query")
@blueprint.output(imports.FileView, status_code=201)
@blueprint.doc(description="The file itself is the body of the request.")
def receive_file(given: FileQuery) -> Any:
    # The service measures it as it arrives, and says what to do in its own words.
    request.max_content_length = None
    return imports.receive(bench(), given.name, request.stream, request.content_length)


@blueprint.get("/probe-files/<file_id>")
@blueprint.output(imports.FileView)
def probe_file(file_id: str) -> Any:
    return imports.file(bench(), file_id)


@blueprint.post("/probes/<probe_id>/imports")
@takes(blueprint, imports.ImportInput)
@blueprint.output(jobs.JobView, status_code=201)
def import_samples(probe_id: str, given: imports.ImportInput) -> Any:
    made = jobs.import_samples(bench(), probe_id, given)
    wake()
    return made


@blueprint.get("/heaters")
@blueprint.output(list_of(chambers.HeaterView))
def heaters() -> Any:
    return {"items": chambers.heaters(bench())}


@blueprint.post("/heaters")
@takes(blueprint, chambers.HeaterInput)
@blueprint.output(chambers.HeaterView, status_code=201)
def add_heater(given: chambers.HeaterInput) -> Any:
    return chambers.add_heater(bench(), given)


@blueprint.put("/heaters/<heater_id>")
@takes(blueprint, chambers.HeaterInput)
@blueprint.output(chambers.HeaterView)
def change_heater(heater_id: str, given: chambers.HeaterInput) -> Any:
    return chambers.change_heater(bench(), heater_id, given)


@blueprint.get("/chamber-fits")
@blueprint.output(list_of(chambers.ChamberFit))
def chamber_fits() -> Any:
    return {"items": chambers.fits(bench())}


@blueprint.post("/chamber-fits")
@takes(blueprint, chambers.FitInput)
@blueprint.output(chambers.ChamberFit, status_code=201)
def fit_chamber(given: chambers.FitInput) -> Any:
    return chambers.fit(bench(), given)


@blueprint.post("/chamber-fits/<fit_id>/withdraw")
@blueprint.output(chambers.ChamberFit)
def withdraw_fit(fit_id: str) -> Any:
    return chambers.withdraw(bench(), fit_id)


@blueprint.post("/chamber-fits/<fit_id>/restore")
@blueprint.output(chambers.ChamberFit)
def restore_fit(fit_id: str) -> Any:
    return chambers.withdraw(bench(), fit_id, back=True)


@blueprint.post("/warm-starts/quote")
@takes(blueprint, warm_starts.WarmStartAsked)
@blueprint.output(warm_starts.WarmStartQuote)
def quote_warm_start(given: warm_starts.WarmStartAsked) -> Any:
    return warm_starts.quote(bench(), given)


@blueprint.get("/warm-starts")
@blueprint.output(list_of(warm_starts.WarmStartView))
def past_warm_starts() -> Any:
    return {"items": warm_starts.past(bench())}


@blueprint.post("/warm-starts")
@takes(blueprint, warm_starts.WarmStartAsked)
@blueprint.output(warm_starts.WarmStartView, status_code=201)
def begin_warm_start(given: warm_starts.WarmStartAsked) -> Any:
    return warm_starts.begin(bench(), given)


@blueprint.get("/warm-starts/<id_or_code>")
@blueprint.output(warm_starts.WarmStartView)
def warm_start(id_or_code: str) -> Any:
    return warm_starts.one(bench(), id_or_code)


@blueprint.post("/warm-starts/<id_or_code>/stop")
@blueprint.output(warm_starts.WarmStartView)
def stop_warm_start(id_or_code: str) -> Any:
    return warm_starts.stop(bench(), id_or_code)


@blueprint.get("/materials/<material_id>/flow")
@takes(blueprint, flow.FlowQuery, "query")
@blueprint.output(flow.FlowView)
def material_flow(material_id: str, given: flow.FlowQuery) -> Any:
    return flow.flow(bench(), material_id, given)


@blueprint.post("/flow-readings")
@takes(blueprint, flow.FlowInput)
@blueprint.output(flow.FlowReading, status_code=201)
def add_flow(given: flow.FlowInput) -> Any:
    return flow.add(bench(), given)


@blueprint.post("/flow-readings/<reading_id>/withdraw")
@takes(blueprint, flow.Withdrawal)
@blueprint.output(flow.FlowReadingState)
def withdraw_flow(reading_id: str, given: flow.Withdrawal) -> Any:
    return flow.withdraw(bench(), reading_id, given)


@blueprint.post("/flow-readings/<reading_id>/restore")
@blueprint.output(flow.FlowReadingState)
def restore_flow(reading_id: str) -> Any:
    return flow.withdraw(bench(), reading_id, None)


@blueprint.get("/climate-materials")
@blueprint.output(list_of(effect.ClimateMaterial))
def climate_materials() -> Any:
    return {"items": effect.materials(bench())}


@blueprint.get("/printed-materials")
@blueprint.output(list_of(effect.PrintedMaterial))
def printed_materials() -> Any:
    return {"items": effect.printed(bench())}


@blueprint.get("/materials/<material_id>/temperature-effect")
@blueprint.output(effect.EffectView)
def temperature_effect(material_id: str) -> Any:
    return effect.effect(bench(), material_id, drawn=True)


@blueprint.get("/materials/<material_id>/success")
@takes(blueprint, effect.SuccessQuery, "query")
@blueprint.output(effect.SuccessView)
def success(material_id: str, given: effect.SuccessQuery) -> Any:
    return effect.success(bench(), material_id, given)


@blueprint.get("/band")
@takes(blueprint, gate.BandQuery, "query")
@blueprint.output(gate.BandCheck)
def band(given: gate.BandQuery) -> Any:
    return gate.band(bench(), given)
