"""Readings of coupons: entered, superseded and withdrawn, never edited; and what a person judged besides."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...core.reading.size import SAME_MM, implausible_reading
from ...core.reading.tally import FeatureKind, FeatureState
from ...core.window.verdict import Verdict
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.prints import virtual
from ...store.reading import pictures, readings
from ...store.rows import insert, update
from ...store.sets import parameter_sets
from ...store.terms import TempPlace, Way
from ..both_versions import Difference, Stale
from ..sets.check_results import refresh_check
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present

Reason = Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=1000)]
COUNTED = ("wall", "slot", "tip")
MEASURED = ("outer", "inner", "z-gap")
PictureBy = Literal["photo or scan", "scan"]
PICTURED: dict[str, PictureBy] = {"flat": "photo or scan", "support": "scan"}
"""Kinds of coupon that are read by picture, and how the picture is taken: a photo shows a support coupon's loads beside where they are drawn."""
SEEN = ("vernier", "fit", "taper", "legible")
ONE_OF = {
    "vernier": "Of the vernier, mark the one pair that just touches.",
    "taper": "Mark the one step at which the plug stopped.",
}
"""Kinds of which one feature alone is marked, with what is wrong otherwise."""


class FeatureInput(Contract):
    """One feature as it was read: its state, or millimetres."""

    key: str = Field(max_length=40)
    state: FeatureState | None = None
    measured_mm: float | None = Field(None, ge=0, le=1000)


class ReadingInput(Contract):
    """A reading: features, how the coupon came out, and who read it."""

    supersedes_id: str | None = Field(None, description="The newest reading seen by whoever enters this one")
    reason: Reason | None = Field(None, description="Why the earlier reading is corrected")
    damaged: bool = False
    unwashed: bool = False
    uncured: bool = False
    note: Note = ""
    features: list[FeatureInput] = Field(max_length=500)
    picture_id: str | None = Field(None, max_length=40, description="The picture this reading was confirmed from")


class WithdrawInput(Contract):
    """Why a reading is withdrawn."""

    reading_id: str
    reason: Reason


class JudgementInput(Contract):
    """A verdict set by hand, with its reason."""

    include: bool = Field(False, description="Count the coupon although it is damaged, unwashed or uncured")
    verdict: Verdict | None = Field(None, description="Overrules the computed verdict")
    reason: Reason


class GoneInput(Contract):
    """Why a coupon is lost."""

    reason: Reason


class ReasonInput(Contract):
    """A reason, in words."""

    reason: Reason


class ReadingView(readings.Reading):
    """A reading with its features."""

    features: list[readings.ReadFeature] = []


class JudgementView(View):
    """A verdict set by hand."""

    include: bool
    verdict: Verdict | None
    reason: str
    initials: str
    judged_at: str


class PhotoView(View):
    """A photo of a coupon."""

    id: str
    width_px: int
    height_px: int
    taken_at: str


class ShapeView(View):
    """A shape of the drawing."""

    role: Literal["floor", "solid", "gap", "hole", "mark", "text", "label"]
    points: list[tuple[float, float]]
    feature: str | None = None
    text: str | None = None


class PlanFeature(View):
    """A feature of the plan: what is read, and where it is tapped."""

    key: str
    kind: FeatureKind
    size_mm: float
    hit: tuple[float, float, float, float]
    side: Literal["left", "right"] | None = None
    axis: Literal["x", "y"] | None = None


class PartView(View):
    """A part of a coupon, and what it tells."""

    name: str
    tells: str
    place: tuple[float, float, float, float]


class FinishStep(View):
    """One step of a finish route with its time."""

    name: str
    seconds: float


class CouponPlan(View):
    """The drawing of a coupon: from the same geometry that is printed."""

    kind: str
    title: str
    tells: str
    does_not_tell: str
    width_mm: float
    height_mm: float
    thickness_mm: float
    volume_ml: float
    shapes: list[ShapeView]
    features: list[PlanFeature]
    parts: list[PartView] = Field([], description="What each part tells")


