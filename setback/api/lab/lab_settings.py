"""The settings of the whole lab."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from ...services import lab_settings as service
from ...services.lab import activity as activity_service
from ..wiring import takes, work

blueprint = APIBlueprint("lab_settings", __name__, url_prefix="/api", tag="Lab")


@blueprint.get("/lab-settings")
@blueprint.output(service.LabSettingsView)
def lab_settings() -> Any:
    """Name, units, usual values and folders of this lab."""
    return service.lab_settings(work())


@blueprint.put("/lab-settings")
@takes(blueprint, service.LabSettingsView)
@blueprint.output(service.LabSettingsView)
def change_lab_settings(body: service.LabSettingsView) -> Any:
    """Set name, units, usual values and folders of this lab."""
    return service.change(work(), body)


@blueprint.get("/lab-settings/place")
@blueprint.output(service.LabPlace)
def lab_place() -> Any:
    """Where QR codes lead and copies lie on this machine."""
    return service.place(work())


@blueprint.get("/activity")
@takes(blueprint, activity_service.ActivityQuery, "query")
@blueprint.output(activity_service.Activity)
def activity(query: activity_service.ActivityQuery) -> Any:
    """What was done in the lab, newest first."""
    return activity_service.activity(work(), query)
