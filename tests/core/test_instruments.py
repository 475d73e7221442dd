"""What an instrument says is a reading of its kind, or it is nonsense that is named."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from setback.core.instruments import INSTRUMENT_KINDS, Nonsense, read_answer, read_line


def answer(**changes):
    return json.dumps({"value": 10.02, "unit": "mm", "presses": 3, "age_s": 0.2, "fault": None} | changes).encode()


def test_an_answer_is_read_with_its_button_and_its_fault():
    shown = read_answer("caliper", answer(fault="battery low"))
    assert (shown.value, shown.presses, shown.age_s, shown.fault) == (10.02, 3, 0.2, "battery low")
    assert read_answer("caliper", answer(value=None)).value is None


@pytest.mark.parametrize(
    "changes",
    [
        {"value": "10"},
        {"value": True},
        {"value": 4000},
        {"value": [1]},
        {"unit": "in"},
        {"presses": -1},
        {"presses": 1.5},
        {"age_s": -1},
        {"age_s": "now"},
        {"fault": 3},
    ],
)
def test_what_is_no_reading_of_its_kind_is_refused(changes):
    with pytest.raises(Nonsense):
        read_answer("caliper", answer(**changes))


@pytest.mark.parametrize(
    "content", [b"", b"<html>", b"[]", b"null", b'"10.02"', b"NaN", b"{" * 5000, b"[" * 4000, b"\xff\xfe"]
)
def test_an_answer_that_is_no_object_is_refused(content):
    with pytest.raises(Nonsense):
        read_answer("scale", content)


@pytest.mark.parametrize(
    ("kind", "line", "value"),
    [
        ("caliper", b"+00010.02 mm\r\n", 10.02),
        ("caliper", b"  0.3945in", 10.0203),
        ("caliper", b"-1.5", -1.5),
        ("scale", b"ST,GS", None),
        ("scale", b"  12,34 g", 12.34),
        ("scale", b"0.5 kg", 500.0),
        ("scale", b"12.34 mm", None),
        ("caliper", b"\xff\x00\x81", None),
        ("caliper", b"1e5", None),
        ("caliper", b"999999 mm", None),
        ("caliper", b"--", None),
    ],
)
def test_a_line_is_a_number_with_its_unit_or_nonsense(kind, line, value):
    if value is None:
        with pytest.raises(Nonsense):
            read_line(kind, line)
    else:
        assert read_line(kind, line) == pytest.approx(value)


@settings(max_examples=200, deadline=None)
@given(st.sampled_from(["caliper", "scale"]), st.binary(max_size=60))
def test_whatever_comes_over_a_line_is_a_reading_in_range_or_nonsense(kind, line):
    try:
        value = read_line(kind, line)
    except Nonsense:
        return
    assert INSTRUMENT_KINDS[kind].low <= value <= INSTRUMENT_KINDS[kind].high
