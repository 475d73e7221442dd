"""The gate before a print: outside its set's band it says so, what to expect, and what would put it right."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import Field

from ...core.climate.band import Side, outside
from ...core.contract import Contract
from ...core.trace.model import leading
from ...store.sets import parameter_sets
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .effect import EffectView, SuccessQuery, effect, exposure_at, success

FAR_C = 5.0
"""Degrees outside a band at which nothing else is suspected first."""


class BandQuery(Contract):
    """A set, and the temperature it is to be printed at."""

    set_code: str = Field(max_length=20)
    temp_c: float = Field(ge=-20, le=80)


class BandCheck(View):
    """A temperature held against the band of a set."""

    set_code: str
    printer_id: str
    temp_c: float
    low_c: float | None
    high_c: float | None
    side: Side | None = Field(description="below, above, or None inside the band")
    exposure_s: float | None = Field(description="Expected right exposure at this temperature")
    exposure_pct: float | None = Field(description="More or less than the set's, percent")
    success: float | None = Field(description="Share of prints that succeeded when as cold as this")
    words: str | None
    remedy: str | None


def band(work: UnitOfWork, query: BandQuery) -> BandCheck:
    """Say whether a print may start, with what would follow."""
    set_row = present(parameter_sets.parameter_set(work.db, query.set_code), "set")
    side = outside(query.temp_c, set_row.temp_low_c, set_row.temp_high_c)
    check = BandCheck(
        set_code=set_row.code,
        printer_id=set_row.printer_id,
        temp_c=query.temp_c,
        low_c=set_row.temp_low_c,
        high_c=set_row.temp_high_c,
        side=side,
        exposure_s=None,
        exposure_pct=None,
        success=None,
        words=None,
        remedy=None,
    )
    if side is None:
        return check
    exposure, percent = _expected(effect(work, set_row.material_id), set_row, query.temp_c)
    share = _success(work, set_row.material_id, query.temp_c)
    return check.model_copy(
        update={
            "exposure_s": exposure,
            "exposure_pct": percent,
            "success": share,
            "words": _words(check, percent, share),
            "remedy": _remedy(side),
        }
    )


def pass_gate(work: UnitOfWork, set_id: str | None, temp_c: float | None, reason: str | None) -> dict[str, Any] | None:
    """What is recorded of a print outside its band; None inside it.

    Raises
    ------
    Conflict
        Outside the band while nobody said why it goes on.
    """
    set_row = parameter_sets.parameter_set(work.db, set_id) if set_id else None
    if set_row is None or temp_c is None:
        return None
    check = band(work, BandQuery(set_code=set_row.code, temp_c=temp_c))
    if check.side is None:
        return None
    if not reason:
        words = f"{check.words} {check.remedy} Or go on, and say why."
        raise Conflict(words, {"outside_band": words})
    return {**check.model_dump(include={"side", "low_c", "high_c", "exposure_pct", "success"}), "reason": reason}


def _expected(
    effect_view: EffectView, set_row: parameter_sets.SetRow, temp_c: float
) -> tuple[float | None, float | None]:
    """The set's exposure moved along the fit, from the middle of its band."""
    if set_row.temp_low_c is None or set_row.temp_high_c is None or effect_view.result is None:
        return None, None
    at_temp = exposure_at(effect_view, temp_c)
    at_middle = exposure_at(effect_view, (set_row.temp_low_c + set_row.temp_high_c) / 2)
    if at_temp is None or at_middle is None or not at_temp.exposure_s or not at_middle.exposure_s:
        return None, None
    ratio = at_temp.exposure_s / at_middle.exposure_s
    return set_row.exposure_s * ratio, 100 * (ratio - 1)


def _success(work: UnitOfWork, material_id: str, temp_c: float) -> float | None:
    result = success(work, material_id, SuccessQuery()).result
    if result is None or result.curve is None:
        return None
    curve = result.curve
    if not curve.temp_c[0] <= temp_c <= curve.temp_c[-1]:
        return None
    return float(np.interp(temp_c, curve.temp_c, curve.success))


def _words(message: BandCheck, percent: float | None, share: float | None) -> str:
    low, high = message.low_c, message.high_c
    words = f"{message.temp_c:g} °C is {message.side} the {low:g} to {high:g} °C in which {message.set_code} was found."
    if percent is not None:
        words += f" Expect it to need about {abs(percent):.0f} % {'more' if percent > 0 else 'less'} exposure."
    elif message.side == "below":
        words += " Cold resin is thick, cures less and lets the first layers go."
    else:
        words += " Warm resin cures faster and grows more."
    if share is not None:
        words += f" Of prints begun like this about {100 * share:.0f} % succeeded."
    return words


def _remedy(side: Side) -> str:
    """What puts it right, as the trace knows it."""
    record: dict[str, float | str] = {f"{side}_band_c": FAR_C}
    remedy = leading([], record, {}, 1)[0].remedy
    return f"{remedy.name}: {remedy.how[0].lower()}{remedy.how[1:]}"
