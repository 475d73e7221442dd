"""Heavy work on files from outside, done in a child process with limits of memory and time.

What is laid before it may be anything. A child that needs too much is ended, and the server never waits for it with a lock in hand;
the person gets a sentence. Functions are named by their module, and their arguments and answers are plain values.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import TimeoutError as TookTooLong
from functools import cache
from itertools import count
from multiprocessing import get_context
from multiprocessing.util import Finalize
from typing import Any, ParamSpec, TypeVar

from pebble import ProcessExpired, ProcessPool

from ..core.contract import Problem

CHILDREN = 2
TASKS_PER_CHILD = 200
MOST_BYTES = 2_000_000_000
"""Of address space: libraries take a good part of it before any work begins."""
USUAL_SECONDS = 30.0
LOOK_EVERY_S = 0.25
SLOTS = 64
"""More than are ever under way at once."""
_NUMBERS = count()

Inputs = ParamSpec("Inputs")
Answer = TypeVar("Answer")


@cache
def _shares() -> Any:
    """How far each piece of work is, by its slot: the one thing a child says before it answers."""
    return get_context("spawn").Array("d", SLOTS, lock=False)


@cache
def _pool() -> ProcessPool:
    pool = ProcessPool(
        max_workers=CHILDREN,
        max_tasks=TASKS_PER_CHILD,
        initializer=_begin,
        initargs=(_shares(),),
        context=get_context("spawn"),
    )
    # Run at the end of a child process too, where atexit is not: it would wait for its own children for ever.
    Finalize(None, _end, args=(pool,), exitpriority=100)
    return pool


def _end(pool: ProcessPool) -> None:
    pool.stop()  # type: ignore[no-untyped-call]
    pool.join(timeout=5)


class _Here:
    """In the child: where it says how far it is."""

    shares: Any = None
    slot = 0


def report(share: float) -> None:
    """In the child: say how far the work is, 0 to 1. Elsewhere nobody listens."""
    if _Here.shares is not None:
        _Here.shares[_Here.slot] = share


def _begin(shares: Any) -> None:
    """In the child, once: where to report, and no more memory than this, where the system can say so."""
    _Here.shares = shares
    try:
        import resource
    except ImportError:  # No such limits on this system; that of time stays.
        return
    resource.setrlimit(resource.RLIMIT_AS, (MOST_BYTES, MOST_BYTES))


def _done(function: Callable[..., Any], inputs: tuple[Any, ...], slot: int) -> tuple[Any, Problem | None]:
    """In the child: the answer, or what is wrong with the input."""
    _Here.slot = slot
    try:
        return function(*inputs), None
    except Problem as problem:
        return None, problem


def run(
    function: Callable[..., Answer],
    *inputs: Any,
    field: str,
    seconds: float = USUAL_SECONDS,
    meanwhile: Callable[[float], None] | None = None,
) -> Answer:
    """Have a child do it and wait for the answer.

    Parameters
    ----------
    function : callable
        Of a module, so that the child finds it.
    field : str
        Where a person gave what is worked on: a refusal stands there.
    seconds : float
        After this long the child is ended.
    meanwhile : callable or None
        Called four times a second while it works, with the share it has reported; what it raises ends the child.

    Raises
    ------
    Problem
        What the function raises, or that it took too long or too much memory.
    """
    slot = next(_NUMBERS) % SLOTS
    _shares()[slot] = 0.0
    future = _pool().schedule(_done, args=(function, inputs, slot), timeout=seconds)
    try:
        while meanwhile is not None and not future.done():
            meanwhile(_shares()[slot])
            time.sleep(LOOK_EVERY_S)
        answer, problem = future.result()
    except TookTooLong:
        message = f"This takes longer than {seconds:.0f} s, so it was stopped. Nothing was kept."
        raise Problem(message, {field: message}) from None
    except (MemoryError, ProcessExpired):
        message = "This needs more memory than a file may take, so it was stopped. Nothing was kept."
        raise Problem(message, {field: message}) from None
    except BaseException:
        future.cancel()  # type: ignore[no-untyped-call]
        raise
    if problem is not None:
        raise problem
    return answer  # type: ignore[no-any-return]