class PictureMarkView(View):
    """A feature as a picture shows it."""

    key: str
    state: Literal["formed", "partial", "absent"] | None = Field(
        description="What is there; null where the picture cannot tell"
    )
    size_mm: float | None = Field(description="Distance between its edges, mm; null unless the picture resolves it")
    sd_um: float | None = Field(description="Standard uncertainty of the size, µm")
    sure: bool = Field(description="Whether it is filled in; what is not sure is asked")
    reason: str | None = Field(description="In words, why it is not sure")


class NoticeView(View):
    """Something about a picture that a person must know."""

    code: str = Field(description="Which notice it is")
    message: str


class PictureView(View):
    """A picture that was read: the coupon laid straight, every mark with how sure it is, and what is to be asked."""

    id: str
    photo_id: str
    taken_in_at: str = Field(description="When the picture was read")
    initials: str
    px_per_mm: float = Field(description="Pixels of the picture per millimetre of the coupon")
    blur_px: float = Field(description="Standard deviation of the picture's edges, px")
    tilt_deg: float = Field(description="How far the camera looked aslant, degrees")
    scanner_dpi: float | None = Field(description="Of a scan whose resolution somebody confirmed, dots per inch")
    margin_mm: float = Field(description="Ground round the coupon on the straight picture, mm")
    marks: list[PictureMarkView] = Field(description="What the picture shows, feature by feature")
    filled: list[FeatureInput] = Field(description="What is sure, as it goes into the reading")
    asked: list[str] = Field(description="Features a person is asked about, largest first")
    notices: list[NoticeView] = Field(description="What keeps the picture from being read better")


class ConfirmedPicture(View):
    """The picture a reading was confirmed from, and how much a person changed."""

    id: str
    marks: int = Field(description="How many features the picture reader told")
    changed: int = Field(description="How many of the sure ones a person read otherwise")


class CouponView(View):
    """Everything the reading page needs."""

    id: str
    code: str
    kind: str
    exposure_s: float
    exposure_step_s: float
    is_repeat: bool
    status: Literal["planned", "printed", "gone"]
    printed_at: str | None
    printed_by: str | None = Field(description="Initials of who printed it")
    temp_c: float | None
    temp_place: TempPlace | None
    gone_reason: str | None
    print_id: str
    job_id: str | None = Field(description="The job that prints it on the simulated printer now or soon")
    printed_virtually: bool = Field(
        description="Whether the simulated printer made it, so that its reader can read it; else a person marked it as printed"
    )
    arm_id: str
    arm: str
    calibration_id: str
    calibration_code: str
    material: str
    printer: str
    simulated: bool
    layer_height_um: float
    finish: str | None = Field(description="Finish route to go through before reading")
    finish_steps: list[FinishStep]
    plan: CouponPlan
    latest_id: str | None = Field(description="Newest reading, withdrawn or not; to be superseded by the next")
    reading: ReadingView | None = Field(description="The reading that counts")
    history: list[ReadingView]
    judgement: JudgementView | None
    photos: list[PhotoView]
    picture_by: PictureBy | None = Field(
        description="How a picture of this kind of coupon is taken that can be read; null where none can"
    )
    picture: PictureView | None = Field(description="A picture that was read and waits to be confirmed")
    confirmed: ConfirmedPicture | None = Field(description="The picture that the counting reading was confirmed from")
    previous_code: str | None = Field(description="The next lower exposure of the arm, for side-by-side photos")
    next_code: str | None
    next_unread: str | None = Field(description="Another coupon of this calibration that waits for a reading")
    way: Way
    dose_ratio: float | None
    check_of: str | None = Field(description="Code of the issued set it checks")
    kin: list[str] = Field(description="Coupons of the same plate, in rising exposure")


