"""Heavy work on files from outside, done in a child process with limits of memory and time.

What is laid before it may be anything. A child that needs too much is ended, and the server never waits for it with a lock in hand;
the person gets a sentence. Functions are named by their module, and their arguments and answers are plain values.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import TimeoutError as TookTooLong
from functools import cache
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

Inputs = ParamSpec("Inputs")
Answer = TypeVar("Answer")


@cache
def _pool() -> ProcessPool:
    pool = ProcessPool(
        max_workers=CHILDREN, max_tasks=TASKS_PER_CHILD, initializer=_limit, context=get_context("spawn")
    )
    # Run at the end of a child process too, where atexit is not: it would wait for its own children for ever.
    Finalize(None, _end, args=(pool,), exitpriority=100)
    return pool


def _end(pool: ProcessPool) -> None:
    pool.stop()  # type: ignore[no-untyped-call]
    pool.join(timeout=5)


def _limit() -> None:
    """In the child: no more memory than this, where the system can say so."""
    try:
        import resource
    except ImportError:  # No such limits on this system; that of time stays.
        return
    resource.setrlimit(resource.RLIMIT_AS, (MOST_BYTES, MOST_BYTES))


def _done(function: Callable[..., Any], inputs: tuple[Any, ...]) -> tuple[Any, Problem | None]:
    """In the child: the answer, or what is wrong with the input."""
    try:
        return function(*inputs), None
    except Problem as problem:
        return None, problem


def run(
    function: Callable[..., Answer],
    *inputs: Any,
    field: str,
    seconds: float = USUAL_SECONDS,
    meanwhile: Callable[[], None] | None = None,
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
        Called four times a second while it works; what it raises ends the child.

    Raises
    ------
    Problem
        What the function raises, or that it took too long or too much memory.
    """
    future = _pool().schedule(_done, args=(function, inputs), timeout=seconds)
    try:
        while meanwhile is not None and not future.done():
            meanwhile()
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
