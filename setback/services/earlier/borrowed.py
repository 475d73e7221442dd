"""Sets of other workshops: found in their bundle, mapped to a printer and material here, carried over, and never part of the chain."""

from __future__ import annotations

import hashlib
import json
from contextlib import suppress
from itertools import chain
from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, StringConstraints, ValidationError

from ...core.calibrate.borrowing import BorrowInput, SharedMaterial, borrow
from ...core.calibrate.working_curve import DepthPoint, WorkingCurveInput, working_curve
from ...core.contract import Contract, Problem
from ...report.bundle import BadBundle
from ...store import borrowed as store
from ...store import earlier, shelf
from ...store import plate as plates
from ...store.codes import next_code
from ...store.rows import insert, update
from .. import apart
from ..calibrate import prediction
from ..files import bundles
from ..reading.readings import Reason
from ..shelf.entry import Note, live_material
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .rows_taken import NamedThing

MOST_SETS = 2000
READING_SECONDS = 60.0


class TheirLab(View):
    """What another workshop's file tells: its sets, and what else can be compared."""

    sets: list[store.TheirSet]
    lights: dict[str, float] = Field(description="Mean of the plate by a light meter, by their printer")
    criticals: dict[str, float] = Field(description="Critical exposures by working curve, by “material on printer”")
    sha256: str = Field(description="Of the file")


class TheirSetFound(store.TheirSet):
    """A set of theirs with what it may be here."""

    material_id: str | None = Field(description="A material here of the same name")
    printer_id: str | None = Field(description="A printer here of the same name")
    borrowed_as: str | None = Field(description="Code it was borrowed under already")


class TheirSets(View):
    """Sets of another workshop's file, and what is on the shelf here to map them to."""

    items: list[TheirSetFound]
    materials: list[NamedThing]
    printers: list[NamedThing]


class BorrowSetInput(Contract):
    """Which set of theirs, and what it is here."""

    bundle_id: str = Field(max_length=40, pattern=r"^[0-9a-f-]{36}$", description="The received file")
    set_code: str = Field(max_length=20, description="Their code of the set")
    workshop: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    material_id: str = Field(max_length=40, description="The material here that it is")
    printer_id: str = Field(max_length=40, description="The printer here that it is for")
    same_materials: dict[str, str] = Field(
        {}, max_length=500, description="Ids of materials here, by their name of the same material"
    )
    note: Note = ""


class BorrowedQuery(Contract):
    """A page of the list, entered last first."""

    before: str = Field("", max_length=20, description="Code of the last one seen")
    limit: int = Field(200, ge=1, le=500)


class BorrowedWithdrawn(Contract):
    """Why a borrowed set no longer stands."""

    reason: Reason


def their_sets(work: UnitOfWork, bundle_id: str) -> TheirSets:
    """Sets in a file that was received, the newest version of each pair and layer height.

    Raises
    ------
    Problem
        When the file was changed on the way, or has no sets.
    """
    theirs = _their_lab(work, bundle_id)
    materials, printers = earlier.named(work.db, "material"), earlier.named(work.db, "printer")
    ids = {(kind, row.name.lower()): row.id for kind, rows in (("m", materials), ("p", printers)) for row in rows}
    borrowed_before = {(row.theirs.code, row.file_sha256): row.code for row in store.borrowed_sets(work.db, "", 500)}
    return TheirSets(
        items=[
            TheirSetFound(
                **row.model_dump(),
                material_id=ids.get(("m", row.material.lower())),
                printer_id=ids.get(("p", row.printer.lower())),
                borrowed_as=borrowed_before.get((row.code, theirs.sha256)),
            )
            for row in theirs.sets
        ],
        materials=[NamedThing(id=row.id, name=row.name) for row in materials],
        printers=[NamedThing(id=row.id, name=row.name) for row in printers],
    )