def coupon(work: UnitOfWork, id_or_code: str) -> CouponView:
    """A coupon with its drawing, reading, history and photos."""
    db = work.db
    row = present(store.coupon(db, id_or_code), "coupon")
    arm = present(store.arm(db, row.arm_id), "arm")
    calibration = present(store.calibration(db, arm.calibration_id), "calibration")
    design = present(store.design(db, row.design_id), "design")
    printer = present(shelf.printer(db, calibration.printer_id), "printer")
    past = readings.history(db, row.id)
    newest = readings.latest(db, row.id)
    features = readings.features(db, [newest.id]) if newest and not newest.withdrawn else []
    judgements = readings.judgements(db, [row.id])
    route = (
        shelf.finish_route_version(db, calibration.finish_route_version_id)
        if calibration.finish_route_version_id
        else None
    )
    siblings = sorted(
        (c for c in store.coupons(db, [row.arm_id]) if c.kind == row.kind and c.gone_at is None),
        key=lambda c: (c.exposure_s, c.number),
    )
    codes = [c.code for c in siblings]
    place = codes.index(row.code) if row.code in codes else -1
    everyone = store.coupons(db, [a.id for a in store.arms(db, calibration.id)])
    read = {r.coupon_id for r in readings.current(db, [c.id for c in everyone])}
    unread = [
        c.code for c in everyone if c.status == "printed" and not c.gone_at and c.id not in read and c.id != row.id
    ]
    current = None
    if newest and not newest.withdrawn:
        current = ReadingView.model_validate(newest).model_copy(update={"features": features})
    return CouponView(
        id=row.id,
        code=row.code,
        kind=row.kind,
        exposure_s=row.exposure_s,
        exposure_step_s=printer.exposure_step_s,
        is_repeat=row.is_repeat,
        status="gone" if row.gone_at else "printed" if row.status == "printed" else "planned",
        printed_at=row.printed_at,
        printed_by=row.by if row.printed_at else None,
        temp_c=row.temp_c,
        temp_place=row.temp_place,
        gone_reason=row.gone_reason,
        print_id=row.print_id,
        job_id=virtual.under_way(db).get(row.print_id) if printer.simulated else None,
        printed_virtually=virtual.virtual_print(db, row.print_id) is not None,
        arm_id=arm.id,
        arm=arm.name,
        calibration_id=calibration.id,
        calibration_code=calibration.code,
        material=calibration.material,
        printer=calibration.printer,
        simulated=printer.simulated,
        layer_height_um=calibration.layer_height_um,
        finish=_finish_words(route) if route else None,
        finish_steps=_finish_steps(route) if route else [],
        plan=CouponPlan.model_validate(design.plan),
        latest_id=newest.id if newest else None,
        reading=current,
        history=[ReadingView.model_validate(r) for r in past],
        judgement=JudgementView.model_validate(judgements[0]) if judgements else None,
        photos=[PhotoView.model_validate(p) for p in readings.photos(db, [row.id])],
        picture_by=PICTURED.get(row.kind),
        picture=picture_view(work, pictures.waiting(db, row.id), CouponPlan.model_validate(design.plan)),
        confirmed=_confirmed(work, current) if current else None,
        previous_code=codes[place - 1] if place > 0 else None,
        next_code=codes[place + 1] if 0 <= place < len(codes) - 1 else None,
        next_unread=unread[0] if unread else None,
        way=row.way,
        dose_ratio=row.dose_ratio,
        check_of=_set_code(work, row.check_of),
        kin=[c.code for c in siblings if c.print_id == row.print_id] if row.way != "separate" else [],
    )


def picture_view(work: UnitOfWork, picture: pictures.PictureReading | None, plan: CouponPlan) -> PictureView | None:
    """A picture with its marks, as the page shows it."""
    if picture is None:
        return None
    marks = {mark.feature_key: mark for mark in pictures.seen_marks(work.db, picture.id)}
    ordered = [(feature, marks[feature.key]) for feature in plan.features if feature.key in marks]
    filled = [entry for feature, mark in ordered if mark.sure and (entry := _filled(feature, mark)) is not None]
    unsure = [feature for feature, mark in ordered if not mark.sure and feature.kind not in MEASURED]
    return PictureView(
        id=picture.id,
        photo_id=picture.photo_id,
        taken_in_at=picture.read_at,
        initials=picture.initials,
        px_per_mm=picture.px_per_mm,
        blur_px=picture.blur_px,
        tilt_deg=picture.tilt_deg,
        scanner_dpi=picture.scanner_dpi,
        margin_mm=picture.margin_mm,
        marks=[
            PictureMarkView(
                key=mark.feature_key,
                state=mark.state,
                size_mm=mark.size_mm,
                sd_um=mark.sd_um,
                sure=mark.sure,
                reason=mark.reason,
            )
            for _, mark in ordered
        ],
        filled=filled,
        asked=[feature.key for feature in sorted(unsure, key=lambda f: -f.size_mm)],
        notices=[NoticeView.model_validate(notice) for notice in picture.notices],
    )


