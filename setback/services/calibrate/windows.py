"""Windows and the next coupon, kept in memory by what they were asked: the same evidence has the same answer."""

from __future__ import annotations

from functools import lru_cache

from ...core.prints.outcomes import PrintSuccessResult
from ...core.prints.success import print_success
from ...core.prints.window import PrintWindowInput, print_window
from ...core.window.contract import WindowInput, WindowOutcome
from ...core.window.next_coupon import NextCouponInput, NextCouponResult, next_coupon
from ...core.window.process_window import process_window

KEPT = 256
"""Answers kept; a page shows a handful of arms, and each is asked for again after every entry."""


def window_for(window_input: WindowInput) -> WindowOutcome:
    """The process window; computed once for the same evidence."""
    return _window(window_input.model_dump_json())


def print_window_for(window_input: PrintWindowInput) -> WindowOutcome:
    """The window that prints of parts make; computed once for the same prints."""
    return _print_window(window_input.model_dump_json())


def print_success_for(window_input: PrintWindowInput) -> PrintSuccessResult:
    """Success of the prints behind a window; computed once for the same prints."""
    return _print_success(window_input.model_dump_json())


def next_coupon_for(request: NextCouponInput) -> NextCouponResult:
    """The next coupon; computed once for the same evidence."""
    return _next(request.model_dump_json())


@lru_cache(maxsize=KEPT)
def _window(canonical: str) -> WindowOutcome:
    return process_window(WindowInput.model_validate_json(canonical))


@lru_cache(maxsize=KEPT)
def _print_window(canonical: str) -> WindowOutcome:
    return print_window(PrintWindowInput.model_validate_json(canonical))


@lru_cache(maxsize=KEPT)
def _print_success(canonical: str) -> PrintSuccessResult:
    return print_success(PrintWindowInput.model_validate_json(canonical))


@lru_cache(maxsize=KEPT)
def _next(canonical: str) -> NextCouponResult:
    return next_coupon(NextCouponInput.model_validate_json(canonical))
