"""Success of prints of parts over time: of a material, of a printer, or of both together."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract
from ...core.prints.over_time import BEFORE, NEWEST, Change, MonthOfPrints, MonthShare, change, month_shares
from ...store.prints import log
from ..unit_of_work import UnitOfWork, View

MONTHS = 24


class OverTimeQuery(Contract):
    """Of which prints."""

    material: str | None = Field(None, max_length=40, description="Id of a material")
    printer: str | None = Field(None, max_length=40, description="Id of a printer")


class SuccessOverTime(View):
    """Prints of parts by month, and whether something changed."""

    months: list[MonthShare] = Field(
        description="Months with prints, oldest first, of the two years up to the newest print"
    )
    change: Change | None = Field(description="The newest prints against those before; null while there are few")


def success_over_time(work: UnitOfWork, query: OverTimeQuery) -> SuccessOverTime:
    """Share of prints that came out whole, month by month."""
    asked_for = query.model_dump(exclude_none=True)
    last = log.newest_at(work.db, asked_for)
    rows = log.months(work.db, asked_for, _months_before(last)) if last else []
    newest = log.newest_outcomes(work.db, asked_for, NEWEST + BEFORE)
    return SuccessOverTime(
        months=month_shares([MonthOfPrints(**row.model_dump()) for row in rows]),
        change=change([outcome == "whole" for outcome in newest]),
    )


def _months_before(newest: str) -> str:
    """The first month that is shown, ISO 8601: two years end with the month of the newest print."""
    year, month = int(newest[:4]), int(newest[5:7])
    at = 12 * year + month - MONTHS
    return f"{at // 12:04d}-{at % 12 + 1:02d}"
