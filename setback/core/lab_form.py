"""Numbers in words as one lab reads them: °F for °C, inches for millimetres, psi for megapascals, a comma for the point.

Everything is computed, kept and exported in °C, mm and MPa with a decimal point; this only rewrites what is read.
"""

from __future__ import annotations

import math
import re
from typing import Annotated, Any, Literal

from pydantic import Field

from .contract import Contract

Temperature = Literal["°C", "°F"]
Length = Literal["mm", "in"]
Stress = Literal["MPa", "psi"]
DecimalMark = Literal[".", ","]


class NumberForm(Contract):
    """Which units and which decimal mark are read; entry takes all of them whatever is set here."""

    temperature_unit: Annotated[Temperature, Field(description="Unit in which temperatures are shown")] = "°C"
    length_unit: Annotated[Length, Field(description="Unit in which sizes are shown; layers stay in µm and mm")] = "mm"
    stress_unit: Annotated[Stress, Field(description="Unit in which strength is shown")] = "MPa"
    decimal_mark: Annotated[DecimalMark, Field(description="Sign before the decimals of a number")] = "."

    @property
    def is_usual(self) -> bool:
        """Whether words can stay as they were written."""
        return self == NumberForm()


FACTORS = {"°C": 9 / 5, "mm": 1 / 25.4, "MPa": 1e6 / 6894.757293168}
"""How many of the other unit one of ours is; pounds per square inch by the definition of pound and inch."""
ZERO_C_IN_F = 32.0

_NUMBER = r"[-\u2212]?\d+(?:\.\d+)?"
_BETWEEN = r"\s?(?:to|and|or|against|over|–|-|×|±|,)\s?"
_SIZES = {
    "°C": re.compile(rf"(?<![\w.]){_NUMBER}(?:{_BETWEEN}{_NUMBER})*(?=(?P<gap>[\s\u2009\u00a0]?)°C)"),
    # Layers stay as slicing programs have them; speeds, areas and paces per millimetre are units of their own.
    "mm": re.compile(
        rf"(?<![\w.]){_NUMBER}(?:{_BETWEEN}{_NUMBER})*(?=(?P<gap>[\s\u2009\u00a0]?)mm(?![\w/²³])(?! layer| of a layer| is no layer| \(\d+ µm))"
    ),
    "MPa": re.compile(rf"(?<![\w.]){_NUMBER}(?:{_BETWEEN}{_NUMBER})*(?=(?P<gap>[\s\u2009\u00a0]?)MPa(?![\w/²³]))"),
}
_APART_BEFORE = re.compile(r"(?:±|within|per|costs?|differs? by|rises? by|falls? by|apart by)\s?$")
_APART_AFTER = re.compile(
    r"^[\s\u2009\u00a0]?°C (?:away|apart|outside|of the|to either side|from the|above|below|warmer|colder|higher|lower)"
)
_ONE = re.compile(_NUMBER)
_DECIMALS = re.compile(r"(?<![\w.:/\-])([-\u2212]?\d+)\.(\d+)(?![\w]*[.:/]\w|\d)")
_THOUSANDS = re.compile(r"(?<=\d),(?=\d{3}(?!\d))")


def decimals_shown(decimals: int, unit: str) -> int:
    """Decimals of the other unit that keep what the number told: an inch is long, a pound per square inch is little.

    Below zero: tens, hundreds.
    """
    return decimals + {"°C": 0, "mm": 2, "MPa": -2}[unit]


def converted(value: float, unit: str, apart: bool = False) -> float:
    """A number of °C, mm or MPa in °F, in or psi; ``apart``: a difference, which has no zero of its own."""
    return value * FACTORS[unit] + (ZERO_C_IN_F if unit == "°C" and not apart else 0)


def number_in_words(text: str, unit: str, apart: bool = False) -> str:
    """One written number in the other unit, to about the same fineness."""
    value = float(text.replace("\u2212", "-"))
    decimals = len(text.partition(".")[2])
    places = decimals_shown(decimals, unit)
    result = converted(value, unit, apart)
    if places < 0:
        result = round(result / 10**-places) * 10**-places
    if unit == "mm" and result:
        places = max(places, 1 - math.floor(math.log10(abs(result))))
    out = f"{result:.{max(places, 0)}f}"
    return out.replace("-", "\u2212") if "\u2212" in text else out


