"""Signed qualifications at Skerry Point: one that holds, one under conditions, one that an event has ended since."""

from __future__ import annotations

from datetime import timedelta

from ..services.qualify import signing, verdicts
from ..services.testing import briefs
from .shed import DEMO_NOW, Shed

TRAY_COVER = (("set.wall", "most", 0.3), ("set.latitude", "least", 8), ("set.tip", "most", 0.5))


def tray_cover(shed: Shed, ids: dict[str, str]) -> None:
    """A brief signed in autumn for Hullform on Gannet, before its vat was topped up."""
    shed.work_as("RB")
    shed.pass_time(days=1)
    lines = [
        briefs.Requirement.model_validate({"property": p, "at": at, "limit": limit}) for p, at, limit in TRAY_COVER
    ]
    given = briefs.BriefInput(name="Tray cover", use="Keeps splash off the larvae trays.", requirements=lines)
    ids["brief Tray cover"] = briefs.add(shed.bench, given).id
    sign(shed, ids["brief Tray cover"], "S-006", "Covers of up to 120 mm, flat on the plate.")


def qualifying(shed: Shed, ids: dict[str, str]) -> None:
    now = shed.time
    shed.time = DEMO_NOW - timedelta(hours=15)
    shed.work_as("IM")
    sign(shed, ids["brief Tray cover"], "S-002", "Covers of up to 120 mm, flat on the plate, away from the scratch.")
    shed.pass_time(minutes=25)
    shed.work_as("TO")
    sign(shed, ids["brief Filter baffle"], "S-001", "Baffles for the spring survey; sizes are measured on each.")
    shed.time = max(now, shed.time)


def sign(shed: Shed, brief_id: str, set_code: str, scope: str) -> None:
    judged = verdicts.one(shed.bench, brief_id, set_code)
    given = signing.SignInput(
        brief_id=brief_id, set_code=set_code, evidence_hash=judged.evidence_hash, scope=scope,
        initials=shed.bench.initials or "",
    )  # fmt: skip
    signing.sign(shed.bench, given)
