"""What a set says of another layer height, another printer or another light power, and what that costs in certainty."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.calibrate.scaling import by_power, coupons_to_settle
from ...core.printing.steps import round_to_step
from ...store import earlier, shelf
from ...store.calibrate import calibrations
from ...store.sets import parameter_sets
from ..calibrate import prediction
from ..unit_of_work import UnitOfWork, View, present

USUAL_HEIGHTS_UM = (30.0, 50.0, 100.0)
POWERS_PCT = (100.0, 80.0, 60.0)
MOST_PRINTERS = 6
NUMBERS = {1: "one coupon", 2: "two coupons", 3: "three coupons", 4: "four coupons"}


class Scaled(View):
    """An exposure carried over from a set."""

    kind: Literal["layer height", "printer", "light power"]
    target: str = Field(description="The other layer height, printer or power, in words")
    exposure_s: float
    low_s: float = Field(description="Low end of its 80 % interval")
    high_s: float
    coupons: int = Field(description="How many coupons would settle it")
    words: str
    link: str = Field(description="Where a calibration of it starts")


def scaled(work: UnitOfWork, set_code: str) -> list[Scaled]:
    """Other layer heights on its printer, its layer height on other printers, and other powers; what is calibrated already is left out."""
    row = present(parameter_sets.parameter_set(work.db, set_code), "set")
    printer_here = present(shelf.printer(work.db, row.printer_id), "printer")
    calibrated = earlier.calibrated_triples(work.db)
    latitude = (row.result.get("window") or {}).get("latitude_pct")
    rows = []
    heights = sorted({*USUAL_HEIGHTS_UM, *calibrations.layer_heights(work.db)})
    targets = [(printer_here, height) for height in heights if height != row.layer_height_um]
    others = [
        p for p in shelf.printers(work.db, False, "", MOST_PRINTERS) if p.id != printer_here.id and not p.simulated
    ]
    targets += [(printer, row.layer_height_um) for printer in others]
    targets = [place for place in targets if (row.material_id, place[0].id, place[1]) not in calibrated]
    for (printer, height), expected in zip(targets, prediction.elsewhere(work, row.material_id, targets), strict=True):
        is_here = printer.id == printer_here.id
        rows.append(
            _scaled(
                "layer height" if is_here else "printer",
                f"{height:g} µm" if is_here else printer.name,
                (expected.exposure_s, expected.low_s, expected.high_s),
                printer,
                latitude,
                f"/calibrate/new?material={row.material_id}&printer={printer.id}&height={height:g}",
            )
        )
    if printer_here.light_power_adjustable:
        now_pct = float(row.settings.get("light_power_pct", 100))
        for power in POWERS_PCT:
            if power != now_pct:
                carried = by_power(row.exposure_s, now_pct, power)
                rows.append(
                    _scaled(
                        "light power",
                        f"{power:g} % light power",
                        (carried.exposure_s, *carried.interval_s),
                        printer_here,
                        latitude,
                        f"/calibrate/new?material={row.material_id}&printer={printer_here.id}&height={row.layer_height_um:g}",
                    )
                )
    return rows


def _scaled(
    kind: Literal["layer height", "printer", "light power"],
    target: str,
    values: tuple[float, float, float],
    printer: shelf.Printer,
    latitude_pct: float | None,
    link: str,
) -> Scaled:
    exposure, low, high = values
    coupons = coupons_to_settle((low, high), latitude_pct)
    about = max(round_to_step(exposure, printer.exposure_step_s), printer.exposure_step_s)
    where = "on" if kind == "printer" else "for" if kind == "layer height" else "at"
    words = f"{where} {target} about {about:.2g} s ({low:.2g}–{high:.2g}); {NUMBERS.get(coupons, f'{coupons} coupons')} would settle it"
    return Scaled(
        kind=kind,
        target=target,
        exposure_s=exposure,
        low_s=low,
        high_s=high,
        coupons=coupons,
        words=words,
        link=link,
    )
