"""The code of a coupon as holes: which places of the row are open for a number, and back.

Sixteen places: eleven bits of the number and five that check them, an extended Hamming code (Hamming, Bell System Technical Journal 29,
1950). A row with one or two places read wrong is never taken for another.
"""

from __future__ import annotations

DATA_BITS, CHECK_PLACES = 11, (0, 1, 2, 4, 8)
PLACES = 16
NUMBERS = 1 << DATA_BITS
"""After so many coupons a number comes again: the newest printed coupon of its kind is meant."""


def number_of(code: str) -> int:
    """The number a code such as ``107K`` holds, as far as the holes can tell it."""
    return int("".join(c for c in code if c.isdigit()) or 0) % NUMBERS


def encoded(number: int) -> tuple[bool, ...]:
    """The sixteen places of a number; True is a hole.

    Raises
    ------
    ValueError
        When the number is not below ``NUMBERS``.
    """
    if not 0 <= number < NUMBERS:
        raise ValueError(f"A code of holes tells numbers below {NUMBERS}.")
    places = [False] * PLACES
    for bit, place in enumerate(p for p in range(PLACES) if p not in CHECK_PLACES):
        places[place] = bool(number >> bit & 1)
    for check in CHECK_PLACES[1:]:
        places[check] = sum(places[p] for p in range(1, PLACES) if p & check) % 2 == 1
    # An odd number of holes in all: a row without any is no code.
    places[0] = sum(places) % 2 == 0
    return tuple(places)


def decoded(places: tuple[bool | None, ...]) -> int | None:
    """The number of sixteen places, None for one that could not be told; None when they are no code.

    One place that cannot be told is filled in. A wrong one is not mended but refused: a coupon taken for another is worse than one that
    is asked again.
    """
    unknown = [i for i, place in enumerate(places) if place is None]
    if len(places) != PLACES or len(unknown) > 1:
        return None
    for guess in (False, True) if unknown else (False,):
        tried = tuple(guess if place is None else place for place in places)
        number = sum(tried[place] << bit for bit, place in enumerate(p for p in range(PLACES) if p not in CHECK_PLACES))
        # Nothing but the hole that makes them odd is more likely a row that could not be seen than the first of 2,048.
        if number and encoded(number) == tried:
            return number
    return None
