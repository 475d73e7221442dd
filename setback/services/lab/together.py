"""Several at once: what others changed since a page last asked, and who else has it open."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract
from ...store.changes import log_of
from ..unit_of_work import UnitOfWork, View

GONE_AFTER_S = 12
"""A tab that has not asked for so long is closed, or asleep."""
MOST_TABS = 500
Tab = Annotated[str, StringConstraints(max_length=40)]


class TogetherQuery(Contract):
    """Which tab asks, what it shows, and up to where it heard of changes."""

    since: str = Field("", max_length=40, description="Place up to which it heard; empty for the first time")
    tab: Tab = Field("", description="A name the tab drew for itself")
    page: str = Field("", max_length=200, description="Address of the page it shows")


class TogetherView(View):
    """What happened meanwhile."""

    since: str = Field(description="Place to ask from next time")
    tables: list[str] | None = Field(description="What others wrote to; none where it is not known: everything")
    changed_by: list[str] = Field(description="Initials of who did")
    also_here: list[str] = Field(
        description="Initials of others who have this page open; a question mark for nobody named"
    )


@dataclass
class _Tab:
    page: str
    initials: str
    asked_at: float


class OpenTabs:
    """Tabs that are open, and what they show; in memory, for as long as they ask."""

    def __init__(self) -> None:
        self._tabs: dict[str, _Tab] = {}
        self._lock = threading.Lock()

    def note(self, tab: str, page: str, initials: str | None) -> list[str]:
        """Note what a tab shows, and say whose other tabs show the same."""
        now = time.monotonic()
        with self._lock:
            self._tabs = {name: other for name, other in self._tabs.items() if now - other.asked_at < GONE_AFTER_S}
            if tab and (tab in self._tabs or len(self._tabs) < MOST_TABS):
                self._tabs[tab] = _Tab(page, initials or "?", now)
            others = [other.initials for name, other in self._tabs.items() if name != tab and other.page == page]
        return sorted(set(others))


def together(work: UnitOfWork, query: TogetherQuery, tabs: OpenTabs) -> TogetherView:
    """What others changed since, and who else is at this page."""
    heard = log_of(work.path).since(query.since, query.tab)
    others = tabs.note(query.tab, query.page, work.initials) if query.page else []
    return TogetherView(
        since=heard.place,
        tables=None if heard.tables is None else sorted(heard.tables),
        changed_by=heard.initials,
        also_here=[initials for initials in others if initials != work.initials],
    )
