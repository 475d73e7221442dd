"""The probability that a graded feature forms, over exposure and size.

Every feature enters with its size: logit P = b0 + b1 ln t + b2 ln size, by Jeffreys-penalised likelihood.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.special import expit, logit, ndtri

from ...contract import Notice
from ...logit import LIKELIHOOD_RATIO_LIMIT, Array, LogitFit, fit_logit, likelihood_ratio
from .base import End
from .seen import Kind, Seen, censored

_NORMAL_95 = float(ndtri(0.975))
_NORMAL_80 = float(ndtri(0.8))


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


def respond(kind: Kind, seen: list[Seen]) -> tuple[Response | None, list[Notice], bool]:
    """Fit the response; notices say why it is weak or left out, the flag that its direction is wrong."""
    if censored(seen):
        return None, [too_few(kind.name)], False
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
        return None, [*notices, too_few(kind.name)], False
    fit = fit_logit(design, formed, of)
    wrong = kind.sign * fit.beta[1] <= 0 or (has_size and fit.beta[2] <= 0)
    if wrong:
        return None, [*notices, _wrong_direction(kind)], True
    is_weak = likelihood_ratio(fit, design, formed, of, 1) <= LIKELIHOOD_RATIO_LIMIT
    if is_weak:
        notices.append(weak(kind.name))
    return Response(fit, centre_x, centre_z, has_size, sizes, is_weak), notices, False


def _one_size_per_exposure(keys: list[tuple[float, float]]) -> bool:
    return len({exposure for exposure, _ in keys}) == len(keys)


def _full_rank(design: Array) -> bool:
    return bool(np.linalg.matrix_rank(design) == design.shape[1])


def too_few(name: str) -> Notice:
    return Notice(code="too-few", message=f"Too little was read for the {name} lane: it is left out.")


def weak(name: str) -> Notice:
    return Notice(
        code="weak",
        message=f"The counts of the {name} lane do not tell its slope from flat: its end is loose. "
        "A coupon further out would help.",
    )


def _wrong_direction(kind: Kind) -> Notice:
    said = f"fewer are {kind.formed_word}" if kind.sign > 0 else f"more are {kind.formed_word}"
    return Notice(
        code="wrong-direction",
        message=f"{kind.name.capitalize()}: {said} with more light, or small ones do better than large ones. "
        "Were two coupons swapped? The lane is left out; the window is provisional.",
    )
