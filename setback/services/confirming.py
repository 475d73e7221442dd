"""Confirm a chosen exposure at the centre and at the worst place of the plate."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..core.confirm import FINDINGS, confirmed
from ..core.contract import Contract, Problem, Seconds
from ..core.plate_uniformity import PlateUniformityInput, plate_uniformity
from ..core.window.contract import Window
from ..store import calibrations as store
from ..store import plates, prints
from ..store.codes import next_code
from ..store.rows import insert, update
from . import assessment
from .bench import Bench, Conflict, View, present
from .readings import Reason
from .shelf.entry import Note


class ConfirmInput(Contract):
    arm_id: str = Field(max_length=40)
    exposure_s: Seconds
    place: Literal["centre", "worst place"]
    what: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)] = "support coupon"
    finding: str | None = Field(None, max_length=20, description="None when it passed")
    note: Note = ""
    outside_reason: Reason | None = Field(
        None, description="Why an exposure is confirmed that the evidence does not offer"
    )


class ConfirmationView(View):
    id: str
    code: str
    exposure_s: float
    place: str
    what: str
    finding: str | None
    note: str
    outside_reason: str | None
    initials: str
    confirmed_at: str


class FindingView(View):
    key: str
    seen: str
    suspect: str
    advice: str


class ConfirmView(View):
    calibration_id: str
    confirmations: list[ConfirmationView]
    findings: list[FindingView]
    worst_place: str | None = Field(description="By the plate's map, at this arm's window")
    window_s: tuple[float, float] | None
    confirmed_s: list[float] = Field(description="Exposures that passed at both places")


def view(bench: Bench, calibration_id: str, arm_number: int | None = None) -> ConfirmView:
    row = present(store.calibration(bench.db, calibration_id), "calibration")
    held = prints.confirmations(bench.db, calibration_id)
    arm = _arm(bench, row, arm_number)
    window = arm.window.window if arm.window else None
    passes = [(c.place, c.exposure_s) for c in held if c.finding is None]
    exposures = sorted({exposure for _, exposure in passes})
    return ConfirmView(
        calibration_id=row.id, confirmations=[ConfirmationView.model_validate(c) for c in held],
        findings=[FindingView.model_validate(f) for f in FINDINGS.values()],
        worst_place=_worst_place(bench, row.printer_id, window),
        window_s=(window.lower_s, window.upper_s) if window else None,
        confirmed_s=[exposure for exposure in exposures if confirmed(passes, exposure)],
    )  # fmt: skip


def _arm(bench: Bench, row: store.Calibration, number: int | None) -> assessment.ArmView:
    arms = assessment.arms(bench, row, False)
    return next((arm for arm in arms if arm.number == number), arms[0])


def _worst_place(bench: Bench, printer_id: str, window: Window | None) -> str | None:
    held = plates.newest_map(bench.db, printer_id)
    if held is None:
        return None
    lower, upper = (window.lower_s, window.upper_s) if window else (0.5, 2.0)
    cell = (held.reference_row, held.reference_column) if held.reference_row is not None else None
    result = plate_uniformity(
        PlateUniformityInput(
            readings=held.readings, exposure_s=(lower * upper) ** 0.5, window_lower_s=lower, window_upper_s=upper,
            reference_cell=cell,
        )
    )  # fmt: skip
    i, j = result.worst_cell
    return f"row {i + 1}, column {j + 1} of the plate map: {100 * result.relative_dose[i][j]:.0f} % of the light"


def confirm(bench: Bench, calibration_id: str, given: ConfirmInput) -> ConfirmView:
    """Record a pass or a finding at a place of the plate.

    Raises
    ------
    Conflict
        When the evidence does not offer the exposure and no reason was given.
    """
    if given.finding is not None and given.finding not in FINDINGS:
        said = f"Choose what was seen: {', '.join(FINDINGS)}."
        raise Problem(said, {"finding": said})
    with bench.write() as answer:
        who = bench.technician()
        row = present(store.calibration(bench.db, calibration_id), "calibration")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        arm = present(store.arm(bench.db, given.arm_id), "arm")
        if arm.calibration_id != row.id:
            said = "This arm belongs to another calibration."
            raise Problem(said, {"arm_id": said})
        window = _arm(bench, row, arm.number).window
        inside = window is not None and window.offers(given.exposure_s)
        if not inside and given.outside_reason is None:
            said = (
                f"The evidence of this arm does not offer {given.exposure_s:g} s. Say why it is confirmed all the same."
            )
            raise Conflict(said, {"outside_reason": said})
        insert(
            bench.db, "confirmation", id=bench.new_id(), code=next_code(bench.db, "V"), calibration_id=row.id,
            technician_id=who.id, confirmed_at=bench.now(),
            **{**given.model_dump(), "outside_reason": None if inside else given.outside_reason},
        )  # fmt: skip
        return answer(view(bench, calibration_id, arm.number))


def withdraw(bench: Bench, confirmation_id: str, reason: Reason) -> ConfirmView:
    with bench.write() as answer:
        held = present(prints.confirmation(bench.db, confirmation_id), "confirmation")
        if held.withdrawn_at is not None:
            raise Conflict(f"{held.code} is withdrawn already.")
        update(bench.db, "confirmation", confirmation_id, withdrawn_at=bench.now(), withdrawn_reason=reason)
        return answer(view(bench, held.calibration_id))


def restore(bench: Bench, confirmation_id: str) -> ConfirmView:
    with bench.write() as answer:
        held = present(prints.confirmation(bench.db, confirmation_id), "confirmation")
        update(bench.db, "confirmation", confirmation_id, withdrawn_at=None, withdrawn_reason=None)
        return answer(view(bench, held.calibration_id))
