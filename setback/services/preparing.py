"""What was checked before a campaign or a print, or that it was skipped; and the gates of its printer."""

from __future__ import annotations

from pydantic import Field

from ..core.contract import Contract, Problem
from ..core.preparation import CHECKS, Occasion
from ..store import calibrations as store
from ..store import prints
from ..store.rows import insert
from .bench import Bench, View, present
from .blending.vats import vat
from .gates import GateView, gates


class PreparationInput(Contract):
    occasion: Occasion
    ticked: list[str] = Field(default_factory=list, max_length=20)
    skipped: bool = Field(False, description="Going on without; it is recorded who did")


class CheckView(View):
    key: str
    text: str
    looks_like: str
    caution: str


class PreparationState(View):
    """The checks of an occasion and who last did or skipped them."""

    occasion: Occasion
    checks: list[CheckView]
    done: bool
    skipped: bool
    ticked: list[str]
    initials: str | None
    at: str | None


class Preparing(View):
    campaign: PreparationState
    print: PreparationState
    gates: list[GateView]
    vat: str | None = Field(
        description="What is wrong with what the vat is noted to hold; None when it is this material"
    )


def preparing(bench: Bench, calibration_id: str) -> Preparing:
    row = present(store.calibration(bench.db, calibration_id), "calibration")
    return Preparing(
        campaign=_state(bench, calibration_id, "campaign"), print=_state(bench, calibration_id, "print"),
        gates=gates(bench, row.printer_id), vat=_vat(bench, row),
    )  # fmt: skip


def prepare(bench: Bench, calibration_id: str, given: PreparationInput) -> Preparing:
    """Record what was checked, or who went on without."""
    known = {check.key for check in CHECKS[given.occasion]}
    unknown = [key for key in given.ticked if key not in known]
    if unknown:
        said = f"There is no check called {unknown[0]}."
        raise Problem(said, {"ticked": said})
    if not given.skipped and set(given.ticked) != known:
        said = "Tick everything, or skip it: who skips is recorded."
        raise Problem(said, {"ticked": said})
    with bench.write() as answer:
        who = bench.technician()
        present(store.calibration(bench.db, calibration_id), "calibration")
        insert(
            bench.db, "preparation", id=bench.new_id(), calibration_id=calibration_id, occasion=given.occasion,
            ticked=given.ticked, skipped=given.skipped, technician_id=who.id, at=bench.now(),
        )  # fmt: skip
        return answer(preparing(bench, calibration_id))


def _vat(bench: Bench, row: store.Calibration) -> str | None:
    held = vat(bench, row.printer_id)
    if held.volume_ml <= 0:
        return f"Nothing is noted in the vat of {row.printer}: note the pour, and the bottle runs down with it."
    if held.material_id == row.material_id:
        return None
    what = held.is_called or ", ".join(f"{100 * one.fraction:.0f} % {one.material}" for one in held.layers)
    return f"The vat of {row.printer} is noted to hold {what}, not {row.material}."


def _state(bench: Bench, calibration_id: str, occasion: Occasion) -> PreparationState:
    held = prints.latest_preparation(bench.db, calibration_id, occasion)
    return PreparationState(
        occasion=occasion, checks=[CheckView.model_validate(check) for check in CHECKS[occasion]], done=held is not None,
        skipped=held.skipped if held else False, ticked=held.ticked if held else [],
        initials=held.initials if held else None, at=held.at if held else None,
    )  # fmt: skip
