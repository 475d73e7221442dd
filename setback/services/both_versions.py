"""An edit made on an older state: it is refused with both versions side by side, and with what to send to save it all the same."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import BaseModel, Field

from .unit_of_work import Conflict, View

NOT_SHOWN = frozenset({"version", "supersedes_id", "picture_id", "reason", "number", "replaces"})
"""What says on which state an edit was made, and why: no part of what was entered."""


class Difference(View):
    """One thing of which somebody else saved another value meanwhile."""

    field: str = Field(description="Its name in the request; of a nested one with dots")
    words: str = Field(description="Its name in words")
    yours: str = Field(description="What was sent")
    theirs: str = Field(description="What stands now")


class Stale(Conflict):
    """An edit made on an older state: both versions, and the fields that would save it over the newer one."""

    def __init__(self, message: str, differences: list[Difference], over: dict[str, Any]) -> None:
        super().__init__(message)
        self.differences, self.over = differences, over


def same_version(stored: BaseModel, sent: int, noun: str, request: BaseModel) -> None:
    """Refuse an edit made on an older state.

    Raises
    ------
    Stale
        When somebody else changed it since.
    """
    version: int = stored.version  # type: ignore[attr-defined]
    if version != sent:
        raise Stale(
            f"{noun} was changed meanwhile by somebody else, or in another tab.",
            differences(request.model_dump(mode="json"), stored.model_dump(mode="json")),
            {"version": version},
        )


def differences(yours: Mapping[str, Any], theirs: Mapping[str, Any]) -> list[Difference]:
    """Where two versions differ, in the order of what was sent; what only one of them has is no difference."""
    other = dict(_flat(theirs))
    return [
        Difference(field=name, words=in_words(name), yours=_shown(value), theirs=_shown(other[name]))
        for name, value in _flat(yours)
        if name in other and name not in NOT_SHOWN and not name.endswith("_id") and value != other[name]
    ]


UNITS = {"c": "°C", "um": "µm", "mm": "mm", "s": "s", "ml": "ml", "g": "g", "pct": "%", "min": "min", "mpa": "MPa"}


def in_words(name: str) -> str:
    """The name of a field as people read it: ``maker_low_s`` is "Maker low, s"."""
    *words, last = name.rsplit(".", 1)[-1].split("_")
    if words and last in UNITS:
        return f"{' '.join(words).capitalize()}, {UNITS[last]}"
    return " ".join([*words, last]).capitalize()


def _flat(values: Mapping[str, Any], before: str = "") -> Iterator[tuple[str, Any]]:
    for name, value in values.items():
        if isinstance(value, Mapping):
            yield from _flat(value, f"{before}{name}.")
        else:
            yield before + name, value


def _shown(value: Any) -> str:
    if value is None or value == "":
        return "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
