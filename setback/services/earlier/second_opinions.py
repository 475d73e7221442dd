"""A second opinion: a calibration goes out as a question, readings and notes of another workshop come back, and no setting does."""

from __future__ import annotations

import base64
import hashlib
import io
from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...core.earlier.opinion import (
    OPINION,
    QUESTION,
    Asked,
    AskedCoupon,
    AskedSetting,
    Opined,
    OpinionReading,
    opened,
    sealed,
)
from ...store import second_opinions as store
from ...store import shelf
from ...store.calibrate import calibrations
from ...store.codes import next_code
from ...store.reading import readings
from ...store.rows import insert, update
from ..calibrate.assessment import ArmView, CouponCard
from ..calibrate.calibrations import CalibrationView, calibration
from ..files.coupon_files import Made
from ..lab_settings import lab_settings
from ..unit_of_work import Conflict, UnitOfWork, View, present

LARGEST_BYTES = 40_000_000
PHOTO_PX = 1000
Text = Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=2000)]


class AskInput(Contract):
    """A question about a calibration."""

    text: Text = Field(description="What you want to know")
    arm: int = Field(1, ge=1, le=1000, description="Number of the arm whose coupons go with it")
    with_names: bool = Field(False, description="Whether names of lab, material, printer and people go with it")


class OpinionView(View):
    """What another workshop said."""

    id: str
    workshop: str
    initials: str
    note: str
    readings: list[OpinionReading]
    made_at: str
    received_by: str
    received_at: str


class QuestionView(View):
    """A question with the opinions that came back."""

    code: str
    text: str
    arm_id: str
    with_names: bool
    initials: str
    asked_at: str
    opinions: list[OpinionView]


class QuestionsView(View):
    """Questions about a calibration."""

    items: list[QuestionView]


class OpinionInput(Contract):
    """An opinion on somebody's question."""

    question_id: str = Field(max_length=40, description="Id out of their file")
    workshop: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    note: str = Field("", max_length=4000)
    readings: list[OpinionReading] = Field([], max_length=60)


def ask(work: UnitOfWork, calibration_id: str, request: AskInput) -> QuestionsView:
    """Keep a question, so that its answer finds home.

    Raises
    ------
    Problem
        When nothing was printed in the arm yet.
    """
    with work.write() as answer:
        row = present(calibrations.calibration(work.db, calibration_id), "calibration")
        arm = next((arm for arm in calibrations.arms(work.db, row.id) if arm.number == request.arm), None)
        if arm is None:
            message = f"{row.code} has no arm {request.arm}."
            raise Problem(message, {"arm": message})
        insert(
            work.db,
            "question",
            id=work.new_id(),
            code=next_code(work.db, "SO"),
            calibration_id=row.id,
            arm_id=arm.id,
            text=request.text,
            with_names=request.with_names,
            technician_id=work.technician().id,
            asked_at=work.now(),
        )
        return answer(of_calibration(work, row.id))


def of_calibration(work: UnitOfWork, calibration_id: str) -> QuestionsView:
    """Questions about a calibration with what came back."""
    row = present(calibrations.calibration(work.db, calibration_id), "calibration")
    rows = store.questions(work.db, row.id)
    answers = store.opinions(work.db, [item.id for item in rows])
    return QuestionsView(
        items=[
            QuestionView(
                **item.model_dump(exclude={"id", "calibration_id"}),
                opinions=[
                    OpinionView.model_validate(opinion.model_dump())
                    for opinion in answers
                    if opinion.question_id == item.id
                ],
            )
            for item in rows
        ]
    )


def question_file(work: UnitOfWork, code: str) -> Made:
    """The question as a file for another Setback."""
    question, row = _asked(work, code)
    return Made(sealed(QUESTION, question, row.asked_at), "application/json", f"{row.code}.json", "", 0.0)


def question_pdf(work: UnitOfWork, code: str) -> Made:
    """The question on paper: photos as a ladder, readings, settings, window, question."""
    from ...report.question import question_pages

    question, row = _asked(work, code)
    return Made(question_pages(question, row.asked_at[:10]), "application/pdf", f"{row.code}.pdf", "", 0.0)


def open_question(content: bytes) -> Asked:
    """Somebody's question, to look at and to answer; nothing is kept.

    Raises
    ------
    Problem
        When it is no question, or was changed on the way.
    """
    return opened(QUESTION, Asked, _within(content))[0]


def answer_file(work: UnitOfWork, request: OpinionInput) -> Made:
    """An opinion as a file to send back."""
    opinion = Opined(**request.model_dump(), initials=work.technician().initials)
    return Made(sealed(OPINION, opinion, work.now()), "application/json", "opinion.json", "", 0.0)


