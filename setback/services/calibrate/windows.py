"""The process window and the next coupon, kept in memory by what they were asked: the same evidence has the same answer."""

from __future__ import annotations

from functools import lru_cache

from ...core.window.contract import WindowInput, WindowOutcome
from ...core.window.next_coupon import NextCouponInput, NextCouponResult, next_coupon
from ...core.window.process_window import process_window

KEPT = 256
"""Answers kept; a page shows a handful of arms, and each is asked for again after every entry."""


def window_for(window_input: WindowInput) -> WindowOutcome:
    """The process window; computed once for the same evidence."""
    return _window(window_input.model_dump_json())


def next_coupon_for(request: NextCouponInput) -> NextCouponResult:
    """The next coupon; computed once for the same evidence."""
    return _next(request.model_dump_json())


@lru_cache(maxsize=KEPT)
def _window(canonical: str) -> WindowOutcome:
    return process_window(WindowInput.model_validate_json(canonical))


@lru_cache(maxsize=KEPT)
def _next(canonical: str) -> NextCouponResult:
    return next_coupon(NextCouponInput.model_validate_json(canonical))
