"""Lanes counted on graded features: walls and tips (lower ends), slots and fail-tips (upper ends).

Every feature enters with its size: logit P = b0 + b1 ln t + b2 ln size, by Jeffreys-penalised likelihood;
the end is the exposure at which the required size reaches the required probability.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import expit, logit, ndtri

from ..contract import Notice
from ..logit import LIKELIHOOD_RATIO_LIMIT, Array, LogitFit, fit_logit, likelihood_ratio
from .base import End, Evidence, LaneFit

# Above this probability per feature the bracket of single features says too little to cap an end.
CAP_PROBABILITY = 0.95
_NORMAL_95 = float(ndtri(0.975))
_NORMAL_80 = float(ndtri(0.8))


@dataclass(frozen=True)
class Seen:
    """All features of one size on one coupon."""

    exposure_s: float
    size_mm: float
    formed: int
    of: int
    partial: int
    coupon: str

    @property
    def whole(self) -> bool:
        return self.formed == self.of

    @property
    def partly(self) -> bool:
        return self.partial > 0 or 0 < self.formed < self.of


@dataclass(frozen=True)
class Kind:
    """How one kind of feature answers to light: +1 forms with more light, -1 closes with it."""

    name: str
    noun: str
    formed_word: str
    sign: int
    seen: Callable[[Evidence], list[Seen]]


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


@dataclass(frozen=True)
class Response:
    """The fitted probability of one kind of feature over exposure and size."""

    fit: LogitFit
    centre_x: float
    centre_z: float
    has_size: bool
    sizes: list[float]
    weak: bool

    def chance(self, x: float, size_mm: float) -> float:
        eta = self.fit.beta[0] + self.fit.beta[1] * (x - self.centre_x)
        if self.has_size:
            eta += self.fit.beta[2] * (math.log(size_mm) - self.centre_z)
        return float(expit(eta))

    def expected(self, x: float) -> float:
        """Expected number of formed features, one of each size."""
        return math.fsum(self.chance(x, size) for size in self.sizes)

    def end(self, size_mm: float, probability: float, side: int, guard_only: bool) -> End:
        """Where ``size_mm`` reaches ``probability``; side +1 for a lower end, -1 for an upper one."""
        beta = self.fit.beta
        z = math.log(size_mm) - self.centre_z if self.has_size else 0.0
        offset = (float(logit(probability)) - beta[0] - (beta[2] * z if self.has_size else 0.0)) / beta[1]
        gradient = np.array([1.0, offset, z][: len(beta)]) / -beta[1]
        se = math.sqrt(max(float(gradient @ self.fit.covariance @ gradient), 0.0))
        x = self.centre_x + float(offset)
        safe = None if guard_only else x + side * _NORMAL_80 * se
        return End(x, x, se, (x - _NORMAL_95 * se, x + _NORMAL_95 * se), safe)


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
    response, notices, wrong = _respond(TIPS, seen)
    if response is None:
        return LaneFit("fail-tip", notices=[_renamed(n) for n in notices], wrong_direction=wrong)
    if not response.has_size and size not in response.sizes:
        message = f"Only one tip size was read, so nothing is known of a {size:g} mm tip."
        return LaneFit("fail-tip", notices=[Notice(code="too-few", message=message)])
    end = response.end(size, evidence.limits.fail_tip_probability, -1, evidence.guard_only)
    return LaneFit("fail-tip", upper=end, notices=[_weak("fail-tip")] if response.weak else [])


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
    while high - low > 1e-10:
        middle = (low + high) / 2
        low, high = (low, middle) if excess(middle) > 0 else (middle, high)
    return (low + high) / 2


def _expected(fits: dict[str, LaneFit], evidence: Evidence, kind: Kind) -> Callable[[float], float | None] | None:
    """Expected count of a kind over ln t: from its lane, or fitted here where no limit made a lane."""
    if kind.name in fits:
        return fits[kind.name].predict.get("expected")
    seen = kind.seen(evidence)
    response = _respond(kind, seen)[0] if seen else None
    return response.expected if response else None


def bracket(kind: Kind, seen: list[Seen], required_mm: float) -> tuple[float | None, float | None] | None:
    """(lo, hi) around the end, read without a model; None where the observations contradict the order."""
    whole = [s for s in seen if s.whole]
    not_whole = [s for s in seen if not s.whole]
    for a in whole:
        for b in not_whole:
            if b.size_mm >= a.size_mm and kind.sign * (b.exposure_s - a.exposure_s) >= 0:
                return None
    formed = [s.exposure_s for s in whole if s.size_mm <= required_mm + 1e-9]
    failed = [s.exposure_s for s in not_whole if s.size_mm >= required_mm - 1e-9]
    if kind.sign > 0:
        return (max(failed, default=None), min(formed, default=None))
    return (max(formed, default=None), min(failed, default=None))


def _lane(evidence: Evidence, kind: Kind, required_mm: float | None, probability: float) -> LaneFit | None:
    seen = kind.seen(evidence)
    if required_mm is None or not seen:
        return None
    notices = _not_monotone(kind, seen)
    if len({s.exposure_s for s in seen}) < 2:
        return LaneFit(kind.name, notices=[*notices, _too_few(kind.name)])
    around = bracket(kind, seen, required_mm)
    if _censored(seen):
        return _censored_lane(kind, around, notices)
    response, found, wrong = _respond(kind, seen)
    notices += found
    if response is None:
        return LaneFit(kind.name, bracket_s=_told(around), notices=notices, wrong_direction=wrong)
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
        bracket_s=_told(around),
        notices=notices,
        predict=_predictions(response, required_mm, probability, end, kind.sign),
    )
    return replace(lane, lower=end) if kind.sign > 0 else replace(lane, upper=end)


def _respond(kind: Kind, seen: list[Seen]) -> tuple[Response | None, list[Notice], bool]:
    """Fit the response; notices say why it is weak or left out, the flag that its direction is wrong."""
    if _censored(seen):
        return None, [_too_few(kind.name)], False
    groups: dict[tuple[float, float], list[int]] = {}
    for s in seen:
        counts = groups.setdefault((s.exposure_s, s.size_mm), [0, 0])
        counts[0] += s.formed
        counts[1] += s.of
    keys = sorted(groups)
    x = np.log([key[0] for key in keys])
    z = np.log([key[1] for key in keys])
    formed = np.array([groups[key][0] for key in keys], dtype=float)
    of = np.array([groups[key][1] for key in keys], dtype=float)
    centre_x, centre_z = float(x.mean()), float(z.mean())
    ones = np.ones(len(keys))
    sizes = sorted({key[1] for key in keys})
    notices = []
    design = np.column_stack([ones, x - centre_x, z - centre_z])
    has_size = len(sizes) > 1
    if has_size and (_one_size_per_exposure(keys) or not _full_rank(design)):
        has_size = False
        notices.append(
            Notice(
                code="size-dropped",
                message=f"Every coupon carries one other size, so size and exposure cannot be told apart "
                f"in the {kind.name} lane.",
            )
        )
    if not has_size:
        design = design[:, :2]
    if not _full_rank(design):
        return None, [*notices, _too_few(kind.name)], False
    fit = fit_logit(design, formed, of)
    wrong = kind.sign * fit.beta[1] <= 0 or (has_size and fit.beta[2] <= 0)
    if wrong:
        return None, [*notices, _wrong_direction(kind)], True
    weak = likelihood_ratio(fit, design, formed, of, 1) <= LIKELIHOOD_RATIO_LIMIT
    if weak:
        notices.append(_weak(kind.name))
    return Response(fit, centre_x, centre_z, has_size, sizes, weak), notices, False


def _capped(
    kind: Kind, end: End, around: tuple[float | None, float | None] | None, seen: list[Seen], probability: float,
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


def _censored(seen: list[Seen]) -> bool:
    """All formed, none, or the same counts at every exposure: light has shown no effect on them."""
    if all(s.formed == s.of for s in seen) or all(s.formed == 0 for s in seen):
        return True
    by_exposure: dict[float, dict[float, list[int]]] = {}
    for s in seen:
        counts = by_exposure.setdefault(s.exposure_s, {}).setdefault(s.size_mm, [0, 0])
        counts[0] += s.formed
        counts[1] += s.of
    tables = [{size: round(formed / of, 9) for size, (formed, of) in sizes.items()} for sizes in by_exposure.values()]
    return all(table == tables[0] for table in tables[1:])


def _censored_lane(kind: Kind, around: tuple[float | None, float | None] | None, notices: list[Notice]) -> LaneFit:
    told = _told(around)
    if told is None:
        return LaneFit(kind.name, notices=[*notices, _too_few(kind.name)])
    lo, hi = told
    near, far = (hi, lo) if kind.sign > 0 else (lo, hi)
    said = f"The {kind.noun}s read the same at every exposure: the {kind.name} lane knows only its bracket."
    notices = [*notices, Notice(code="censored", message=said)]
    if near is None:
        beyond = "longer" if kind.sign > 0 else "shorter"
        return LaneFit(kind.name, bracket_s=told, beyond=beyond, notices=notices)
    x = math.log(near)
    se = None if far is None else abs(x - math.log(far)) / math.sqrt(12)
    end = End(x, x, se=se, capped=True, far_x=None if far is None else math.log(far))
    lane = LaneFit(kind.name, bracket_s=told, notices=notices)
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


def _not_monotone(kind: Kind, seen: list[Seen]) -> list[Notice]:
    """Two or more features that more light undid (or, for slots, opened): name the higher coupon."""
    coupons: dict[tuple[float, str], dict[float, bool]] = {}
    for s in seen:
        coupons.setdefault((s.exposure_s, s.coupon), {})[s.size_mm] = s.whole
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
                what = "lost" if kind.sign > 0 else "open"
                where = "present" if kind.sign > 0 else "closed"
                said = (
                    f"{len(turned)} {kind.noun}s are {what} at {high[0]:g} s that were {where} at {low[0]:g} s: "
                    f"repeat {high[1]}."
                )
                notices.append(Notice(code="not-monotone", message=said))
                break
    return notices


def _one_size_per_exposure(keys: list[tuple[float, float]]) -> bool:
    return len({exposure for exposure, _ in keys}) == len(keys)


def _full_rank(design: Array) -> bool:
    return bool(np.linalg.matrix_rank(design) == design.shape[1])


def _told(around: tuple[float | None, float | None] | None) -> tuple[float | None, float | None] | None:
    return None if around is None or around == (None, None) else around


def _too_few(name: str) -> Notice:
    return Notice(code="too-few", message=f"Too little was read for the {name} lane: it is left out.")


def _weak(name: str) -> Notice:
    return Notice(
        code="weak",
        message=f"The counts of the {name} lane do not tell its slope from flat: its end is loose. "
        "A coupon further out would help.",
    )


def _renamed(notice: Notice) -> Notice:
    return notice.model_copy(update={"message": notice.message.replace("the tips lane", "the fail-tip lane")})


def _wrong_direction(kind: Kind) -> Notice:
    said = f"fewer are {kind.formed_word}" if kind.sign > 0 else f"more are {kind.formed_word}"
    return Notice(
        code="wrong-direction",
        message=f"{kind.name.capitalize()}: {said} with more light, or small ones do better than large ones. "
        "Were two coupons swapped? The lane is left out; the window is provisional.",
    )