def receive(work: UnitOfWork, calibration_id: str, content: bytes) -> QuestionsView:
    """Keep an opinion that came back: attributed readings and notes.

    Raises
    ------
    Problem
        When it is no opinion, was changed on the way, or answers a question nobody here asked.
    Conflict
        When it came already.
    """
    opinion, made_at = opened(OPINION, Opined, _within(content))
    with work.write() as answer:
        row = store.question(work.db, opinion.question_id)
        if row is None or row.calibration_id != calibration_id:
            message = "It answers a question that was not asked about this calibration."
            raise Problem(message, {"file": message})
        digest = hashlib.sha256(content).hexdigest()
        if store.has_file(work.db, digest):
            raise Conflict("This opinion is here already.", {"file": "This opinion is here already."})
        codes = {coupon.code for coupon in calibrations.coupons(work.db, [row.arm_id])}
        strange = [item.code for item in opinion.readings if item.code not in codes]
        if strange:
            message = f"It speaks of coupon {strange[0]}, which the question was not about. Nothing was kept."
            raise Problem(message, {"file": message})
        insert(
            work.db,
            "opinion",
            id=work.new_id(),
            question_id=row.id,
            workshop=opinion.workshop,
            initials=opinion.initials,
            note=opinion.note,
            readings=[item.model_dump() for item in opinion.readings],
            file_sha256=digest,
            made_at=made_at,
            technician_id=work.technician().id,
            received_at=work.now(),
        )
        return answer(of_calibration(work, calibration_id))


def withdraw(work: UnitOfWork, calibration_id: str, opinion_id: str) -> QuestionsView:
    """Let an opinion no longer be shown."""
    with work.write() as answer:
        visible = {item.id for question in of_calibration(work, calibration_id).items for item in question.opinions}
        present(opinion_id if opinion_id in visible else None, "opinion")
        update(work.db, "opinion", opinion_id, withdrawn_at=work.now())
        return answer(of_calibration(work, calibration_id))


def _within(content: bytes) -> bytes:
    if len(content) > LARGEST_BYTES:
        message = f"It has more than {LARGEST_BYTES // 1_000_000} MB: no question or opinion is so large."
        raise Problem(message, {"file": message})
    return content


def _asked(work: UnitOfWork, code: str) -> tuple[Asked, store.Question]:
    row = present(store.question(work.db, code), "question")
    view = calibration(work, row.calibration_id)
    arm = next(arm for arm in view.arms if arm.id == row.arm_id)
    resin, printer = shelf.resin(work.db, view.material_id), present(shelf.printer(work.db, view.printer_id), "printer")
    kind = f"{resin.family} resin, {resin.opacity}" if resin else "a blend"
    about = f"{kind}; {printer.light_engine}, pixel {printer.pixel_um:g} µm; layers of {view.layer_height_um:g} µm"
    photos = {photo.coupon_id: photo.id for photo in readings.photos(work.db, [card.id for card in arm.coupons])}
    return (
        Asked(
            id=row.id,
            code=row.code,
            text=row.text,
            about=about,
            names=_names(work, view, row) if row.with_names else None,
            settings=[AskedSetting(name=line.name, value=line.value, unit=line.unit) for line in arm.setting_lines],
            window=_window_words(arm),
            coupons=[
                AskedCoupon(
                    code=card.code,
                    kind=card.kind,
                    exposure_s=card.effective_s,
                    temp_c=card.temp_c,
                    read=_read_words(card),
                    photo=_small(work, photos[card.id]) if card.id in photos else None,
                )
                for card in arm.coupons
                if card.status != "planned"
            ],
        ),
        row,
    )


def _names(work: UnitOfWork, view: CalibrationView, row: store.Question) -> str:
    lab = lab_settings(work).name
    bottle = f", {view.bottle}" if view.bottle else ""
    return f"{view.material} on {view.printer}{bottle}; asked by {row.initials}{f', {lab}' if lab else ''}"


def _window_words(arm: ArmView) -> str:
    window = arm.window.window if arm.window else None
    if window is None:
        return "The evidence makes no window yet."
    return f"The evidence makes a window from {window.lower_s:.3g} to {window.upper_s:.3g} s."


def _read_words(card: CouponCard) -> str:
    if card.look and card.reading_id is None:
        return f"one look: {card.look}"
    rows = [("walls", card.walls), ("slots", card.slots), ("tips", card.tips)]
    counts = [f"{name} {pair[0]} of {pair[1]}" for name, pair in rows if pair is not None]
    growth = [] if card.growth_um is None else [f"edges {card.growth_um:+.0f} µm"]
    return ", ".join([*counts, *growth]) or "not read yet"


def _small(work: UnitOfWork, photo_id: str) -> str | None:
    """A photo made small enough to travel, a JPEG in base64."""
    from PIL import Image

    stored = readings.photo_bytes(work.db, photo_id)
    if stored is None:
        return None
    with Image.open(io.BytesIO(stored[1])) as image:
        small = image.convert("RGB")
        small.thumbnail((PHOTO_PX, PHOTO_PX))
        out = io.BytesIO()
        small.save(out, "JPEG", quality=80)
    return base64.b64encode(out.getvalue()).decode()
