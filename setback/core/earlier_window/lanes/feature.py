"""Lanes counted on graded features: walls and tips (lower ends), slots and fail-tips (upper ends).

Every feature enters with its size: logit P = b0 + b1 ln t + b2 ln size, by Jeffreys-penalised likelihood;
the end is the exposure at which the required size reaches the required probability.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from scipy.optimize import brentq

from ...contract import Notice
from .base import End, Evidence, LaneFit
from .response import Response, respond, too_few, weak
from .seen import Bracket, Kind, Seen, bracket, censored, not_monotone, told

# Above this probability per feature the bracket of single features says too little to cap an end.
CAP_PROBABILITY = 0.95


def _walls(evidence: Evidence) -> list[Seen]:
    return [
        Seen(c.exposure_s, w.size_mm, w.standing, w.of, w.partial, c.name) for c in evidence.coupons for w in c.walls
    ]


def _slots(evidence: Evidence) -> list[Seen]:
    return [Seen(c.exposure_s, s.size_mm, s.open, s.of, s.partial, c.name) for c in evidence.coupons for s in c.slots]


def _tips(evidence: Evidence) -> list[Seen]:
    return [Seen(c.exposure_s, t.size_mm, t.held, t.of, t.partial, c.name) for c in evidence.coupons for t in c.tips]


WALLS = Kind("walls", "wall", "standing", 1, _walls)
SLOTS = Kind("slots", "slot", "open", -1, _slots)
TIPS = Kind("tips", "tip", "held", 1, _tips)


def walls_lane(evidence: Evidence) -> LaneFit | None:
    """Least light at which the required wall stands."""
    limits = evidence.limits
    return _lane(evidence, WALLS, limits.walls_size_mm, limits.walls_probability)


def slots_lane(evidence: Evidence) -> LaneFit | None:
    """Most light at which the required slot stays open."""
    limits = evidence.limits
    return _lane(evidence, SLOTS, limits.slots_size_mm, limits.slots_probability)


def tips_lane(evidence: Evidence) -> LaneFit | None:
    """Least light at which the wanted support tip holds."""
    limits = evidence.limits
    probability = limits.tips_probability
    if limits.tips_per_part is not None:
        probability **= 1 / limits.tips_per_part
    lane = _lane(evidence, TIPS, limits.tips_size_mm, probability)
    if lane is not None and limits.tips_per_part and "required_probability" in lane.predict:
        one, count = lane.predict["required_probability"], limits.tips_per_part

        def whole_part(x: float) -> float | None:
            chance = one(x)
            return None if chance is None else chance**count

        lane = replace(lane, predict={**lane.predict, "part_probability": whole_part})
    return lane


def fail_tip_lane(evidence: Evidence) -> LaneFit | None:
    """Most light at which a tip that should be too thin still fails; off unless a size is given."""
    size = evidence.limits.fail_tip_size_mm
    seen = _tips(evidence)
    if size is None or not seen:
        return None
    response, notices, wrong = respond(TIPS, seen)
    if response is None:
        return LaneFit("fail-tip", notices=[_renamed(n) for n in notices], wrong_direction=wrong)
    if not response.has_size and size not in response.sizes:
        message = f"Only one tip size was read, so nothing is known of a {size:g} mm tip."
        return LaneFit("fail-tip", notices=[Notice(code="too-few", message=message)])
    end = response.end(size, evidence.limits.fail_tip_probability, -1, evidence.guard_only)
    return LaneFit("fail-tip", upper=end, notices=[weak("fail-tip")] if response.weak else [])


def balance_x(fits: dict[str, LaneFit], evidence: Evidence, low_x: float, high_x: float) -> float | None:
    """ln t at which as many walls are expected to stand as slots to stay open, over the distinct sizes."""
    walls, slots = _expected(fits, evidence, WALLS), _expected(fits, evidence, SLOTS)
    if walls is None or slots is None:
        return None
    low, high = low_x - math.log(1.2), high_x + math.log(1.2)

    def excess(x: float) -> float:
        return (walls(x) or 0.0) - (slots(x) or 0.0)

    if excess(low) > 0 or excess(high) < 0:
        return None
    return float(brentq(excess, low, high, xtol=1e-10))


def _expected(fits: dict[str, LaneFit], evidence: Evidence, kind: Kind) -> Callable[[float], float | None] | None:
    """Expected count of a kind over ln t: from its lane, or fitted here where no limit made a lane."""
    if kind.name in fits:
        return fits[kind.name].predict.get("expected")
    seen = kind.seen(evidence)
    response = respond(kind, seen)[0] if seen else None
    return response.expected if response else None


def _lane(evidence: Evidence, kind: Kind, required_mm: float | None, probability: float) -> LaneFit | None:
    seen = kind.seen(evidence)
    if required_mm is None or not seen:
        return None
    notices = not_monotone(kind, seen)
    if len({s.exposure_s for s in seen}) < 2:
        return LaneFit(kind.name, notices=[*notices, too_few(kind.name)])
    around = bracket(kind, seen, required_mm)
    if censored(seen):
        return _censored_lane(kind, around, notices)
    response, found, wrong = respond(kind, seen)
    notices += found
    if response is None:
        return LaneFit(kind.name, bracket_s=told(around), notices=notices, wrong_direction=wrong)
    if not response.has_size and all(abs(size - required_mm) > 1e-9 for size in response.sizes):
        sizes = ", ".join(f"{size:g}" for size in response.sizes)
        notices.append(
            Notice(
                code="other-size",
                message=f"Only {kind.noun}s of {sizes} mm were read: the {kind.name} lane is for them, "
                f"not for {required_mm:g} mm.",
            )
        )
    end = response.end(required_mm, probability, kind.sign, evidence.guard_only)
    end = _capped(kind, end, around, seen, probability, evidence.guard_only)
    lane = LaneFit(
        kind.name,
        bracket_s=told(around),
        notices=notices,
        predict=_predictions(response, required_mm, probability, end, kind.sign),
    )
    return replace(lane, lower=end) if kind.sign > 0 else replace(lane, upper=end)


def _capped(
    kind: Kind, end: End, around: Bracket | None, seen: list[Seen], probability: float,
    guard_only: bool,
) -> End:  # fmt: skip
    """Sharp evidence must not be blurred by the penalty: never beyond the near side of the bracket."""
    if around is None or probability > CAP_PROBABILITY or any(s.partly for s in seen):
        return end
    lo, hi = around
    near, far = (hi, lo) if kind.sign > 0 else (lo, hi)
    if near is None or kind.sign * (end.x - math.log(near)) <= 0:
        return end
    x = math.log(near)
    if far is None:
        return replace(end, x=x, capped=True)
    width = abs(x - math.log(far))
    safe = None
    if not guard_only and end.safe_x is not None:
        bounded = x + kind.sign * width / 2
        safe = min(end.safe_x, bounded) if kind.sign > 0 else max(end.safe_x, bounded)
    return replace(end, x=x, se=width / math.sqrt(12), safe_x=safe, far_x=math.log(far), capped=True)


def _censored_lane(kind: Kind, around: Bracket | None, notices: list[Notice]) -> LaneFit:
    known = told(around)
    if known is None:
        return LaneFit(kind.name, notices=[*notices, too_few(kind.name)])
    lo, hi = known
    near, far = (hi, lo) if kind.sign > 0 else (lo, hi)
    said = f"The {kind.noun}s read the same at every exposure: the {kind.name} lane knows only its bracket."
    notices = [*notices, Notice(code="censored", message=said)]
    if near is None:
        beyond = "longer" if kind.sign > 0 else "shorter"
        return LaneFit(kind.name, bracket_s=known, beyond=beyond, notices=notices)
    x = math.log(near)
    se = None if far is None else abs(x - math.log(far)) / math.sqrt(12)
    end = End(x, x, se=se, capped=True, far_x=None if far is None else math.log(far))
    lane = LaneFit(kind.name, bracket_s=known, notices=notices)
    return replace(lane, lower=end) if kind.sign > 0 else replace(lane, upper=end)


def _predictions(
    response: Response, required_mm: float, probability: float, end: End, sign: int
) -> dict[str, Callable[[float], float | None]]:
    def required(x: float) -> float:
        chance = response.chance(x, required_mm)
        # Where single features proved the end, the penalised fit may not say less than they showed.
        if end.capped and sign * (x - end.x) >= -1e-12:
            return max(chance, probability)
        return chance

    return {"required_probability": required, "expected": response.expected, "of": lambda x: float(len(response.sizes))}


def _renamed(notice: Notice) -> Notice:
    return notice.model_copy(update={"message": notice.message.replace("the tips lane", "the fail-tip lane")})
