"""Issue a parameter set from a calibration's evidence, and read the card of one."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ... import __version__
from ...core.calibrate.ways import RANGE_ONLY
from ...core.climate.band import ProposedBand, proposed_band
from ...core.contract import Contract, Problem, Seconds
from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step
from ...core.prints.window import METHOD as FROM_PRINTS
from ...core.prints.window import PrintWindowInput
from ...core.window.contract import NoneRight, Offer, WindowInput, WindowOutcome
from ...core.window.lanes import Limits
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.codes import next_code
from ...store.sets import parameter_sets
from ...store.terms import Policy
from ..both_versions import same_version
from ..calibrate.cut_offs import cut_offs
from ..calibrate.depth import cure_curve
from ..calibrate.from_prints import prints_of_arm
from ..calibrate.windows import window_for
from ..climate.effect import effect
from ..lab_settings import lab_settings
from ..reading.coupon_evidence import CouponRead, coupon_reads, window_evidence, window_input, with_corrections
from ..reading.gauge_studies import reader_spread_um
from ..reading.readings import Reason
from ..unit_of_work import Conflict, UnitOfWork, present
from .cards import SetCard, card


class BandQuery(Contract):
    """The exposure a band of temperatures is proposed for."""

    arm_id: str = Field(max_length=40)
    exposure_s: Seconds


class IssueInput(Contract):
    """The exposure and what is issued with it: policy, temperatures, reasons."""

    version: int = Field(description="Version of the calibration that was looked at")
    arm_id: str
    exposure_s: Seconds
    policy: Policy
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=10, max_length=2000)]
    temp_low_c: Annotated[float, Field(ge=-20, le=80)] | None = None
    temp_high_c: Annotated[float, Field(ge=-20, le=80)] | None = None
    outside_reason: Reason | None = Field(
        None,
        description="Why an exposure is issued that the evidence does not offer; it stands on the card, and the set never qualifies",
    )


def issue(work: UnitOfWork, calibration_id: str, request: IssueInput) -> SetCard:
    """Issue a set: the window is computed again from the evidence and kept with it.

    Raises
    ------
    Conflict
        When nothing was read, or the calibration changed or was closed meanwhile.
    Problem
        When the exposure is no step of the printer; when a coupon failed at that very exposure; or when the evidence does not offer
        it and no reason is given.
    """
    with work.write() as answer:
        db = work.db
        technician = work.technician()
        row = present(store.calibration(db, calibration_id), "calibration")
        same_version(row, request.version, row.code, request)
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        arm = present(store.arm(db, request.arm_id), "arm")
        if arm.calibration_id != row.id:
            raise Problem("This arm belongs to another calibration.", {"arm_id": "Choose an arm of this calibration."})
        printer = present(shelf.printer(db, row.printer_id), "printer")
        limits = Limits.model_validate(row.limits)
        rests_on: WindowInput | PrintWindowInput
        if row.whole_share is None:
            reads = [r for r in coupon_reads(work, store.coupons(db, [arm.id]), limits) if r.row.gone_at is None]
            rests_on, result = _by_coupons(work, row, printer.exposure_step_s, reads)
            _check_choice(request, result, printer.exposure_step_s)
            _check_readings(request.exposure_s, reads, printer.exposure_step_s)
        else:
            rests_on, result = _by_prints(work, row, arm, printer.exposure_step_s)
            _check_choice(request, result, printer.exposure_step_s)
        outside = _check_offer(request, result)
        settings = Settings.model_validate(arm.settings)
        chain, previous = parameter_sets.last_link(db)
        set_row = parameter_sets.SetRow(
            id=work.new_id(),
            code=next_code(db, "S"),
            chain=chain + 1,
            material_id=row.material_id,
            printer_id=row.printer_id,
            layer_height_um=row.layer_height_um,
            version=parameter_sets.last_version(db, row.material_id, row.printer_id, row.layer_height_um) + 1,
            calibration_id=row.id,
            arm_id=arm.id,
            finish_route_version_id=row.finish_route_version_id,
            bottle_id=row.bottle_id,
            exposure_s=request.exposure_s,
            policy=request.policy,
            reason=request.reason,
            settings=settings.model_dump(),
            temp_low_c=request.temp_low_c,
            temp_high_c=request.temp_high_c,
            tip_proven_mm=None if outside or "tips" not in result.lanes else limits.tips_size_mm,
            technician_id=technician.id,
            issued_at=work.now(),
            core_version=__version__,
            input=rests_on.model_dump(mode="json"),
            result=result.model_dump(mode="json"),
            previous_hash=previous,
            hash="",
            outside_reason=outside,
        )
        parameter_sets.append(db, set_row.model_copy(update={"hash": parameter_sets.hash_of(set_row)}))
        return answer(card(work, set_row.id))


def _by_coupons(
    work: UnitOfWork, row: store.Calibration, step_s: float, reads: list[CouponRead]
) -> tuple[WindowInput, WindowOutcome]:
    """The coupons a set rests on, and their window."""
    evidence, range_only = window_evidence(reads)
    if range_only:
        raise Conflict(RANGE_ONLY)
    if not evidence:
        raise Conflict("Nothing is read yet, so there is nothing to issue on.")
    rests_on = window_input(row, step_s, evidence, cure_curve(work, row), cut_offs(work), reader_spread_um(work))
    return rests_on, with_corrections(window_for(rests_on), reads)


def _by_prints(
    work: UnitOfWork, row: store.Calibration, arm: store.Arm, step_s: float
) -> tuple[PrintWindowInput, WindowOutcome]:
    """The prints of parts a set rests on, and their window."""
    of_arm = prints_of_arm(work, row, arm, step_s, cut_offs(work))
    if of_arm.window_input is None or of_arm.window is None or not of_arm.window.p_holds:
        raise Conflict(
            "These prints show no curve of success against exposure yet, so there is nothing to issue on. "
            "Print parts at further exposures."
        )
    return of_arm.window_input, of_arm.window


def band(work: UnitOfWork, calibration_id: str, query: BandQuery) -> ProposedBand:
    """The band of temperatures that is proposed for an exposure: as far as the coupons, the window and the effect carry it."""
    db = work.db
    row = present(store.calibration(db, calibration_id), "calibration")
    arm = present(store.arm(db, query.arm_id), "arm")
    printer = present(shelf.printer(db, row.printer_id), "printer")
    if row.whole_share is None:
        result, temps = _coupons_for_band(work, row, arm, printer.exposure_step_s)
    else:
        of_arm = prints_of_arm(work, row, arm, printer.exposure_step_s, cut_offs(work))
        result, temps = of_arm.window, [outcome.temp_c for outcome in of_arm.outcomes if outcome.temp_c is not None]
    window_s = (result.window.lower_s, result.window.upper_s) if result and result.window else None
    shown = effect(work, row.material_id).result
    steepest = shown.percent_per_c_ci[0] if shown and shown.corrects and shown.percent_per_c_ci else None
    printed_c = (min(temps), max(temps)) if temps else None
    return proposed_band(printed_c, query.exposure_s, window_s, steepest, lab_settings(work).band_c)


def _coupons_for_band(
    work: UnitOfWork, row: store.Calibration, arm: store.Arm, step_s: float
) -> tuple[WindowOutcome | None, list[float]]:
    """The window of an arm's coupons, and how warm they were printed, °C."""
    coupons = store.coupons(work.db, [arm.id])
    reads = [r for r in coupon_reads(work, coupons, Limits.model_validate(row.limits)) if r.row.gone_at is None]
    evidence, _ = window_evidence(reads)
    temps = [coupon.temp_c for coupon in coupons if coupon.temp_c is not None]
    if not evidence:
        return None, temps
    inputs = window_input(row, step_s, evidence, cure_curve(work, row), cut_offs(work), reader_spread_um(work))
    return window_for(inputs), temps


