"""The order of names as people count: 6 % before 12 %."""

from __future__ import annotations

import re


def name_key(name: str) -> list[int | str]:
    """What names are sorted by: words without regard to capitals, numbers by their size."""
    # Words and numbers take turns, so that only like is held against like.
    return [int(part) if at % 2 else part.casefold() for at, part in enumerate(re.split(r"([0-9]+)", name))]


def by_name(one: str, other: str) -> int:
    """The same as a comparison, for queries alone: no index and no table knows it. Two names are never level, or a page would lose one."""
    a, b = (name_key(one), one.casefold()), (name_key(other), other.casefold())
    return (a > b) - (a < b)
