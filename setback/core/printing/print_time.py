"""Print time: what a print, or a whole ladder of them, costs in minutes and millilitres."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..contract import Contract, Notice, Problem, Seconds

Rest = Annotated[float, Field(ge=0, le=600)]


class PrintTimeInput(Contract):
    """Settings of a print and its layers."""

    layers: int = Field(ge=1, le=100_000, description="All layers, base and transition layers included")
    base_layers: int = Field(0, ge=0, le=1000)
    transition_layers: int = Field(0, ge=0, le=1000, description="Layers stepping linearly from base to normal")
    exposure_s: Seconds = Field(description="Exposure of a normal layer, s")
    base_exposure_s: Seconds | None = Field(None, description="Exposure of a base layer, s; normal when not given")
    rest_before_s: Rest = Field(0, description="Rest, or the printer's delay, before exposure, s")
    rest_after_lift_s: Rest = 0
    rest_after_retract_s: Rest = 0
    lift_mm: Annotated[float, Field(ge=0, le=200)] = 0
    lift_mm_min: Annotated[float, Field(ge=0.1, le=5000)] = Field(60, description="Lift speed, mm/min")
    retract_mm_min: Annotated[float, Field(ge=0.1, le=5000)] = Field(150, description="Retract speed, mm/min")
    delay_includes_motion: bool = Field(
        False, description="The printer counts its delay from the start of motion, so only what is left is rest"
    )
    volume_ml: Annotated[float, Field(ge=0, le=100_000)] | None = Field(None, description="Resin of one print, ml")
    exposures_s: list[Seconds] = Field(
        default_factory=list, max_length=200, description="A ladder: the same print at each of these exposures"
    )


class LadderCost(Contract):
    """Duration of one coupon's print, s, at its exposure."""

    exposure_s: float
    total_s: float


class PrintTimeResult(Contract):
    """Duration of a print, s, and what it is made of."""

    total_s: float = Field(description="Duration of the print, s")
    exposure_total_s: float = Field(description="Light on, over all layers, s")
    overhead_per_layer_s: float = Field(description="Motion and rests of one layer, s")
    rest_before_s: float = Field(description="Rest that is really left before exposure, s")
    ladder: list[LadderCost]
    ladder_total_s: float | None
    ladder_volume_ml: float | None
    warnings: list[Notice]


def layer_exposures(
    layers: int, base_layers: int, transition_layers: int, base_exposure_s: float, exposure_s: float
) -> list[float]:
    """Exposure of every layer, s: base, then a straight way down to normal, then normal."""
    m = transition_layers
    transition = [base_exposure_s + (exposure_s - base_exposure_s) * k / (m + 1) for k in range(1, m + 1)]
    return ([base_exposure_s] * base_layers + transition + [exposure_s] * max(layers - base_layers - m, 0))[:layers]


def print_time(inputs: PrintTimeInput) -> PrintTimeResult:
    """Duration of a print: per layer exposure, lift, retract and rests.

    The k-th of m transition layers gets base + (normal - base) k / (m + 1).

    Raises
    ------
    Problem
        When there are more base and transition layers than layers.
    """
    if inputs.base_layers + inputs.transition_layers > inputs.layers:
        raise Problem(
            "More base and transition layers than the print has.",
            {"layers": f"Give at least {inputs.base_layers + inputs.transition_layers}."},
        )
    motion = 60 * inputs.lift_mm * (1 / inputs.lift_mm_min + 1 / inputs.retract_mm_min)
    rest = inputs.rest_before_s
    warnings = []
    if inputs.delay_includes_motion:
        rest = max(0.0, inputs.rest_before_s - motion)
        if rest == 0:
            warnings.append(
                Notice(
                    code="no-rest",
                    message=f"This printer's delay includes the motion, which takes {motion:.1f} s: "
                    f"a delay of {inputs.rest_before_s:g} s leaves no rest before exposure.",
                )
            )
    overhead = motion + rest + inputs.rest_after_lift_s + inputs.rest_after_retract_s

    def light(normal: float) -> float:
        """Light of all layers together, s, at one normal exposure."""
        base = inputs.base_exposure_s if inputs.base_exposure_s is not None else normal
        return sum(layer_exposures(inputs.layers, inputs.base_layers, inputs.transition_layers, base, normal))

    ladder = [
        LadderCost(exposure_s=exposure, total_s=light(exposure) + inputs.layers * overhead)
        for exposure in inputs.exposures_s
    ]
    return PrintTimeResult(
        total_s=light(inputs.exposure_s) + inputs.layers * overhead,
        exposure_total_s=light(inputs.exposure_s),
        overhead_per_layer_s=overhead,
        rest_before_s=rest,
        ladder=ladder,
        ladder_total_s=sum(cost.total_s for cost in ladder) if ladder else None,
        ladder_volume_ml=len(ladder) * inputs.volume_ml if ladder and inputs.volume_ml is not None else None,
        warnings=warnings,
    )
