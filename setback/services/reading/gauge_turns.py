"""The turns of a gauge study: the next coupon to take, what was read on it, and the last one made again."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.contract import Contract
from ...core.reading.size import implausible_reading
from ...core.reading.study_turns import growth_by_edges_um, growth_by_plug_um
from ...store.calibrate import calibrations
from ...store.reading import gauge_studies as store
from ...store.rows import insert, update
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .gauge_studies import Measure, StudyView, at_field, check_open, pair_of, steps_of, view
from .picture_file import read_coupon
from .pictures import LEAST_DPI, MOST_DPI, SLOWEST_S
from .reader_corrections import PICTURE_READER
from .readings import CouponPlan, PlanFeature


class TurnView(View):
    """The next reading of somebody: the coupon to take, and nothing of what was read before."""

    turn_id: str
    study: str
    measure: Measure
    reader: str
    is_picture_reader: bool
    place: int = Field(description="Which turn of this reader it is, from 1")
    of: int
    coupon: str
    plan: CouponPlan
    outer: PlanFeature | None = Field(description="The bar to measure")
    inner: PlanFeature | None = Field(description="The notch to measure")
    can_undo: bool = Field(description="Whether the last reading of this reader can be made again")


class NextTurn(View):
    """The next turn of a reader, or none."""

    turn: TurnView | None


class TurnQuery(Contract):
    """Whose turn is asked for."""

    reader: Literal["me", "picture"] = Field("me", description="me: whoever works now; picture: the picture reader")


class TurnInput(Contract):
    """What somebody read in their turn."""

    outer_mm: float | None = Field(None, ge=0, le=1000, description="Over the bar, mm")
    inner_mm: float | None = Field(None, ge=0, le=1000, description="Across the notch, mm")
    step_key: str | None = Field(None, max_length=40, description="Step of the taper plug at which it stopped")


class TurnScan(Contract):
    """What a picture of a turn was taken with."""

    dots_per_inch: float | None = Field(
        None, ge=LEAST_DPI, le=MOST_DPI, description="Resolution of the scanner; a photo has none"
    )


def next_turn(work: UnitOfWork, id_or_code: str, query: TurnQuery) -> NextTurn:
    """What whoever works now, or the picture reader, is to read next.

    Raises
    ------
    Conflict
        When the study was withdrawn, or they take no part in it.
    """
    study = present(store.study(work.db, id_or_code), "gauge study")
    if study.finished_at is None:
        check_open(study)
    technician_id = None if query.reader == "picture" else work.technician().id
    mine = [turn for turn in store.turns(work.db, study.id) if turn.technician_id == technician_id]
    if not mine:
        who = f"{work.initials}" if technician_id else "The picture reader"
        raise Conflict(f"{who} takes no part in study {study.code}.")
    waiting = [turn for turn in mine if turn.reading_id is None]
    if not waiting:
        return NextTurn(turn=None)
    turn = waiting[0]
    drawing = _plan_of(work, turn)
    pair = pair_of(drawing) if study.measure == "edges" else None
    return NextTurn(
        turn=TurnView(
            turn_id=turn.id,
            study=study.code,
            measure=study.measure,
            reader=turn.initials or PICTURE_READER,
            is_picture_reader=turn.technician_id is None,
            place=turn.place + 1,
            of=len(mine),
            coupon=turn.code,
            plan=drawing,
            outer=pair[0] if pair else None,
            inner=pair[1] if pair else None,
            can_undo=len(waiting) < len(mine),
        )
    )


def read_turn(work: UnitOfWork, turn_id: str, request: TurnInput) -> StudyView:
    """Keep what was read in a turn.

    Raises
    ------
    Conflict
        When it is somebody else's turn, or was read already.
    Problem
        When a value is missing or cannot be of its feature.
    """
    with work.write() as answer:
        technician = work.technician()
        turn = present(store.turn(work.db, turn_id), "turn")
        if turn.technician_id is None:
            raise Conflict("This is the picture reader's turn: give it a picture.")
        if turn.technician_id != technician.id:
            raise Conflict(f"This is the turn of {turn.initials}. Change the initials, top right.")
        study = present(store.study(work.db, turn.study_id), "gauge study")
        drawing = _plan_of(work, turn)
        if study.measure == "edges":
            outer, inner = pair_of(drawing) or _nopair_of(turn)
            outer_mm, inner_mm = (
                _measured(request.outer_mm, outer, "outer_mm"),
                _measured(request.inner_mm, inner, "inner_mm"),
            )
            _keep(
                work,
                study,
                turn,
                growth_by_edges_um(outer.size_mm, outer_mm, inner_mm),
                outer_mm=outer_mm,
                inner_mm=inner_mm,
            )
        else:
            step = next((f for f in steps_of(drawing) if f.key == request.step_key), None)
            if step is None:
                raise at_field("step_key", "Say at which step the plug stopped.")
            _keep(work, study, turn, growth_by_plug_um(step.size_mm), step_key=step.key)
        return answer(view(work, study.id))


def read_turn_by_picture(work: UnitOfWork, turn_id: str, content: bytes, scan: TurnScan) -> StudyView:
    """The picture reader's turn: what a picture of the coupon shows.

    Raises
    ------
    Conflict
        When it is a person's turn, or was read already.
    Problem
        When the picture is of something else, or what is asked cannot be told from it; nothing is kept.
    """
    turn = present(store.turn(work.db, turn_id), "turn")
    study = present(store.study(work.db, turn.study_id), "gauge study")
    check_open(study)
    if turn.technician_id is not None:
        raise Conflict(f"This is the turn of {turn.initials}, who reads by eye and calipers.")
    if turn.reading_id is not None:
        raise Conflict("This turn was read already.")
    if study.measure == "edges" and scan.dots_per_inch is None:
        raise at_field("picture", "Sizes are told by a scan of known resolution only. Choose the scanner's resolution.")
    row = present(calibrations.coupon(work.db, turn.coupon_id), "coupon")
    design = present(calibrations.design(work.db, row.design_id), "design")
    file_read = apart.run(
        read_coupon,
        content,
        design.kind,
        design.parameters,
        row.code,
        scan.dots_per_inch,
        field="picture",
        seconds=SLOWEST_S,
    )
    marks = {mark["key"]: mark for mark in file_read.coupon["features"]}
    drawing = CouponPlan.model_validate(design.plan)
    with work.write() as answer:
        work.technician()
        turn = present(store.turn(work.db, turn_id), "turn")
        if study.measure == "edges":
            outer, inner = pair_of(drawing) or _nopair_of(turn)
            sizes = [marks.get(f.key, {}).get("size_mm") for f in (outer, inner)]
            if sizes[0] is None or sizes[1] is None:
                raise at_field(
                    "picture", f"The bar or the notch of {row.code} is not clear on this scan. Scan it again."
                )
            growth = growth_by_edges_um(outer.size_mm, sizes[0], sizes[1])
            _keep(work, study, turn, growth, outer_mm=sizes[0], inner_mm=sizes[1])
        else:
            step = next((f for f in steps_of(drawing) if _is_told(marks.get(f.key))), None)
            if step is None:
                raise at_field(
                    "picture", f"Where the plug of {row.code} stopped is not clear here. Take the picture again."
                )
            _keep(work, study, turn, growth_by_plug_um(step.size_mm), step_key=step.key)
        return answer(view(work, study.id))


def _is_told(mark: dict[str, object] | None) -> bool:
    return mark is not None and mark["state"] == "formed" and bool(mark["sure"])


def _keep(
    work: UnitOfWork,
    study: store.Study,
    turn: store.TurnRow,
    growth_um: float,
    *,
    outer_mm: float | None = None,
    inner_mm: float | None = None,
    step_key: str | None = None,
) -> None:
    check_open(study)
    if turn.reading_id is not None:
        raise Conflict("This turn was read already.")
    insert(
        work.db,
        "gauge_reading",
        id=work.new_id(),
        turn_id=turn.id,
        outer_mm=outer_mm,
        inner_mm=inner_mm,
        step_key=step_key,
        growth_um=growth_um,
        technician_id=work.technician().id,
        read_at=work.now(),
    )
    if study.done + 1 == study.turns:
        update(work.db, "gauge_study", study.id, finished_at=work.now())


def undo_turn(work: UnitOfWork, id_or_code: str, query: TurnQuery) -> NextTurn:
    """Withdraw the last reading of whoever works now, or of the picture reader, so that it is made again.

    Raises
    ------
    Conflict
        When the study is finished, or they have read nothing yet.
    """
    with work.write() as answer:
        technician_id = None if query.reader == "picture" else work.technician().id
        work.technician()
        study = present(store.study(work.db, id_or_code), "gauge study")
        check_open(study)
        done = [
            turn
            for turn in store.turns(work.db, study.id)
            if turn.technician_id == technician_id and turn.reading_id is not None
        ]
        if not done:
            raise Conflict("Nothing was read yet.")
        update(work.db, "gauge_reading", str(done[-1].reading_id), withdrawn_at=work.now())
        return answer(next_turn(work, study.id, query))


def _plan_of(work: UnitOfWork, turn: store.TurnRow) -> CouponPlan:
    row = present(calibrations.coupon(work.db, turn.coupon_id), "coupon")
    return CouponPlan.model_validate(present(calibrations.design(work.db, row.design_id), "design").plan)


def _measured(value: float | None, feature: PlanFeature, field: str) -> float:
    if value is None:
        raise at_field(field, "Measure it, or withdraw the study if it is gone.")
    slip = implausible_reading(feature.size_mm, value)
    if slip:
        raise at_field(field, slip)
    return value


def _nopair_of(turn: store.TurnRow) -> tuple[PlanFeature, PlanFeature]:
    raise Conflict(f"Coupon {turn.code} has no bar and notch of one size.")
