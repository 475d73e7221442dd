"""What a print starts from: a card, a coupon, a test or an earlier print hands over its settings."""

from __future__ import annotations

import math

from pydantic import Field

from ...core.contract import Contract, Seconds
from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step
from ...store import earlier, shelf, testing
from ...store.calibrate import calibrations
from ...store.prints import log
from ...store.sets import parameter_sets
from ..unit_of_work import NotFound, UnitOfWork, View, present
from .starting import TrialSettings


class StartQuery(Contract):
    """What is asked for beside the code."""

    exposure_s: Seconds | None = Field(
        None, description="Exposure to try, for a calibration; the middle of its range when not given"
    )
    arm: int | None = Field(None, ge=1, le=1000, description="Number of the arm; the newest when not given")


class StartFrom(View):
    """Settings of a print that is about to start."""

    code: str = Field(description="What hands them over")
    words: str = Field(description="What that is, in words")
    printer_id: str = Field(description="The printer")
    set_code: str | None = Field(None, description="The issued set; null for trial settings")
    trial: TrialSettings | None = Field(None, description="Trial settings, where there is no set")
    bottle_id: str | None = Field(None, description="The bottle it came out of")
    part: str | None = Field(None, description="What was printed")


def start_from(work: UnitOfWork, code: str, query: StartQuery | None = None) -> StartFrom:
    """Settings to start a print with, by the code of a set, a coupon, a test, a print or a calibration.

    Raises
    ------
    NotFound
        When nothing of this code has settings to hand over.
    """
    for hand_over in (_of_set, _of_provisional, _of_print, _of_test, _of_coupon):
        settings = hand_over(work, code.upper())
        if settings is not None:
            return settings
    if (settings := _of_calibration(work, code.upper(), query or StartQuery())) is not None:
        return settings
    raise NotFound(f"Nothing called {code} has settings to start a print with.")


def _of_set(work: UnitOfWork, code: str) -> StartFrom | None:
    row = parameter_sets.parameter_set(work.db, code)
    if row is None:
        return None
    return StartFrom(
        code=row.code,
        words=f"the settings of {row.code}",
        printer_id=row.printer_id,
        set_code=row.code,
    )


def _of_provisional(work: UnitOfWork, code: str) -> StartFrom | None:
    """Settings in use that nothing here shows."""
    row = earlier.provisional(work.db, code)
    if row is None or row.withdrawn_at is not None:
        return None
    return StartFrom(
        code=row.code,
        words=f"with the settings in use of {row.code}",
        printer_id=row.printer_id,
        trial=TrialSettings(
            material_id=row.material_id,
            layer_height_um=row.layer_height_um,
            exposure_s=row.exposure_s,
            settings=Settings.model_validate(row.settings),
        ),
    )


def _of_print(work: UnitOfWork, code: str) -> StartFrom | None:
    row = log.one_print(work.db, code)
    if row is None or not row.of_parts:
        return None
    parts = log.newest_parts(work.db, [row.id])
    settings = log.settings_of(work.db, row.id)
    trial = None
    if row.set_code is None and row.material_id and row.exposure_s and row.layer_height_um:
        trial = TrialSettings(
            material_id=row.material_id,
            layer_height_um=row.layer_height_um,
            exposure_s=row.exposure_s,
            settings=Settings.model_validate(settings or {}),
        )
    return StartFrom(
        code=row.code,
        words=f"as {row.code}",
        printer_id=row.printer_id,
        set_code=row.set_code,
        trial=trial,
        bottle_id=row.bottle_id,
        part=parts[0].name if parts else None,
    )


def _of_test(work: UnitOfWork, code: str) -> StartFrom | None:
    test = testing.test(work.db, code)
    groups = testing.groups(work.db, [test.id]) if test else []
    group = next((group for group in groups if group.printer_id and group.set_code), None)
    if test is None or group is None or group.printer_id is None:
        return None
    return StartFrom(
        code=test.code,
        words=f"as {group.material} in {test.code}",
        printer_id=group.printer_id,
        set_code=group.set_code,
    )


def _of_coupon(work: UnitOfWork, code: str) -> StartFrom | None:
    coupon = calibrations.coupon(work.db, code)
    arm = calibrations.arm(work.db, coupon.arm_id) if coupon else None
    calibration = calibrations.calibration(work.db, arm.calibration_id) if arm else None
    if coupon is None or arm is None or calibration is None:
        return None
    return StartFrom(
        code=coupon.code,
        words=f"as coupon {coupon.code}",
        printer_id=calibration.printer_id,
        trial=_trial(calibration, arm, coupon.exposure_s),
        bottle_id=calibration.bottle_id,
    )


def _of_calibration(work: UnitOfWork, code: str, query: StartQuery) -> StartFrom | None:
    """An arm of a calibration, at an exposure to try."""
    calibration = calibrations.calibration(work.db, code)
    if calibration is None:
        return None
    printer = present(shelf.printer(work.db, calibration.printer_id), "printer")
    arms = calibrations.arms(work.db, calibration.id)
    arm = next((arm for arm in arms if arm.number == query.arm), arms[-1])
    middle_s = round_to_step(math.sqrt(calibration.low_s * calibration.high_s), printer.exposure_step_s)
    return StartFrom(
        code=calibration.code,
        words=f"for {calibration.code}",
        printer_id=calibration.printer_id,
        trial=_trial(calibration, arm, query.exposure_s or max(middle_s, printer.exposure_step_s)),
        bottle_id=calibration.bottle_id,
    )


def _trial(calibration: calibrations.Calibration, arm: calibrations.Arm, exposure_s: float) -> TrialSettings:
    """The settings of an arm at an exposure."""
    return TrialSettings(
        material_id=calibration.material_id,
        layer_height_um=calibration.layer_height_um,
        exposure_s=exposure_s,
        settings=Settings.model_validate(arm.settings),
    )
