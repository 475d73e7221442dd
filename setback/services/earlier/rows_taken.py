"""What becomes of a row of a foreign table, by the kind of table: checked first, kept when the whole table is taken."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime

from ...core.contract import Problem
from ...core.earlier.columns import RowRead, Value
from ...core.printing.settings import Settings
from ...core.testing.methods import PROPERTIES
from ...store import earlier as store
from ...store.climate import probes
from ..prints import imported
from ..prints.parts import CountedPart, counted, outcome_of
from ..unit_of_work import UnitOfWork, View
from . import pours, provisional, results

Names = dict[str, dict[str, str]]
"""Ids by name in small letters, by field; an empty id leaves a row out."""
FIELDS_WITH_NAMES: Mapping[str, tuple[str, ...]] = {
    "settings": ("material", "printer"),
    "results": ("material", "property"),
    "prints": ("material", "printer"),
    "pours": ("bottle", "printer"),
    "temperatures": ("probe",),
}
USUAL_LAYER_UM = 50.0


@dataclass(frozen=True)
class Taken:
    """A row that can be kept: in words, and how."""

    words: str
    keep: Callable[[tuple[str, int]], None]
    may_repeat: bool = False
    """Whether the same may stand in several rows, as raw values do."""


class NamedThing(View):
    """Something on the shelf that a name may mean."""

    id: str
    name: str


def known_names(work: UnitOfWork, kind: str, chosen: Mapping[str, Mapping[str, str]]) -> Names:
    """Names of the shelf, and what a person said that others mean."""
    return {
        key: (results.property_names() if key == "property" else store.ids_by_name(work.db, key))
        | {name.strip().lower(): meant for name, meant in chosen.get(key, {}).items()}
        for key in FIELDS_WITH_NAMES.get(kind, ())
    }


def choices(work: UnitOfWork, kind: str) -> dict[str, list[NamedThing]]:
    """What names may mean, by field, in the order of the alphabet."""
    return {key: _choices(work, key) for key in FIELDS_WITH_NAMES.get(kind, ())}


def _choices(work: UnitOfWork, key: str) -> list[NamedThing]:
    if key == "property":
        return [
            NamedThing(id=key_of_property, name=f"{method.name}: {prop.name}")
            for key_of_property, (method, prop) in PROPERTIES.items()
        ]
    return [NamedThing(id=row.id, name=row.name) for row in store.named(work.db, key)]


def is_left_out(row: RowRead, names: Names) -> bool:
    """Whether somebody said to leave out rows of a name in it."""
    return any(names[key].get(str(row.values.get(key)).strip().lower()) == "" for key in names)


def _id(names: Names, key: str, values: Mapping[str, Value]) -> str:
    name = str(values.get(key) or "").strip()
    known_id = names[key].get(name.lower())
    if not known_id:
        raise Problem(f"No {key} is called “{name}”.", {key: f"No {key} is called “{name}”: say which it is."})
    return known_id


def settings_row(work: UnitOfWork, values: dict[str, Value], names: Names) -> Taken:
    """Settings in use."""
    stated = {name: values[name] for name in Settings.model_fields if values.get(name) is not None}
    request = provisional.ProvisionalInput.model_validate(
        {
            "material_id": _id(names, "material", values),
            "printer_id": _id(names, "printer", values),
            "layer_height_um": values.get("layer_height_um") or USUAL_LAYER_UM,
            "exposure_s": values["exposure_s"],
            "settings": stated,
            "tip_mm": values.get("tip_mm"),
            "source": values.get("source") or "own habit",
            "in_use_since": str(values["in_use_since"])[:10] if values.get("in_use_since") else None,
            "note": values.get("note") or "",
        }
    )
    provisional.check(work, request)
    words = (
        f"{values['material']} on {values['printer']}, {request.layer_height_um:g} µm: {request.exposure_s:g} s"
        f"{f', base {request.settings.base_exposure_s:g} s' if 'base_exposure_s' in stated else ''}"
    )

    def keep(table: tuple[str, int]) -> None:
        provisional.keep(work, request, table)

    return Taken(words, keep)


def results_row(work: UnitOfWork, values: dict[str, Value], names: Names) -> Taken:
    """A value of a property, or a mean with its number and spread."""
    key = _id(names, "property", values)
    method, prop = PROPERTIES[key]
    request = results.EarlierResultInput.model_validate(
        {
            "material_id": _id(names, "material", values),
            "property": key,
            "value": values["value"],
            "n": int(float(values.get("n") or 1)),
            "sd": values.get("sd"),
            "measured_on": values.get("measured_on"),
            "note": values.get("note") or "",
        }
    )
    spread = f", sd {request.sd:g}" if request.sd is not None else ""
    words = f"{values['material']}, {method.name}: {prop.name} {request.value:g} {prop.unit}, n = {request.n}{spread}"
    on = f", {request.measured_on}" if request.measured_on else ""

    def keep(table: tuple[str, int]) -> None:
        results.keep(work, request, table)

    return Taken(words + on, keep, may_repeat=True)


def prints_row(work: UnitOfWork, values: dict[str, Value], names: Names) -> Taken:
    """A print of parts, as it came out: told in a word, or by how many of them were whole."""
    printed, whole = int(float(values.get("parts") or 1)), values.get("whole")
    if whole is None and values.get("outcome") is None:
        message = "Say how it came out, or how many came out whole."
        raise Problem(message, {"outcome": message})
    part = CountedPart(name="part", printed=printed, whole=None if whole is None else int(float(whole)))
    if part.whole is not None and part.whole > printed:
        message = f"{part.whole} whole of {printed}: more than were printed."
        raise Problem(message, {"whole": message})
    day = str(values["printed_at"])
    request = imported.ImportedPrint.model_validate(
        {
            "material_id": _id(names, "material", values),
            "printer_id": _id(names, "printer", values),
            "printed_at": day if "T" in day else f"{day}T12:00:00Z",
            "exposure_s": values.get("exposure_s"),
            "layer_height_um": values.get("layer_height_um") or USUAL_LAYER_UM,
            "part": values.get("part") or "part",
            "parts": printed,
            "whole": part.whole,
            "outcome": values["outcome"] if whole is None else outcome_of(counted([part], [])),
            "volume_ml": values.get("volume_ml") or 0,
            "minutes": values.get("minutes") or 0,
            "temp_c": values.get("temp_c"),
            "note": values.get("note") or "",
        }
    )
    imported.check(work, request)
    at = f" at {request.exposure_s:g} s" if request.exposure_s is not None else ""
    words = f"{day[:10]}: {request.parts} {request.part}, {values['material']} on {values['printer']}{at}: {request.outcome}"

    def keep(table: tuple[str, int]) -> None:
        imported.keep(work, request, store.code_of_table(work.db, table[0]), table[1])

    return Taken(words, keep, may_repeat=True)


def pours_row(work: UnitOfWork, values: dict[str, Value], names: Names) -> Taken:
    """Resin that was poured out of a bottle."""
    day = str(values["poured_at"])
    request = pours.EarlierPourInput.model_validate(
        {
            "bottle_id": _id(names, "bottle", values),
            "printer_id": _id(names, "printer", values) if values.get("printer") else None,
            "volume_ml": values["volume_ml"],
            "poured_at": day if "T" in day else f"{day}T12:00:00Z",
            "note": values.get("note") or "",
        }
    )
    if request.poured_at > work.now():
        message = "That day has not come yet."
        raise Problem(message, {"poured_at": message})
    where = f" into the vat of {values['printer']}" if request.printer_id else ""

    def keep(table: tuple[str, int]) -> None:
        pours.keep(work, request, table)

    return Taken(f"{day[:10]}: {request.volume_ml:g} ml of {values['bottle']}{where}", keep, may_repeat=True)


def temperatures_row(work: UnitOfWork, values: dict[str, Value], names: Names) -> Taken:
    """One temperature of one probe."""
    at, temp_c, humidity = str(values["at"]), float(values["temp_c"] or 0), values.get("humidity_pct")
    if "T" not in at:
        message = "It has a day and no time."
        raise Problem(message, {"at": message})
    if at > work.now():
        message = "That moment has not come yet."
        raise Problem(message, {"at": message})
    probe_id = _id(names, "probe", values)

    def keep(_: tuple[str, int]) -> None:
        probe = probes.probe(work.db, probe_id)
        if probe is not None:
            second = int(datetime.fromisoformat(at).timestamp())
            pct = None if humidity is None else float(humidity)
            if probes.add_samples(work.db, probe.number, [(second, temp_c, pct)]):
                probes.sum_up(work.db, probe.number, second, second)

    return Taken(f"{at}: {temp_c:g} °C, {values['probe']}", keep, may_repeat=True)


TAKES: dict[str, Callable[[UnitOfWork, dict[str, Value], Names], Taken]] = {
    "settings": settings_row,
    "results": results_row,
    "prints": prints_row,
    "pours": pours_row,
    "temperatures": temperatures_row,
}
