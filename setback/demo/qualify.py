"""Signed qualifications at Skerry Point: one that holds, one under conditions, one that an event has ended since."""

from __future__ import annotations

from datetime import timedelta

from ..core.qualify.verdict import Requirement
from ..services.qualify import signing, verdicts
from ..services.testing import briefs
from .shed import Shed

TRAY_COVER = (("set.wall", "most", 0.3), ("set.latitude", "least", 8), ("set.tip", "most", 0.5))


def tray_cover(lab: Shed, ids: dict[str, str]) -> None:
    """A brief signed in autumn for Hullform on Gannet, before its vat was topped up."""
    lab.work_as("RB")
    lab.pass_time(days=1)
    lines = [Requirement.model_validate({"property": p, "at": at, "limit": limit}) for p, at, limit in TRAY_COVER]
    brief = briefs.BriefInput(name="Tray cover", use="Keeps splash off the larvae trays.", requirements=lines)
    ids["brief Tray cover"] = briefs.add(lab.work, brief).id
    sign(lab, ids["brief Tray cover"], "S-006", "Covers of up to 120 mm, flat on the plate.")


def qualifying(lab: Shed, ids: dict[str, str]) -> None:
    now = lab.time
    lab.time = lab.now - timedelta(hours=15)
    lab.work_as("IM")
    sign(lab, ids["brief Tray cover"], "S-002", "Covers of up to 120 mm, flat on the plate, away from the scratch.")
    lab.pass_time(minutes=25)
    lab.work_as("TO")
    sign(lab, ids["brief Filter baffle"], "S-001", "Baffles for the spring survey; sizes are measured on each.")
    lab.time = max(now, lab.time)


def sign(lab: Shed, brief_id: str, set_code: str, scope: str) -> None:
    candidate = verdicts.one(lab.work, brief_id, set_code)
    request = signing.SignInput(
        brief_id=brief_id,
        set_code=set_code,
        evidence_hash=candidate.evidence_hash,
        scope=scope,
        initials=lab.work.initials or "",
    )
    signing.sign(lab.work, request)
