"""What was checked before a campaign or a print, or that it was skipped; and the gates of its printer."""

from __future__ import annotations

from pydantic import Field

from ...core.calibrate.preparation import CHECKS, Occasion
from ...core.contract import Contract, Problem
from ...store.calibrate import calibrations as store
from ...store.prints import prints
from ...store.rows import insert
from ..blends.vats import vat
from ..prints.gates import GateView, gates
from ..unit_of_work import UnitOfWork, View, present


class PreparationInput(Contract):
    """The checks done on one occasion."""

    occasion: Occasion
    ticked: list[str] = Field(default_factory=list, max_length=20)
    skipped: bool = Field(False, description="Going on without; it is recorded who did")


class CheckView(View):
    """A check with what it is for."""

    key: str
    text: str
    looks_like: str
    caution: str


class EarlierCheck(View):
    """Who checked everything, and when."""

    initials: str
    at: str


class PreparationState(View):
    """The checks of an occasion and who last did or skipped them."""

    occasion: Occasion
    checks: list[CheckView]
    done: bool
    skipped: bool
    ticked: list[str]
    initials: str | None
    at: str | None
    earlier: EarlierCheck | None = Field(
        None, description="The last full check of a print on this printer today: one tick says it still holds"
    )


class Preparing(View):
    """What was prepared, and what is due."""

    campaign: PreparationState
    print: PreparationState
    gates: list[GateView]
    vat: str | None = Field(
        description="What is wrong with what the vat is noted to hold; None when it is this material"
    )


def preparing(work: UnitOfWork, calibration_id: str) -> Preparing:
    """What was prepared for a calibration, and what is due."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    return Preparing(
        campaign=_state(work, calibration_id, "campaign"),
        print=_state(work, calibration_id, "print").model_copy(
            update={"earlier": prints.checked_today(work.db, row.printer_id, work.now())}
        ),
        gates=gates(work, row.printer_id),
        vat=_vat(work, row),
    )


def prepare(work: UnitOfWork, calibration_id: str, request: PreparationInput) -> Preparing:
    """Record what was checked, or who went on without."""
    check_keys = {check.key for check in CHECKS[request.occasion]}
    unknown = [key for key in request.ticked if key not in check_keys]
    if unknown:
        message = f"There is no check called {unknown[0]}."
        raise Problem(message, {"ticked": message})
    if not request.skipped and set(request.ticked) != check_keys:
        message = "Tick everything, or skip it: who skips is recorded."
        raise Problem(message, {"ticked": message})
    with work.write() as answer:
        technician = work.technician()
        present(store.calibration(work.db, calibration_id), "calibration")
        insert(
            work.db,
            "preparation",
            id=work.new_id(),
            calibration_id=calibration_id,
            occasion=request.occasion,
            ticked=request.ticked,
            skipped=request.skipped,
            technician_id=technician.id,
            at=work.now(),
        )
        return answer(preparing(work, calibration_id))


def _vat(work: UnitOfWork, row: store.Calibration) -> str | None:
    vat_view = vat(work, row.printer_id)
    if vat_view.volume_ml <= 0:
        return f"Nothing is noted in the vat of {row.printer}: note the pour, and the bottle runs down with it."
    if vat_view.material_id == row.material_id:
        return None
    contents = vat_view.is_called or ", ".join(
        f"{100 * layer.fraction:.0f} % {layer.material}" for layer in vat_view.layers
    )
    return f"The vat of {row.printer} is noted to hold {contents}, not {row.material}."


def _state(work: UnitOfWork, calibration_id: str, occasion: Occasion) -> PreparationState:
    latest = prints.latest_preparation(work.db, calibration_id, occasion)
    return PreparationState(
        occasion=occasion,
        checks=[CheckView.model_validate(check) for check in CHECKS[occasion]],
        done=latest is not None,
        skipped=latest.skipped if latest else False,
        ticked=latest.ticked if latest else [],
        initials=latest.initials if latest else None,
        at=latest.at if latest else None,
    )
