"""A test with all its rows, looked up once: its groups, prints, specimens and what was read off each."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime

from ...core.testing.methods import Method
from ...core.testing.results import Batch, Piece
from ...store import testing as store
from ..unit_of_work import UnitOfWork, present
from .methods import known


@dataclass(frozen=True)
class Held:
    """A test with all its rows, looked up once."""

    row: store.TestRow
    method: Method
    groups: list[store.GroupRow]
    prints: dict[str, list[store.GroupPrint]]
    specimens: list[store.SpecimenRow]
    current: dict[str, list[store.SpecimenReading]]
    every: dict[str, list[store.SpecimenReading]]


def group_name(row: store.GroupRow) -> str:
    """A group's name: material, condition and what was varied."""
    parts = [row.material, row.condition]
    if row.exposure_s is not None:
        parts.append(f"{row.exposure_s:g} s")
    if row.cure_min is not None:
        parts.append(f"{row.cure_min:g} min cure")
    return ", ".join(part for part in parts if part)


def held_tests(work: UnitOfWork, rows: list[store.TestRow]) -> list[Held]:
    """Tests with their groups, specimens and readings: a fixed number of queries, whatever their number."""
    ids = [row.id for row in rows]
    groups: dict[str, list[store.GroupRow]] = defaultdict(list)
    specimens: dict[str, list[store.SpecimenRow]] = defaultdict(list)
    every: dict[str, list[store.SpecimenReading]] = defaultdict(list)
    for group in store.groups(work.db, ids):
        groups[group.test_id].append(group)
    prints: dict[str, list[store.GroupPrint]] = defaultdict(list)
    for print_ in store.prints(work.db, ids):
        prints[print_.group_id].append(print_)
    for specimen in store.specimens(work.db, ids):
        specimens[specimen.test_id].append(specimen)
    for reading in store.readings(work.db, ids):
        every[reading.specimen_id].append(reading)
    current = {
        key: sorted((r for r in record if not r.superseded and not r.withdrawn), key=lambda r: r.at_value)
        for key, record in every.items()
    }
    return [Held(row, known(row.method), groups[row.id], prints, specimens[row.id], current, every) for row in rows]


def held_test(work: UnitOfWork, id_or_code: str) -> Held:
    """A test with all its rows, by its id or code."""
    return held_tests(work, [present(store.test(work.db, id_or_code), "test")])[0]


def hours_between(first: str | None, last: str) -> float | None:
    """Hours from one ISO time to another; None where the first is not known."""
    if first is None:
        return None
    return (datetime.fromisoformat(last) - datetime.fromisoformat(first)).total_seconds() / 3600


def is_made(group_print: store.GroupPrint) -> bool:
    return group_print.status == "printed" and group_print.cured_at is not None


def is_ready(record: Held, specimen: store.SpecimenRow) -> bool:
    """Whether a specimen is printed and cured; what was bought in always is."""
    prints = record.prints[specimen.group_id]
    return all(is_made(one) for one in prints if one.number == specimen.print)


def batch(record: Held, group: store.GroupRow) -> Batch:
    """A group with what counts of its specimens, in the order they were read."""
    pieces = [
        Piece(s.code, tuple(r.read for r in record.current.get(s.id, [])), _print_of(group, s))
        for s in sorted(record.specimens, key=lambda s: _read_at(record, s))
        if s.group_id == group.id and s.gone_at is None
    ]
    return Batch(
        number=group.number,
        name=group_name(group),
        is_reference=group.is_reference,
        pieces=tuple(pieces),
        cure_min=group.cure_min if group.cure_min is not None else group.route_cure_min,
        exposure_s=group.exposure_s or group.set_exposure_s,
    )


def _print_of(group: store.GroupRow, specimen: store.SpecimenRow) -> str | None:
    """The print a specimen came out of. One that was printed without a print of ours counts as out of one."""
    if group.material_kind == "reference":
        return None
    return f"{specimen.group_id} {specimen.print or 1}"


def _read_at(record: Held, specimen: store.SpecimenRow) -> tuple[str, int]:
    # A correction keeps the place of what it corrects: the drop fell when it fell.
    every = record.every.get(specimen.id, [])
    return (every[0].read_at if every else "9", specimen.turn)
