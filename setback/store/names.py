"""The order of names as people count: 6 % before 12 %."""

from __future__ import annotations

import re


def name_key(name: str) -> list[int | str]:
    """What names are sorted by: words without regard to capitals, numbers by their size."""
    return [int(part) if part.isdecimal() else part.casefold() for part in re.split(r"([0-9]+)", name)]


def by_name(one: str, other: str) -> int:
    """The same as a comparison, for queries alone: no index and no table knows it."""
    a, b = name_key(one), name_key(other)
    return (a > b) - (a < b)
