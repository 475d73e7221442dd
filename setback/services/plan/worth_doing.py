"""What is worth doing beside what is planned already: the next coupon, a set that is due, evidence a brief still lacks."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.qualify.verdict import Judged, Need
from ...store.qualify.briefs import BriefRow
from ..qualify import verdicts
from ..sets import board
from ..unit_of_work import UnitOfWork, View
from .confirming import OpenArm, confirmed_already, open_arms, passed

MOST_BRIEFS = 5


class WorthDoing(View):
    """Something that is not planned yet and would show most for what it takes."""

    kind: Literal["coupon", "issue", "check", "evidence"]
    words: str
    why: str
    link: str
    ml: float | None = Field(description="Resin it would take; null where that is not known before it is planned")
    minutes: float | None = Field(description="Of its printer; null where that is not known")


def worth_doing(work: UnitOfWork) -> list[WorthDoing]:
    """Suggestions, coupons first: from the next coupon of open calibrations, sets that are due, and briefs."""
    return [*_coupons(work), *_checks(work), *_evidence(work)]


def _coupons(work: UnitOfWork) -> list[WorthDoing]:
    rows = []
    for open_arm in open_arms(work):
        step = open_arm.arm.next
        if step is None or step.refused is not None:
            continue
        if not step.exposures_s:
            # The confirming prints themselves are tasks of the plan.
            if open_arm.is_shown and confirmed_already(passed(work, open_arm)):
                rows.append(_to_issue(open_arm))
            continue
        exposures = ", ".join(f"{seconds:g}" for seconds in step.exposures_s)
        calibration = open_arm.calibration
        rows.append(
            WorthDoing(
                kind="coupon",
                words=f"{step.advice.kind} coupon{'s' if len(step.exposures_s) > 1 else ''} at {exposures} s, {calibration.code}",
                why=f"{calibration.material} on {calibration.printer}: "
                + (f"it would settle {step.settles}" if step.settles else step.advice.message),
                link=f"/calibrate/{calibration.id}?step=refine",
                ml=step.cost.volume_ml if step.cost else None,
                minutes=step.cost.duration_s / 60 if step.cost else None,
            )
        )
    return rows


def _to_issue(open_arm: OpenArm) -> WorthDoing:
    calibration = open_arm.calibration
    return WorthDoing(
        kind="issue",
        words=f"issue a set, {calibration.code}",
        why=f"{calibration.material} on {calibration.printer}: its window is shown and confirmed",
        link=f"/calibrate/{calibration.id}?step=decide",
        ml=None,
        minutes=None,
    )


def _checks(work: UnitOfWork) -> list[WorthDoing]:
    due = [task for task in board.checks_due(work) if task.set_code]
    return [
        WorthDoing(
            kind="check",
            words=f"check coupon of {task.set_code}",
            why=f"{task.title}: {task.detail}",
            link=f"/sets/{task.set_code}",
            ml=None,
            minutes=None,
        )
        for task in due
    ]


def _evidence(work: UnitOfWork) -> list[WorthDoing]:
    """Of each brief that no set qualifies for: what its nearest candidate still lacks."""
    rows = []
    for brief, candidate in verdicts.best_candidates(work)[:MOST_BRIEFS]:
        lacking = [(requirement, requirement.need) for requirement in candidate.judged if requirement.need is not None]
        rows += [_lacks(brief, candidate, *pair) for pair in lacking[:1]]
    return rows


def _lacks(brief: BriefRow, candidate: verdicts.Candidate, requirement: Judged, need: Need) -> WorthDoing:
    return WorthDoing(
        kind="evidence",
        words=need.words,
        why=f"{brief.name}: {requirement.name} of {candidate.set_code} is not shown",
        link=f"/qualify/{brief.code}/{candidate.set_code}",
        ml=None,
        minutes=None,
    )
