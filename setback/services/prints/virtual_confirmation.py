"""A confirming print on the simulated printer: the flat coupon at the centre or in the darkest corner, judged by the limits."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract, Seconds
from ...core.printing.settings import Settings
from ...core.reading.tally import ReadFeature, tally
from ...core.window.lanes import LANES, Limits
from ...core.window.verdict import VerdictInput, VerdictResult, coupon_verdict
from ...simulate import hidden
from ...simulate.printed import print_coupon
from ...simulate.reader import read
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.terms import ConfirmPlace
from ..calibrate.planning import design_for
from ..unit_of_work import Conflict, UnitOfWork, View, present
from . import virtual

BY_VERDICT = {"under": "too-little", "over": "too-much", "mixed": "parts-fail"}
"""The finding that a verdict comes to."""


class VirtualConfirmInput(Contract):
    """Where on the plate and at which exposure the coupon is printed."""

    exposure_s: Seconds
    place: ConfirmPlace


class VirtualConfirmed(View):
    """What the simulated print shows; nothing is saved."""

    what: str = Field(description="What was printed")
    finding: str | None = Field(description="None when it passed")
    note: str


def confirm(work: UnitOfWork, arm_id: str, request: VirtualConfirmInput) -> VirtualConfirmed:
    """Print the flat coupon where it is to be confirmed, read it and judge it by the calibration's limits.

    Raises
    ------
    Conflict
        When the printer is a real one.
    """
    arm = present(store.arm(work.db, arm_id), "arm")
    calibration = present(store.calibration(work.db, arm.calibration_id), "calibration")
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    if not printer.simulated:
        raise Conflict(f"{printer.name} is no simulated printer: print the part on it, then say what it showed.")
    settings = Settings.model_validate(arm.settings)
    coupon = design_for("flat", printer, settings, calibration.layer_height_um, None)
    machine, material = virtual.truth(work, arm.id)
    corner = (coupon.width_mm / 2, coupon.height_mm / 2)
    conditions = hidden.Conditions(
        exposure_s=request.exposure_s,
        layer_mm=calibration.layer_height_um / 1000,
        rest_s=virtual.true_rest_s(settings, printer),
        lift_mm_min=settings.lift_mm_min,
        temp_c=virtual.resin_c(work, [arm.id]),
        screen_hours=printer.screen_hours,
        power_pct=settings.light_power_pct,
        grey_px=min(settings.anti_aliasing, virtual.MOST_GREY_PX),
        base_ratio=max(settings.base_exposure_s / request.exposure_s, 1.0),
        place_mm=corner if request.place == "worst place" else None,
    )
    seed = virtual.seed_of(work.new_id())
    printed = print_coupon(coupon, machine, material, conditions, seed)
    kinds = {feature.key: feature for feature in coupon.features}
    features = [
        ReadFeature(
            key=seen.key,
            kind=kinds[seen.key].kind,
            side=kinds[seen.key].side,
            size_mm=kinds[seen.key].size_mm,
            axis=kinds[seen.key].axis,
            state=seen.state,
            measured_mm=seen.measured_mm,
        )
        for seen in read(printed, seed)
    ]
    evidence = tally(request.exposure_s, features).evidence
    judged = coupon_verdict(VerdictInput(coupon=evidence, limits=Limits.model_validate(calibration.limits)))
    return VirtualConfirmed(
        what="flat coupon, simulated",
        finding=BY_VERDICT.get(judged.verdict or ""),
        note=_note(judged),
    )


def _note(judged: VerdictResult) -> str:
    names = [LANES[key].name.lower() for key in (*judged.under, *judged.over)]
    if names:
        return f"Outside the limits: {', '.join(names)}."
    return "Within all limits." if judged.judged else "Nothing on it could be judged."
