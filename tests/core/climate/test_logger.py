"""A logger's file: what can be proven from it is, what cannot is asked, and no row is guessed."""

import itertools
from datetime import UTC, datetime

import pytest

from setback.core.climate.logger import LoggerMapping, Reading, gaps, look_into, samples
from setback.core.contract import Problem

COLUMNS = ["Time", "Temp"]


def seconds(text: str) -> int:
    return int(datetime.fromisoformat(text).replace(tzinfo=UTC).timestamp())


def taken(rows, columns=COLUMNS, **mapping):
    read = Reading()
    given = LoggerMapping(**{"time_column": "Time", "temp_column": "Temp", **mapping})
    return list(samples(((n, row) for n, row in enumerate(rows, 2)), columns, given, read)), read


def looked(text: str, encoding: str = "utf-8"):
    return look_into(text.encode(encoding))


class TestLooking:
    @pytest.mark.parametrize("delimiter", [",", ";", "\t"])
    def test_whatever_stands_between_the_columns(self, delimiter):
        text = "\n".join(
            delimiter.join(row)
            for row in (["Time", "Temp °C"], ["2026-01-20 10:00", "6.5"], ["2026-01-20 10:10", "6.6"])
        )
        seen = looked(text + "\n")
        assert seen.delimiter == delimiter and seen.columns == ["Time", "Temp °C"]
        assert (seen.time_column, seen.temp_columns, seen.date_order) == ("Time", ["Temp °C"], "ymd")

    def test_lines_above_the_names_are_passed_over(self):
        seen = looked("Logger 7\nShed wall\nTime,Temp\n2026-01-20 10:00,6.5\n2026-01-20 10:10,6.6\n")
        assert seen.header_line == 3 and seen.rows[0] == ["2026-01-20 10:00", "6.5"]

    def test_date_and_time_in_columns_of_their_own(self):
        seen = looked("Date;Clock;T1 °C\n13/06/2025;10:00;19,5\n14/06/2025;10:00;20,1\n")
        assert (seen.date_column, seen.time_column, seen.date_order) == ("Date", "Clock", "dmy")

    @pytest.mark.parametrize(
        ("name", "fahrenheit"), [("Temp (°F)", True), ("Temp °C", False), ("Fahrenheit", True), ("T", False)]
    )
    def test_the_unit_is_taken_from_the_name(self, name, fahrenheit):
        seen = looked(f"Time,{name}\n2026-01-20 10:00,66\n2026-01-20 10:10,67\n")
        assert seen.fahrenheit is fahrenheit and seen.temp_columns == [name]

    def test_humidity_is_no_temperature(self):
        seen = looked("Time,Temp,RH %\n2026-01-20 10:00,6.5,81\n2026-01-20 10:10,6.6,80\n")
        assert seen.temp_columns == ["Temp"] and seen.humidity_column == "RH %"

    def test_two_temperatures_are_asked_about(self):
        seen = looked("Time,T1 °C,T2 °C\n2026-01-20 10:00,6.5,7\n2026-01-20 10:10,6.6,7\n")
        assert len(seen.temp_columns) == 2 and "say which" in seen.notices[0]

    @pytest.mark.parametrize(
        ("dates", "order"),
        [
            (["2026-01-20", "2026-01-21"], "ymd"),
            (["13/06/25", "14/06/25"], "dmy"),
            (["06/13/25", "06/14/25"], "mdy"),
            (["05/06/25", "06/06/25"], None),
            (["05/06/25", "13/06/25"], "dmy"),
        ],
    )
    def test_the_order_of_a_date_is_proven_or_left_open(self, dates, order):
        assert looked("Time,Temp\n" + "".join(f"{d} 10:00,6.5\n" for d in dates)).date_order == order

    def test_the_end_of_a_long_file_may_prove_it(self):
        head = b"Time,Temp\n" + b"05/06/25 10:00,6.5\n" * 3
        assert look_into(head, b"cut,1\n28/06/25 10:00,6.5\n").date_order == "dmy"

    def test_letters_that_are_not_utf8_are_said(self):
        seen = looked("Time,Temp °C\n2026-01-20 10:00,6.5\n2026-01-20 10:10,6.6\n", "cp1252")
        assert seen.encoding == "cp1252" and seen.columns[1] == "Temp °C" and "not UTF-8" in seen.notices[0]

    def test_a_file_of_wide_letters(self):
        seen = looked("Time,Temp\n2026-01-20 10:00,6.5\n2026-01-20 10:10,6.6\n", "utf-16")
        assert seen.encoding == "utf-16" and seen.columns == COLUMNS

    @pytest.mark.parametrize("data", [b"PK\0\0\0zip", b"one column only\n1\n2\n", b"1,2\n3,4\n5,6\n", b""])
    def test_what_is_no_table_is_said(self, data):
        with pytest.raises(Problem) as caught:
            look_into(data)
        assert "file" in caught.value.fields


