"""Two people's readings of one coupon, made without seeing each other's: where they disagree."""

from __future__ import annotations

from typing import Literal

from ..contract import Contract
from .tally import ReadFeature

# Two readings by the same calipers differ by less than this when both are done with care.
CALIPER_UM = 30.0
_NOUNS = {
    "wall": "wall",
    "slot": "slot",
    "tip": "tip",
    "outer": "bar",
    "inner": "notch",
    "z-gap": "bridge",
    "vernier": "vernier pair",
    "fit": "gauge piece",
    "taper": "step of the taper plug",
    "legible": "code",
}


class Disagreement(Contract):
    """One feature two people saw differently."""

    key: str
    kind: Literal["state", "size"]
    message: str


class Comparison(Contract):
    """How far two readings of the same coupons agree."""

    compared: int
    disagreements: list[Disagreement]
    mean_difference_um: float | None
    summary: str


def compare_readings(first: list[ReadFeature], second: list[ReadFeature]) -> Comparison:
    """Compare what both have read; what only one of them read is not counted.

    Caliper values agree within 30 µm; counted features agree when both gave the same state. The mean
    difference (second less first, µm) shows a bias that no single value shows.
    """
    theirs = {f.key: f for f in second}
    pairs = [(f, theirs[f.key]) for f in first if f.key in theirs]
    disagreements, differences = [], []
    for a, b in pairs:
        where = " ".join(part for part in (f"{a.size_mm:g} mm {_NOUNS[a.kind]}", a.side or a.axis or "") if part)
        if a.measured_mm is not None and b.measured_mm is not None:
            apart = 1000 * (b.measured_mm - a.measured_mm)
            differences.append(apart)
            if abs(apart) > CALIPER_UM:
                message = f"{where}: {a.measured_mm:g} against {b.measured_mm:g} mm"
                disagreements.append(Disagreement(key=a.key, kind="size", message=message))
        elif a.state != b.state:
            message = f"{where}: {a.state or 'not read'} against {b.state or 'not read'}"
            disagreements.append(Disagreement(key=a.key, kind="state", message=message))
    mean = sum(differences) / len(differences) if differences else None
    return Comparison(
        compared=len(pairs),
        disagreements=disagreements,
        mean_difference_um=mean,
        summary=_summary(len(pairs), disagreements, mean),
    )


def _summary(compared: int, disagreements: list[Disagreement], mean_um: float | None) -> str:
    if not compared:
        return "Nothing was read by both."
    bias = f" Calipers differ by {mean_um:+.0f} µm on average." if mean_um is not None and abs(mean_um) >= 5 else ""
    if not disagreements:
        return f"Both agree on all {compared} features.{bias}"
    return f"They disagree on {len(disagreements)} of {compared} features.{bias}"
