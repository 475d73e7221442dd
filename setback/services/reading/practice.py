"""Practice: hidden coupons of the virtual printer, read, called, and held against the truth at once."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.reading.picture.contract import MARGIN_MM
from ...core.reading.practice import Call, PracticeBias, PracticeFeature, PracticeScore, biases, score
from ...core.reading.tally import FeatureState
from ...simulate import lessons
from ...store import shelf
from ...store.reading import practice as store
from ...store.rows import insert, update
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .readings import CouponPlan, FeatureInput

COUPONS = 4
"""Of a round."""
MOST_SHOWN = 400
"""Coupons of practice that a person's bias is seen over."""
SLOWEST_S = 30.0


class RoundInput(Contract):
    """How hard the round is to be."""

    level: Annotated[int, Field(ge=1, le=3, description="1 plain, 2 everyday, 3 hard")]


class PracticeInput(Contract):
    """What somebody took the coupon for."""

    features: list[FeatureInput] = Field(min_length=1, max_length=500)
    verdict: Call | None = Field(None, description="Whether it is under, right or over")
    next_s: float | None = Field(None, gt=0, le=1000, description="Exposure to print next, s")


class PracticeCouponView(View):
    """A hidden coupon; its truth comes with the answer to what was read."""

    id: str
    place: int = Field(description="Which coupon of the round it is, from 1")
    exposure_s: float
    margin_mm: float = Field(description="Ground round the coupon on its picture, mm")
    growth_um: float | None = Field(description="True growth of an edge, µm; null until it is read")
    right_s: float | None = Field(description="Exposure that is right for this resin, s; null until it is read")
    truth: dict[str, FeatureState] | None = Field(description="What is there, by feature; null until it is read")
    read: dict[str, FeatureState] | None = Field(description="What was read, by feature; null until it is")
    score: PracticeScore | None


class RoundView(View):
    """A round of practice: its coupons so far, all on one resin, each printed at the exposure that was chosen before."""

    id: str
    initials: str
    level: int
    of: int = Field(description="Coupons of a round")
    right_um: float = Field(description="Growth of an edge within which a coupon counts as right, µm")
    plan: CouponPlan
    exposure_step_s: float
    coupons: list[PracticeCouponView]
    finished_at: str | None


class PracticePoint(View):
    """One coupon of somebody's practice."""

    read_at: str
    level: int
    wrong: int = Field(description="Marks read otherwise than they are")
    marks: int = Field(description="Marks that were read")
    wall_bias_um: float | None
    slot_bias_um: float | None
    plug_bias_um: float | None
    called_right: bool


class PersonPractice(View):
    """How one person reads, over all their practice."""

    initials: str
    coupons: int
    rightly_called: int
    wrong_pct: float = Field(description="Share of marks read otherwise than they are, percent")
    biases: list[PracticeBias]
    points: list[PracticePoint] = Field(description="Coupon by coupon, the oldest first")


class PracticeView(View):
    """The page of practice: how each person reads, and the round that is open."""

    people: list[PersonPractice]
    open_round: str | None = Field(description="The unfinished round of whoever works now")


def overview(work: UnitOfWork) -> PracticeView:
    """How everybody here reads."""
    me = work.technician_id()
    mine = store.open_round(work.db, me) if me else None
    people = []
    for row in shelf.technicians(work.db):
        scored = store.scored(work.db, row.id, MOST_SHOWN)
        if scored:
            people.append(_person(row.initials, scored))
    return PracticeView(people=people, open_round=mine.id if mine else None)


def _person(initials: str, rows: list[store.Scored]) -> PersonPractice:
    scores = [PracticeScore.model_validate(row.score) for row in rows]
    marks = sum(s.marks for s in scores)
    return PersonPractice(
        initials=initials,
        coupons=len(scores),
        rightly_called=sum(s.call == s.true_call for s in scores),
        wrong_pct=100 * sum(len(s.wrong) for s in scores) / max(marks, 1),
        biases=biases(scores),
        points=[
            PracticePoint(
                read_at=row.read_at,
                level=row.level,
                wrong=len(s.wrong),
                marks=s.marks,
                wall_bias_um=s.wall_bias_um,
                slot_bias_um=s.slot_bias_um,
                plug_bias_um=s.plug_bias_um,
                called_right=s.call == s.true_call,
            )
            for row, s in zip(rows, scores, strict=True)
        ],
    )


def begin(work: UnitOfWork, request: RoundInput) -> RoundView:
    """Begin a round: its first coupon is printed and photographed."""
    technician = work.technician()
    round_id = work.new_id()
    seed = int(round_id.replace("-", "")[:8], 16)
    about = lessons.lesson(request.level, seed)
    first = _printed(request.level, seed, 0, about.first_s)
    with work.write() as answer:
        insert(
            work.db,
            "practice_round",
            id=round_id,
            technician_id=technician.id,
            level=request.level,
            seed=seed,
            begun_at=work.now(),
        )
        _keep(work, round_id, 0, about.first_s, first)
        return answer(practice_round(work, round_id))


