"""How sure this lab wants to be before an exposure is offered: one setting for all calibrations, shown wherever a decision is."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Problem
from ...core.window.contract import CutOffs
from ...store.lab import settings as lab_settings
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork

NAME = "cut_offs"
ALLOWED: dict[str, tuple[float, float]] = {
    "offer": (0.5, 0.999),
    "lanes": (0.5, 0.999),
    "nominal": (0.5, 0.999),
    "none": (0.001, 0.2),
    "most_coupons": (8, 40),
}
"""Beyond these a cut-off promises nothing, or is never reached."""


class CutOffsView(CutOffs):
    """The lab's cut-offs with the version that is edited."""

    version: int = Field(0, ge=0, description="Counts the changes; 0 while nobody set them")


def cut_offs(work: UnitOfWork) -> CutOffs:
    """The lab's cut-offs; the usual ones until somebody set others."""
    return CutOffs.model_validate(view(work).model_dump(exclude={"version"}))


def view(work: UnitOfWork) -> CutOffsView:
    """The cut-offs as they are edited."""
    return CutOffsView.model_validate(lab_settings.value(work.db, NAME) or {})


def change(work: UnitOfWork, request: CutOffsView) -> CutOffsView:
    """Set them for every calibration. Issued sets keep those they were issued with.

    Raises
    ------
    Problem
        Naming each cut-off that lies beyond what makes sense, as it is typed: chances in percent.
    """
    fields = {}
    for name, (low, high) in ALLOWED.items():
        if not low <= getattr(request, name) <= high:
            ends = f"{low:g} to {high:g}" if name == "most_coupons" else f"{100 * low:g} to {100 * high:g} %"
            fields[name] = f"Give {ends}."
    if fields:
        raise Problem("These cut-offs cannot be used.", fields)
    with work.write() as answer:
        work.technician()
        same_version(view(work), request.version, "How sure an offer must be", request)
        lab_settings.put(work.db, NAME, {**request.model_dump(), "version": request.version + 1})
        return answer(view(work))
