"""The trace of a probe: in steps that fit a screen, against a band, with what ran meanwhile."""

from __future__ import annotations

from dataclasses import asdict
from itertools import pairwise
from typing import Literal

from pydantic import Field

from ...core.climate.band import Side
from ...core.climate.trace import Excursion, Step, excursions, runs, time_in_band
from ...core.contract import Contract, Problem
from ...store.climate import probes as store
from ...store.sets import parameter_sets
from ...store.terms import Outcome, TempPlace
from ..unit_of_work import UnitOfWork, View, present
from .probes import ProbeView, moment, probe, second

# More steps than this are not told apart on a screen.
MOST_STEPS = 1500
MOST_MARKS = 400
DAY_S = 86_400
# Where nothing better is known: resin prints well between these.
BAND_LOW_C, BAND_HIGH_C = 22.0, 28.0


class TraceQuery(Contract):
    """Which stretch of time, and the band that is held against it."""

    from_at: str | None = Field(None, max_length=30, description="ISO time; a day before the end when not given")
    to_at: str | None = Field(None, max_length=30, description="ISO time; the newest sample when not given")
    set_code: str | None = Field(None, max_length=20, description="Read against the band of this set")
    low_c: float | None = Field(None, ge=-60, le=150)
    high_c: float | None = Field(None, ge=-60, le=150)


class TraceMark(View):
    """Something that was done, on the axis of time."""

    code: str
    at_s: int
    printer: str
    material: str | None
    temp_c: float | None
    temp_place: TempPlace | None
    outcome: Outcome | None
    kind: Literal["print", "coupons", "test"]
    link: str


class ExcursionView(View):
    """A stretch outside the band, with what was done in it."""

    from_s: int
    to_s: int
    side: Side
    extreme_c: float
    ran: list[str] = Field(description="Prints that came out meanwhile, by code")


class TraceView(View):
    """Temperatures over time with the usual band, excursions and marks."""

    probe: ProbeView
    from_s: int
    to_s: int
    width_s: int = Field(description="One step; 0 when single samples are shown")
    runs: list[list[tuple[int, float, float, float]]] = Field(
        description="Unbroken stretches of second, lowest, mean and highest °C; between two of them nothing was logged"
    )
    low_c: float
    high_c: float
    band_of: str
    within_pct: float | None
    below_pct: float | None
    above_pct: float | None
    logged_pct: float | None = Field(description="Share of the time for which there is a log")
    excursions: list[ExcursionView]
    marks: list[TraceMark]
    more_marks: bool


def trace(work: UnitOfWork, probe_id: str, query: TraceQuery) -> TraceView:
    """A stretch of a probe's log.

    Raises
    ------
    Problem
        When the end lies before the start, or the band is upside down.
    """
    row = present(store.probe(work.db, probe_id), "probe")
    from_s, to_s = _stretch(work, row.number, query)
    low, high, band_of = _band(work, query)
    width, steps = _steps(work, row.number, from_s, to_s)
    usual = width or _usual(steps)
    out_of_band = excursions(steps, usual, low, high)
    rows = store.marks_between(work.db, moment(from_s), moment(to_s), row.printer_id, MOST_MARKS + 1)
    points = [
        TraceMark(
            code=m.code,
            at_s=second(m.at),
            printer=m.printer,
            material=m.material,
            temp_c=m.temp_c,
            temp_place=m.temp_place,
            outcome=m.outcome,
            kind=m.kind,
            link=m.link,
        )
        for m in rows
    ]
    inside = time_in_band(steps, low, high)
    return TraceView(
        probe=probe(work, probe_id),
        from_s=from_s,
        to_s=to_s,
        width_s=width,
        runs=[[(s.at_s, s.low_c, s.mean_c, s.high_c) for s in run] for run in runs(steps, usual)],
        low_c=low,
        high_c=high,
        band_of=band_of,
        within_pct=100 * inside.within if inside else None,
        below_pct=100 * inside.below if inside else None,
        above_pct=100 * inside.above if inside else None,
        logged_pct=min(100 * len(steps) * usual / (to_s - from_s), 100.0) if steps else None,
        excursions=[_told(e, points) for e in out_of_band],
        marks=points[:MOST_MARKS],
        more_marks=len(rows) > MOST_MARKS,
    )


def _stretch(work: UnitOfWork, number: int, query: TraceQuery) -> tuple[int, int]:
    span = store.span(work.db, number)
    last = span[1] + 1 if span else int(work.clock().timestamp())
    try:
        to_s = second(query.to_at) if query.to_at else last
        from_s = second(query.from_at) if query.from_at else to_s - DAY_S
    except ValueError:
        message = "Give a time such as 2026-01-21T08:00:00Z."
        raise Problem(message, {"from_at": message}) from None
    if to_s <= from_s:
        message = "The end lies before the start."
        raise Problem(message, {"to_at": message})
    return from_s, to_s


def _band(work: UnitOfWork, query: TraceQuery) -> tuple[float, float, str]:
    if query.low_c is not None and query.high_c is not None:
        if query.high_c <= query.low_c:
            message = "The high end of the band is below its low end."
            raise Problem(message, {"high_c": message})
        return query.low_c, query.high_c, "as you set it"
    if query.set_code:
        set_row = present(parameter_sets.parameter_set(work.db, query.set_code), "set")
        if set_row.temp_low_c is not None and set_row.temp_high_c is not None:
            return set_row.temp_low_c, set_row.temp_high_c, f"of {set_row.code}"
    return BAND_LOW_C, BAND_HIGH_C, "where most resins print well"


def _steps(work: UnitOfWork, number: int, from_s: int, to_s: int) -> tuple[int, list[Step]]:
    """The finest steps that still fit a screen; single samples where even those do."""
    fitting = [w for w in store.WIDTHS_S if (to_s - from_s) / w <= MOST_STEPS]
    width = fitting[0] if fitting else store.WIDTHS_S[-1]
    if width == store.WIDTHS_S[0]:
        # A short stretch may have few enough samples: the steps say how many without looking at them.
        in_steps = store.steps(work.db, number, width, from_s - from_s % width, to_s)
        if sum(row[1] for row in in_steps) <= MOST_STEPS:
            return 0, [Step(*row) for row in store.samples(work.db, number, from_s, to_s)]
        return width, [Step(*row) for row in in_steps]
    return width, [Step(*row) for row in store.steps(work.db, number, width, from_s - from_s % width, to_s)]


def _usual(steps: list[Step]) -> int:
    """The usual distance of single samples."""
    apart = sorted(b.at_s - a.at_s for a, b in pairwise(steps))
    return max(apart[len(apart) // 2], 1) if apart else 60


def _told(excursion: Excursion, marks: list[TraceMark]) -> ExcursionView:
    ran = [m.code for m in marks if excursion.from_s <= m.at_s <= excursion.to_s]
    return ExcursionView(**asdict(excursion), ran=ran)
