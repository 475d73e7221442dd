"""What becomes of a row of a foreign table, by the kind of table: checked first, kept when the whole table is taken."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ...core.contract import Problem
from ...core.earlier.columns import RowRead, Value
from ...core.printing.settings import Settings
from ...core.testing.methods import PROPERTIES
from ...store import earlier as store
from ..prints import imported
from ..unit_of_work import UnitOfWork, View
from . import provisional, results

Names = dict[str, dict[str, str]]
"""Ids by name in small letters, by field; an empty id leaves a row out."""
TABLES_OF_NAMES = {"material": "material", "printer": "printer"}
FIELDS_WITH_NAMES: Mapping[str, tuple[str, ...]] = {
    "settings": ("material", "printer"),
    "results": ("material", "property"),
    "prints": ("material", "printer"),
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
        key: (results.property_names() if key == "property" else store.ids_by_name(work.db, TABLES_OF_NAMES[key]))
        | {name.strip().lower(): meant for name, meant in chosen.get(key, {}).items()}
        for key in FIELDS_WITH_NAMES.get(kind, ())
    }


def choices(work: UnitOfWork, kind: str) -> dict[str, list[Any]]:
    """What names may mean, by field, in the order of the alphabet."""
    return {key: _choices(work, key) for key in FIELDS_WITH_NAMES.get(kind, ())}


def _choices(work: UnitOfWork, key: str) -> list[NamedThing]:
    if key == "property":
        return [NamedThing(id=one, name=f"{method.name}: {prop.name}") for one, (method, prop) in PROPERTIES.items()]
    return [NamedThing(id=row.id, name=row.name) for row in store.named(work.db, TABLES_OF_NAMES[key])]


def is_left_out(row: RowRead, names: Names) -> bool:
    """Whether somebody said to leave out rows of a name in it."""
    return any(names[key].get(str(row.values.get(key)).strip().lower()) == "" for key in names)


def _id(names: Names, key: str, values: Mapping[str, Value]) -> str:
    name = str(values.get(key) or "").strip()
    found = names[key].get(name.lower())
    if not found:
        raise Problem(f"No {key} is called “{name}”.", {key: f"No {key} is called “{name}”: say which it is."})
    return found


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
    """A print of parts, as it came out."""
    day = str(values["printed_at"])
    request = imported.ImportedPrint.model_validate(
        {
            "material_id": _id(names, "material", values),
            "printer_id": _id(names, "printer", values),
            "printed_at": f"{day}:00Z" if "T" in day else f"{day}T12:00:00Z",
            "exposure_s": values.get("exposure_s"),
            "layer_height_um": values.get("layer_height_um") or USUAL_LAYER_UM,
            "part": values.get("part") or "part",
            "parts": int(float(values.get("parts") or 1)),
            "outcome": values["outcome"],
            "volume_ml": values.get("volume_ml") or 0,
            "minutes": values.get("minutes") or 0,
            "temp_c": values.get("temp_c"),
            "note": values.get("note") or "",
        }
    )
    imported.check(work, request)
    at = f" at {request.exposure_s:g} s" if request.exposure_s is not None else ""
    words = f"{day}: {request.parts} {request.part}, {values['material']} on {values['printer']}{at}: {request.outcome}"

    def keep(table: tuple[str, int]) -> None:
        imported.keep(work, request, store.code_of_table(work.db, table[0]), table[1])

    return Taken(words, keep, may_repeat=True)


TAKES: dict[str, Callable[[UnitOfWork, dict[str, Value], Names], Taken]] = {
    "settings": settings_row,
    "results": results_row,
    "prints": prints_row,
}
