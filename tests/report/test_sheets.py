"""No cell of a table that leaves is a formula, and numbers come back as they were."""

import csv
import io

import pytest

from setback.report.sheets import write_rows


def through(cell):
    out = io.StringIO()
    write_rows(out, [[cell]])
    return next(csv.reader(io.StringIO(out.getvalue())))[0]


@pytest.mark.parametrize("cell", ["=1+1", "+cmd|' /C calc'!A0", "-2+3", "@SUM(A1)", "\tx", "\r=1", '=HYPERLINK("x")'])
def test_what_would_be_a_formula_is_text(cell):
    assert through(cell) == f"'{cell}"


@pytest.mark.parametrize("cell", ["-3.2", "+4", "-1 -2 3.5", "1e-3", "Slate 2", "a=b", "", "'quoted"])
def test_numbers_and_words_stay_as_they_are(cell):
    assert through(cell) == cell


@pytest.mark.parametrize(("cell", "text"), [(-3.2, "-3.2"), (None, ""), (b"\x00\x01", "2 bytes"), (True, "True")])
def test_what_is_no_text(cell, text):
    assert through(cell) == text
