"""Graded features as they were seen, and what their order says without a model."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ...contract import Notice
from ...reading.evidence import CouponEvidence, Graded
from .base import Evidence

Bracket = tuple[float | None, float | None]


@dataclass(frozen=True)
class Seen:
    """What was counted of one size, and on which coupon."""

    feature: Graded
    coupon: CouponEvidence

    @property
    def exposure_s(self) -> float:
        """Exposure of the coupon, s."""
        return self.coupon.exposure_s

    @property
    def size_mm(self) -> float:
        """Size of the features, mm."""
        return self.feature.size_mm


@dataclass(frozen=True)
class Kind:
    """How one kind of feature answers to light: +1 forms with more light, -1 closes with it."""

    name: str
    noun: str
    formed_word: str
    sign: int
    read: Callable[[CouponEvidence], Sequence[Graded]]
    """What was counted of this kind on a coupon."""

    def seen(self, evidence: Evidence) -> list[Seen]:
        """All that was seen of this kind."""
        return [Seen(feature, coupon) for coupon in evidence.coupons for feature in self.read(coupon)]


def bracket(kind: Kind, readings: list[Seen], required_mm: float) -> tuple[float | None, float | None] | None:
    """(lo, hi) around the end, read without a model; None where the observations contradict the order."""
    whole = [(s.size_mm, s.exposure_s) for s in readings if s.feature.all_whole]
    not_whole = [(s.size_mm, s.exposure_s) for s in readings if not s.feature.all_whole]
    for whole_mm, whole_s in whole:
        for size_mm, exposure_s in not_whole:
            if size_mm >= whole_mm and kind.sign * (exposure_s - whole_s) >= 0:
                return None
    formed = [exposure_s for size_mm, exposure_s in whole if size_mm <= required_mm + 1e-9]
    failed = [exposure_s for size_mm, exposure_s in not_whole if size_mm >= required_mm - 1e-9]
    if kind.sign > 0:
        return (max(failed, default=None), min(formed, default=None))
    return (max(formed, default=None), min(failed, default=None))


def censored(readings: list[Seen]) -> bool:
    """All formed, none, or the same counts at every exposure: light has shown no effect on them."""
    if all(s.feature.all_whole for s in readings) or all(s.feature.whole == 0 for s in readings):
        return True
    by_exposure: dict[float, dict[float, list[int]]] = {}
    for s in readings:
        counts = by_exposure.setdefault(s.exposure_s, {}).setdefault(s.size_mm, [0, 0])
        counts[0] += s.feature.whole
        counts[1] += s.feature.of
    tables = [{size: round(formed / of, 9) for size, (formed, of) in sizes.items()} for sizes in by_exposure.values()]
    return all(table == tables[0] for table in tables[1:])


def not_monotone(kind: Kind, readings: list[Seen]) -> list[Notice]:
    """Two or more features that more light undid (or, for slots, opened): name the higher coupon."""
    coupons: dict[tuple[float, str], dict[float, bool]] = {}
    for s in readings:
        coupons.setdefault((s.exposure_s, s.coupon.name), {})[s.size_mm] = s.feature.all_whole
    notices = []
    ordered = sorted(coupons)
    for i, high in enumerate(ordered):
        for low in ordered[:i]:
            if low[0] == high[0]:
                continue
            shared = coupons[low].keys() & coupons[high].keys()
            first, then = (True, False) if kind.sign > 0 else (False, True)
            turned = [size for size in shared if coupons[low][size] is first and coupons[high][size] is then]
            if len(turned) >= 2:
                verb = "lost" if kind.sign > 0 else "open"
                where = "present" if kind.sign > 0 else "closed"
                message = (
                    f"{len(turned)} {kind.noun}s are {verb} at {high[0]:g} s that were {where} at {low[0]:g} s: "
                    f"repeat {high[1]}."
                )
                notices.append(Notice(code="not-monotone", message=message))
                break
    return notices


def told(around: tuple[float | None, float | None] | None) -> tuple[float | None, float | None] | None:
    """The bracket; None where neither side is known."""
    return None if around is None or around == (None, None) else around


def wrong_direction(kind: Kind, readings: list[Seen]) -> bool:
    """More light made things worse oftener than better, by two to one, over all pairs of coupons and their common sizes."""
    coupons: dict[tuple[float, str], dict[float, float]] = {}
    for s in readings:
        coupons.setdefault((s.exposure_s, s.coupon.name), {})[s.size_mm] = s.feature.whole / s.feature.of
    ordered = sorted(coupons)
    better = worse = 0.0
    for i, high in enumerate(ordered):
        for low in ordered[:i]:
            if low[0] == high[0]:
                continue
            for size in coupons[low].keys() & coupons[high].keys():
                gain = kind.sign * (coupons[high][size] - coupons[low][size])
                better, worse = better + max(gain, 0.0), worse + max(-gain, 0.0)
    return worse > 2 * better and worse >= 1