def in_lab_form(text: str, form: NumberForm) -> str:
    """A sentence with its numbers as this lab reads them."""
    for unit, read_unit in (("°C", form.temperature_unit), ("mm", form.length_unit), ("MPa", form.stress_unit)):
        if read_unit != unit and unit in text:
            text = _in_unit(text, unit, read_unit)
    if form.decimal_mark == ",":
        text = _DECIMALS.sub(r"\1,\2", _THOUSANDS.sub("\u2009", text))
    return text


def _in_unit(text: str, unit: str, read_unit: str) -> str:
    out, at = [], 0
    for match in _SIZES[unit].finditer(text):
        before, after = text[: match.start()], text[match.end() :]
        apart = bool(_APART_BEFORE.search(before) or _APART_AFTER.match(after))
        out.append(text[at : match.start()])
        out.append(_chain(match.group(), unit, apart))
        at = match.end()
        gap = match.group("gap") or ""
        out.append(gap + read_unit)
        at += len(gap) + len(unit)
    return "".join(out) + text[at:]


def _chain(numbers: str, unit: str, apart: bool) -> str:
    """Several numbers before one unit; what stands behind ± is a difference."""

    def number(match: re.Match[str]) -> str:
        """A number of the chain."""
        return number_in_words(match.group(), unit, apart or numbers[: match.start()].rstrip().endswith("±"))

    return _ONE.sub(number, re.sub(r"(?<=\d)-(?=\d)", "–", numbers))


PEOPLE_WRITE = frozenset(
    [
        "name",
        "note",
        "started_from",
        "source_note",
        "workshop",
        "names",
        "column",
        "begins",
        "ends",
        "time_zone",
        "job",
        "task",
        "resin",
        "reason",
        "token",
        "text",
        "rows",
        "columns",
        "head",
        "scope",
        "source",
        "finding",
        "findings_note",
        "contamination",
        "outside_reason",
        "forbidden_reason",
        "concerns_reason",
        "settings_note",
        "withdrawn_reason",
        "cancelled_reason",
        "gone_reason",
        "closed_reason",
        "colour",
        "maker",
        "lot",
        "material",
        "use",
        "supports",
        "base_address",
        "lamp",
        "wash_fluid",
        "wash_method",
        "safety_sheet_url",
        "backup_folder",
        "copies_folder",
        "hash",
        "version",
        "core_version",
        "id",
        "key",
        "code",
        "address",
        "file",
        "sample",
    ]
)
"""Keys of answers under which the words of people, codes and files stand; they are shown as they were written."""


BESIDE_A_UNIT = {"value", "this", "other"}
"""Keys of a card's line, and of two cards compared, that hold a value in words whose unit stands beside it."""
SETTINGS = "Settings"
"""The group of a card's lines that are typed into a slicing program."""


def answer_in_lab_form(answer: Any, form: NumberForm) -> Any:
    """An answer of plain objects in which all words Setback wrote are in the lab's form; numbers stay what they are.

    A line of a card, with its unit beside it, is one quantity. What is typed into a slicing program keeps its unit.
    """
    if isinstance(answer, list):
        return [part if isinstance(part, (int, float)) else answer_in_lab_form(part, form) for part in answer]
    if isinstance(answer, str):
        return in_lab_form(answer, form)
    if not isinstance(answer, dict):
        return answer
    out = {key: part if key in PEOPLE_WRITE else answer_in_lab_form(part, form) for key, part in answer.items()}
    if isinstance(unit := answer.get("unit"), str) and answer.get("group", SETTINGS) != SETTINGS:
        for key in BESIDE_A_UNIT & answer.keys():
            out[key], out["unit"] = line_in_lab_form(str(answer[key]), unit, form)
    return out


def line_in_lab_form(value: str, unit: str, form: NumberForm) -> tuple[str, str]:
    """A value in words and its unit beside it, such as of a card's line."""
    read_unit = {"°C": form.temperature_unit, "mm": form.length_unit, "MPa": form.stress_unit}.get(unit, unit)
    if read_unit == unit:
        return in_lab_form(value, form), unit
    together = in_lab_form(f"{value} {unit}", form)
    if together.endswith(f" {read_unit}"):
        return together.removesuffix(f" {read_unit}"), read_unit
    return together, ""