def put(work: UnitOfWork, request: BorrowSetInput) -> store.BorrowedSet:
    """Borrow a set: mapped, carried by what both have measured, kept with its source.

    Raises
    ------
    Problem
        When the file has no such set, or the material or printer does not exist here.
    """
    theirs = _their_lab(work, request.bundle_id)
    row = next((their_set for their_set in theirs.sets if their_set.code == request.set_code), None)
    if row is None:
        message = f"There is no set {request.set_code} in this file."
        raise Problem(message, {"set_code": message})
    material = live_material(work, request.material_id)
    printer = shelf.printer(work.db, request.printer_id)
    if printer is None or printer.retired_at is not None:
        message = (
            f"Their {row.printer} is no printer here: choose which of yours it is for, or add it to the shelf first."
        )
        raise Problem(message, {"printer_id": message})
    carried = borrow(_in_common(work, theirs, row, material.id, printer, request.same_materials))
    with work.write() as answer:
        code = next_code(work.db, "BS")
        insert(
            work.db,
            "borrowed_set",
            id=work.new_id(),
            code=code,
            workshop=request.workshop,
            theirs=row.model_dump(),
            file_sha256=theirs.sha256,
            material_id=material.id,
            printer_id=printer.id,
            layer_height_um=row.layer_height_um,
            exposure_s=carried.exposure_s,
            low_s=carried.interval_s[0],
            high_s=carried.interval_s[1],
            log_sd=carried.log_sd,
            carried=carried.carried_by,
            note=request.note,
            technician_id=work.technician().id,
            entered_at=work.now(),
        )
        return answer(present(store.borrowed(work.db, code), "borrowed set"))


def listed(work: UnitOfWork, query: BorrowedQuery) -> list[store.BorrowedSet]:
    """Those that stand, entered last first."""
    return store.borrowed_sets(work.db, query.before, query.limit)


def count(work: UnitOfWork) -> int:
    """How many stand."""
    return store.borrowed_count(work.db)


def borrowed_set(work: UnitOfWork, code: str) -> store.BorrowedSet:
    """One of them."""
    return present(store.borrowed(work.db, code), "borrowed set")


def withdraw(work: UnitOfWork, code: str, request: BorrowedWithdrawn) -> store.BorrowedSet:
    """Let it no longer be a source."""
    with work.write() as answer:
        row = present(store.borrowed(work.db, code), "borrowed set")
        if row.withdrawn_at is not None:
            raise Conflict(f"{code} was withdrawn already.")
        update(work.db, "borrowed_set", row.id, withdrawn_at=work.now(), withdrawn_reason=request.reason)
        return answer(present(store.borrowed(work.db, code), "borrowed set"))


def restore(work: UnitOfWork, code: str) -> store.BorrowedSet:
    """Undo a withdrawal."""
    with work.write() as answer:
        row = present(store.borrowed(work.db, code), "borrowed set")
        update(work.db, "borrowed_set", row.id, withdrawn_at=None, withdrawn_reason=None)
        return answer(present(store.borrowed(work.db, code), "borrowed set"))


def _in_common(
    work: UnitOfWork,
    theirs: TheirLab,
    row: store.TheirSet,
    material_id: str,
    printer: shelf.Printer,
    same_materials: dict[str, str],
) -> BorrowInput:
    """What both workshops have measured that tells the ratio of the two printers."""
    ids = earlier.ids_by_name(work.db, "material") | {
        name.lower(): their_set for name, their_set in same_materials.items()
    }
    beside = [
        (ids.get(their_set.material.lower()), their_set)
        for their_set in theirs.sets
        if their_set.printer == row.printer
        and their_set.layer_height_um == row.layer_height_um
        and their_set.code != row.code
    ]
    here = store.sets_here(work.db, printer.id, [one_id for one_id, _ in beside if one_id])
    shared = [
        SharedMaterial(
            name=their_set.material, there_s=their_set.exposure_s, here_s=here[one_id, their_set.layer_height_um]
        )
        for one_id, their_set in beside
        if one_id and one_id != material_id and (one_id, their_set.layer_height_um) in here
    ]
    light_map = plates.newest_map(work.db, printer.id)
    light_here = None
    if light_map is not None and light_map.source == "light meter":
        cells = list(chain.from_iterable(light_map.readings))
        light_here = sum(cells) / len(cells)
    curve = prediction.curves(work, material_id).get((material_id, printer.id))
    return BorrowInput(
        exposure_s=row.exposure_s,
        shared=shared,
        light_there=theirs.lights.get(row.printer),
        light_here=light_here,
        critical_there_s=theirs.criticals.get(f"{row.material} on {row.printer}"),
        critical_here_s=curve.critical_exposure_s if curve else None,
    )


def _their_lab(work: UnitOfWork, bundle_id: str) -> TheirLab:
    """The file read in a child: whatever it is, it is from outside."""
    path = bundles.path_of(work, bundle_id)
    told = apart.run(read_their_lab, str(path), field="file", seconds=READING_SECONDS)
    return TheirLab.model_validate(told)


