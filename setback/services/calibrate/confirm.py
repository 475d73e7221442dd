"""Confirm a chosen exposure at the centre and at the worst place of the plate."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.calibrate.confirm import FINDINGS, confirmed
from ...core.contract import Contract, Problem, Seconds
from ...core.plate.uniformity import PlateUniformityInput, plate_uniformity
from ...core.window.contract import Window
from ...store import plate as plates
from ...store.calibrate import calibrations as store
from ...store.codes import next_code
from ...store.prints import prints
from ...store.rows import insert, update
from ...store.terms import ConfirmPlace
from ..reading.readings import Reason
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from . import assessment


class ConfirmInput(Contract):
    """A confirming print: what was printed, where, at which exposure, and what was seen."""

    arm_id: str = Field(max_length=40)
    exposure_s: Seconds
    place: ConfirmPlace
    what: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)] = "support coupon"
    finding: str | None = Field(None, max_length=20, description="None when it passed")
    note: Note = ""
    outside_reason: Reason | None = Field(
        None, description="Why an exposure is confirmed that the evidence does not offer"
    )


class FindingView(View):
    """Something that may be seen on a confirming print, and what it speaks for."""

    key: str
    seen: str
    suspect: str
    advice: str


class ConfirmView(View):
    """Confirming prints, and what is still needed."""

    calibration_id: str
    confirmations: list[prints.Confirmation]
    findings: list[FindingView]
    worst_place: str | None = Field(description="By the plate's map, at this arm's window")
    window_s: tuple[float, float] | None
    confirmed_s: list[float] = Field(description="Exposures that passed at both places")


def view(work: UnitOfWork, calibration_id: str, arm_number: int | None = None) -> ConfirmView:
    """Confirming prints of a calibration, or of one of its arms."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    confirmations = prints.confirmations(work.db, calibration_id)
    arm = _arm(work, row, arm_number)
    window = arm.window.window if arm.window else None
    passes = [(c.place, c.exposure_s) for c in confirmations if c.finding is None]
    exposures = sorted({exposure for _, exposure in passes})
    return ConfirmView(
        calibration_id=row.id,
        confirmations=confirmations,
        findings=[FindingView(key=f.key, seen=f.seen, suspect=f.suspect, advice=f.advice) for f in FINDINGS.values()],
        worst_place=_worst_place(work, row.printer_id, window),
        window_s=(window.lower_s, window.upper_s) if window else None,
        confirmed_s=[exposure for exposure in exposures if confirmed(passes, exposure)],
    )


def _arm(work: UnitOfWork, row: store.Calibration, number: int | None) -> assessment.ArmView:
    arms = assessment.arms(work, row, False)
    return next((arm for arm in arms if arm.number == number), arms[0])


def _worst_place(work: UnitOfWork, printer_id: str, window: Window | None) -> str | None:
    light_map = plates.newest_map(work.db, printer_id)
    if light_map is None:
        return None
    lower, upper = (window.lower_s, window.upper_s) if window else (0.5, 2.0)
    cell = (light_map.reference_row, light_map.reference_column) if light_map.reference_row is not None else None
    result = plate_uniformity(
        PlateUniformityInput(
            readings=light_map.readings,
            exposure_s=(lower * upper) ** 0.5,
            window_lower_s=lower,
            window_upper_s=upper,
            reference_cell=cell,
        )
    )
    i, j = result.worst_cell
    return f"row {i + 1}, column {j + 1} of the plate map: {100 * result.relative_dose[i][j]:.0f} % of the light"


def confirm(work: UnitOfWork, calibration_id: str, request: ConfirmInput) -> ConfirmView:
    """Record a pass or a finding at a place of the plate.

    Raises
    ------
    Conflict
        When the evidence does not offer the exposure and no reason was given.
    """
    if request.finding is not None and request.finding not in FINDINGS:
        message = f"Choose what was seen: {', '.join(FINDINGS)}."
        raise Problem(message, {"finding": message})
    with work.write() as answer:
        technician = work.technician()
        row = present(store.calibration(work.db, calibration_id), "calibration")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        arm = present(store.arm(work.db, request.arm_id), "arm")
        if arm.calibration_id != row.id:
            message = "This arm belongs to another calibration."
            raise Problem(message, {"arm_id": message})
        window = _arm(work, row, arm.number).window
        inside = window is not None and window.offers(request.exposure_s)
        if not inside and request.outside_reason is None:
            message = f"The evidence of this arm does not offer {request.exposure_s:g} s. Say why it is confirmed all the same."
            raise Conflict(message, {"outside_reason": message})
        insert(
            work.db,
            "confirmation",
            id=work.new_id(),
            code=next_code(work.db, "V"),
            calibration_id=row.id,
            technician_id=technician.id,
            confirmed_at=work.now(),
            **{**request.model_dump(), "outside_reason": None if inside else request.outside_reason},
        )
        return answer(view(work, calibration_id, arm.number))


def withdraw(work: UnitOfWork, confirmation_id: str, reason: Reason) -> ConfirmView:
    """Withdraw a confirming print, with a reason."""
    with work.write() as answer:
        stored = present(prints.confirmation(work.db, confirmation_id), "confirmation")
        if stored.withdrawn_at is not None:
            raise Conflict(f"{stored.code} is withdrawn already.")
        update(work.db, "confirmation", confirmation_id, withdrawn_at=work.now(), withdrawn_reason=reason)
        return answer(view(work, stored.calibration_id))


def restore(work: UnitOfWork, confirmation_id: str) -> ConfirmView:
    """Let a withdrawn confirming print count again."""
    with work.write() as answer:
        stored = present(prints.confirmation(work.db, confirmation_id), "confirmation")
        update(work.db, "confirmation", confirmation_id, withdrawn_at=None, withdrawn_reason=None)
        return answer(view(work, stored.calibration_id))
