"""The bench: a test with its specimens in random order, one read at a time; readings are superseded, never edited."""

from __future__ import annotations

from collections import defaultdict
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Notice, Problem
from ...core.statistics.figures import decimals
from ...core.testing.concerns import Concern
from ...core.testing.methods import checked_row
from ...store import testing as store
from ...store.qualify import briefs
from ...store.reading import readings
from ...store.rows import count_of, insert, update
from ..both_versions import Stale, differences
from ..prints.record import PrintedInput, record_print, undo_print
from ..reading.readings import PhotoView
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .briefs import BriefView
from .briefs import view as brief_view
from .methods import MethodView, known
from .methods import view as method_view
from .planning import TestPlan, plan
from .records import Held, group_name, held_test, hours_between, is_made, is_ready

Reason = Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=300)]


class SpecimenReadingInput(Contract):
    """A reading of a specimen, by the fields of its method."""

    read: dict[str, Any] = Field(description="By the method's fields")
    note: Note = ""
    replaces: str | None = Field(None, max_length=40, description="The reading this one corrects")
    reason: Reason | None = None


class PreviewInput(Contract):
    """A reading that is looked at before it is kept."""

    read: dict[str, Any]


class PreviewValue(View):
    """A property that a reading gives."""

    name: str
    unit: str
    value: float
    decimals: int
    unbroken: bool


class SpecimenPreview(View):
    """What a reading would give, before it is kept."""

    values: list[PreviewValue]
    notices: list[Notice]


class SpecimenReason(Contract):
    """Why a reading is withdrawn or a specimen lost."""

    reason: Reason


class MadeInput(PrintedInput):
    """How the specimens of a group came out."""

    cured: bool = Field(True, description="Washed and cured too; age counts from now")


class CloseTestInput(Contract):
    """Why a test is closed with specimens left."""

    reason: Reason = "done"


class ReadView(View):
    """A reading of a specimen."""

    id: str
    at_value: float
    read: dict[str, Any]
    note: str
    initials: str
    read_at: str
    reason: str | None
    age_h: float | None


class PastRead(ReadView):
    """A reading that was superseded or withdrawn."""

    withdrawn: bool


class SpecimenView(store.SpecimenRow):
    """A specimen with its readings."""

    group: int
    ready: bool = Field(description="Printed and cured, or bought in")
    reads: list[ReadView] = Field(description="What counts now, in the order of what it is read against")
    past: list[PastRead] = Field(description="Superseded and withdrawn")
    photos: list[PhotoView]


class GroupView(store.GroupRow):
    """A group of alike specimens."""

    name: str
    prints: list[store.GroupPrint] = Field(description="That its specimens come out of; none for what was bought in")
    ready: bool = Field(description="All of it printed and cured, or bought in")
    next_height_m: float | None = Field(description="Of a staircase")


class TestView(View):
    """A test with its groups and what is next."""

    id: str
    code: str
    method: MethodView
    brief: BriefView | None
    setup: dict[str, Any]
    wanted: dict[str, Any]
    age_h: float | None
    note: str
    concerns: list[Concern]
    concerns_reason: str | None
    initials: str
    planned_at: str
    closed_at: str | None
    closed_reason: str | None
    groups: list[GroupView]
    specimens: list[SpecimenView] = Field(description="In the order they are broken")
    next_code: str | None = Field(description="The specimen whose turn it is")
    left: int


class TestLine(store.ListedTest):
    """A test in the list."""

    method_name: str
    brief: str | None


def how_many(work: UnitOfWork) -> int:
    """All tests of the lab."""
    return count_of(work.db, "test")


def tests(work: UnitOfWork, before: str, limit: int) -> list[TestLine]:
    """Tests before a code, newest first."""
    rows = store.tests(work.db, before, limit)
    brief_rows = briefs.versions(work.db, sorted({r.brief_version_id for r in rows if r.brief_version_id}))
    return [
        TestLine(
            **vars(r),
            method_name=known(r.method).name,
            brief=brief_rows[r.brief_version_id].name if r.brief_version_id else None,
        )
        for r in rows
    ]


