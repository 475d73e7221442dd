"""What to change when no exposure is right: what the record speaks for first, then the cheapest."""

from __future__ import annotations

from pydantic import Field

from ..contract import Contract
from ..trace.model import record_weight

GOOD_C = (22.0, 28.0)
"""Where resin is neither thick nor quick to grow."""
SPEAKS_FOR = 3.0
"""The record speaks for a cause that makes it so many times likelier than it usually is."""
CAUSES = {
    "rest": "fast-lift",
    "warm": "cold-resin",
    "slow": "fast-lift",
    "tips": "thin-tips",
    "layer": "light-deep",
}
"""What each remedy puts right, by the causes of the trace."""


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


def remedies(lower_from: str, upper_from: str, temp_c: float | None = None) -> list[Remedy]:
    """Remedies that can help a conflict between these two lanes.

    Those of causes that the temperature of the coupons speaks for stand first, the strongest before the others; the rest follow,
    cheapest first.

    Parameters
    ----------
    lower_from, upper_from : str
        The lane that needs more light, and the one that forbids it.
    temp_c : float or None
        Temperature of the resin the coupons were printed at, °C.
    """
    fitting = [remedy for remedy, lanes in _REMEDIES if not lanes or lanes & {lower_from, upper_from}]
    if temp_c is None:
        return fitting
    record: dict[str, float | str] = {
        "below_band_c": max(GOOD_C[0] - temp_c, 0.0),
        "above_band_c": max(temp_c - GOOD_C[1], 0.0),
    }
    weights = {code: record_weight(cause, record) for code, cause in CAUSES.items()}
    spoken_for = [remedy for remedy in fitting if weights.get(remedy.code, 0.0) >= SPEAKS_FOR]
    spoken_for.sort(key=lambda remedy: -weights[remedy.code])
    return spoken_for + [remedy for remedy in fitting if remedy not in spoken_for]
