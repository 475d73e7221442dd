"""What a plan of this lab goes by: working hours, places, and minutes of a person."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract
from ...core.plan.hours import WorkingHours
from ...core.plan.steps import Handling
from ...store.lab import settings as store
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork

NAME = "plan"


class PlanSettings(Contract):
    """Working hours, places and minutes; every one has a usual value."""

    hours: WorkingHours = Field(default_factory=WorkingHours, description="When the technician works")
    handling: Handling = Field(default_factory=Handling, description="Minutes of a person for each step")
    lamp_places: int = Field(4, ge=1, le=200, description="Prints a curing lamp takes at once")
    dry_places: int = Field(8, ge=1, le=200, description="Prints that dry at once")
    gloves_per_print: int = Field(2, ge=0, le=20, description="Gloves a print takes, from its start to its cure")
    version: int = Field(0, ge=0, description="Counts the changes; 0 while nobody set them")


def plan_settings(work: UnitOfWork) -> PlanSettings:
    """The settings of the plan; the usual ones until somebody sets others."""
    return PlanSettings.model_validate(store.value(work.db, NAME) or {})


def change(work: UnitOfWork, request: PlanSettings) -> PlanSettings:
    """Set them for the whole lab."""
    with work.write() as answer:
        work.technician()
        same_version(plan_settings(work), request.version, "The plan's settings", request)
        version = request.version + 1
        store.put(work.db, NAME, request.model_copy(update={"version": version}).model_dump(mode="json"))
        return answer(plan_settings(work))
