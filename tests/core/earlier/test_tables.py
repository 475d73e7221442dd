"""Tables from outside: what is recognised, what is read, and where what cannot be read stands."""

import io
from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from setback.core.contract import Problem
from setback.core.earlier.columns import ColumnMatch, likeliest, matched, rows_of
from setback.core.earlier.kinds import KINDS, SETTINGS
from setback.core.earlier.table import Table, table_of

SHEET = """What we print with;;;;;
Resin;Printer;Layer (mm);Bottom exposure;Bottom layers;Exposure;Lift speed (mm/s);Rest;Since;From;Remarks
Slate 2;Cormorant;0,05;24;5;2,4;1;1;2025-03-01;maker;
;;;;;;;;;;
Kelpflex;Gannet;0,03;40 s;5;6500 ms;0.8;2;13/04/2025;forum;draft
"""


def read(text: str, **more):
    table = table_of(text.encode())
    return rows_of(table, SETTINGS, matched(table, SETTINGS), **more)


def test_columns_are_recognised_by_their_names_with_their_units():
    table = table_of(SHEET.encode())
    assert table.first_row == 3 and len(table.rows) == 3
    units = {match.field: (match.column, match.unit) for match in matched(table, SETTINGS)}
    assert units["exposure_s"] == ("Exposure", "s") and units["base_exposure_s"] == ("Bottom exposure", "s")
    assert units["layer_height_um"] == ("Layer (mm)", "mm") and units["lift_mm_min"] == ("Lift speed (mm/s)", "mm/s")


@pytest.mark.parametrize(
    ("columns", "kind"),
    [
        ("Resin,Machine,Layer,Exposure,Burn-in time,Date", "settings"),
        ("Date,Resin,Machine,Exposure,Part,Printed,OK", "prints"),
        ("Resin,Property,Value,Date", "results"),
        ("Bottle,Date,Amount", "pours"),
        ("Probe,Time,Temp", "temperatures"),
    ],
)
def test_what_the_rows_are_follows_from_all_columns(columns, kind):
    table = table_of(f"{columns}\n{','.join('1' for _ in columns.split(','))}\n".encode())
    assert likeliest(table, list(KINDS.values())).key == kind


def test_a_column_called_ok_holds_words_or_how_many_were_whole():
    def tells(*cells):
        table = table_of(
            ("Date,Resin,Machine,Printed,OK\n" + "".join(f"2024-01-02,a,b,16,{c}\n" for c in cells)).encode()
        )
        return next(one.field for one in matched(table, KINDS["prints"]) if one.column == "OK")

    assert tells("yes", "no", "ok") == "outcome"
    assert tells("12", "0", "16") == "whole"


def test_cells_are_read_in_their_own_unit_or_in_that_of_their_column():
    slate, kelp = read(SHEET)
    assert slate.values["layer_height_um"] == 50 and slate.values["lift_mm_min"] == 60
    assert (kelp.row, kelp.values["exposure_s"], kelp.values["base_exposure_s"]) == (5, 6.5, 40)
    assert kelp.values["in_use_since"] == "2025-04-13" and kelp.values["source"] == "other workshop"
    assert not slate.problems and not kelp.problems


def test_the_unit_of_a_column_without_one_is_what_its_numbers_suit():
    table = table_of(b"resin,printer,layer,exposure\nSlate 2,Cormorant,0.05,2400\nSlate 2,Gannet,0.1,8000\n")
    units = {match.field: match.unit for match in matched(table, SETTINGS)}
    assert (units["layer_height_um"], units["exposure_s"]) == ("mm", "ms")


def test_units_mixed_in_a_column_are_told_at_their_cells():
    rows = read("resin,printer,layer,exposure\nSlate 2,A,0.05,2.4\nSlate 2,B,50,2.4\nSlate 2,C,0.05,2.4\n")
    assert [len(row.problems) for row in rows] == [0, 1, 0]
    problem = rows[1].problems[0]
    assert (problem.row, problem.column) == (3, "layer") and "50 µm?" in problem.message


@pytest.mark.parametrize(
    ("cell", "words"),
    [
        ("abc", "is no number"),
        ("", "is missing"),
        ("2.4 furlongs", "no unit"),
        ("-3", "is no exposure"),
        ("1e99", "is no exposure"),
    ],
)
def test_what_cannot_be_read_is_told_with_its_row_and_column(cell, words):
    (row,) = read(f"resin,printer,exposure\nSlate 2,Cormorant,{cell}\n")
    assert (row.problems[0].row, row.problems[0].column) == (2, "exposure") and words in row.problems[0].message


def test_dates_that_can_be_read_in_two_ways_are_asked_for():
    text = "resin,printer,exposure,since\nSlate 2,A,2.4,03/04/2025\n"
    with pytest.raises(Problem, match="day or the month"):
        read(text)
    assert read(text, date_order="dmy")[0].values["in_use_since"] == "2025-04-03"
    assert read(text, date_order="mdy")[0].values["in_use_since"] == "2025-03-04"
    assert read(text + "Slate 2,A,2.4,25/04/2025\n")[0].values["in_use_since"] == "2025-04-03"


def test_what_no_column_tells_can_be_given_for_all_rows():
    text = "resin,exposure\nSlate 2,2.4\n"
    with pytest.raises(Problem, match="Printer"):
        read(text)
    (row,) = read(text, fill={"printer": "Cormorant", "layer_height_um": "0.03 mm"})
    assert row.values["printer"] == "Cormorant" and row.values["layer_height_um"] == 30
    with pytest.raises(Problem) as wrong:
        read(text, fill={"printer": "Cormorant", "layer_height_um": "thin"})
    assert list(wrong.value.fields) == ["fill.layer_height_um"]


def test_matches_that_do_not_fit_together_are_refused():
    table = table_of(SHEET.encode())
    twice = [ColumnMatch(field="material", column="Resin"), ColumnMatch(field="material", column="Printer")]
    for matches in (
        twice,
        [ColumnMatch(field="material", column="Nowhere")],
        [ColumnMatch(field="luck", column="Resin")],
    ):
        with pytest.raises(Problem):
            rows_of(table, SETTINGS, matches)


def test_a_spreadsheet_is_read_like_text():
    workbook = Workbook()
    sheet = workbook.active
    sheet.append(["Resin", "Printer", "Exposure", "In use since"])
    sheet.append(["Slate 2", "Cormorant", 2.4, datetime(2025, 3, 1)])
    content = io.BytesIO()
    workbook.save(content)
    table = table_of(content.getvalue())
    (row,) = rows_of(table, SETTINGS, matched(table, SETTINGS))
    assert row.values["exposure_s"] == 2.4 and row.values["in_use_since"] == "2025-03-01"


@pytest.mark.parametrize(
    "content",
    [b"", b"PK\x03\x04 no workbook", b"\x00\x01\x02", b"one column\n1\n2\n", b"a,b\n", b"a,b\n" + b"x" * 600 + b",1\n"],
)
def test_what_is_no_table_is_refused_in_words(content):
    with pytest.raises(Problem) as wrong:
        table_of(content)
    assert "file" in wrong.value.fields


@given(st.binary(max_size=400))
def test_whatever_the_bytes_are_they_are_a_table_or_refused(content):
    try:
        table = table_of(content)
    except Problem:
        return
    assert isinstance(table, Table) and all(len(row) == len(table.columns) for row in table.rows)
    for kind in KINDS.values():
        matched(table, kind)
