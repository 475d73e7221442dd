"""The settings of the whole lab."""

from __future__ import annotations

from typing import Any

from flask import Response, current_app

from ...report.paper import code_drawing
from ...services import lab_settings as service
from ...services.lab import activity as activity_service
from ...services.lab import address_check
from ...services.unit_of_work import View
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("lab_settings", __name__, url_prefix="/api", tag="Lab")


class AddressLastKept(View):
    """The last check of the address, where it was checked."""

    kept: address_check.AddressKept | None


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


@blueprint.get("/lab-settings/address-check")
@blueprint.output(AddressLastKept)
def address_kept() -> Any:
    """When the address that codes lead to was last scanned with success."""
    return {"kept": address_check.last_kept(work())}


@blueprint.post("/lab-settings/address-checks")
@blueprint.output(address_check.AddressCheckView, status_code=201)
def begin_address_check() -> Any:
    """A code to scan, which tells whether the address leads here."""
    return _checks().begin(work())


@blueprint.get("/lab-settings/address-checks/<token>")
@blueprint.output(address_check.AddressCheckView)
def look_at_address_check(token: str) -> Any:
    """Whether the code was followed."""
    return _checks().look(token)


@blueprint.get("/lab-settings/address-checks/<token>/code.svg")
@blueprint.doc(description="The QR code of a check, as a drawing.")
def code_of_address_check(token: str) -> Any:
    """The code as a drawing."""
    return Response(code_drawing(_checks().look(token).link), mimetype="image/svg+xml")


@blueprint.post("/lab-settings/address-checks/<token>/keep")
@blueprint.output(address_check.AddressKept)
def keep_address_check(token: str) -> Any:
    """Keep that the address works."""
    return _checks().keep(work(), token)


def _checks() -> address_check.AddressChecks:
    return current_app.extensions["address_checks"]  # type: ignore[no-any-return]


@blueprint.get("/activity")
@takes(blueprint, activity_service.ActivityQuery, "query")
@blueprint.output(activity_service.Activity)
def activity(query: activity_service.ActivityQuery) -> Any:
    """What was done in the lab, newest first."""
    return activity_service.activity(work(), query)
