"""Campaigns of virtual coupons read twice: by hand with the usual error, and by picture alone, only what the reader calls sure."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace

from setback.core.reading.picture.opened import opened
from setback.core.reading.picture.read import read_picture
from setback.core.reading.tally import ReadFeature, tally
from setback.core.window.contract import WindowInput, WindowOutcome
from setback.core.window.lanes import Limits
from setback.core.window.process_window import process_window
from setback.coupon import drawn
from setback.coupon.for_picture import for_picture
from setback.coupon.lettering import embossed
from setback.simulate import hidden
from setback.simulate.camera import Shot, photograph
from setback.simulate.printed import Printed, print_coupon, size_true_s
from setback.simulate.reader import read
from tests.core.reading.virtual_pictures import RESINS
from tests.length import FULL

STEP_S = 0.05
# In ln exposure, about the one at which parts come out at size.
LADDER = (-0.24, -0.12, 0.0, 0.12, 0.26, 0.42, 0.6) if FULL else (-0.2, 0.0, 0.3, 0.6)
BY_EYE = Limits(walls_size_mm=0.21, slots_size_mm=0.32)
WITH_SIZES = Limits(walls_size_mm=0.21, slots_size_mm=0.32, growth_tol_um=30)


@dataclass(frozen=True)
class Compared:
    """What one campaign offers, read by hand and by picture, s; None where it offers nothing."""

    by_hand_s: float | None
    by_picture_s: float | None

    @property
    def agrees(self) -> bool:
        """Within five percent, or neither offers anything."""
        if self.by_hand_s is None or self.by_picture_s is None:
            return self.by_hand_s is self.by_picture_s
        return abs(math.log(self.by_picture_s / self.by_hand_s)) <= math.log(1.05)


def compared(seed: int, *, scanner_dpi: int | None) -> Compared:
    """One campaign: by photos its walls and slots, by scans its sizes too."""
    chance = random.Random(f"campaign {seed}")
    machine = hidden.machine(seed, "mono screen", 35, (153, 87))
    opacity, tint, clarity = RESINS[chance.choice(list(RESINS))]
    material = replace(hidden.material(seed, "basic", opacity, (1.5, 4.0)), tint=tint, clarity=clarity)
    limits = WITH_SIZES if scanner_dpi else BY_EYE
    right_s = size_true_s(machine, material, hidden.Conditions(2.0))
    coupon = drawn("flat", {"pixel_mm": machine.pixel_mm, "floor_mm": 0.35, "design": 2})
    by_hand, by_picture = [], []
    for place, off in enumerate(LADDER):
        exposure_s = round(right_s * math.exp(off) / STEP_S) * STEP_S
        number = 100 * seed + place
        printed = print_coupon(coupon, machine, material, hidden.Conditions(exposure_s), number)
        by_hand.append(_evidence(printed, {s.key: (s.state, s.measured_mm) for s in read(printed, number)}))
        shot = (
            Shot(scanner_dpi=scanner_dpi, turn_deg=chance.uniform(-4, 4), quality=92, noise=1.0)
            if scanner_dpi
            else Shot(px_per_mm=28, tilt_deg=chance.uniform(0, 5), tilt_to_deg=chance.uniform(0, 360), uneven=0.2)
        )
        by_picture.append(_evidence(printed, _seen(printed, f"{100 + place}", number, shot)))
    return Compared(_offered(by_hand, limits), _offered(by_picture, limits))


def _seen(printed: Printed, code: str, seed: int, shot: Shot) -> dict[str, tuple[str | None, float | None]]:
    """Sure marks of a picture: a bar that only shows that it is there is left unread."""
    content = photograph(printed, embossed(printed.coupon, code, f"{printed.conditions.exposure_s:.3g}s"), seed, shot)
    reading = read_picture(opened(content), [for_picture(printed.coupon)], dpi=shot.scanner_dpi)
    if len(reading.coupons) != 1:
        return {}
    kinds = {f.key: f.kind for f in printed.coupon.features}
    answers: dict[str, tuple[str | None, float | None]] = {}
    for mark in reading.coupons[0].features:
        if not mark.sure:
            continue
        if kinds[mark.key] in ("outer", "inner"):
            if mark.size_mm is not None:
                answers[mark.key] = (None, mark.size_mm)
            elif mark.state == "absent" and kinds[mark.key] == "outer":
                answers[mark.key] = ("absent", None)
        else:
            answers[mark.key] = (mark.state, None)
    return answers


def _evidence(printed: Printed, answers: dict[str, tuple[str | None, float | None]]):  # type: ignore[no-untyped-def]
    features = [
        ReadFeature(
            key=f.key,
            kind=f.kind,
            side=f.side,
            size_mm=f.size_mm,
            axis=f.axis,
            state=answers[f.key][0],
            measured_mm=answers[f.key][1],
        )
        for f in printed.coupon.features
        if f.key in answers
    ]
    return tally(printed.conditions.exposure_s, features, label=f"{printed.conditions.exposure_s:g}").evidence


def _offered(coupons, limits: Limits) -> float | None:  # type: ignore[no-untyped-def]
    result: WindowOutcome = process_window(WindowInput(coupons=coupons, limits=limits, exposure_step_s=STEP_S))
    if result.decision != "offer" or result.policies is None:
        return None
    return next((value for value in result.policies.values() if value is not None), None)