def _filled(feature: PlanFeature, mark: pictures.PictureMark) -> FeatureInput | None:
    """What a sure mark puts into a reading; a bar that only shows that it is there is left to the calipers."""
    if feature.kind not in MEASURED:
        return FeatureInput(key=feature.key, state=mark.state) if mark.state else None
    if mark.size_mm is not None:
        return FeatureInput(key=feature.key, measured_mm=round(mark.size_mm, 3))
    return FeatureInput(key=feature.key, state="absent") if mark.state == "absent" and feature.kind == "outer" else None


def _confirmed(work: UnitOfWork, reading: ReadingView) -> ConfirmedPicture | None:
    picture = pictures.confirmed(work.db, reading.id)
    if picture is None:
        return None
    read_by_hand = {feature.feature_key: feature for feature in reading.features}
    marks = pictures.seen_marks(work.db, picture.id)
    changed = sum(1 for mark in marks if mark.sure and _differs(mark, read_by_hand.get(mark.feature_key)))
    return ConfirmedPicture(id=picture.id, marks=len(marks), changed=changed)


def _differs(mark: pictures.PictureMark, read: readings.ReadFeature | None) -> bool:
    """Whether a person read something else than the picture reader was sure of."""
    if mark.size_mm is not None:
        return read is None or read.measured_mm is None or abs(read.measured_mm - mark.size_mm) > SAME_MM
    if mark.state == "formed" and (read is None or read.measured_mm is not None):
        return read is None and not mark.feature_key.startswith(("outer", "inner"))
    return mark.state is not None and (read is None or read.state != mark.state)


def _set_code(work: UnitOfWork, set_id: str | None) -> str | None:
    set_row = parameter_sets.parameter_set(work.db, set_id) if set_id else None
    return set_row.code if set_row else None


def read(work: UnitOfWork, id_or_code: str, request: ReadingInput) -> CouponView:
    """Record what was seen; a later reading supersedes the one before and says why.

    Raises
    ------
    Conflict
        When the coupon is lost or not printed, or was read by somebody else meanwhile.
    Problem
        When a feature is not on this coupon, or a value cannot be of it.
    """
    with work.write() as answer:
        return answer(coupon(work, keep_reading(work, id_or_code, request)))


def keep_reading(work: UnitOfWork, id_or_code: str, request: ReadingInput) -> str:
    """The write of :func:`read`, for whoever has a transaction open; the id of the coupon."""
    technician = work.technician()
    row = present(store.coupon(work.db, id_or_code), "coupon")
    if row.gone_at is not None:
        raise Conflict(f"Coupon {row.code} is gone ({row.gone_reason}), so it cannot be read.")
    if row.status != "printed":
        raise Conflict(f"Coupon {row.code} is not printed yet. Mark its print as done first.")
    newest = readings.latest(work.db, row.id)
    if (newest.id if newest else None) != request.supersedes_id:
        who_read = f"{newest.initials} {'withdrew' if newest.withdrawn else 'read'}" if newest else "Somebody changed"
        raise Stale(
            f"{who_read} coupon {row.code} meanwhile, perhaps in another tab. Your entry is kept here: "
            "compare it with theirs, then save again with a reason.",
            _differences(work, request, newest),
            {"supersedes_id": newest.id if newest else None},
        )
    if newest is not None and request.reason is None:
        message = "Say why the earlier reading is corrected."
        raise Problem(message, {"reason": message})
    design = present(store.design(work.db, row.design_id), "design")
    features = checked(request, CouponPlan.model_validate(design.plan))
    reading_id = work.new_id()
    insert(
        work.db,
        "reading",
        id=reading_id,
        coupon_id=row.id,
        technician_id=technician.id,
        read_at=work.entered(),
        damaged=request.damaged,
        unwashed=request.unwashed,
        uncured=request.uncured,
        note=request.note,
        supersedes_id=request.supersedes_id,
        reason=request.reason if request.supersedes_id else None,
    )
    for planned, feature in features:
        insert(
            work.db,
            "reading_feature",
            reading_id=reading_id,
            feature_key=planned.key,
            kind=planned.kind,
            side=planned.side,
            axis=planned.axis,
            size_mm=planned.size_mm,
            state=feature.state,
            measured_mm=feature.measured_mm,
        )
    if request.picture_id is not None:
        _confirm(work, request.picture_id, row.id, reading_id)
    refresh_check(work, row)
    return row.id


