"""Calibrations whose window is shown: what is left to do before a set is issued."""

from __future__ import annotations

from dataclasses import dataclass
from typing import get_args

from ...core.calibrate.confirm import confirmed
from ...core.contract import Problem
from ...core.plan.steps import PrintJob, Route, StepKind
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.prints import prints
from ...store.terms import ConfirmPlace
from ..calibrate import assessment
from ..calibrate.assessment import ArmView
from ..calibrate.planning import PlanInput, Quote, cost_of
from ..unit_of_work import UnitOfWork, present

MOST_CALIBRATIONS = 4
"""Each window takes some time to compute."""
WHAT = "support"
"""The coupon that confirms where no demanding part is at hand."""
PLACES = get_args(ConfirmPlace)


@dataclass(frozen=True)
class OpenArm:
    """The newest arm of an open calibration of which nothing is under way."""

    calibration: store.Calibration
    arm: ArmView

    @property
    def is_shown(self) -> bool:
        """No coupon would add anything, and the evidence offers an exposure."""
        step, window = self.arm.next, self.arm.window
        return step is not None and not step.exposures_s and window is not None and window.policies is not None

    @property
    def exposure_s(self) -> float:
        """The exposure the evidence offers, the nominal-size one first."""
        assert self.arm.window is not None
        return next(value for value in (self.arm.window.policies or {}).values() if value is not None)


def open_arms(work: UnitOfWork) -> list[OpenArm]:
    """Open calibrations of which no coupon waits, the newest first."""
    listed = store.with_nothing_under_way(work.db, MOST_CALIBRATIONS)
    rows = [present(store.calibration(work.db, row.id), "calibration") for row in listed]
    return [OpenArm(row, arm) for row in rows for arm in assessment.arms(work, row, issued=False)[-1:]]


@dataclass(frozen=True)
class Confirming:
    """A calibration to confirm, at the places that have not passed yet."""

    open_arm: OpenArm
    places: list[str]
    cost: Quote
    route: shelf.FinishRoute | None

    @property
    def key(self) -> str:
        """Of its print in a plan."""
        return f"{self.open_arm.calibration.code} confirm"

    def print_job(self, done: set[str], reading_min: int) -> PrintJob:
        """The print that confirms, with what follows it."""
        calibration, route = self.open_arm.calibration, self.route
        steps: list[StepKind] = ["print", "wash", "dry", "cure", "read"]
        return PrintJob(
            key=self.key,
            name=f"confirming coupon{'s' if len(self.places) > 1 else ''} at {' and '.join(self.places)}, {calibration.code}",
            job=calibration.code,
            printer=calibration.printer_id,
            resin=calibration.material,
            # Both on one plate: as long as one of them.
            minutes=self.cost.duration_s / 60,
            route=None
            if route is None
            else Route(
                wash_fluid=route.wash_fluid,
                lamp=route.lamp,
                wash_min=route.dirty_bath_min + route.clean_bath_min,
                dry_min=route.dry_min,
                air_min=route.air_min,
                cure_min=route.cure_min,
            ),
            readings=len(self.places),
            reading_min=reading_min,
            to_do=[step for step in steps if step not in done],
        )


def to_confirm(work: UnitOfWork) -> list[Confirming]:
    """Calibrations that wait for their confirming prints, with what those cost."""
    rows = []
    for open_arm in open_arms(work):
        if not open_arm.is_shown:
            continue
        passes = passed(work, open_arm)
        places = [place for place in PLACES if (place, open_arm.exposure_s) not in passes]
        if confirmed_already(passes):
            continue
        calibration, arm = open_arm.calibration, open_arm.arm
        printer = shelf.printer(work.db, calibration.printer_id)
        assert printer is not None
        plan = PlanInput.model_validate({"kind": WHAT, "exposures_s": [open_arm.exposure_s]})
        try:
            cost = cost_of(plan, arm.settings, calibration.layer_height_um, printer, None)
        except Problem:  # A plate too small for it: its page says so.
            continue
        version = calibration.finish_route_version_id
        route = shelf.finish_route_version(work.db, version) if version else None
        rows.append(Confirming(open_arm, places or list(PLACES), cost, route))
    return rows


def passed(work: UnitOfWork, open_arm: OpenArm) -> list[tuple[str, float]]:
    """Places and exposures at which confirming prints of an arm passed."""
    rows = prints.confirmations(work.db, open_arm.calibration.id)
    return [(row.place, row.exposure_s) for row in rows if row.finding is None and row.arm_id == open_arm.arm.id]


def confirmed_already(passes: list[tuple[str, float]]) -> bool:
    """Whether some exposure passed at both places: what is left is to issue a set."""
    return any(confirmed(passes, exposure) for _, exposure in passes)
