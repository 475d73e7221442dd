"""Gauge studies: planned, and what comes of them once all have read everything."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...core.reading.gauge_study import GaugeStudyInput, GaugeStudyResult, gauge_study
from ...core.reading.study_turns import study_turns
from ...core.window.lanes import Limits
from ...store import shelf
from ...store.calibrate import calibrations
from ...store.codes import next_code
from ...store.reading import gauge_studies as store
from ...store.rows import insert, insert_many, update
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .reader_corrections import PICTURE_READER, CorrectionView, corrections
from .readings import CouponPlan, PlanFeature, Reason

MOST_TURNS = 1000
MOST_LISTED = 200
CHOICE = 80
"""Of coupons that a study is planned with, the newest."""
Code = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
Measure = Literal["edges", "plug"]


class StudyInput(Contract):
    """A study that is planned."""

    measure: Measure = Field(description="edges: a bar and a notch by calipers; plug: the step of the taper plug")
    coupons: list[Code] = Field(max_length=60, description="Codes of printed coupons, from under to over")
    technicians: list[Code] = Field(max_length=20, description="Initials of who reads them")
    with_picture_reader: bool = Field(False, description="Whether the picture reader takes part, by a picture a turn")
    repeats: int = Field(2, ge=2, le=10, description="How often each reads each coupon")
    tolerance_um: float | None = Field(
        None,
        gt=0,
        le=1000,
        description="Whole width of what edge growth may be, µm; the narrowest limit of the coupons' calibrations when not given",
    )
    note: Note = ""


class StudyLine(View):
    """A gauge study in the list."""

    code: str
    measure: Measure
    turns: int = Field(description="Readings that are planned")
    done: int = Field(description="Readings that are made")
    planned_at: str
    initials: str
    finished_at: str | None
    withdrawn_at: str | None


class StudyCoupon(View):
    """A coupon that a study can be planned with."""

    code: str
    calibration_code: str
    material: str
    exposure_s: float
    measures: list[Measure] = Field(description="What can be read on it")


class StudyChoice(View):
    """What a study is planned from."""

    coupons: list[StudyCoupon]


class StudyReader(View):
    """Somebody who reads, and how far they are."""

    reader: int = Field(description="Number in the study, from 0")
    name: str
    is_picture_reader: bool
    turns: int
    done: int


class StudyCell(View):
    """What one reader read on one coupon, turn by turn; shown once the study is finished."""

    reader: str
    coupon: str
    growths_um: list[float] = Field(description="Growth per edge, µm")


class StudyView(StudyLine):
    """A study with how far it is, and its result once all have read everything."""

    repeats: int
    tolerance_um: float | None
    note: str
    withdrawn_reason: str | None
    coupons: list[str]
    readers: list[StudyReader]
    cells: list[StudyCell]
    result: GaugeStudyResult | None
    counts: bool = Field(description="Whether windows are decided with it: the newest finished study of calipers is")
    corrections: list[CorrectionView]


class CorrectInput(Contract):
    """Whose bias is to be taken off from now on."""

    reader: int = Field(ge=0, le=1000, description="Number of the reader in the study")


class StudyWithdrawInput(Contract):
    """Why a study no longer counts."""

    reason: Reason


def listed(work: UnitOfWork) -> list[StudyLine]:
    """The studies, the newest first."""
    return [StudyLine.model_validate(row) for row in store.studies(work.db, MOST_LISTED)]


def choice(work: UnitOfWork) -> StudyChoice:
    """Printed coupons on which something can be read again and again."""
    rows = calibrations.newest_printed(work.db, CHOICE)
    designs = {d.id: d for d in calibrations.designs(work.db, sorted({row.design_id for row in rows}))}
    coupons = []
    for row in rows:
        plan = CouponPlan.model_validate(designs[row.design_id].plan)
        measures: list[Measure] = ["edges"] if pair_of(plan) else []
        measures += ["plug"] if any(f.kind == "taper" for f in plan.features) else []
        if measures:
            coupons.append(
                StudyCoupon(
                    code=row.code,
                    calibration_code=row.calibration_code,
                    material=row.material,
                    exposure_s=row.exposure_s,
                    measures=measures,
                )
            )
    return StudyChoice(coupons=coupons)


def plan(work: UnitOfWork, request: StudyInput) -> StudyView:
    """Plan a study; every reader's order is random and their own.

    Raises
    ------
    Problem
        At its field: too few coupons or readers, one twice, a coupon that is not printed or has nothing to read so, too many turns.
    """
    with work.write() as answer:
        technician = work.technician()
        rows = _coupons(work, request)
        readers = _readers(work, request)
        count = len(rows) * len(readers) * request.repeats
        if count > MOST_TURNS:
            message = f"That makes {count} readings; {MOST_TURNS} at most. Take fewer coupons or repeats."
            raise Problem(message, {"repeats": message})
        study_id = work.new_id()
        insert(
            work.db,
            "gauge_study",
            id=study_id,
            code=next_code(work.db, "GS"),
            measure=request.measure,
            repeats=request.repeats,
            tolerance_um=request.tolerance_um or _narrowest_um(work, rows),
            note=request.note,
            technician_id=technician.id,
            planned_at=work.now(),
        )
        seed = int(study_id.replace("-", "")[:12], 16)
        turns = [
            {
                "id": work.new_id(),
                "study_id": study_id,
                "reader": turn.reader,
                "technician_id": readers[turn.reader],
                "place": turn.place,
                "coupon_id": rows[turn.coupon].id,
                "coupon_place": turn.coupon,
                "repeat": turn.repeat,
            }
            for turn in study_turns(len(readers), len(rows), request.repeats, seed)
        ]
        insert_many(work.db, "gauge_turn", turns)
        return answer(view(work, study_id))


def _coupons(work: UnitOfWork, request: StudyInput) -> list[calibrations.CouponRow]:
    if len(request.coupons) < 2:
        raise at_field("coupons", "Choose two coupons or more; five from under to over say more.")
    rows: list[calibrations.CouponRow] = []
    for code in request.coupons:
        row = calibrations.coupon(work.db, code)
        if row is None:
            raise at_field("coupons", f"There is no coupon {code}.")
        if row.status != "printed" or row.gone_at is not None:
            raise at_field("coupons", f"Coupon {row.code} is {'gone' if row.gone_at else 'not printed yet'}.")
        if any(row.id == other.id for other in rows):
            raise at_field("coupons", f"Coupon {row.code} is chosen twice.")
        drawing = CouponPlan.model_validate(present(calibrations.design(work.db, row.design_id), "design").plan)
        if not (pair_of(drawing) if request.measure == "edges" else steps_of(drawing)):
            lacks = "bar and notch of one size" if request.measure == "edges" else "taper plug"
            raise at_field("coupons", f"Coupon {row.code} has no {lacks}.")
        rows.append(row)
    return rows


def _narrowest_um(work: UnitOfWork, rows: list[calibrations.CouponRow]) -> float | None:
    """Whole width of the narrowest limit of growth among the calibrations of some coupons."""
    all_limits = calibrations.limits_of(work.db, sorted({row.arm_id for row in rows}))
    widths = [2 * tol for limits in all_limits if (tol := Limits.model_validate(limits).growth_tol_um)]
    return min(widths, default=None)


def _readers(work: UnitOfWork, request: StudyInput) -> list[str | None]:
    """Their ids; None for the picture reader."""
    ids: list[str | None] = []
    for initials in request.technicians:
        row = shelf.technician_by_initials(work.db, initials)
        if row is None or row.retired_at is not None:
            raise at_field("technicians", f"{initials} is not a technician here.")
        if row.id in ids:
            raise at_field("technicians", f"{row.initials} is chosen twice.")
        ids.append(row.id)
    if request.with_picture_reader:
        ids.append(None)
    if len(ids) < 2:
        raise at_field("technicians", "Choose two readers or more: a study compares them.")
    return ids


def view(work: UnitOfWork, id_or_code: str) -> StudyView:
    """A study; what was read is shown once everything is."""
    study = present(store.study(work.db, id_or_code), "gauge study")
    turns = store.turns(work.db, study.id)
    readers = [
        StudyReader(
            reader=number,
            name=of_reader[0].initials or PICTURE_READER,
            is_picture_reader=of_reader[0].technician_id is None,
            turns=len(of_reader),
            done=sum(turn.reading_id is not None for turn in of_reader),
        )
        for number, of_reader in sorted(_by_reader(turns).items())
    ]
    codes = {turn.coupon_place: turn.code for turn in turns}
    newest = store.newest_of_calipers(work.db)
    finished = study.finished_at is not None
    return StudyView(
        **{name: getattr(study, name) for name in StudyLine.model_fields},
        repeats=study.repeats,
        tolerance_um=study.tolerance_um,
        note=study.note,
        withdrawn_reason=study.withdrawn_reason,
        coupons=[codes[place] for place in sorted(codes)],
        readers=readers,
        cells=_cells(turns, readers) if finished else [],
        result=_result(study, turns) if finished else None,
        counts=newest is not None and newest.study_id == study.id,
        corrections=[row for row in corrections(work) if row.study == study.code],
    )


def _by_reader(turns: list[store.TurnRow]) -> dict[int, list[store.TurnRow]]:
    groups: dict[int, list[store.TurnRow]] = {}
    for turn in turns:
        groups.setdefault(turn.reader, []).append(turn)
    return groups


def _cells(turns: list[store.TurnRow], readers: list[StudyReader]) -> list[StudyCell]:
    growths: dict[tuple[int, int], list[float]] = {}
    codes = {turn.coupon_place: turn.code for turn in turns}
    for turn in sorted(turns, key=lambda t: t.repeat):
        if turn.growth_um is not None:
            growths.setdefault((turn.reader, turn.coupon_place), []).append(turn.growth_um)
    return [
        StudyCell(reader=readers[reader].name, coupon=codes[place], growths_um=values)
        for (reader, place), values in sorted(growths.items())
    ]


def _result(study: store.Study, turns: list[store.TurnRow]) -> GaugeStudyResult:
    names = {turn.reader: turn.initials or PICTURE_READER for turn in turns}
    coupons = 1 + max(turn.coupon_place for turn in turns)
    table = [[[0.0] * study.repeats for _ in range(coupons)] for _ in names]
    for turn in turns:
        table[turn.reader][turn.coupon_place][turn.repeat] = turn.growth_um or 0.0
    inputs = GaugeStudyInput(
        readings=table, technicians=[names[reader] for reader in sorted(names)], tolerance=study.tolerance_um
    )
    return gauge_study(inputs)


def withdraw(work: UnitOfWork, id_or_code: str, request: StudyWithdrawInput) -> StudyView:
    """Let a study no longer count; it stays on record, and what was corrected by it is corrected no more."""
    with work.write() as answer:
        technician = work.technician()
        study = present(store.study(work.db, id_or_code), "gauge study")
        if study.withdrawn_at is not None:
            raise Conflict(f"Study {study.code} was withdrawn already.")
        update(work.db, "gauge_study", study.id, withdrawn_at=work.now(), withdrawn_reason=request.reason)
        for correction in store.corrections(work.db):
            if correction.study_id == study.id:
                update(work.db, "reader_correction", correction.id, ended_at=work.now(), ended_by=technician.id)
        return answer(view(work, study.id))


def correct(work: UnitOfWork, id_or_code: str, request: CorrectInput) -> StudyView:
    """Take a reader's bias off what they measure; in the place of an earlier correction of theirs.

    Raises
    ------
    Conflict
        When the study is not finished, is not of calipers, or does not show a bias of this reader.
    """
    with work.write() as answer:
        technician = work.technician()
        study = present(store.study(work.db, id_or_code), "gauge study")
        if study.withdrawn_at is not None or study.finished_at is None:
            raise Conflict(f"Study {study.code} {'was withdrawn' if study.withdrawn_at else 'is not finished'}.")
        if study.measure != "edges":
            raise Conflict("Steps of the plug are not corrected: they take no part in a lane.")
        result = view(work, study.id)
        if result.result is None or request.reader >= len(result.readers):
            raise Problem("There is no such reader in this study.", {"reader": "There is no such reader."})
        bias = result.result.biases[request.reader]
        if not bias.shown:
            raise Conflict(f"The study does not show a bias of {bias.technician}: its interval holds nothing too.")
        row = next(turn for turn in store.turns(work.db, study.id) if turn.reader == request.reader)
        for earlier in store.corrections(work.db):
            if earlier.technician_id == row.technician_id:
                update(work.db, "reader_correction", earlier.id, ended_at=work.now(), ended_by=technician.id)
        insert(
            work.db,
            "reader_correction",
            id=work.new_id(),
            study_id=study.id,
            technician_id=row.technician_id,
            bias_um=bias.bias,
            begun_by=technician.id,
            begun_at=work.now(),
        )
        return answer(view(work, study.id))


def end_correction(work: UnitOfWork, correction_id: str) -> StudyView:
    """Correct a reader's sizes no more."""
    with work.write() as answer:
        technician = work.technician()
        ended = present(store.correction(work.db, correction_id), "correction")
        if ended.ended_at is None:
            update(work.db, "reader_correction", correction_id, ended_at=work.now(), ended_by=technician.id)
        return answer(view(work, ended.study_id))


