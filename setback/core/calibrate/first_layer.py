"""First layer: what the grip of one base-layer square says, and what to try next."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Millimetres, Notice, Seconds
from ..printing.steps import round_to_step

GRIPS = (
    "stayed in the vat",
    "lifted at an edge",
    "slides off under a glove",
    "scraper and steady pressure",
    "will not come off whole",
)
WANTED = 3
RAISE, LOWER = 1.3, 0.8
# A base exposure this many times the first one tried is no more the cause.
ENOUGH = 2.5
FLARE_MM = 0.25
OFFSET_UM = 30.0
CHECKS = ("level", "zero", "resin", "bubbles")


class BaseTry(Contract):
    """One try of the first layer: its exposure, how it gripped, and its measured height."""

    base_exposure_s: Seconds
    rating: Annotated[int, Field(ge=0, le=4)]
    thickness_mm: Millimetres | None = None
    foot_mm: Millimetres | None = None
    above_mm: Millimetres | None = None
    checked: list[Literal["level", "zero", "resin", "bubbles", "scuffed"]] = Field(default_factory=list)


class FirstLayerInput(Contract):
    """Tries of the base exposure so far, and what the first one is reckoned from."""

    tries: list[BaseTry] = Field(max_length=100, description="Oldest first")
    layer_height_um: Annotated[float, Field(gt=0, le=1000)]
    exposure_step_s: Seconds
    normal_exposure_s: Seconds | None = None
    seed_multiple: Annotated[float, Field(ge=1, le=50)] = 8.0


class FirstLayerResult(Contract):
    """The base exposure to use or to try next, s, with what the tries showed."""

    action: Literal["try", "check", "raise", "scuff", "lower", "done"]
    base_exposure_s: float | None = Field(description="What to try next, or what is found")
    message: str
    multiple: float | None = Field(description="Base over normal exposure; it only seeds the first try")
    z_offset_um: float | None = Field(description="Thickness less the set layer height, of the last try measured")
    flare_um: float | None = Field(description="Foot less width above, of the last try measured")
    checks: list[str] = Field(description="What to check before the next try")
    warnings: list[Notice]


def first_layer(inputs: FirstLayerInput) -> FirstLayerResult:
    """What to do about the first layer, in the order that costs least.

    Low grip: level, zero, resin and bubbles first; then more base exposure; then scuff the plate. Grip too high, or a foot
    that flares while the grip would allow less: less base exposure. The thickness of the square less the layer height is
    the Z offset.
    """
    last = inputs.tries[-1] if inputs.tries else None
    offset = next(
        (1000 * t.thickness_mm - inputs.layer_height_um for t in reversed(inputs.tries) if t.thickness_mm), None
    )
    flare = next((1000 * (t.foot_mm - t.above_mm) for t in reversed(inputs.tries) if t.foot_mm and t.above_mm), None)
    action, exposure, message, checks = _next(inputs, last, flare)
    exposure_used = exposure if exposure is not None else last.base_exposure_s if last else None
    multiple = exposure_used / inputs.normal_exposure_s if exposure_used and inputs.normal_exposure_s else None
    return FirstLayerResult(
        action=action,
        base_exposure_s=exposure,
        message=message,
        multiple=multiple,
        z_offset_um=offset,
        flare_um=flare,
        checks=checks,
        warnings=_warnings(last, offset),
    )


_Step = tuple[Literal["try", "check", "raise", "scuff", "lower", "done"], float | None, str, list[str]]


def _next(inputs: FirstLayerInput, last: BaseTry | None, flare_um: float | None) -> _Step:
    def on_step(seconds: float) -> float:
        """The nearest step of the printer, s."""
        return max(round_to_step(seconds, inputs.exposure_step_s), inputs.exposure_step_s)

    if last is None:
        seed = on_step(inputs.seed_multiple * inputs.normal_exposure_s) if inputs.normal_exposure_s else None
        message = "Expose one base-layer square on the clean, levelled plate, then rate how it grips."
        if seed:
            message += f" {inputs.seed_multiple:g} times the normal exposure is a first try; the rating decides."
        return "try", seed, message, []
    if last.rating < WANTED:
        return _low(inputs, last, on_step)
    if last.rating > WANTED:
        lower = on_step(last.base_exposure_s * LOWER)
        return "lower", lower, f"It {GRIPS[4]}: try {lower:g} s.", []
    if flare_um is not None and flare_um > 1000 * FLARE_MM:
        lower = on_step(last.base_exposure_s * LOWER)
        message = f"It grips as wanted, but the foot flares by {flare_um:.0f} µm: see whether {lower:g} s still holds."
        return "lower", lower, message, []
    return "done", last.base_exposure_s, f"{last.base_exposure_s:g} s grips as wanted.", []


def _low(inputs: FirstLayerInput, last: BaseTry, on_step: object) -> _Step:
    assert callable(on_step)
    checks = {check for t in inputs.tries for check in t.checked}
    missing = [check for check in CHECKS if check not in checks]
    if missing:
        message = (
            f"It {GRIPS[last.rating]}. Before more light: check {', '.join(missing)}; then the same exposure again."
        )
        return "check", last.base_exposure_s, message, missing
    first = min(t.base_exposure_s for t in inputs.tries)
    higher = float(on_step(last.base_exposure_s * RAISE))
    if higher <= ENOUGH * first or "scuffed" in checks:
        return "raise", higher, f"It {GRIPS[last.rating]} although all is checked: try {higher:g} s.", []
    message = f"More light has not helped up to {last.base_exposure_s:g} s: scuff the plate (wet, with a dust mask), then the same again."
    return "scuff", last.base_exposure_s, message, ["scuffed"]


def _warnings(last: BaseTry | None, offset_um: float | None) -> list[Notice]:
    warnings = []
    if last is not None and last.thickness_mm is None:
        warnings.append(Notice(code="no-thickness", message="Measure the square: its thickness tells the Z offset."))
    if offset_um is not None and abs(offset_um) > OFFSET_UM:
        direction = "thicker" if offset_um > 0 else "thinner"
        change = "lower" if offset_um > 0 else "raise"
        message = f"The square is {abs(offset_um):.0f} µm {direction} than the layer: {change} the Z offset by that."
        warnings.append(Notice(code="z-offset", message=message))
    return warnings