def _differences(work: UnitOfWork, request: ReadingInput, newest: readings.Reading | None) -> list[Difference]:
    """A reading beside the newest one, feature by feature."""
    theirs = {row.feature_key: row for row in readings.features(work.db, [newest.id] if newest else [])}
    yours = {feature.key: feature for feature in request.features}
    found = []
    for key in sorted(yours.keys() | theirs.keys()):
        mine, other = _seen(yours.get(key)), _seen(theirs.get(key))
        if mine != other:
            found.append(Difference(field=f"features.{key}", words=key.replace("_", " "), yours=mine, theirs=other))
    return found


def _seen(feature: FeatureInput | readings.ReadFeature | None) -> str:
    if feature is None:
        return "–"
    return feature.state or (f"{feature.measured_mm:g} mm" if feature.measured_mm is not None else "–")


def _confirm(work: UnitOfWork, picture_id: str, coupon_id: str, reading_id: str) -> None:
    """Bind a reading to the picture it was confirmed from: what the picture reader saw stays beside it."""
    picture = present(pictures.picture(work.db, picture_id), "picture")
    if picture.coupon_id != coupon_id:
        raise Conflict("This picture is of another coupon.")
    if picture.reading_id is not None or picture.discarded_at is not None:
        raise Conflict("This picture was confirmed or discarded meanwhile. Read the picture again, or save without it.")
    update(work.db, "picture_reading", picture_id, reading_id=reading_id)


def checked(request: ReadingInput, plan: CouponPlan) -> list[tuple[PlanFeature, FeatureInput]]:
    """Features of a reading beside those of the plan; refuses what is not on the coupon or looks like a slip."""
    planned_features = {feature.key: feature for feature in plan.features}
    fields: dict[str, str] = {}
    keys: set[str] = set()
    features = []
    for i, feature in enumerate(request.features):
        planned = planned_features.get(feature.key)
        place = f"features.{i}"
        if planned is None:
            kinds = {k: sum(f.kind == k for f in plan.features) for k in dict.fromkeys(f.kind for f in plan.features)}
            has = ", ".join(f"{count} {kind} features" for kind, count in kinds.items())
            fields[f"{place}.key"] = f"{feature.key} is not on this coupon, which has {has}."
            continue
        if feature.key in keys:
            fields[f"{place}.key"] = f"{feature.key} is there twice."
        keys.add(feature.key)
        if planned.kind in COUNTED or planned.kind in SEEN:
            if feature.measured_mm is not None:
                fields[f"{place}.measured_mm"] = "This feature is counted, not measured."
            elif planned.kind in ONE_OF and feature.state not in (None, "formed", "lost"):
                fields[f"{place}.state"] = ONE_OF[planned.kind]
            elif feature.state is not None:
                features.append((planned, feature))
        elif planned.kind == "outer" and feature.state == "absent":
            if feature.measured_mm is not None:
                fields[f"{place}.measured_mm"] = "A bar that washed away has no size."
            features.append((planned, feature))
        elif feature.state not in (None, "lost"):
            fields[f"{place}.state"] = "This feature is measured: give a size, or strike it out as lost."
        elif feature.measured_mm is not None and feature.state is None:
            slip = implausible_reading(planned.size_mm, feature.measured_mm)
            if slip:
                fields[f"{place}.measured_mm"] = slip
            features.append((planned, feature))
        elif feature.state == "lost":
            features.append((planned, FeatureInput(key=feature.key, state="lost")))
    for kind, message in ONE_OF.items():
        marked = [
            i
            for i, f in enumerate(request.features)
            if f.state == "formed" and kind == getattr(planned_features.get(f.key), "kind", "")
        ]
        for i in marked[1:]:
            fields[f"features.{i}.state"] = message
    if fields:
        raise Problem("Some of the reading cannot be right; nothing was saved yet.", fields)
    if not features and not (request.damaged or request.unwashed or request.uncured):
        slip = "Nothing is read yet: tap a feature or type a size, or mark the coupon damaged."
        raise Problem(slip, {"features": slip})
    return features