def practice_round(work: UnitOfWork, round_id: str) -> RoundView:
    """A round as far as it is; nothing is told of a coupon before it is read."""
    row = present(store.practice_round(work.db, round_id), "round")
    return RoundView(
        id=row.id,
        initials=row.initials,
        level=row.level,
        of=COUPONS,
        right_um=lessons.RIGHT_UM,
        plan=_plan(),
        exposure_step_s=lessons.STEP_S,
        coupons=[_coupon(coupon_row) for coupon_row in store.coupons(work.db, row.id)],
        finished_at=row.finished_at,
    )


def read(work: UnitOfWork, coupon_id: str, request: PracticeInput) -> RoundView:
    """Hold what was read against the truth, and print the next coupon at the exposure that was chosen.

    Raises
    ------
    Conflict
        When it is somebody else's round, or was read already.
    Problem
        When something is missing.
    """
    technician = work.technician()
    row = present(store.practice_coupon(work.db, coupon_id), "coupon")
    about = present(store.practice_round(work.db, row.round_id), "round")
    _check(row, about, technician)
    if request.verdict is None:
        raise Problem("Say under, right or over.", {"verdict": "Say under, right or over."})
    if request.next_s is None:
        raise Problem("Choose the next exposure.", {"next_s": "Choose the exposure to print next."})
    if not lessons.LEAST_S <= request.next_s <= lessons.MOST_S:
        message = f"Choose between {lessons.LEAST_S:g} and {lessons.MOST_S:g} s."
        raise Problem(message, {"next_s": message})
    next_s = lessons.on_step(request.next_s)
    states = {feature.key: feature.state for feature in request.features if feature.state is not None}
    result = score(
        _features(),
        states,
        row.truth["states"],
        request.verdict,
        row.truth["call"],
        (row.exposure_s, next_s, row.truth["right_s"]),
    )
    is_last = row.place + 1 >= COUPONS
    following = None if is_last else _printed(about.level, about.seed, row.place + 1, next_s)
    with work.write() as answer:
        _check(present(store.practice_coupon(work.db, coupon_id), "coupon"), about, technician)
        update(
            work.db,
            "practice_coupon",
            coupon_id,
            answer={"states": states, "verdict": request.verdict, "next_s": next_s},
            score=result.model_dump(),
            read_at=work.now(),
        )
        if following is None:
            update(work.db, "practice_round", about.id, finished_at=work.now())
        else:
            _keep(work, about.id, row.place + 1, next_s, following)
        return answer(practice_round(work, about.id))


def picture(work: UnitOfWork, coupon_id: str) -> bytes:
    """The picture of a hidden coupon, as JPEG."""
    return present(store.picture(work.db, coupon_id), "picture")


def _check(row: store.PracticeCoupon, about: store.Round, technician: shelf.Technician) -> None:
    if about.technician_id != technician.id:
        raise Conflict(f"This is the round of {about.initials}. Begin one of your own.")
    if row.score is not None:
        raise Conflict("This coupon was read already.")


def _printed(level: int, seed: int, place: int, exposure_s: float) -> tuple[bytes, dict[str, Any]]:
    return apart.run(printed_lesson, level, seed, place, exposure_s, field="level", seconds=SLOWEST_S)


def printed_lesson(level: int, seed: int, place: int, exposure_s: float) -> tuple[bytes, dict[str, Any]]:
    """In a child: a coupon's picture, and what is true of it."""
    about = lessons.lesson(level, seed)
    coupon = lessons.coupon_of(about, place, exposure_s)
    return coupon.picture, {
        "right_s": about.right_s,
        "growth_um": None if coupon.growth_um is None else round(coupon.growth_um, 1),
        "call": coupon.call,
        "states": coupon.states,
    }


def _keep(
    work: UnitOfWork, round_id: str, place: int, exposure_s: float, printed: tuple[bytes, dict[str, Any]]
) -> None:
    insert(
        work.db,
        "practice_coupon",
        id=work.new_id(),
        round_id=round_id,
        place=place,
        exposure_s=exposure_s,
        picture=printed[0],
        truth=printed[1],
    )


def _coupon(row: store.PracticeCoupon) -> PracticeCouponView:
    is_read = row.score is not None
    return PracticeCouponView(
        id=row.id,
        place=row.place + 1,
        exposure_s=row.exposure_s,
        margin_mm=MARGIN_MM,
        growth_um=row.truth["growth_um"] if is_read else None,
        right_s=row.truth["right_s"] if is_read else None,
        truth=row.truth["states"] if is_read else None,
        read=row.answer["states"] if row.answer else None,
        score=PracticeScore.model_validate(row.score) if is_read else None,
    )


def _plan() -> CouponPlan:
    return CouponPlan.model_validate(lessons.drawing("flat"))


def _features() -> list[PracticeFeature]:
    return [PracticeFeature(key=f.key, kind=f.kind, size_mm=f.size_mm, side=f.side) for f in _plan().features]