def test(work: UnitOfWork, id_or_code: str) -> TestView:
    """One test by its id or code."""
    return _view(work, held_test(work, id_or_code))


def add(work: UnitOfWork, request: TestPlan) -> TestView:
    """Plan a test; specimens get codes in random order."""
    with work.write() as answer:
        return answer(test(work, plan(work, request)))


def _view(work: UnitOfWork, record: Held) -> TestView:
    row, method = record.row, record.method
    brief = briefs.versions(work.db, [row.brief_version_id]) if row.brief_version_id else {}
    numbers = {g.id: g.number for g in record.groups}
    photos: dict[str, list[PhotoView]] = defaultdict(list)
    for photo in readings.photos_of_specimens(work.db, [s.id for s in record.specimens]):
        photos[photo.specimen_id or ""].append(PhotoView.model_validate(photo))
    specimens = [
        SpecimenView(
            **vars(s),
            group=numbers[s.group_id],
            ready=is_ready(record, s),
            photos=photos[s.id],
            reads=[_read(r, s.cured_at) for r in record.current.get(s.id, [])],
            past=[
                PastRead(**_read(r, s.cured_at).model_dump(), withdrawn=r.withdrawn)
                for r in record.every.get(s.id, [])
                if r.superseded or r.withdrawn
            ],
        )
        for s in record.specimens
    ]
    groups = [_group(record, g) for g in record.groups]
    waiting = [s for s in specimens if s.gone_reason is None and not s.reads]
    turn = next((s.code for s in waiting if s.ready), None)
    return TestView(
        **{
            k: getattr(row, k)
            for k in (
                "id",
                "code",
                "setup",
                "wanted",
                "age_h",
                "note",
                "concerns_reason",
                "initials",
                "planned_at",
                "closed_at",
                "closed_reason",
            )
        },
        method=method_view(method),
        brief=brief_view(brief[row.brief_version_id]) if row.brief_version_id else None,
        concerns=[Concern.model_validate(c) for c in row.concerns or []],
        groups=groups,
        specimens=specimens,
        next_code=turn,
        left=len(waiting),
    )


def _read(row: store.SpecimenReading, cured_at: str | None) -> ReadView:
    return ReadView(
        id=row.id,
        at_value=row.at_value,
        read=row.read,
        note=row.note,
        initials=row.initials,
        read_at=row.read_at,
        reason=row.reason,
        age_h=hours_between(cured_at, row.read_at),
    )


def _group(record: Held, row: store.GroupRow) -> GroupView:
    prints = record.prints[row.id]
    own = {
        "name": group_name(row),
        "exposure_s": row.exposure_s or row.set_exposure_s,
        "route": f"{row.route}, version {row.route_version}" if row.route else None,
        "cure_min": row.cure_min if row.cure_min is not None else row.route_cure_min,
        "prints": prints,
        "ready": all(is_made(one) for one in prints),
        "next_height_m": next_height(record, row) if record.method.pattern == "staircase" else None,
    }
    return GroupView.model_validate(vars(row) | own)


def next_height(record: Held, group: store.GroupRow) -> float:
    """One step down after a break, one up after a survival; the first height at first."""
    last = _last_drop(record, group)
    if last is None:
        return float(record.row.setup["start_m"])
    step = float(record.row.setup["step_m"])
    return round(max(float(last["height_m"]) + (-step if last["broke"] else step), step), 6)


def _last_drop(record: Held, group: store.GroupRow) -> dict[str, Any] | None:
    drops = [r for s in record.specimens if s.group_id == group.id for r in record.current.get(s.id, [])]
    return max(drops, key=lambda r: (r.read_at, r.id)).read if drops else None


