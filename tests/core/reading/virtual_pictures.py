"""Pictures of virtual coupons with their truth: every way a bench spoils a picture, three resins, seeded."""

from __future__ import annotations

import math
import random
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from setback.core.reading.picture.contract import ReadCoupon
from setback.core.reading.picture.opened import opened
from setback.core.reading.picture.read import read_picture
from setback.coupon import Coupon, drawn
from setback.coupon.for_picture import for_picture
from setback.coupon.lettering import embossed
from setback.simulate.camera import Shot, photograph
from setback.simulate.hidden import Conditions, Machine, material
from setback.simulate.printed import Printed, print_coupon

RESINS = {
    "grey": ("opaque", (120, 124, 132), 0.0),
    "white": ("opaque", (214, 212, 204), 0.0),
    "clear": ("clear", (196, 202, 200), 0.75),
}
PIXELS = (0.035, 0.035, 0.019, 0.047)
TAKEN: dict[str, Callable[[Shot, random.Random], Shot]] = {
    "good": lambda shot, chance: shot,
    "aslant": lambda shot, chance: replace(shot, tilt_deg=chance.uniform(10, 25)),
    "turned": lambda shot, chance: replace(shot, turn_deg=chance.uniform(0, 360)),
    "light": lambda shot, chance: replace(shot, uneven=chance.uniform(0.3, 0.7), warmth=chance.uniform(-1, 1)),
    "shadow": lambda shot, chance: replace(shot, shadow=chance.uniform(0.2, 0.6)),
    "glare": lambda shot, chance: replace(shot, glare=chance.uniform(0.4, 1)),
    "blur": lambda shot, chance: replace(shot, defocus_mm=chance.uniform(0.04, 0.12)),
    "motion": lambda shot, chance: replace(shot, motion_mm=chance.uniform(0.1, 0.3)),
    "dirt": lambda shot, chance: replace(shot, dust=40, fingerprints=2),
    "compressed": lambda shot, chance: replace(shot, quality=60),
    "scan 600": lambda shot, chance: Shot(scanner_dpi=600, turn_deg=chance.uniform(-4, 4), quality=92, noise=1.0),
    "scan 1200": lambda shot, chance: Shot(scanner_dpi=1200, turn_deg=chance.uniform(-4, 4), quality=92, noise=1.0),
}


@dataclass
class Tally:
    """Marks of some pictures: told rightly, told wrongly, asked; and errors of sizes, µm."""

    right: int = 0
    wrong: int = 0
    asked: int = 0
    pictures: int = 0
    not_found: int = 0
    wrong_codes: int = 0
    errors_um: list[float] = field(default_factory=list)
    why: Counter[str | None] = field(default_factory=Counter)

    def add(self, other: Tally) -> None:
        """Count another's with these."""
        for name in ("right", "wrong", "asked", "pictures", "not_found", "wrong_codes"):
            setattr(self, name, getattr(self, name) + getattr(other, name))
        self.errors_um += other.errors_um
        self.why += other.why

    @property
    def share_right(self) -> float:
        """Of the marks that were called sure."""
        return self.right / (self.right + self.wrong) if self.right + self.wrong else 1.0

    @property
    def share_asked(self) -> float:
        """Of all marks."""
        return self.asked / max(self.right + self.wrong + self.asked, 1)


def state_of(share: float) -> str:
    """What a person with good eyes would call a wall or a slot of which that share is there."""
    return "formed" if share >= 0.9 else "partial" if share > 0.3 else "absent"


def one(taken: str, seed: int, resin: str) -> Tally:
    """Take one picture and read it."""
    chance = random.Random(f"{taken} {seed} {resin}")
    opacity, tint, clarity = RESINS[resin]
    made_of = replace(material(seed, "basic", opacity, (1.6, 3.2)), tint=tint, clarity=clarity)
    pixel = chance.choice(PIXELS)
    coupon = drawn("flat", {"pixel_mm": pixel, "floor_mm": 0.35, "design": 2})
    exposure_s = 1.6 * math.exp(chance.uniform(-0.25, 0.75))
    printed = print_coupon(coupon, Machine(pixel_mm=pixel), made_of, Conditions(exposure_s), seed)
    plain = Shot(
        px_per_mm=30,
        tilt_deg=chance.uniform(0, 5),
        tilt_to_deg=chance.uniform(0, 360),
        turn_deg=chance.uniform(-8, 8),
        lamp_deg=chance.uniform(0, 360),
        lamp_height_deg=chance.uniform(40, 60),
    )
    shot = TAKEN[taken](plain, chance)
    code = str(100 + 7 * seed % 1900)
    content = photograph(printed, embossed(coupon, code, f"{exposure_s:.3g}s"), seed, shot)
    return judged(content, coupon, printed, code, shot)


def judged(content: bytes, coupon: Coupon, printed: Printed, code: str, shot: Shot) -> Tally:
    """Hold what was read in a picture against what is there."""
    reading = read_picture(opened(content), [for_picture(coupon)], dpi=shot.scanner_dpi)
    if len(reading.coupons) != 1:
        return Tally(pictures=1, not_found=1)
    (seen,) = reading.coupons
    tally = Tally(pictures=1, wrong_codes=int(seen.code not in (None, code)))
    _compare(seen, printed, tally)
    return tally


def _compare(seen: ReadCoupon, printed: Printed, tally: Tally) -> None:
    marks = {mark.key: mark for mark in seen.features}
    for outcome in printed.outcomes:
        mark = marks.get(outcome.key)
        if outcome.kind in ("wall", "slot") and outcome.share is not None:
            wanted = state_of(outcome.share)
        elif outcome.kind == "outer":
            wanted = "absent" if outcome.size_mm is None else "formed"
        elif outcome.kind == "inner" and outcome.size_mm is not None:
            wanted = "formed"
        else:
            continue
        if mark is None or not mark.sure:
            tally.asked += 1
            tally.why[mark.reason if mark else None] += 1
        elif mark.state == wanted:
            tally.right += 1
            if mark.size_mm is not None and outcome.size_mm is not None:
                tally.errors_um.append(1000 * (mark.size_mm - outcome.size_mm))
        else:
            tally.wrong += 1
    for kind in ("vernier", "taper"):
        pairs = [o for o in printed.outcomes if o.kind == kind and o.size_mm is not None]
        stop = next((o.key for o in pairs if (o.size_mm or 0.0) <= 0), None)
        told = next((mark for mark in seen.features if mark.key.startswith(kind) and mark.state == "formed"), None)
        if not pairs:
            continue
        if told is None or not told.sure:
            tally.asked += 1
        elif told.key == stop:
            tally.right += 1
        else:
            tally.wrong += 1
