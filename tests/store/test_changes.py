"""What was written lately: by table, since a place, without one's own."""

import shutil

import pytest

from setback.store.changes import KEPT, ChangeLog, log_of
from setback.store.database import connect, writing
from setback.store.lab import settings


def test_what_came_after_a_place_is_told_by_table():
    log = ChangeLog()
    place = log.since("").place
    log.note({"timer"}, "IM")
    log.note({"coupon", "reading"}, "RB")
    heard = log.since(place)
    assert heard.tables == {"timer", "coupon", "reading"} and heard.initials == ["IM", "RB"]
    assert log.since(heard.place).tables == frozenset()


def test_a_tab_is_not_told_of_its_own():
    log = ChangeLog()
    place = log.since("").place
    log.note({"timer"}, "IM", "tab-1")
    log.note({"coupon"}, None, None)
    assert log.since(place, "tab-1").tables == {"coupon"}
    assert log.since(place, "tab-2").tables == {"timer", "coupon"}


@pytest.mark.parametrize("place", ["", "elsewhere-1", "nonsense", "-", "-1"])
def test_a_place_of_another_process_is_everything(place):
    log = ChangeLog()
    log.note({"timer"})
    assert log.since(place).tables is None


def test_a_page_that_slept_for_long_asks_for_everything():
    log = ChangeLog()
    place = log.since("").place
    for _ in range(KEPT):
        log.note({"timer"})
    assert log.since(place).tables == {"timer"}
    log.note({"timer"})
    assert log.since(place).tables is None
    # One that is ahead of us is of nobody we know.
    began = place.partition("-")[0]
    assert log.since(f"{began}-{KEPT + 2}").tables is None


def test_a_transaction_is_told_once_it_is_on_the_disk(db_path, empty_lab):
    shutil.copyfile(empty_lab, db_path)
    db, other = connect(db_path), connect(db_path)
    log = log_of(db_path)
    place = log.since("").place
    with pytest.raises(RuntimeError), writing(db):
        settings.put(db, "for-changes", 1)
        raise RuntimeError
    assert log.since(place).tables == frozenset()
    other.tab = "tab-1"
    with writing(other):
        settings.put(other, "for-changes", 1)
        assert log.since(place).tables == frozenset()
    assert log.since(place).tables == {"setting"} and log.since(place, "tab-1").tables == frozenset()
    db.close()
    other.close()