def made(work: UnitOfWork, print_id: str, request: MadeInput) -> TestView:
    """One of a group's prints came out, and was washed and cured: the age of its specimens counts from now."""
    with work.write() as answer:
        group_print = present(store.group_print(work.db, print_id), "print of a test")
        group = present(store.group(work.db, group_print.group_id), "group")
        if group_print.status == "planned":
            record_print(work, group_print.id, request)
        elif group_print.cured_at is not None:
            raise Conflict(f"{group_print.code} of {group_name(group)} is noted as printed and cured already.")
        if request.cured:
            store.note_cure(work.db, group_print.id, work.now())
        return answer(test(work, group.test_id))


def unmade(work: UnitOfWork, print_id: str) -> TestView:
    """Undo :func:`made`, while nothing was read of this print."""
    with work.write() as answer:
        group_print = present(store.group_print(work.db, print_id), "print of a test")
        if store.read_off_print(work.db, print_id):
            raise Conflict("Its specimens are read already: withdraw the readings first.")
        store.note_cure(work.db, print_id, None)
        if group_print.status == "printed":
            undo_print(work, print_id)
        return answer(test(work, present(store.group(work.db, group_print.group_id), "group").test_id))


def read(work: UnitOfWork, id_or_code: str, request: SpecimenReadingInput) -> TestView:
    """Keep what was read off a specimen, or correct it with a reason."""
    with work.write() as answer:
        return answer(test(work, keep_reading(work, id_or_code, request)))


def keep_reading(work: UnitOfWork, id_or_code: str, request: SpecimenReadingInput) -> str:
    """The write of :func:`read`, for whoever has a transaction open; the id of the test."""
    technician = work.technician()
    specimen, record, group = _place(work, id_or_code)
    _open(record, specimen, group)
    row = checked_row(record.method, request.read)
    at_value = float(row[record.method.against.key]) if record.method.against else 0.0
    chain = [r for r in record.every.get(specimen.id, []) if r.at_value == at_value]
    newest = next((r for r in chain if not r.superseded), None)
    _may_follow(specimen.code, newest, request)
    _fits_method(record, group, specimen, row, request.replaces)
    insert(
        work.db,
        "specimen_reading",
        id=work.new_id(),
        specimen_id=specimen.id,
        at_value=at_value,
        read=row,
        note=request.note,
        technician_id=technician.id,
        read_at=work.entered(),
        supersedes_id=newest.id if newest else None,
        reason=request.reason or ("read again" if newest else None),
    )
    return record.row.id


def _open(record: Held, specimen: store.SpecimenRow, group: store.GroupRow) -> None:
    if record.row.closed_at is not None:
        raise Conflict(f"{record.row.code} is closed. Open it again to read more.")
    if specimen.gone_at is not None:
        raise Conflict(f"{specimen.code} is gone ({specimen.gone_reason}).")
    if not is_ready(record, specimen):
        raise Conflict(f"{group_name(group)} is not printed and cured yet: say so first, its age counts from then.")


def _may_follow(code: str, newest: store.SpecimenReading | None, request: SpecimenReadingInput) -> None:
    if newest is None or newest.withdrawn:
        return
    if request.replaces != newest.id:
        raise Stale(
            f"{code} was read already, by {newest.initials}. Compare, then save yours over it with a reason.",
            differences(request.read, newest.read),
            {"replaces": newest.id},
        )
    if not request.reason:
        raise Problem("A correction needs a reason.", {"reason": "Say why it is corrected."})


def _fits_method(
    record: Held, group: store.GroupRow, specimen: store.SpecimenRow, row: dict[str, Any], replaces: str | None
) -> None:
    """What the method refuses: a wrong height on the staircase, angles that cannot be."""
    if record.method.pattern == "staircase" and replaces is None:
        due = next_height(record, group)
        if abs(row["height_m"] - due) > 1e-6:
            text = f"{due:g} m is due: one step {'up' if due > row['height_m'] else 'down'} from the drop before."
            if _last_drop(record, group) is None:
                text = f"The first drop of a group is from {due:g} m."
            raise Problem("A staircase moves by one step at a time.", {"read.height_m": text})
    rows = [r.read for r in record.current.get(specimen.id, []) if r.id != replaces]
    try:
        record.method.calculate(record.row.setup, [*rows, row])
    except Problem as problem:
        raise Problem(problem.message, {f"read.{key}": text for key, text in problem.fields.items()}) from None