def withdraw(work: UnitOfWork, id_or_code: str, request: WithdrawInput) -> CouponView:
    """Take a reading back: it stays on record, and counts no more."""
    with work.write() as answer:
        technician = work.technician()
        row = present(store.coupon(work.db, id_or_code), "coupon")
        newest = readings.latest(work.db, row.id)
        if newest is None or newest.id != request.reading_id or newest.withdrawn:
            raise Conflict(f"The reading of {row.code} was changed meanwhile. Reload to see it.")
        insert(
            work.db,
            "reading",
            id=work.new_id(),
            coupon_id=row.id,
            technician_id=technician.id,
            read_at=work.now(),
            withdrawn=True,
            supersedes_id=newest.id,
            reason=request.reason,
        )
        refresh_check(work, row)
        return answer(coupon(work, row.id))


def judge(work: UnitOfWork, id_or_code: str, request: JudgementInput) -> CouponView:
    """Include a left-out coupon on purpose, or overrule its verdict; recorded with who and why."""
    with work.write() as answer:
        technician = work.technician()
        row = present(store.coupon(work.db, id_or_code), "coupon")
        insert(
            work.db,
            "judgement",
            id=work.new_id(),
            coupon_id=row.id,
            number=readings.next_judgement(work.db, row.id),
            include=request.include,
            verdict=request.verdict,
            reason=request.reason,
            technician_id=technician.id,
            judged_at=work.now(),
        )
        refresh_check(work, row)
        return answer(coupon(work, row.id))


def gone(work: UnitOfWork, id_or_code: str, request: GoneInput) -> CouponView:
    """Note that a coupon is no more, so that nobody waits for its reading."""
    with work.write() as answer:
        row = present(store.coupon(work.db, id_or_code), "coupon")
        if row.gone_at is not None:
            raise Conflict(f"Coupon {row.code} is noted as gone already.")
        update(work.db, "coupon", row.id, gone_at=work.now(), gone_reason=request.reason)
        return answer(coupon(work, row.id))


def found_again(work: UnitOfWork, id_or_code: str) -> CouponView:
    """Undo :func:`gone`."""
    with work.write() as answer:
        row = present(store.coupon(work.db, id_or_code), "coupon")
        update(work.db, "coupon", row.id, gone_at=None, gone_reason=None)
        return answer(coupon(work, row.id))


def _finish_steps(route: shelf.FinishRoute) -> list[FinishStep]:
    """In the order they are done; a step of no minutes is left out."""
    minutes = {
        "Dirty bath": route.dirty_bath_min,
        "Clean bath": route.clean_bath_min,
        "Dry": route.dry_min,
        "Air": route.air_min,
        "Cure": route.cure_min,
    }
    return [FinishStep(name=name, seconds=60 * value) for name, value in minutes.items() if value > 0]


def _finish_words(route: shelf.FinishRoute) -> str:
    return (
        f"{route.name}: {route.wash_fluid}, dirty bath {route.dirty_bath_min:g} min, clean bath "
        f"{route.clean_bath_min:g} min, dry {route.dry_min:g} min, {route.lamp} {route.cure_min:g} min"
    )
