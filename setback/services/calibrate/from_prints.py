"""Calibrations that rest on prints of parts alone: their evidence, their window, and the print to make next."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import Field

from ...core.contract import Notice
from ...core.printing.settings import Settings
from ...core.prints.next_print import NextPrint, next_print
from ...core.prints.outcomes import PrintOutcome, PrintSuccessResult
from ...core.prints.window import PrintWindowInput
from ...core.window.contract import CutOffs, WindowOutcome
from ...store.calibrate import calibrations as store
from ..prints.evidence import outcomes_with
from ..unit_of_work import UnitOfWork, View
from .windows import print_success_for, print_window_for


class ArmPrints(View):
    """What prints of parts tell an arm."""

    success: PrintSuccessResult | None = Field(description="Success against exposure; null before the first print")
    prints: int = Field(description="Prints with the settings of this arm")
    next: NextPrint | None = Field(description="The print to make next; null for a closed calibration")
    notices: list[Notice] = Field(description="What was left out of the evidence")


@dataclass(frozen=True)
class PrintsOfArm:
    """Prints with the settings of one arm, and the window they make."""

    outcomes: list[PrintOutcome]
    notices: list[Notice]
    window_input: PrintWindowInput | None
    window: WindowOutcome | None


def prints_of_arm(
    work: UnitOfWork, calibration: store.Calibration, arm: store.Arm, step_s: float, sure: CutOffs
) -> PrintsOfArm:
    """Prints of parts that count for an arm, and the window they make; None without one."""
    outcomes, notices = outcomes_with(
        work,
        calibration.material_id,
        calibration.printer_id,
        calibration.layer_height_um,
        Settings.model_validate(arm.settings),
    )
    if not outcomes or calibration.whole_share is None:
        return PrintsOfArm(outcomes, notices, None, None)
    window_input = PrintWindowInput(
        prints=outcomes, target=calibration.whole_share, exposure_step_s=step_s, cut_offs=sure
    )
    return PrintsOfArm(outcomes, notices, window_input, print_window_for(window_input))


def arm_prints(calibration: store.Calibration, of_arm: PrintsOfArm, step_s: float) -> ArmPrints:
    """What prints tell an arm, for its page."""
    share = calibration.whole_share
    assert share is not None
    success = None if of_arm.window_input is None else print_success_for(of_arm.window_input)
    following = None
    if calibration.closed_at is None:
        following = next_print(success, of_arm.window, share, (calibration.low_s, calibration.high_s), step_s)
    return ArmPrints(
        success=success,
        prints=len({outcome.print for outcome in of_arm.outcomes}),
        next=following,
        notices=of_arm.notices,
    )