def preview(work: UnitOfWork, id_or_code: str, request: PreviewInput) -> SpecimenPreview:
    """What these readings give; nothing while they are not complete."""
    specimen, record, _ = _place(work, id_or_code)
    try:
        row = checked_row(record.method, request.read)
        rows = [r.read for r in record.current.get(specimen.id, [])]
        calculated = record.method.calculate(record.row.setup, [*rows, row] if record.method.against else [row])
    except Problem:
        return SpecimenPreview(values=[], notices=[])
    values = [
        PreviewValue(name=p.name, unit=p.unit, value=v, decimals=decimals(v), unbroken=unbroken)
        for part, unbroken in ((calculated.values, False), (calculated.unbroken, True))
        for p in record.method.properties
        if (v := part.get(p.key)) is not None
    ]
    return SpecimenPreview(values=values, notices=list(calculated.notices))


def withdraw(work: UnitOfWork, reading_id: str, request: SpecimenReason) -> TestView:
    """Take a reading back: it stays on record and counts no more."""
    with work.write() as answer:
        technician = work.technician()
        stored = present(store.reading(work.db, reading_id), "reading")
        if stored.superseded or stored.withdrawn:
            raise Conflict("This reading was changed meanwhile. Reload to see it.")
        insert(
            work.db,
            "specimen_reading",
            id=work.new_id(),
            specimen_id=stored.specimen_id,
            at_value=stored.at_value,
            read=stored.read,
            technician_id=technician.id,
            read_at=work.now(),
            withdrawn=True,
            supersedes_id=stored.id,
            reason=request.reason,
        )
        specimen = present(store.specimen(work.db, stored.specimen_id), "specimen")
        return answer(test(work, specimen.test_id))


def gone(work: UnitOfWork, id_or_code: str, request: SpecimenReason) -> TestView:
    """A specimen was lost or damaged before its test: nobody waits for it."""
    with work.write() as answer:
        specimen = present(store.specimen(work.db, id_or_code), "specimen")
        update(work.db, "specimen", specimen.id, gone_at=work.now(), gone_reason=request.reason)
        return answer(test(work, specimen.test_id))


def found_again(work: UnitOfWork, id_or_code: str) -> TestView:
    """Note that a lost specimen was found."""
    with work.write() as answer:
        specimen = present(store.specimen(work.db, id_or_code), "specimen")
        update(work.db, "specimen", specimen.id, gone_at=None, gone_reason=None)
        return answer(test(work, specimen.test_id))


def close(work: UnitOfWork, test_id: str, request: CloseTestInput) -> TestView:
    """Close a test, with a reason; plates of specimens that were only planned are given up."""
    with work.write() as answer:
        stored = present(store.test(work.db, test_id), "test")
        if stored.closed_at is not None:
            raise Conflict(f"{stored.code} is closed already.")
        update(work.db, "test", stored.id, closed_at=work.now(), closed_reason=request.reason)
        _planned_prints(work, stored.id, "planned", "cancelled")
        return answer(test(work, stored.id))


def reopen(work: UnitOfWork, test_id: str) -> TestView:
    """Open a closed test again."""
    with work.write() as answer:
        stored = present(store.test(work.db, test_id), "test")
        update(work.db, "test", stored.id, closed_at=None, closed_reason=None)
        _planned_prints(work, stored.id, "cancelled", "planned")
        return answer(test(work, stored.id))


def _planned_prints(work: UnitOfWork, test_id: str, before: Literal["planned", "cancelled"], after: str) -> None:
    """Prints nobody made yet are taken back with their test, and come back with it."""
    store.move_prints(work.db, test_id, before, after)


def _place(work: UnitOfWork, id_or_code: str) -> tuple[store.SpecimenRow, Held, store.GroupRow]:
    specimen = present(store.specimen(work.db, id_or_code), "specimen")
    record = held_test(work, specimen.test_id)
    return specimen, record, next(g for g in record.groups if g.id == specimen.group_id)
