"""Practice: what somebody took a hidden coupon for, held against the truth."""

from __future__ import annotations

import math
from statistics import fmean
from typing import Literal

from pydantic import Field

from ..contract import Contract, Interval
from ..statistics.mean import mean_bias
from .tally import FeatureKind, FeatureState

Call = Literal["under", "right", "over"]


class PracticeFeature(Contract):
    """A feature of the coupon."""

    key: str
    kind: FeatureKind
    size_mm: float
    side: Literal["left", "right"] | None = None


class WrongMark(Contract):
    """A mark that was read otherwise than it is."""

    key: str = Field(description="The feature")
    read: FeatureState = Field(description="What was read")
    truth: FeatureState = Field(description="What is there")


class PracticeScore(Contract):
    """How one coupon was read."""

    marks: int = Field(description="Marks that were read")
    wrong: list[WrongMark] = Field(description="Those that are otherwise")
    wall_bias_um: float | None = Field(
        description="Thinnest standing wall as it was read less the true one, µm, mean of both sides; above 0: walls were missed"
    )
    slot_bias_um: float | None = Field(
        description="Narrowest open slot as it was read less the true one, µm, mean of both sides; above 0: slots were missed"
    )
    plug_bias_um: float | None = Field(
        description="Edge growth by the taper plug as it was read less the true one, µm; null where it was not read"
    )
    call: Call = Field(description="What the coupon was called")
    true_call: Call = Field(description="What it is")
    next_s: float = Field(description="Exposure that was chosen next, s")
    next_off_pct: float = Field(description="How far that lies from the right exposure, percent")
    nearer: bool = Field(description="Whether it lies nearer to the right exposure than this coupon, or just as near")


class PracticeBias(Contract):
    """How somebody reads, over all their practice."""

    of: Literal["walls", "slots", "plug"] = Field(description="What is read")
    n: int = Field(description="Coupons it rests on")
    bias_um: float = Field(description="Mean of read less true, µm")
    bias_ci_um: Interval | None = Field(description="95 % interval; null with fewer than three coupons")
    shown: bool = Field(description="Whether the interval leaves out nothing")


def score(
    features: list[PracticeFeature],
    read: dict[str, FeatureState],
    truth: dict[str, FeatureState],
    call: Call,
    true_call: Call,
    exposures_s: tuple[float, float, float],
) -> PracticeScore:
    """Hold a reading against the truth.

    Parameters
    ----------
    features : list
        Of the coupon's plan, with drawn sizes in millimetres.
    read, truth : dict
        State by feature; marks that were not read or were struck out do not count.
    call, true_call : str
        under, right or over.
    exposures_s : tuple
        Of this coupon, the one chosen next, and the right one, s.
    """
    exposure_s, next_s, right_s = exposures_s
    counted = [f for f in features if f.kind in ("wall", "slot", "tip") and read.get(f.key) not in (None, "lost")]
    wrong = [
        WrongMark(key=f.key, read=read[f.key], truth=truth.get(f.key, "absent"))
        for f in counted
        if read[f.key] != truth.get(f.key, "absent")
    ]
    return PracticeScore(
        marks=len(counted),
        wrong=wrong,
        wall_bias_um=_least_difference_um(features, "wall", read, truth),
        slot_bias_um=_least_difference_um(features, "slot", read, truth),
        plug_bias_um=_plug_difference_um(features, read, truth),
        call=call,
        true_call=true_call,
        next_s=next_s,
        next_off_pct=100 * (next_s / right_s - 1),
        nearer=abs(math.log(next_s / right_s)) <= abs(math.log(exposure_s / right_s)) + 1e-9,
    )


def _least_difference_um(
    features: list[PracticeFeature], kind: FeatureKind, read: dict[str, FeatureState], truth: dict[str, FeatureState]
) -> float | None:
    """The least whole size of a kind as it was read less the true one, mean of the sides that were read, µm."""
    differences = []
    for side in ("left", "right"):
        of_side = sorted((f for f in features if f.kind == kind and f.side == side), key=lambda f: f.size_mm)
        if of_side and any(read.get(f.key) not in (None, "lost") for f in of_side):
            differences.append(1000 * (_least_whole_mm(of_side, read) - _least_whole_mm(of_side, truth)))
    return fmean(differences) if differences else None


def _least_whole_mm(of_side: list[PracticeFeature], states: dict[str, FeatureState]) -> float:
    """Size of the least feature that is whole; one step more than the largest where none is."""
    for feature in of_side:
        if states.get(feature.key) == "formed":
            return feature.size_mm
    step_mm = of_side[-1].size_mm - of_side[-2].size_mm if len(of_side) > 1 else 0.0
    return of_side[-1].size_mm + step_mm


def _plug_difference_um(
    features: list[PracticeFeature], read: dict[str, FeatureState], truth: dict[str, FeatureState]
) -> float | None:
    steps = [f for f in features if f.kind == "taper"]
    chosen = next((f for f in steps if read.get(f.key) == "formed"), None)
    true = next((f for f in steps if truth.get(f.key) == "formed"), None)
    return None if chosen is None or true is None else 250 * (chosen.size_mm - true.size_mm)


def biases(scores: list[PracticeScore]) -> list[PracticeBias]:
    """How somebody reads on the whole: mean and Student's interval of what each coupon showed."""
    answers = []
    by_kind: dict[Literal["walls", "slots", "plug"], list[float | None]] = {
        "walls": [s.wall_bias_um for s in scores],
        "slots": [s.slot_bias_um for s in scores],
        "plug": [s.plug_bias_um for s in scores],
    }
    for name, maybe in by_kind.items():
        values = [value for value in maybe if value is not None]
        if not values:
            continue
        bias = mean_bias(values)
        answers.append(
            PracticeBias(of=name, n=len(values), bias_um=bias.mean, bias_ci_um=bias.interval, shown=bias.is_shown)
        )
    return answers
