"""Values that can be meant and values that look like a slip of the unit or the decimal point."""

from __future__ import annotations

from ..contract import Problem

LAYER_HEIGHTS_UM = (5.0, 200.0)


def check_layer_height(layer_height_um: float) -> None:
    """Refuse a layer height no resin printer uses, and ask whether a tenth or ten times was meant.

    Raises
    ------
    Problem
        Naming ``layer_height_um``, with the likeliest intended value where a slip of ten or a thousand explains it.
    """
    low, high = LAYER_HEIGHTS_UM
    if low <= layer_height_um <= high:
        return
    for factor in (10.0, 1000.0, 0.1, 0.001):
        likely_um = round(layer_height_um / factor, 6)
        if low * 2 <= likely_um <= high:
            message = f"{layer_height_um / 1000:g} mm is no layer height. Was {likely_um / 1000:g} mm ({likely_um:g} µm) meant?"
            raise Problem(message, {"layer_height_um": message}, {"layer_height_um": likely_um})
    message = f"Give a layer height from {low:g} to {high:g} µm."
    raise Problem(message, {"layer_height_um": message})


def check_range(low_s: float, high_s: float) -> None:
    """Refuse an exposure range whose ends are swapped or absurdly far apart."""
    if high_s < low_s:
        message = "The high end is below the low end."
        raise Problem(message, {"high_s": message})
    if high_s > 50 * low_s:
        message = f"{low_s:g} to {high_s:g} s spans more than fifty times: check the decimal point."
        raise Problem(message, {"high_s": message})
