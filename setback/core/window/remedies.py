"""What to change when no exposure is right, cheapest first."""

from __future__ import annotations

from pydantic import Field

from ..contract import Contract


class Remedy(Contract):
    """A change that may open a window between two lanes, with its reason."""

    code: str
    message: str
    cost: str = Field(description="What it costs, in words")


_REMEDIES: list[tuple[Remedy, set[str]]] = [
    (
        Remedy(
            code="rest",
            message="Rest a few seconds between the plate arriving and the light.",
            cost="seconds on every layer",
        ),
        set(),
    ),
    (
        Remedy(code="warm", message="Bring the resin to 22–28 °C before the print.", cost="minutes before the print"),
        set(),
    ),
    (Remedy(code="slow", message="Lift and retract more slowly.", cost="seconds on every layer"), set()),
    (Remedy(code="tips", message="Use thicker support tips.", cost="larger marks on the part"), {"tips"}),
    (
        Remedy(code="layer", message="Use a thicker layer: clear and pale resins bloom less.", cost="coarser steps"),
        {"z", "cure"},
    ),
    (
        Remedy(code="tolerance", message="Accept a wider tolerance, or a coarser wall or slot.", cost="a looser part"),
        {"size", "walls", "slots", "z"},
    ),
]


def thicker_um(layer_height_um: float) -> float:
    """The thicker layer worth trying: half the layers, so half the light that later layers send down."""
    return 2 * layer_height_um


def remedies(lower_from: str, upper_from: str) -> list[Remedy]:
    """Remedies that can help a conflict between these two lanes, cheapest first."""
    return [remedy for remedy, lanes in _REMEDIES if not lanes or lanes & {lower_from, upper_from}]
