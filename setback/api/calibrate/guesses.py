"""First estimates for pairs that were never calibrated, and exposures carried over from other printers."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ...core.calibrate.start_exposure import StartExposureResult
from ...core.contract import Contract
from ...services.calibrate import prediction, transfer
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("guesses", __name__, url_prefix="/api", tag="Calibrate")


class PairQuery(Contract):
    """A material, a printer and a layer height."""

    material_id: str = Field(max_length=40)
    printer_id: str = Field(max_length=40)
    layer_height_um: float = Field(50, gt=0, le=1000)


@blueprint.get("/guess")
@takes(blueprint, PairQuery, "query")
@blueprint.output(StartExposureResult)
def guess(query: PairQuery) -> Any:
    """A first estimate for a pair that was never calibrated."""
    return prediction.guess(work(), query.material_id, query.printer_id, query.layer_height_um)


@blueprint.get("/guesses")
@blueprint.output(prediction.TrackRecord)
def guesses() -> Any:
    """How good first estimates have been."""
    return prediction.track_record(work())


@blueprint.get("/transfers")
@takes(blueprint, PairQuery, "query")
@blueprint.output(transfer.TransferView)
def transfers(query: PairQuery) -> Any:
    """Exposures carried over from other printers."""
    return transfer.transfers(work(), query.material_id, query.printer_id, query.layer_height_um)
