"""The gate before a print: outside its set's band it says so, what to expect, and what would put it right."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import Field

from ...core.climate.band import outside
from ...core.contract import Contract
from ...store import parameter_sets
from ...store import validity as lives
from ..bench import Bench, Conflict, View, present
from .effect import EffectView, SuccessQuery, effect, exposure_at, success

MOST_SETS = 500


class BandQuery(Contract):
    set_code: str = Field(max_length=20)
    temp_c: float = Field(ge=-20, le=80)


class BandCheck(View):
    """A temperature held against the band of a set."""

    set_code: str
    printer_id: str
    temp_c: float
    low_c: float | None
    high_c: float | None
    side: str | None = Field(description="below, above, or None inside the band")
    exposure_s: float | None = Field(description="Expected right exposure at this temperature")
    exposure_pct: float | None = Field(description="More or less than the set's, percent")
    success: float | None = Field(description="Share of prints that succeeded when as cold as this")
    words: str | None
    remedy: str | None


def band(bench: Bench, given: BandQuery) -> BandCheck:
    """Say whether a print may start, with what would follow."""
    held = present(parameter_sets.parameter_set(bench.db, given.set_code), "set")
    side = outside(given.temp_c, held.temp_low_c, held.temp_high_c)
    made = BandCheck(
        set_code=held.code, printer_id=held.printer_id, temp_c=given.temp_c, low_c=held.temp_low_c,
        high_c=held.temp_high_c, side=side, exposure_s=None, exposure_pct=None, success=None, words=None, remedy=None,
    )  # fmt: skip
    if side is None:
        return made
    exposure, percent = _expected(effect(bench, held.material_id), held, given.temp_c)
    share = _success(bench, held.material_id, given.temp_c)
    return made.model_copy(
        update={
            "exposure_s": exposure, "exposure_pct": percent, "success": share,
            "words": _words(made, percent, share), "remedy": _remedy(side),
        }
    )  # fmt: skip


def pass_gate(bench: Bench, set_id: str | None, temp_c: float | None, reason: str | None) -> dict[str, Any] | None:
    """What is recorded of a print outside its band; None inside it.

    Raises
    ------
    Conflict
        Outside the band while nobody said why it goes on.
    """
    held = parameter_sets.parameter_set(bench.db, set_id) if set_id else None
    if held is None or temp_c is None:
        return None
    said = band(bench, BandQuery(set_code=held.code, temp_c=temp_c))
    if said.side is None:
        return None
    if not reason:
        words = f"{said.words} {said.remedy} Or go on, and say why."
        raise Conflict(words, {"outside_band": words})
    return {**said.model_dump(include={"side", "low_c", "high_c", "exposure_pct", "success"}), "reason": reason}


def too_cold(bench: Bench, temp_c: float) -> list[lives.LivingSet]:
    """Living sets whose band lies above a temperature."""
    sets = lives.all_sets(bench.db, MOST_SETS)
    return [s for s in sets if outside(temp_c, s.temp_low_c, s.temp_high_c) == "below"]


def _expected(found: EffectView, held: parameter_sets.SetRow, temp_c: float) -> tuple[float | None, float | None]:
    """The set's exposure moved along the fit, from the middle of its band."""
    if held.temp_low_c is None or held.temp_high_c is None or found.result is None:
        return None, None
    there = exposure_at(found, temp_c)
    here = exposure_at(found, (held.temp_low_c + held.temp_high_c) / 2)
    if there is None or here is None or not there.exposure_s or not here.exposure_s:
        return None, None
    ratio = there.exposure_s / here.exposure_s
    return held.exposure_s * ratio, 100 * (ratio - 1)


def _success(bench: Bench, material_id: str, temp_c: float) -> float | None:
    told = success(bench, material_id, SuccessQuery()).result
    if told is None or told.curve is None:
        return None
    curve = told.curve
    if not curve.temp_c[0] <= temp_c <= curve.temp_c[-1]:
        return None
    return float(np.interp(temp_c, curve.temp_c, curve.success))


def _words(said: BandCheck, percent: float | None, share: float | None) -> str:
    low, high = said.low_c, said.high_c
    words = f"{said.temp_c:g} °C is {said.side} the {low:g} to {high:g} °C in which {said.set_code} was found."
    if percent is not None:
        words += f" Expect it to need about {abs(percent):.0f} % {'more' if percent > 0 else 'less'} exposure."
    elif said.side == "below":
        words += " Cold resin is thick, cures less and lets the first layers go."
    else:
        words += " Warm resin cures faster and grows more."
    if share is not None:
        words += f" Of prints begun like this about {100 * share:.0f} % succeeded."
    return words


def _remedy(side: str) -> str:
    if side == "below":
        return "A warm start puts it right."
    return "Let it cool, or open the chamber."
