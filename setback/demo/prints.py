"""Calibrated by prints of parts alone: gaskets of Kelpflex on Cormorant, the exposure raised until they come out whole."""

from __future__ import annotations

from datetime import timedelta

from ..core.printing.settings import Settings
from ..core.window.lanes import Limits
from ..services.calibrate import calibrations
from ..services.prints import print_log
from ..services.prints.parts import CountedPart
from ..services.prints.starting import TrialSettings
from ..services.sets import issue
from .shed import Shed

# Exposure s, °C, gaskets printed, whole, what was seen on the others; in the order of the days.
RAISED = (
    (4.5, 22.6, 12, 3, "supports-torn"),
    (5.2, 23.1, 12, 8, "supports-torn"),
    (7.0, 22.2, 16, 16, ""),
    (11.0, 23.8, 12, 5, "details-grown-shut"),
    (6.0, 21.9, 16, 15, "details-missing"),
    (7.0, 24.0, 20, 20, ""),
    (8.5, 22.9, 16, 15, "details-grown-shut"),
    (6.4, 23.3, 16, 16, ""),
    (7.0, 22.4, 20, 20, ""),
    (7.6, 23.5, 20, 20, ""),
)
DAYS_BETWEEN = 2.4


def kelpflex_by_prints(lab: Shed, ids: dict[str, str]) -> None:
    """Opened eight weeks ago by TO, who prints gaskets and no coupons; issued when enough came out whole."""
    now = lab.time
    begun = lab.now - timedelta(days=57)
    lab.time = begun
    lab.work_as("TO")
    settings = Settings(lift_mm=8, lift_mm_min=50)
    view = calibrations.open_calibration(
        lab.work,
        calibrations.CalibrationInput(
            material_id=ids["Kelpflex"],
            printer_id=ids["Cormorant"],
            bottle_id=ids["bottle Kelpflex"],
            finish_route_id=ids["Two-bath solvent"],
            layer_height_um=50,
            low_s=3,
            high_s=9,
            limits=Limits(),
            settings=settings,
            whole_share=0.9,
        ),
    )
    for number, (exposure_s, temp_c, printed, whole, sign) in enumerate(RAISED, 1):
        lab.time = begun + timedelta(days=DAYS_BETWEEN * number)
        request = print_log.LogInput(
            printer_id=ids["Cormorant"],
            trial=TrialSettings(
                material_id=ids["Kelpflex"], layer_height_um=50, exposure_s=exposure_s, settings=settings
            ),
            temp_c=temp_c,
            temp_place="resin",
            tip_mm=0.4,
            volume_ml=18,
            minutes=95,
            started_from=view.code,
            parts=[CountedPart(name="gasket", printed=printed, whole=whole)],
            symptoms=[sign] if sign else [],
        )
        logged = print_log.log(lab.work, request)
        if logged.pieces_lost:
            lab.pass_time(minutes=25)
            print_log.vat_searched(lab.work, logged.id)
    lab.pass_time(hours=3)
    _issued(lab, view.id)
    lab.time = max(now, lab.time)


def _issued(lab: Shed, calibration_id: str) -> None:
    view = calibrations.calibration(lab.work, calibration_id)
    arm = view.arms[0]
    offered = arm.window.policies if arm.window else None
    if not offered or offered["centre"] is None:
        raise ValueError("the prints of this story show no exposure")
    issue.issue(
        lab.work,
        calibration_id,
        issue.IssueInput(
            version=view.version,
            arm_id=arm.id,
            exposure_s=offered["centre"],
            policy="centre",
            reason="Gaskets for the drifter hatches: most of them whole, no coupon printed.",
            temp_low_c=20,
            temp_high_c=26,
        ),
    )
