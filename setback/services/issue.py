"""Issue a parameter set from a calibration's evidence, and read the card of one."""

from __future__ import annotations

import dataclasses
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from .. import __version__
from ..core.contract import Contract, Problem, Seconds
from ..core.earlier_window.contract import WindowResult
from ..core.earlier_window.process_window import process_window
from ..core.settings import Settings
from ..core.steps import round_to_step
from ..core.ways import RANGE_ONLY
from ..store import calibrations as store
from ..store import parameter_sets, shelf
from ..store.codes import next_code
from .bench import Bench, Conflict, present, same_version
from .cards import SetCard, card
from .coupon_reads import arms_evidence, window_input
from .depth import cure_curve

Policy = Literal["size-true", "centre", "support-safe", "hardest-in-tolerance", "own choice"]


class IssueInput(Contract):
    version: int = Field(description="Version of the calibration that was looked at")
    arm_id: str
    exposure_s: Seconds
    policy: Policy
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=10, max_length=2000)]
    temp_low_c: Annotated[float, Field(ge=-20, le=80)] | None = None
    temp_high_c: Annotated[float, Field(ge=-20, le=80)] | None = None


def issue(bench: Bench, calibration_id: str, given: IssueInput) -> SetCard:
    """Issue a set: the window is computed again from the evidence and kept with it.

    Raises
    ------
    Conflict
        When the evidence offers no exposure: no window, a proven conflict, or a provisional window.
    Problem
        When the exposure is not a step inside the window.
    """
    with bench.write() as answer:
        db = bench.db
        who = bench.technician()
        row = present(store.calibration(db, calibration_id), "calibration")
        same_version(row.version, given.version, row.code)
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        arm = present(store.arm(db, given.arm_id), "arm")
        if arm.calibration_id != row.id:
            raise Problem("This arm belongs to another calibration.", {"arm_id": "Choose an arm of this calibration."})
        printer = present(shelf.printer(db, row.printer_id), "printer")
        evidence, range_only = arms_evidence(bench, row, [arm.id])[arm.id]
        if range_only:
            raise Conflict(RANGE_ONLY)
        if not evidence:
            raise Conflict("Nothing is read yet, so there is nothing to issue on.")
        window_given = window_input(row, printer.exposure_step_s, evidence, cure_curve(bench, row))
        result = process_window(window_given)
        _check_offered(result)
        _check_choice(given, result, printer.exposure_step_s)
        settings = Settings.model_validate(arm.settings)
        chain, previous = parameter_sets.last_link(db)
        held = parameter_sets.SetRow(
            id=bench.new_id(),
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
            exposure_s=given.exposure_s,
            policy=given.policy,
            reason=given.reason,
            settings=settings.model_dump(),
            temp_low_c=given.temp_low_c,
            temp_high_c=given.temp_high_c,
            tip_proven_mm=_tip_proven(result, window_given.limits.tips_size_mm, given.exposure_s),
            technician_id=who.id,
            issued_at=bench.now(),
            core_version=__version__,
            input=window_given.model_dump(mode="json"),
            result=result.model_dump(mode="json"),
            previous_hash=previous,
            hash="",
        )
        parameter_sets.append(db, dataclasses.replace(held, hash=parameter_sets.hash_of(held)))
        return answer(card(bench, held.id))


def _check_offered(result: WindowResult) -> None:
    if result.conflict is not None:
        raise Conflict(f"{result.conflict.message} Nothing can be issued on it.")
    if result.window is None or result.policies is None:
        raise Conflict("The evidence makes no window yet, so there is no exposure to issue.")
    if result.provisional:
        raise Conflict(
            "The window is provisional: a lane was left out or a coupon was read before it was finished. "
            "Repeat or leave out those coupons first."
        )


def _check_choice(given: IssueInput, result: WindowResult, step_s: float) -> None:
    assert result.window is not None and result.policies is not None
    low, high = result.window.lower_s, result.window.upper_s
    if abs(round_to_step(given.exposure_s, step_s) - given.exposure_s) > 1e-9:
        said = f"The printer sets whole steps of {step_s:g} s."
        raise Problem(said, {"exposure_s": said})
    if not low * (1 - 1e-9) <= given.exposure_s <= high * (1 + 1e-9):
        said = f"{given.exposure_s:g} s is outside the window of {low:.3g} to {high:.3g} s."
        raise Problem(said, {"exposure_s": said})
    if given.policy != "own choice" and result.policies.get(given.policy) != given.exposure_s:
        said = f"By {given.policy} the evidence gives {result.policies.get(given.policy)} s. Reload to see it."
        raise Problem(said, {"policy": said})
    if (given.temp_low_c is None) != (given.temp_high_c is None):
        said = "Give both ends of the temperature band, or neither."
        raise Problem(said, {"temp_low_c" if given.temp_low_c is None else "temp_high_c": said})
    if given.temp_low_c is not None and given.temp_high_c is not None and given.temp_high_c < given.temp_low_c:
        said = "The warm end is below the cold end."
        raise Problem(said, {"temp_high_c": said})


def _tip_proven(result: WindowResult, tip_mm: float | None, exposure_s: float) -> float | None:
    """The wanted tip, when the tips lane says it holds at this exposure."""
    lane = result.lanes.get("tips")
    if tip_mm is None or lane is None or lane.lower_used_s is None:
        return None
    return tip_mm if exposure_s >= lane.lower_used_s - 1e-9 else None
