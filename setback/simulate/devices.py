"""The driver interface of devices that measure temperature, and the stand-in that ships with the app.

A real probe needs one class with :meth:`ProbeDriver.read` and one line in :data:`PROBE_DRIVERS`.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Protocol

import numpy as np

Array = np.ndarray[Any, np.dtype[np.float64]]

DAY_S = 86_400
# A stone shed by the sea: coldest in the middle of January, warmest in July, a little warmer in the afternoon.
YEAR_MEAN_C, YEAR_SWING_C, COLDEST_DAY, DAY_SWING_C, WARMEST_HOUR = 16.5, 9.5, 17, 1.6, 15.0
READING_SD_C = 0.08
NOISE_S = 10
"""Readings of the same ten seconds are off by the same."""


@dataclass(frozen=True)
class ProbeReading:
    temp_c: float
    humidity_pct: float | None


@dataclass(frozen=True)
class Heating:
    """A heater ran at this place: towards ``steady_c`` and held at ``target_c``."""

    on_s: float
    off_s: float
    target_c: float
    steady_c: float
    time_constant_s: float


@dataclass(frozen=True)
class ProbeSetting:
    """Where a probe is, and what was done to the air there."""

    place: str
    seed: int
    heatings: Sequence[Heating] = ()
    days_moved: int = 0
    """By how many days the seasons and the weather come later than they would: a demo told of another day has its own winter."""


class ProbeDriver(Protocol):
    """Anything that can say how warm it is now."""

    def read(self, at: datetime) -> ProbeReading: ...


class SimulatedProbe:
    """A probe in the shed. The same setting gives the same reading at the same second."""

    def __init__(self, setting: ProbeSetting) -> None:
        self.setting = setting

    def read(self, at: datetime) -> ProbeReading:
        """What it shows at a moment."""
        return self.readings([int(at.timestamp())])[0]

    def readings(self, seconds: Sequence[int]) -> list[ProbeReading]:
        """What it shows at many moments, in seconds since 1970, earliest first."""
        at = np.asarray(seconds, dtype=float)
        there = at - self.setting.days_moved * DAY_S
        temp = room_c(there)
        if self.setting.place != "room":
            temp = _warmed(temp, at, self.setting.heatings)
        shown = np.round(temp + READING_SD_C * _noise(self.setting.seed, there), 2)
        if self.setting.place == "resin":
            return [ProbeReading(t, None) for t in shown.tolist()]
        humidity = np.round(np.maximum(78 - 1.6 * (temp - 7), 20))
        return [ProbeReading(t, h) for t, h in zip(shown.tolist(), humidity.tolist(), strict=True)]


@dataclass(frozen=True)
class DriverKind:
    """A kind of probe that is read by itself: what people call it, and what makes its driver."""

    name: str
    make: Callable[[ProbeSetting], ProbeDriver]


PROBE_DRIVERS: dict[str, DriverKind] = {"simulated": DriverKind("simulated, to try things out", SimulatedProbe)}


def room_c(second: Array) -> Array:
    """Temperature of the shed, °C, at moments (n,) in seconds since 1970: season, time of day, and weather that changes over days."""
    day = second / DAY_S
    season = -np.cos(2 * np.pi * (day % 365.25 - COLDEST_DAY) / 365.25)
    hour = np.cos(2 * np.pi * (day % 1 - WARMEST_HOUR / 24))
    weather = 0.7 * np.sin(2 * np.pi * day / 5.3) + 0.5 * np.sin(2 * np.pi * day / 2.1)
    return np.asarray(YEAR_MEAN_C + YEAR_SWING_C * season + DAY_SWING_C * hour + weather)


def _warmed(room: Array, second: Array, heatings: Sequence[Heating]) -> Array:
    warmest = room
    for heat in heatings:
        ran = np.clip(second, heat.on_s, heat.off_s) - heat.on_s
        then = np.minimum(room + (heat.steady_c - room) * (1 - np.exp(-ran / heat.time_constant_s)), heat.target_c)
        since = np.maximum(second - heat.off_s, 0)
        warmest = np.maximum(warmest, room + (then - room) * np.exp(-since / heat.time_constant_s))
    return warmest


def _noise(seed: int, second: Array) -> Array:
    """Standard normal, drawn for a whole day at a time."""
    day, place = np.divmod(second.astype(np.int64), DAY_S)
    noise = np.empty(len(second))
    for number in np.unique(day):
        drawn = np.random.default_rng((seed, int(number))).standard_normal(DAY_S // NOISE_S)
        noise[day == number] = drawn[place[day == number] // NOISE_S]
    return noise
