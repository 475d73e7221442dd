"""Roles, how long a sign-in lasts, and what a password and a PIN must be like."""

from datetime import UTC, datetime, timedelta

import pytest

from setback.core.people.access import (
    CONFIRMED_FOR,
    LONGEST,
    ROLE_WORDS,
    UNUSED_FOR,
    Role,
    has_ended,
    is_confirmed,
    may,
    password_fault,
    pin_fault,
)

NOW = datetime(2026, 1, 21, 9, 0, tzinfo=UTC)
MINUTE = timedelta(minutes=1)


def test_each_role_may_what_the_ones_before_it_may():
    order = list(Role)
    assert [[may(role, needed) for needed in order] for role in order] == [
        [True, False, False],
        [True, True, False],
        [True, True, True],
    ]
    assert set(ROLE_WORDS) == set(Role)


@pytest.mark.parametrize(
    ("began", "last_used", "is_over"),
    [
        (MINUTE, MINUTE, False),
        (UNUSED_FOR, UNUSED_FOR, False),
        (UNUSED_FOR + MINUTE, UNUSED_FOR + MINUTE, True),
        (LONGEST, MINUTE, False),
        (LONGEST + MINUTE, MINUTE, True),
    ],
)
def test_a_sign_in_ends_when_it_is_not_used_or_is_a_month_old(began, last_used, is_over):
    assert has_ended(NOW - began, NOW - last_used, NOW) is is_over


@pytest.mark.parametrize("off", [timedelta(hours=1), timedelta(hours=-1)])
def test_a_clock_an_hour_off_signs_nobody_out(off):
    assert not has_ended(NOW, NOW, NOW + off)


def test_a_password_given_again_stands_for_two_minutes():
    assert is_confirmed(NOW, NOW) and is_confirmed(NOW, NOW + CONFIRMED_FOR)
    assert not is_confirmed(NOW, NOW + CONFIRMED_FOR + timedelta(seconds=1))
    assert not is_confirmed(None, NOW)
    # A clock set back must not make it stand for longer.
    assert not is_confirmed(NOW, NOW - MINUTE)


@pytest.mark.parametrize("password", ["kelp forest at low tide", "Tidewrack7", "пролив и маяк"])
def test_a_password_of_some_length_will_do(password):
    assert password_fault(password, "IM") is None


@pytest.mark.parametrize(
    ("password", "word"),
    [
        ("", "at least 10"),
        ("short", "at least 10"),
        ("a" * 201, "at most 200"),
        ("abababababab", "same few"),
        ("setback setback", "first"),
        ("abcdeabcde", "first"),
    ],
)
def test_what_is_wrong_with_a_password_is_said(password, word):
    assert word in str(password_fault(password, "ABCDE"))


@pytest.mark.parametrize("pin", ["4826", "90210", "31415926"])
def test_a_pin_of_four_to_eight_digits_will_do(pin):
    assert pin_fault(pin) is None


@pytest.mark.parametrize("pin", ["", "123", "123456789", "12a4", "１２９４", "0000", "1234", "9876", "-123"])
def test_a_pin_that_is_short_or_tried_first_will_not(pin):
    assert pin_fault(pin)