def reader_spread_um(work: UnitOfWork) -> float | None:
    """How far readers differ in the growth of an edge, µm, by the newest finished study of calipers; None without one."""
    newest = store.newest_of_calipers(work.db)
    if newest is None:
        return None
    study = present(store.study(work.db, newest.study_id), "gauge study")
    return _result(study, store.turns(work.db, study.id)).reproducibility_sd


def check_open(study: store.Study) -> None:
    """Refuse a study that was withdrawn or is finished.

    Raises
    ------
    Conflict
        Saying which.
    """
    if study.withdrawn_at is not None:
        raise Conflict(f"Study {study.code} was withdrawn.")
    if study.finished_at is not None:
        raise Conflict(f"Study {study.code} is finished: everything was read.")


def pair_of(plan: CouponPlan) -> tuple[PlanFeature, PlanFeature] | None:
    """The first bar and notch that are drawn to one size along one axis."""
    for outer in plan.features:
        for inner in plan.features:
            same = outer.axis == inner.axis and abs(outer.size_mm - inner.size_mm) < 1e-6
            if outer.kind == "outer" and inner.kind == "inner" and same:
                return outer, inner
    return None


def steps_of(plan: CouponPlan) -> list[PlanFeature]:
    """Steps of the taper plug."""
    return [feature for feature in plan.features if feature.kind == "taper"]


def at_field(field: str, message: str) -> Problem:
    """A problem of one field."""
    return Problem(message, {field: message})
