"""Working hours: when the technician is there, by the clock on the wall, summer time and days off included."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated
from zoneinfo import ZoneInfo, available_timezones

from pydantic import AfterValidator, Field, model_validator

from ..contract import Contract
from .problem import Spans, joined


def _clock(text: str) -> str:
    try:
        return time.fromisoformat(text).strftime("%H:%M")
    except ValueError:
        raise ValueError("give a time as hours and minutes, such as 7:30") from None


def _zone(text: str) -> str:
    if text not in available_timezones():
        raise ValueError("no such time zone is known: give one such as Europe/London")
    return text


Clock = Annotated[str, Field(max_length=8), AfterValidator(lambda text: _clock(text.zfill(5)))]


class Stretch(Contract):
    """From one time of the day to another."""

    begins: Clock
    ends: Clock

    @model_validator(mode="after")
    def _is_forward(self) -> Stretch:
        if self.ends <= self.begins:
            raise ValueError("the end lies after the beginning")
        return self


class WorkingDay(Contract):
    """The hours of one day of the week, with its breaks."""

    hours: Stretch
    breaks: list[Stretch] = Field([], max_length=6)


def _usual_week() -> list[WorkingDay | None]:
    day = WorkingDay(hours=Stretch(begins="07:30", ends="16:00"), breaks=[Stretch(begins="12:00", ends="12:30")])
    return [day] * 5 + [None] * 2


class WorkingHours(Contract):
    """A week of hours, Monday first, and days off."""

    week: list[WorkingDay | None] = Field(default_factory=_usual_week, min_length=7, max_length=7)
    days_off: list[date] = Field([], max_length=200)
    time_zone: Annotated[str, Field(max_length=60), AfterValidator(_zone)] = "UTC"


def shifts(hours: WorkingHours, begins_at: datetime, minutes: int) -> Spans:
    """Stretches of work after a moment, in whole minutes from it.

    Parameters
    ----------
    hours : WorkingHours
        The week, days off and the time zone its times are of.
    begins_at : datetime
        With its zone; minute 0.
    minutes : int
        How far to look.
    """
    zone = ZoneInfo(hours.time_zone)
    first = begins_at.astimezone(zone).date()
    spans: Spans = []
    for number in range(minutes // 1440 + 2):
        day = first + timedelta(days=number)
        working = hours.week[day.weekday()]
        if working is None or day in hours.days_off:
            continue
        edges = [working.hours.begins]
        for pause in sorted(working.breaks, key=lambda pause: pause.begins):
            edges += [pause.begins, pause.ends]
        edges.append(working.hours.ends)
        for begins, ends in zip(edges[::2], edges[1::2], strict=True):
            low, high = (_minute(day, at, zone, begins_at) for at in (begins, ends))
            low, high = max(low, 0), min(high, minutes)
            if high > low:
                spans.append((low, high))
    return joined(spans, 0)


def _minute(day: date, at: str, zone: ZoneInfo, begins_at: datetime) -> int:
    moment = datetime.combine(day, time.fromisoformat(at), zone).astimezone(UTC)
    return round((moment - begins_at).total_seconds() / 60)
