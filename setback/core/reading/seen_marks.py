"""Marks of what else is read off a flat coupon: the vernier, the taper plug, the gauge piece, the smallest legible code."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field

from ..contract import Contract
from ..statistics.line import fit_line
from .tally import ReadFeature


class SeenOnCoupon(Contract):
    """One coupon's vernier, taper plug, gauge piece and lettering."""

    exposure_s: float
    label: str
    vernier_um: float | None = Field(None, description="Growth per edge by the pair that just touches, µm")
    vernier_step_um: float | None = Field(None, description="What one pair is worth, µm")
    taper_um: float | None = Field(None, description="Growth per edge by the step at which the taper plug stopped, µm")
    fit: Literal["goes", "tight", "does not go"] | None = None
    legible_mm: float | None = Field(None, description="Height of the smallest characters still read, mm")


class SeenMark(Contract):
    """A place on the exposure axis that does not come from the lanes."""

    key: Literal["vernier", "taper", "gauge", "legible"]
    name: str
    exposure_s: float
    interval_s: tuple[float, float] | None
    meaning: str


def seen_on(exposure_s: float, label: str, features: list[ReadFeature]) -> SeenOnCoupon:
    """What one reading says besides its counts and caliper values.

    The vernier: a pair drawn with a gap g that just touches has grown by g/2 at each of its two edges. The taper plug: a step drawn with
    a play p in its channel stops when four faces have grown by p/4 each.
    """
    touching = [f.size_mm for f in features if f.kind == "vernier" and f.state == "formed"]
    fit = next((f.state for f in features if f.kind == "fit" and f.state not in (None, "lost")), None)
    legible = [f.size_mm for f in features if f.kind == "legible" and f.state == "formed"]
    drawn = sorted({abs(f.size_mm) for f in features if f.kind == "vernier" and f.size_mm})
    stopped = [f.size_mm for f in features if f.kind == "taper" and f.state == "formed"]
    words: dict[str, Literal["goes", "tight", "does not go"]] = {
        "formed": "goes",
        "partial": "tight",
        "absent": "does not go",
    }
    return SeenOnCoupon(
        exposure_s=exposure_s,
        label=label,
        vernier_um=1000 * sum(touching) / len(touching) / 2 if touching else None,
        vernier_step_um=500 * drawn[0] if drawn else None,
        taper_um=1000 * stopped[0] / 4 if stopped else None,
        fit=words[fit] if fit else None,
        legible_mm=min(legible) if legible else None,
    )


def seen_marks(coupons: list[SeenOnCoupon], growth_target_um: float) -> list[SeenMark]:
    """The marks of one arm, each where its readings allow one."""
    vernier = [(c.exposure_s, c.vernier_um) for c in coupons if c.vernier_um is not None]
    taper = [(c.exposure_s, c.taper_um) for c in coupons if c.taper_um is not None]
    results = [
        _grown("vernier", "vernier true", "the vernier", vernier, growth_target_um),
        _grown("taper", "taper plug true", "the taper plug", taper, growth_target_um),
        _gauge(coupons),
        _legible(coupons),
    ]
    return [mark for mark in results if mark is not None]


def _grown(
    key: Literal["vernier", "taper"], name: str, by: str, read: list[tuple[float, float]], target_um: float
) -> SeenMark | None:
    """Where growth as something reads it meets the target: a straight line on ln t."""
    if len({t for t, _ in read}) < 2:
        return None
    line = fit_line([math.log(t) for t, _ in read], [g for _, g in read])
    if line.slope <= 0:
        return None
    at = math.exp(line.place_of(target_um, 0, 1).x)
    low, high = min(t for t, _ in read), max(t for t, _ in read)
    if not low / 1.2 <= at <= high * 1.2:
        return None
    message = f"By {by} of {len(read)} coupons edges have grown by the wanted {target_um:g} µm here."
    return SeenMark(key=key, name=name, exposure_s=at, interval_s=None, meaning=message)


def _gauge(coupons: list[SeenOnCoupon]) -> SeenMark | None:
    """Between the highest exposure at which the gauge piece goes and the lowest at which it does not."""
    goes = [c.exposure_s for c in coupons if c.fit == "goes"]
    stuck = [c.exposure_s for c in coupons if c.fit == "does not go"]
    if not goes or not stuck or max(goes) >= min(stuck):
        return None
    low, high = max(goes), min(stuck)
    message = f"The gauge piece goes at {low:.3g} s and does not go at {high:.3g} s."
    return SeenMark(
        key="gauge", name="gauge", exposure_s=math.sqrt(low * high), interval_s=(low, high), meaning=message
    )


def _legible(coupons: list[SeenOnCoupon]) -> SeenMark | None:
    """Where the smallest characters are still read."""
    read = [(c.legible_mm, c.exposure_s) for c in coupons if c.legible_mm is not None]
    if len(read) < 2:
        return None
    best = min(size for size, _ in read)
    times = [t for size, t in read if size == best]
    message = f"Characters of {best:g} mm are still read from {min(times):.3g} to {max(times):.3g} s."
    return SeenMark(
        key="legible",
        name="smallest code",
        exposure_s=math.sqrt(min(times) * max(times)),
        interval_s=(min(times), max(times)) if len(times) > 1 else None,
        meaning=message,
    )
