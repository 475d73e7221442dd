"""Every property a brief can ask for: of a parameter set and its evidence, or of a test method.

A property of a set is one entry of :data:`OF_SET`; those of the methods come from their own files.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..testing.methods import PROPERTIES

Better = Literal["higher", "lower"]


@dataclass(frozen=True)
class Asked:
    """A property that can be asked for.

    ``how`` says what would show it when nothing does yet; ``stage`` is the step of a campaign where that is done.
    """

    key: str
    name: str
    group: str
    unit: str
    better: Better
    rated: bool = False
    how: str = ""
    stage: str | None = None
    """Step of the campaign, or None when a test shows it."""
    with_amount: str | None = None
    """What must be said beside the limit, such as the millilitres of a part."""


OF_SET: tuple[Asked, ...] = (
    Asked(
        "set.latitude",
        "Exposure latitude",
        "Parameter set",
        "%",
        "higher",
        how="coupons nearer to both ends of the window",
        stage="refine",
    ),
    Asked(
        "set.growth",
        "Size growth of an edge",
        "Parameter set",
        "µm",
        "lower",
        how="another flat coupon near the exposure",
        stage="refine",
    ),
    Asked(
        "set.wall",
        "Finest wall that stands",
        "Parameter set",
        "mm",
        "lower",
        how="a flat coupon near the exposure",
        stage="refine",
    ),
    Asked(
        "set.slot",
        "Finest slot that stays open",
        "Parameter set",
        "mm",
        "lower",
        how="a flat coupon near the exposure",
        stage="refine",
    ),
    Asked(
        "set.tip",
        "Thinnest support tip held",
        "Parameter set",
        "mm",
        "lower",
        how="a support coupon at the exposure",
        stage="refine",
    ),
    Asked("set.plate", "Usable plate", "Parameter set", "%", "higher", how="a light map of the plate", stage="confirm"),
    Asked(
        "set.cold",
        "Prints from this temperature",
        "Parameter set",
        "°C",
        "lower",
        how="a calibration at that temperature",
        stage="range",
    ),
    Asked(
        "set.warm",
        "Prints up to this temperature",
        "Parameter set",
        "°C",
        "higher",
        how="a calibration at that temperature",
        stage="range",
    ),
    Asked(
        "set.cure",
        "Minutes of cure",
        "Parameter set",
        "min",
        "lower",
        how="a finish route with its cure",
        stage="prepare",
    ),
    Asked(
        "set.cost",
        "Resin for one part",
        "Parameter set",
        "money",
        "lower",
        how="a price on the resin",
        stage=None,
        with_amount="ml",
    ),
)


def _name(name: str, method: str) -> str:
    """Said with its method, unless the method is called the same."""
    return name if name.lower() == method.lower() else f"{name}, {method.lower()}"


ASKABLE: dict[str, Asked] = {requirable.key: requirable for requirable in OF_SET} | {
    key: Asked(
        key,
        _name(requirable.name, method.name),
        method.name,
        requirable.unit,
        requirable.better,
        requirable.rated,
        how=f"a test: {method.name.lower()}",
    )
    for key, (method, requirable) in PROPERTIES.items()
}