def read_their_lab(path: str) -> dict[str, Any]:
    """In the child: sets of a bundle or a single set's file, with names, and light of their plates.

    Raises
    ------
    Problem
        When it is no bundle, was changed on the way, or has no sets.
    """
    try:
        file = bundles.opened(Path(path))
        try:
            tables = {name: list(file.rows(name)) if name in file.tables else [] for name in _NEEDED}
        finally:
            file.close()
    except BadBundle as error:
        raise Problem(str(error), {"file": str(error)}) from None
    try:
        theirs = _sets_of(tables)
        lights, criticals = _lights_of(tables), _criticals_of(tables)
    except (KeyError, TypeError, ValueError, ValidationError) as error:
        message = "Its sets are not as any Setback writes them. Nothing was read."
        raise Problem(message, {"file": message}) from error
    if not theirs:
        message = "There is no issued set in it."
        raise Problem(message, {"file": message})
    digest = hashlib.sha256(Path(path).read_bytes()).hexdigest()
    return {
        "sets": [row.model_dump() for row in theirs],
        "lights": lights,
        "criticals": criticals,
        "sha256": digest,
    }


_NEEDED = ("parameter_set", "material", "printer", "plate_map", "calibration", "depth_square", "depth_reading")


def _sets_of(tables: dict[str, list[dict[str, Any]]]) -> list[store.TheirSet]:
    names = {row["id"]: str(row["name"])[:120] for row in tables["material"]}
    printers = {row["id"]: row for row in tables["printer"]}
    newest: dict[tuple[str, str, float], dict[str, Any]] = {}
    for row in tables["parameter_set"][:MOST_SETS]:
        key = (row["material_id"], row["printer_id"], float(row["layer_height_um"]))
        if key not in newest or int(row["version"]) > int(newest[key]["version"]):
            newest[key] = row
    theirs = []
    for row in newest.values():
        window = (json.loads(row["result"]) or {}).get("window") or {}
        printer = printers[row["printer_id"]]
        theirs.append(
            store.TheirSet(
                code=str(row["code"])[:20],
                material=names[row["material_id"]],
                printer=str(printer["name"])[:120],
                light_engine=printer.get("light_engine"),
                pixel_um=printer.get("pixel_um"),
                layer_height_um=row["layer_height_um"],
                exposure_s=row["exposure_s"],
                settings=json.loads(row["settings"]),
                lower_s=window.get("lower_s"),
                upper_s=window.get("upper_s"),
                temp_low_c=row["temp_low_c"],
                temp_high_c=row["temp_high_c"],
                issued_at=str(row["issued_at"])[:30],
            )
        )
    return sorted(theirs, key=lambda row: (row.material, row.printer, row.layer_height_um))


def _lights_of(tables: dict[str, list[dict[str, Any]]]) -> dict[str, float]:
    names = {row["id"]: str(row["name"]) for row in tables["printer"]}
    lights: dict[str, float] = {}
    for row in sorted(tables["plate_map"], key=lambda row: str(row.get("measured_at", ""))):
        if row.get("source") == "light meter" and row["printer_id"] in names:
            cells = [float(cell) for cell in chain.from_iterable(json.loads(row["readings"]))]
            if cells and min(cells) > 0:
                lights[names[row["printer_id"]]] = sum(cells) / len(cells)
    return lights


def _criticals_of(tables: dict[str, list[dict[str, Any]]]) -> dict[str, float]:
    """Critical exposures of the working curves that their depth squares make, by “material on printer”."""
    names = {row["id"]: str(row["name"]) for row in (*tables["material"], *tables["printer"])}
    pairs = {
        row["id"]: f"{names[row['material_id']]} on {names[row['printer_id']]}"
        for row in tables["calibration"]
        if row["material_id"] in names and row["printer_id"] in names
    }
    superseded = {row["supersedes_id"] for row in tables["depth_reading"]}
    depths = {
        row["square_id"]: json.loads(row["thicknesses_mm"])
        for row in tables["depth_reading"]
        if row["id"] not in superseded
    }
    points: dict[str, list[DepthPoint]] = {}
    for row in tables["depth_square"]:
        if row["calibration_id"] in pairs and depths.get(row["id"]) and row["gone_at"] is None:
            mean = sum(depths[row["id"]]) / len(depths[row["id"]])
            points.setdefault(pairs[row["calibration_id"]], []).append(
                DepthPoint(exposure_s=row["exposure_s"], depth_mm=mean)
            )
    criticals = {}
    for pair, of_pair in points.items():
        with suppress(Problem):
            criticals[pair] = working_curve(WorkingCurveInput(points=of_pair)).critical_exposure_s
    return criticals
