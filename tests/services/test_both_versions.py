"""Two versions of one thing: what differs, in words; and what to send to save over the newer one."""

import pytest
from pydantic import BaseModel

from setback.services.both_versions import Stale, differences, in_words, same_version


class Limits(BaseModel):
    largest_um: float


class Stored(BaseModel):
    version: int = 3
    name: str = "Slate"
    maker_low_s: float | None = 1.5
    printer_id: str = "p"
    limits: Limits = Limits(largest_um=45)
    bottles: int = 2


class Sent(BaseModel):
    version: int = 3
    name: str = "Slate"
    maker_low_s: float | None = None
    printer_id: str = "q"
    limits: Limits = Limits(largest_um=30)


def test_an_edit_of_the_newest_state_goes_on():
    same_version(Stored(), 3, "Slate", Sent())


def test_an_older_one_brings_both_versions_nested_fields_too_and_no_ids():
    with pytest.raises(Stale, match="Slate was changed meanwhile") as stale:
        same_version(Stored(), 2, "Slate", Sent(version=2))
    assert stale.value.over == {"version": 3}
    assert [(row.field, row.words, row.yours, row.theirs) for row in stale.value.differences] == [
        ("maker_low_s", "Maker low, s", "–", "1.5"),
        ("limits.largest_um", "Largest, µm", "30", "45"),
    ]


def test_lists_switches_and_words_are_written_as_they_are():
    rows = differences({"sizes": [1, 2], "on": True, "note": ""}, {"sizes": [1], "on": False, "note": "x", "more": 1})
    assert [(row.yours, row.theirs) for row in rows] == [("[1, 2]", "[1]"), ("yes", "no"), ("–", "x")]
    assert in_words("s") == "S" and in_words("price_per_l") == "Price per l"
