"""Several tabs: each hears of what others changed, and of who has the same page open."""

from setback.services.lab import together
from tests.lab import PRINTER, RESIN


def ask(lab, since="", tab="a", page="/board"):
    return lab.get(f"/api/together?since={since}&tab={tab}&page={page}")


def heard_of(lab, since, tab="a"):
    """Tables others wrote; the worker's own jobs come and go meanwhile."""
    return set(ask(lab, since, tab)["tables"]) - {"job"}


def test_a_tab_hears_of_what_another_wrote_and_not_of_its_own(lab):
    mine, theirs = ask(lab)["since"], ask(lab, tab="b")["since"]
    lab.post("/api/resins", RESIN, 201, Setback_Tab="a")
    assert heard_of(lab, mine) == set()
    heard = ask(lab, theirs, tab="b")
    assert {"material", "resin"} <= set(heard["tables"]) and heard["changed_by"] == ["IM"]
    assert heard_of(lab, heard["since"], "b") == set()


def test_what_was_refused_is_no_news(lab):
    since = ask(lab)["since"]
    lab.post("/api/printers", PRINTER | {"pixel_um": -1}, 422)
    assert heard_of(lab, since) == set()


def test_a_first_question_or_a_server_that_began_anew_is_everything(lab):
    assert ask(lab)["tables"] is None and ask(lab, "0badc0de-17")["tables"] is None


def test_who_else_has_the_page_open_is_told_until_they_leave(lab, monkeypatch):
    assert ask(lab, page="/coupons/104R")["also_here"] == []
    lab.initials = None
    assert ask(lab, tab="b", page="/coupons/104R")["also_here"] == ["IM"]
    assert ask(lab, tab="c", page="/coupons/105N")["also_here"] == []
    lab.initials = "IM"
    assert ask(lab, page="/coupons/104R")["also_here"] == ["?"]
    # The other goes to another page; then it is closed.
    ask(lab, tab="b", page="/board")
    assert ask(lab, page="/coupons/104R")["also_here"] == []
    monkeypatch.setattr(together, "GONE_AFTER_S", -1)
    assert ask(lab, page="/board")["also_here"] == []


def test_tabs_without_end_are_not_all_remembered():
    tabs = together.OpenTabs()
    for number in range(together.MOST_TABS + 50):
        tabs.note(f"tab {number}", "/board", "IM")
    assert len(tabs._tabs) == together.MOST_TABS
    assert tabs.note("tab 1", "/board", "RB") == ["IM"]


def test_asking_writes_nothing_and_is_refused_where_it_is_too_long(lab):
    ask(lab)
    assert "since" in lab.get(f"/api/together?since={'x' * 41}", 422)["error"]["fields"]