class TestRows:
    def test_a_time_in_utc_and_a_point(self):
        made, read = taken([["2026-01-20 10:00:30", "6.5"]])
        assert made == [(seconds("2026-01-20T10:00:30"), 6.5, None)] and read.rows == 1 and read.unreadable == 0

    @pytest.mark.parametrize(
        ("cell", "hour"), [("12:05 AM", 0), ("12:05 PM", 12), ("1:05 p.m.", 13), ("11:05 PM", 23), ("23:05", 23)]
    )
    def test_twelve_and_twenty_four_hours(self, cell, hour):
        made, _ = taken([[f"2026-01-20 {cell}", "6.5"]])
        assert made[0][0] == seconds("2026-01-20T00:05:00") + 3600 * hour

    @pytest.mark.parametrize(("cell", "value"), [("6,5", 6.5), ("−3.2", -3.2), ("6.5 °C", 6.5), ("+7", 7.0)])
    def test_numbers_as_loggers_write_them(self, cell, value):
        assert taken([["2026-01-20 10:00", cell]])[0][0][1] == value

    def test_fahrenheit_becomes_celsius(self):
        assert taken([["2026-01-20 10:00", "44.6"]], fahrenheit=True)[0][0][1] == 7.0

    @pytest.mark.parametrize(
        ("zone", "away"),
        [
            ("Europe/London", 0),
            ("Europe/Oslo", -3600),
            ("America/New_York", 18_000),
            ("+01:00", -3600),
            ("-0530", 19_800),
        ],
    )
    def test_a_named_zone_is_taken_off(self, zone, away):
        made, _ = taken([["2026-01-20 10:00", "6.5"]], time_zone=zone)
        assert made[0][0] == seconds("2026-01-20T10:00:00") + away

    def test_a_zone_in_the_row_itself_counts_more(self):
        made, _ = taken(
            [["2026-01-20 10:00:00+02:00", "6.5"], ["2026-01-20T10:00:00Z", "6.5"]], time_zone="America/New_York"
        )
        assert [m[0] for m in made] == [seconds("2026-01-20T08:00:00"), seconds("2026-01-20T10:00:00")]

    def test_the_hour_that_comes_twice_goes_on(self):
        clock = ["01:30", "01:45", "01:30", "01:45", "02:00"]
        made, _ = taken([[f"2025-10-26 {c}", "6.5"] for c in clock], time_zone="Europe/London")
        assert [b[0] - a[0] for a, b in itertools.pairwise(made)] == [900, 2700, 900, 900]

    @pytest.mark.parametrize(
        "row",
        [
            ["2026-01-20 10:00", "warm"],
            ["yesterday", "6.5"],
            ["2026-01-20 25:00", "6.5"],
            ["2026-01-20 10:00"],
            ["2026-01-20 10:00", "400"],
        ],
    )
    def test_a_row_that_cannot_be_read_is_counted_with_its_line(self, row):
        made, read = taken([["2026-01-20 09:00", "6.4"], row])
        assert len(made) == 1 and read.unreadable == 1 and read.examples[0].startswith("line 3: ")

    def test_empty_rows_are_no_rows(self):
        assert taken([[], ["", " "], ["2026-01-20 10:00", "6.5"]])[1].rows == 1

    def test_only_a_few_bad_rows_are_shown(self):
        _, read = taken([["2026-01-20 10:00", "x"]] * 9)
        assert read.unreadable == 9 and len(read.examples) == 5

    def test_humidity_comes_along_and_may_be_missing(self):
        columns = [*COLUMNS, "RH"]
        made, read = taken(
            [["2026-01-20 10:00", "6.5", "81"], ["2026-01-20 10:10", "6.5", ""], ["2026-01-20 10:20", "6.5", "130"]],
            columns,
            humidity_column="RH",
        )
        assert [m[2] for m in made] == [81.0, None] and "humidity" in read.examples[0]

    def test_a_jump_is_counted_and_taken_unless_it_is_left_out(self):
        rows = [["2026-01-20 10:00", "6.5"], ["2026-01-20 10:10", "40"], ["2026-01-20 10:20", "6.6"]]
        assert len(taken(rows)[0]) == 3 and taken(rows)[1].jumps == 2
        made, read = taken(rows, leave_out_jumps=True)
        assert [m[1] for m in made] == [6.5, 6.6] and read.jump_examples == ["line 3: from 6.5 to 40.0 °C"]

    def test_a_slow_change_is_no_jump(self):
        assert taken([["2026-01-20 10:00", "6.5"], ["2026-01-20 11:00", "25"]])[1].jumps == 0

    @pytest.mark.parametrize(
        ("mapping", "field"),
        [
            ({"time_zone": "Skerry/Point"}, "time_zone"),
            ({"temp_column": "Heat"}, "temp_column"),
            ({"date_column": "Day"}, "date_column"),
        ],
    )
    def test_what_the_file_does_not_have_is_said_at_its_field(self, mapping, field):
        with pytest.raises(Problem) as caught:
            taken([["2026-01-20 10:00", "6.5"]], **mapping)
        assert field in caught.value.fields

    def test_a_date_of_two_meanings_is_asked_about(self):
        with pytest.raises(Problem) as caught:
            taken([["05/06/2025 10:00", "6.5"]])
        assert "two ways" in caught.value.fields["date_order"]
        assert taken([["05/06/2025 10:00", "6.5"]], date_order="dmy")[0][0][0] == seconds("2025-06-05T10:00:00")
        assert taken([["05/06/2025 10:00", "6.5"]], date_order="mdy")[0][0][0] == seconds("2025-05-06T10:00:00")

    def test_two_orders_in_one_file_name_both_lines(self):
        with pytest.raises(Problem) as caught:
            taken([["13/06/2025 10:00", "6.5"], ["06/14/2025 10:00", "6.5"]])
        said = caught.value.fields["date_order"]
        assert "Line 3" in said and "day first as line 2 shows" in said


class TestGaps:
    def test_silence_far_longer_than_the_usual_step_is_a_gap(self):
        assert gaps([0, 60, 120, 180, 900, 960]) == [(180, 900)]

    def test_a_slow_logger_has_no_gaps_between_its_steps(self):
        assert gaps([0, 3600, 7200, 10_800]) == []

    def test_one_sample_has_none(self):
        assert gaps([5]) == [] and gaps([]) == []
