"""The driver interface of devices that measure temperature, and the stand-in that ships with the app.

A real probe needs one class with :meth:`ProbeDriver.read` and one line in :data:`PROBE_DRIVERS`.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

DAY_S = 86_400
# A stone shed by the sea: coldest in the middle of January, warmest in July, a little warmer in the afternoon.
YEAR_MEAN_C, YEAR_SWING_C, COLDEST_DAY, DAY_SWING_C, WARMEST_HOUR = 16.5, 9.5, 17, 1.6, 15.0
READING_SD_C = 0.08


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


class ProbeDriver(Protocol):
    """Anything that can say how warm it is now."""

    def read(self, at: datetime) -> ProbeReading: ...


class SimulatedProbe:
    """A probe in the shed. The same setting gives the same reading at the same second."""

    def __init__(self, setting: ProbeSetting) -> None:
        self.setting = setting

    def read(self, at: datetime) -> ProbeReading:
        second = at.timestamp()
        room = room_c(second)
        temp = _warmed(room, second, self.setting.heatings) if self.setting.place != "room" else room
        chance = random.Random(f"{self.setting.seed} {int(second)}")
        humidity = 78 - 1.6 * (temp - 7) if self.setting.place != "resin" else None
        return ProbeReading(
            round(temp + chance.gauss(0, READING_SD_C), 2), None if humidity is None else round(max(humidity, 20), 0)
        )


PROBE_DRIVERS: dict[str, Callable[[ProbeSetting], ProbeDriver]] = {"simulated": SimulatedProbe}


def room_c(second: float) -> float:
    """Temperature of the shed: season, time of day, and weather that changes over days."""
    day = second / DAY_S
    season = -math.cos(2 * math.pi * (day % 365.25 - COLDEST_DAY) / 365.25)
    hour = math.cos(2 * math.pi * (day % 1 - WARMEST_HOUR / 24))
    weather = 0.7 * math.sin(2 * math.pi * day / 5.3) + 0.5 * math.sin(2 * math.pi * day / 2.1)
    return YEAR_MEAN_C + YEAR_SWING_C * season + DAY_SWING_C * hour + weather


def _warmed(room: float, second: float, heatings: Sequence[Heating]) -> float:
    warmest = room
    for heat in heatings:
        if second < heat.on_s:
            continue
        ran = min(second, heat.off_s) - heat.on_s
        then = min(room + (heat.steady_c - room) * (1 - math.exp(-ran / heat.time_constant_s)), heat.target_c)
        since = max(second - heat.off_s, 0.0)
        warmest = max(warmest, room + (then - room) * math.exp(-since / heat.time_constant_s))
    return warmest
