"""The trace of a probe: in steps that fit a screen, against a band, with what ran meanwhile."""

from __future__ import annotations

from dataclasses import asdict
from itertools import pairwise

from pydantic import Field

from ...core.climate.trace import Excursion, Step, excursions, runs, time_in_band
from ...core.contract import Contract, Problem
from ...store import parameter_sets
from ...store import probes as store
from ..bench import Bench, View, present
from .probes import ProbeView, moment, probe, second

# More steps than this are not told apart on a screen.
MOST_STEPS = 1500
MOST_MARKS = 400
DAY_S = 86_400
# Where nothing better is known: resin prints well between these.
BAND_LOW_C, BAND_HIGH_C = 22.0, 28.0


class TraceQuery(Contract):
    from_at: str | None = Field(None, max_length=30, description="ISO time; a day before the end when not given")
    to_at: str | None = Field(None, max_length=30, description="ISO time; the newest sample when not given")
    set_code: str | None = Field(None, max_length=20, description="Read against the band of this set")
    low_c: float | None = Field(None, ge=-60, le=150)
    high_c: float | None = Field(None, ge=-60, le=150)


class TraceMark(View):
    code: str
    at_s: int
    printer: str
    material: str | None
    temp_c: float | None
    temp_place: str | None
    outcome: str | None
    kind: str = Field(description="print, coupons or test")
    link: str


class ExcursionView(View):
    from_s: int
    to_s: int
    side: str
    extreme_c: float
    ran: list[str] = Field(description="Prints that came out meanwhile, by code")


class TraceView(View):
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


def trace(bench: Bench, probe_id: str, given: TraceQuery) -> TraceView:
    """A stretch of a probe's log.

    Raises
    ------
    Problem
        When the end lies before the start, or the band is upside down.
    """
    row = present(store.probe(bench.db, probe_id), "probe")
    from_s, to_s = _stretch(bench, row.number, given)
    low, high, band_of = _band(bench, given)
    width, steps = _steps(bench, row.number, from_s, to_s)
    usual = width or _usual(steps)
    found = excursions(steps, usual, low, high)
    rows = store.marks_between(bench.db, moment(from_s), moment(to_s), row.printer_id, MOST_MARKS + 1)
    shown = [
        TraceMark(
            code=m.code, at_s=second(m.at), printer=m.printer, material=m.material, temp_c=m.temp_c,
            temp_place=m.temp_place, outcome=m.outcome, kind=m.kind, link=m.link,
        )
        for m in rows
    ]  # fmt: skip
    inside = time_in_band(steps, low, high)
    return TraceView(
        probe=probe(bench, probe_id), from_s=from_s, to_s=to_s, width_s=width,
        runs=[[(s.at_s, s.low_c, s.mean_c, s.high_c) for s in run] for run in runs(steps, usual)], low_c=low, high_c=high,
        band_of=band_of, within_pct=100 * inside.within if inside else None,
        below_pct=100 * inside.below if inside else None, above_pct=100 * inside.above if inside else None,
        logged_pct=min(100 * len(steps) * usual / (to_s - from_s), 100.0) if steps else None,
        excursions=[_told(e, shown) for e in found], marks=shown[:MOST_MARKS], more_marks=len(rows) > MOST_MARKS,
    )  # fmt: skip


def _stretch(bench: Bench, number: int, given: TraceQuery) -> tuple[int, int]:
    held = store.span(bench.db, number)
    last = held[1] + 1 if held else int(bench.clock().timestamp())
    try:
        to_s = second(given.to_at) if given.to_at else last
        from_s = second(given.from_at) if given.from_at else to_s - DAY_S
    except ValueError:
        said = "Give a time such as 2026-01-21T08:00:00Z."
        raise Problem(said, {"from_at": said}) from None
    if to_s <= from_s:
        said = "The end lies before the start."
        raise Problem(said, {"to_at": said})
    return from_s, to_s


def _band(bench: Bench, given: TraceQuery) -> tuple[float, float, str]:
    if given.low_c is not None and given.high_c is not None:
        if given.high_c <= given.low_c:
            said = "The high end of the band is below its low end."
            raise Problem(said, {"high_c": said})
        return given.low_c, given.high_c, "as you set it"
    if given.set_code:
        held = present(parameter_sets.parameter_set(bench.db, given.set_code), "set")
        if held.temp_low_c is not None and held.temp_high_c is not None:
            return held.temp_low_c, held.temp_high_c, f"of {held.code}"
    return BAND_LOW_C, BAND_HIGH_C, "where most resins print well"


def _steps(bench: Bench, number: int, from_s: int, to_s: int) -> tuple[int, list[Step]]:
    """The finest steps that still fit a screen; single samples where even those do."""
    fitting = [w for w in store.WIDTHS_S if (to_s - from_s) / w <= MOST_STEPS]
    width = fitting[0] if fitting else store.WIDTHS_S[-1]
    if width == store.WIDTHS_S[0]:
        # A short stretch may have few enough samples: the steps say how many without looking at them.
        in_steps = store.steps(bench.db, number, width, from_s - from_s % width, to_s)
        if sum(row[1] for row in in_steps) <= MOST_STEPS:
            return 0, [Step(*row) for row in store.samples(bench.db, number, from_s, to_s)]
        return width, [Step(*row) for row in in_steps]
    return width, [Step(*row) for row in store.steps(bench.db, number, width, from_s - from_s % width, to_s)]


def _usual(steps: list[Step]) -> int:
    """The usual distance of single samples."""
    apart = sorted(b.at_s - a.at_s for a, b in pairwise(steps))
    return max(apart[len(apart) // 2], 1) if apart else 60


def _told(found: Excursion, marks: list[TraceMark]) -> ExcursionView:
    ran = [m.code for m in marks if found.from_s <= m.at_s <= found.to_s]
    return ExcursionView(**asdict(found), ran=ran)