def _check_choice(request: IssueInput, result: WindowOutcome, step_s: float) -> None:
    if abs(round_to_step(request.exposure_s, step_s) - request.exposure_s) > 1e-9:
        message = f"The printer sets whole steps of {step_s:g} s."
        raise Problem(message, {"exposure_s": message})
    offered_s = result.policies.get(request.policy) if isinstance(result, Offer) else None
    if request.policy != "own choice" and offered_s != request.exposure_s:
        gives = "no exposure" if offered_s is None else f"{offered_s:g} s"
        message = f"By {request.policy} the evidence gives {gives}. Reload to see it."
        raise Problem(message, {"policy": message})
    if (request.temp_low_c is None) != (request.temp_high_c is None):
        message = "Give both ends of the temperature band, or neither."
        raise Problem(message, {"temp_low_c" if request.temp_low_c is None else "temp_high_c": message})
    if request.temp_low_c is not None and request.temp_high_c is not None and request.temp_high_c < request.temp_low_c:
        message = "The warm end is below the cold end."
        raise Problem(message, {"temp_high_c": message})


def _check_readings(exposure_s: float, reads: list[CouponRead], step_s: float) -> None:
    """Refuse an exposure at which a coupon that counts came out wrong: no reason outweighs that."""
    for coupon_read in reads:
        if coupon_read.left_out or not coupon_read.in_window or coupon_read.final_verdict in (None, "ok"):
            continue
        if abs(coupon_read.effective_s - exposure_s) < step_s / 2:
            words = {"under": "too little light", "over": "too much light"}.get(
                str(coupon_read.final_verdict), "both failures at once"
            )
            message = (
                f"Coupon {coupon_read.row.code} was printed at {coupon_read.effective_s:g} s and shows {words}: nothing is issued at an exposure that "
                "failed. Choose another, change what the parts need, or print it again and judge both."
            )
            raise Problem(message, {"exposure_s": message})


def _check_offer(request: IssueInput, result: WindowOutcome) -> str | None:
    """The reason that is kept when the evidence does not offer the exposure; None inside an offer.

    Raises
    ------
    Problem
        When it is not offered and no reason is given.
    """
    if result.offers(request.exposure_s):
        return None
    if request.outside_reason is None:
        message = f"{why_not_offered(result, request.exposure_s)} Say why it is issued all the same: the reason stands on the card, and the set will not qualify."
        raise Problem(message, {"outside_reason": message})
    return request.outside_reason


def why_not_offered(result: WindowOutcome, exposure_s: float) -> str:
    """In a sentence, why the evidence does not offer an exposure."""
    if result.method == FROM_PRINTS and (chance := result.p_at(exposure_s)) is not None:
        asked = f"{100 * result.cut_offs.offer:.0f} % are asked for"
        return f"At {exposure_s:g} s the wanted share of parts comes out whole with {100 * chance:.0f} %; {asked}."
    if result.provisional:
        return "The window is provisional: a lane was left out, or a coupon was read before it was finished."
    if result.missing_lanes:
        return "A limit was set of which nothing is known yet."
    if isinstance(result, NoneRight):
        return result.conflict.message
    chance = result.p_at(exposure_s)
    if chance is None:
        return f"{exposure_s:g} s lies outside what was printed."
    return f"At {exposure_s:g} s all requirements hold with {100 * chance:.0f} %; {100 * result.cut_offs.offer:.0f} % are asked for."
