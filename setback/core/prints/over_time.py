"""How often prints came out whole, month by month, and whether the newest differ from those before."""

from __future__ import annotations

import numpy as np
from pydantic import Field
from scipy.special import betaincinv

from ..contract import Contract, Interval

NEWEST, BEFORE = 20, 100
"""Prints that are held against each other: the newest, and those before them."""
CHANGED = 0.01


class MonthOfPrints(Contract):
    """Prints of one month."""

    month: str = Field(pattern=r"^\d{4}-\d{2}$", description="ISO 8601")
    prints: int = Field(ge=1)
    whole: int = Field(ge=0, description="Prints of which every part came out whole")


class MonthShare(MonthOfPrints):
    """Prints of one month with the share that came out whole."""

    share: float = Field(description="Of prints that came out whole")
    ci: Interval = Field(description="95 % interval")


class Change(Contract):
    """The newest prints against those before them."""

    newest: int
    newest_whole: int = Field(description="Of the newest prints, those that came out whole")
    before: int
    before_whole: int = Field(description="Of the prints before, those that came out whole")
    p: float = Field(description="Chance of a difference as great as this where there is none")
    shown: bool = Field(description="Whether they differ more than chance gives")


def month_shares(months: list[MonthOfPrints]) -> list[MonthShare]:
    """The share of whole prints of every month with Jeffreys' interval.

    Prints are counted, not parts: parts of one print share its luck.

    Source: L. D. Brown, T. T. Cai, A. DasGupta, Statistical Science 16 (2001), 101-133.
    """
    shares = []
    for month in months:
        failed = month.prints - month.whole
        low = 0.0 if not month.whole else float(betaincinv(month.whole + 0.5, failed + 0.5, 0.025))
        high = 1.0 if not failed else float(betaincinv(month.whole + 0.5, failed + 0.5, 0.975))
        shares.append(MonthShare(**month.model_dump(), share=month.whole / month.prints, ci=(low, high)))
    return shares


def change(outcomes: list[bool]) -> Change | None:
    """Whether the newest prints came out whole as often as those before them, by Fisher's exact test, two-sided.

    Parameters
    ----------
    outcomes : list of bool
        Whether each print came out whole, the newest first.

    Returns
    -------
    Change or None
        None with fewer prints than :data:`NEWEST` before the newest ones.
    """
    from scipy.stats import fisher_exact

    newest, before = outcomes[:NEWEST], outcomes[NEWEST : NEWEST + BEFORE]
    if len(before) < NEWEST:
        return None
    table = np.array([[sum(some), len(some) - sum(some)] for some in (newest, before)])
    p = float(fisher_exact(table).pvalue)
    return Change(
        newest=len(newest),
        newest_whole=sum(newest),
        before=len(before),
        before_whole=sum(before),
        p=p,
        shown=p < CHANGED,
    )
