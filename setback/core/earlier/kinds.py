"""Kinds of tables that can be taken in. A new kind, or a new thing that one tells, is an entry here."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ..printing.settings import setting_fields
from .columns import TableField, TableKind

SECONDS = {"s": 1.0, "ms": 0.001, "min": 60.0}
MICROMETRES = {"µm": 1.0, "mm": 1000.0}
MILLIMETRES = {"mm": 1.0, "µm": 0.001, "cm": 10.0}
MILLILITRES = {"ml": 1.0, "l": 1000.0, "cl": 10.0}
MINUTES = {"min": 1.0, "h": 60.0, "s": 1 / 60}
SPEEDS = {"mm/min": 1.0, "mm/s": 60.0}
CELSIUS = {"°C": 1.0}
SHARES = {"%": 1.0}

SOURCES = {
    r"maker|manufact|vendor|supplier|bottle|label": "maker",
    r"other|workshop|colleague|forum|borrow|friend|shop": "other workshop",
    r"own|habit|us|me\b|here|trial|tried|experien": "own habit",
}
OUTCOMES = {
    r"^(ok|whole|good|fine|yes|success|pass|ja|1$)": "whole",
    r"part|missing|some": "missing parts",
    r"fail|no\b|bad|lost|nothing|^0$": "failed",
}
_WORDS = {
    "base_exposure_s": r"(base|bottom|burn|first).*(exp|time|s\b|sec)|(base|bottom)$",
    "base_layers": r"(base|bottom|burn|first).*(layer|count|n)",
    "rest_before_s": r"rest|delay|wait|light.?off|settle",
    "lift_mm": r"^(?!.*speed).*lift.*(dist|height|mm\b)|^lift$",
    "lift_mm_min": r"lift.*speed",
    "retract_mm_min": r"retract.*speed|^retract",
    "transition_layers": r"transition|fade",
    "light_power_pct": r"power|pwm|intensity",
    "anti_aliasing": r"anti.?alias|\baa\b",
}
_UNITS = {"s": SECONDS, "mm": MILLIMETRES, "mm/min": SPEEDS, "%": SHARES, "": {}}
_RANGES = {
    "base_exposure_s": (0.1, 600.0),
    "base_layers": (0.0, 100.0),
    "transition_layers": (0.0, 100.0),
    "lift_mm": (0.01, 100.0),
    "lift_mm_min": (1.0, 2000.0),
    "retract_mm_min": (1.0, 2000.0),
    "light_power_pct": (1.0, 100.0),
    "anti_aliasing": (0.0, 16.0),
}
_WHOLE = {"base_layers", "transition_layers", "anti_aliasing"}

MATERIAL = TableField("material", "Material", r"material|resin|^name", "name", needed=True)
PRINTER = TableField("printer", "Printer", r"printer|machine", "name", needed=True)
PRINTER_IF_KNOWN = TableField("printer", "Printer", r"printer|machine|vat", "name")
LAYER = TableField(
    "layer_height_um",
    "Layer height",
    r"layer.*(height|thick|um|µm|mm)|^layer$|^height$|thickness|^lh",
    "number",
    MICROMETRES,
    5,
    200,
)
EXPOSURE = TableField(
    "exposure_s",
    "Exposure",
    r"^(?!.*(base|bottom|burn|first)).*(expo|cure.?time|normal|layer.?time|^t$)",
    "number",
    SECONDS,
    0.05,
    120,
)
NOTE = TableField("note", "Note", r"note|remark|comment|observ", "text")


def _settings() -> tuple[TableField, ...]:
    """The settings of a slicing program that tables tell; base exposure and layers stand before the normal exposure."""
    rows = []
    for setting in setting_fields():
        words = _WORDS.get(setting.key)
        if words is not None:
            low, high = _RANGES.get(setting.key, (0.0, 600.0))
            units = _UNITS[setting.unit]
            rows.append(
                TableField(setting.key, setting.label, words, "number", units, low, high, whole=setting.key in _WHOLE)
            )
    return tuple(rows)


def _own(field: TableField, **changes: Any) -> TableField:
    return replace(field, **changes)


SETTINGS = TableKind(
    "settings",
    "Settings in use",
    "one material on one printer at one layer height",
    (
        MATERIAL,
        PRINTER,
        *_settings(),
        _own(EXPOSURE, needed=True),
        LAYER,
        TableField("tip_mm", "Support tip", r"tip", "number", MILLIMETRES, 0.05, 5),
        TableField("source", "Where from", r"source|from|origin|who", "choice", choices=SOURCES),
        TableField("in_use_since", "In use since", r"since|date|when|used", "date"),
        NOTE,
    ),
)
RESULTS = TableKind(
    "results",
    "Results of earlier tests",
    "one value, or one mean with its number and spread",
    (
        MATERIAL,
        TableField("property", "Property", r"property|test|method|quantity|what", "name", needed=True),
        TableField("value", "Value or mean", r"value|mean|average|result|measured", needed=True),
        TableField("n", "Number of specimens", r"^n$|count|number|specimens|pieces", "number", {}, 1, 1000, whole=True),
        TableField("sd", "Standard deviation", r"\bsd\b|std|deviation|spread|±", "number", {}, 0, math.inf),
        TableField("measured_on", "Measured on", r"date|when|day", "date"),
        NOTE,
    ),
)
PRINTS = TableKind(
    "prints",
    "Earlier prints",
    "one print, or parts of it that came out alike",
    (
        MATERIAL,
        PRINTER,
        TableField("printed_at", "Printed on", r"date|when|day|printed", "date", needed=True),
        EXPOSURE,
        LAYER,
        TableField("part", "Part", r"part|piece|file|model|what", "text"),
        TableField(
            "parts",
            "How many",
            r"how many|count|number|qty|quantity|copies|printed|^n$",
            "number",
            {},
            1,
            1000,
            whole=True,
        ),
        TableField(
            "outcome",
            "How it came out",
            r"outcome|result|came out|success|ok|status",
            "choice",
            choices=OUTCOMES,
        ),
        TableField(
            "whole",
            "How many came out whole",
            r"whole|ok|good|success|came out|passed",
            "number",
            {},
            0,
            1000,
            whole=True,
        ),
        TableField("volume_ml", "Resin", r"ml|volume|resin used", "number", MILLILITRES, 0, 5000),
        TableField("minutes", "Print time", r"minutes|duration|hours|print time", "number", MINUTES, 1, 10_000),
        TableField("temp_c", "Temperature of the room", r"temp|°c", "number", CELSIUS, -20, 60),
        NOTE,
    ),
)
POURS = TableKind(
    "pours",
    "Earlier pours",
    "resin poured out of a bottle",
    (
        TableField("bottle", "Bottle", r"bottle|lot|code", "name", needed=True),
        TableField("poured_at", "Poured on", r"date|when|day|poured", "date", needed=True),
        TableField(
            "volume_ml", "How much", r"ml|volume|amount|how much", "number", MILLILITRES, 0.1, 5000, needed=True
        ),
        PRINTER_IF_KNOWN,
        NOTE,
    ),
)
TEMPERATURES = TableKind(
    "temperatures",
    "Temperatures",
    "one temperature of one probe",
    (
        TableField("at", "When", r"date|when|day|time", "date", needed=True),
        TableField("temp_c", "Temperature", r"temp|°c|^t$", "number", CELSIUS, -40, 80, needed=True),
        TableField("humidity_pct", "Humidity", r"hum|rh", "number", SHARES, 0, 100),
        TableField("probe", "Probe", r"place|where|probe|sensor|location", "name", needed=True),
    ),
)

KINDS: dict[str, TableKind] = {kind.key: kind for kind in (SETTINGS, RESULTS, PRINTS, POURS, TEMPERATURES)}
