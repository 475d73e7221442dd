"""Words in the lab's own units and decimal mark: what is a temperature, what is a difference, and what stays."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.lab_form import NumberForm, answer_in_lab_form, in_lab_form, number_in_words

FAHRENHEIT = NumberForm(temperature_unit="°F")
INCHES = NumberForm(length_unit="in")
PSI = NumberForm(stress_unit="psi")
COMMA = NumberForm(decimal_mark=",")


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("Cold room: 16 °C", "Cold room: 61 °F"),
        (
            "23.4 °C is below the 22 to 28 °C in which SB-1 was found.",
            "74.1 °F is below the 72 to 82 °F in which SB-1 was found.",
        ),
        ("Coupons at 21.5–23 °C, and 2 °C to either side", "Coupons at 70.7–73 °F, and 4 °F to either side"),
        ("24 ± 1.5 °C", "75 ± 2.7 °F"),
        ("bring it back to within 2 °C before the next print", "bring it back to within 4 °F before the next print"),
        ("X was printed 4 °C away from Y", "X was printed 7 °F away from Y"),
        (
            "31 °C is more than 3 °C outside the fitted 18 to 28 °C.",
            "88 °F is more than 5 °F outside the fitted 64 to 82 °F.",
        ),
        ("opening the lid again costs 5 °C, down to 21 °C", "opening the lid again costs 9 °F, down to 70 °F"),
        ("It began 3 °C from the room: was it warm already?", "It began 5 °F from the room: was it warm already?"),
        ("counted as within 3 °C of the others", "counted as within 5 °F of the others"),
        ("\u22125 °C", "23 °F"),
        ("1.2 % less per °C", "1.2 % less per °C"),
    ],
)
def test_a_temperature_is_told_from_a_difference(written: str, read: str) -> None:
    assert in_lab_form(written, FAHRENHEIT) == read


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("No tip near 0.42 mm was read", "No tip near 0.0165 in was read"),
        ("0.3 mm is too far from the drawn 0.40 mm", "0.012 in is too far from the drawn 0.0157 in"),
        ("wall 0.2 mm: 0.205 against 0.231 mm", "wall 0.0079 in: 0.00807 against 0.00909 in"),
        ("The coupon of 52.5 × 30 mm does not fit", "The coupon of 2.067 × 1.18 in does not fit"),
        ("at 60 mm/min and 3 mm² or 0.05 mm layers", "at 60 mm/min and 3 mm² or 0.05 mm layers"),
        ("0.02 N/mm", "0.02 N/mm"),
    ],
)
def test_sizes_in_inches_keep_their_fineness_and_layers_stay(written: str, read: str) -> None:
    assert in_lab_form(written, INCHES) == read


def test_stress_in_psi_claims_no_more_digits_than_there_were() -> None:
    assert in_lab_form("at least 38 MPa, found 41.26 ± 0.8 MPa", PSI) == "at least 5500 psi, found 5984 ± 120 psi"


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("Window 2.45 to 3.1 s", "Window 2,45 to 3,1 s"),
        ("SB-0.2 of version 0.1.0 at http://127.0.0.1:8350", "SB-0.2 of version 0.1.0 at http://127.0.0.1:8350"),
        ("1,204 prints, 3.5 h", "1\u2009204 prints, 3,5 h"),
        ("1, 2 and 3.5", "1, 2 and 3,5"),
    ],
)
def test_a_decimal_comma_stands_in_numbers_and_not_in_codes(written: str, read: str) -> None:
    assert in_lab_form(written, COMMA) == read


def test_people_s_words_and_numbers_stay_and_a_card_s_line_is_one_quantity() -> None:
    answer = {
        "note": "spacer of 0.3 mm at 20 °C",
        "temp_c": 23.4,
        "message": "It is 20 °C.",
        "lines": [
            {"group": "Valid for", "name": "Temperature", "value": "22 to 28", "unit": "°C"},
            {"group": "Settings", "name": "Lift", "value": "6", "unit": "mm"},
            {"group": "Valid for", "name": "Tip", "value": "none", "unit": ""},
        ],
    }
    read = answer_in_lab_form(answer, NumberForm(temperature_unit="°F", length_unit="in"))
    assert read["note"] == answer["note"]
    assert read["temp_c"] == 23.4
    assert read["message"] == "It is 68 °F."
    assert read["lines"][0] == {"group": "Valid for", "name": "Temperature", "value": "72 to 82", "unit": "°F"}
    assert read["lines"][1:] == answer["lines"][1:]


@given(st.text(alphabet="0123456789.,-–± °CFmMPain/to\u2009\u2212"))
def test_the_usual_form_changes_nothing(text: str) -> None:
    assert in_lab_form(text, NumberForm()) == text


@given(st.decimals(min_value=-40, max_value=400, places=1))
def test_a_temperature_read_back_is_the_one_that_was_written(value: object) -> None:
    shown = float(number_in_words(str(value), "°C"))
    assert abs((shown - 32) / 1.8 - float(str(value))) <= 0.05 / 1.8 + 1e-9
