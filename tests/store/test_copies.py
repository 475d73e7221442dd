"""Copies the server makes by itself: which are kept, and that the newest can be put back."""

from __future__ import annotations

import os
from contextlib import closing
from datetime import date, timedelta

import pytest
from click.testing import CliRunner

from setback.cli import main
from setback.services.lab import chores
from setback.services.unit_of_work import UnitOfWork
from setback.store import copies
from setback.store.database import connect, files_beside, migrate, writing
from setback.store.maintenance import NotCopied, copy_of_the_day, rehearsed

TODAY = date(2026, 3, 31)
KEY = "6f1c3d52-8f5e-4b8e-9a39-0a6f0c8a7b11"


def test_seven_days_four_weeks_and_twelve_months_are_kept():
    days = [TODAY - timedelta(days=n) for n in range(800)]
    kept = copies.days_kept(days)
    assert {TODAY - timedelta(days=n) for n in range(7)} <= kept
    assert len(kept) <= 7 + 4 + 12
    assert min(kept) == date(2025, 4, 30), "the newest day of the twelfth month back"
    assert {date(2026, 3, 29), date(2026, 3, 22), date(2026, 3, 15)} <= kept, "the newest day of each of four weeks"


def test_days_without_a_copy_do_not_push_others_out():
    days = [TODAY, date(2026, 1, 2), date(2024, 6, 1)]
    assert copies.days_kept(days) == set(days)


def test_thinning_out_takes_what_is_ours_alone(tmp_path):
    path = tmp_path / "lab.db"
    folder = copies.folder(path)
    folder.mkdir()
    for n in range(40):
        copies.daily(path, TODAY - timedelta(days=n)).write_bytes(b"x")
    own = folder / "lab-notes.db"
    odd = folder / "lab-2026-99-99.db"
    for file in (own, odd):
        file.write_bytes(b"x")
    gone = copies.thin_out(path)
    assert len(copies.copies(path)) == len(list(folder.iterdir())) - 2 < 15
    assert gone and own.exists() and odd.exists()


def test_one_copy_a_day_in_the_folder_that_was_chosen(small_path, tmp_path, monkeypatch):
    monkeypatch.setenv(copies.SETTING, str(tmp_path / "elsewhere" / "kept"))
    made = copy_of_the_day(small_path, TODAY)
    assert made == tmp_path / "elsewhere" / "kept" / f"{small_path.stem}-2026-03-31.db"
    assert copy_of_the_day(small_path, TODAY) is None


def test_a_folder_that_cannot_be_made_is_said_so(small_path, tmp_path, monkeypatch):
    (tmp_path / "file").write_text("")
    monkeypatch.setenv(copies.SETTING, str(tmp_path / "file" / "kept"))
    with pytest.raises(NotCopied, match="What was there is as it was"):
        copy_of_the_day(small_path, TODAY)


def test_a_rehearsal_puts_the_newest_back_and_walks_through_it(small_path):
    run = CliRunner().invoke
    told = run(main, ["rehearse", "--db", str(small_path)])
    assert told.exit_code == 1 and "There is no copy" in told.output
    migrate(small_path)
    copy_of_the_day(small_path, TODAY)
    whole = small_path.read_bytes()
    told = run(main, ["rehearse", "--db", str(small_path)])
    assert told.exit_code == 0 and "was put back in" in told.output and "none altered" in told.output
    assert small_path.read_bytes() == whole
    copies.daily(small_path, TODAY).write_bytes(whole[:5000])
    told = run(main, ["rehearse", "--db", str(small_path)])
    assert told.exit_code == 1 and "is no intact Setback database" in told.output


def test_the_scratch_copy_is_gone_afterwards(small_path):
    copy_of_the_day(small_path, TODAY)
    with rehearsed(small_path) as rehearsal:
        assert rehearsal.scratch.exists()
    assert not rehearsal.scratch.exists()


class TestChores:
    def test_they_copy_walk_and_clear_up(self, small_path):
        migrate(small_path)
        with closing(connect(small_path)) as db:
            work = UnitOfWork(db)
            leftover = files_beside(db) / f"export-{KEY}.zip"
            leftover.write_bytes(b"x")
            os.utime(leftover, (1, 1))
            fresh = files_beside(db) / f"export-{KEY[::-1]}.zip"
            fresh.write_bytes(b"x")
            stranger = files_beside(db) / "notes.txt"
            stranger.write_bytes(b"x")
            os.utime(stranger, (1, 1))
            with work.write():
                db.execute("INSERT INTO request VALUES ('k', x'00', '{}', '2020-01-01T00:00:00Z')")
            chores.do_all(work)
            assert not leftover.exists() and fresh.exists() and stranger.exists()
            assert db.execute("SELECT answer FROM request WHERE key = 'k'").fetchone()[0] is None
            assert copies.newest(small_path) is not None
            assert chores.settings.value(db, "records")["intact"] is True

    def test_one_that_fails_keeps_none_of_the_others(self, small_path, monkeypatch, caplog):
        migrate(small_path)
        monkeypatch.setattr(chores, "copy_of_the_day", lambda *_: 1 / 0)
        with closing(connect(small_path)) as db:
            chores.do_all(UnitOfWork(db))
            assert chores.settings.value(db, "records") is not None
        assert "The chore copy failed" in caplog.text

    def test_a_server_that_starts_walks_and_then_once_a_day(self, small_path):
        migrate(small_path)
        with closing(connect(small_path)) as db:
            work, due = UnitOfWork(db), chores.Chores()
            due.if_due(work)
            first = chores.settings.value(db, "records")
            with writing(db):
                chores.settings.put(db, "records", {**first, "checked_at": "2099-01-01T00:00:00Z"})
            due.if_due(work)
            assert chores.settings.value(db, "records")["checked_at"].startswith("2099"), "not again within the day"
            chores.Chores().if_due(work)
            assert not chores.settings.value(db, "records")["checked_at"].startswith("2099"), "whatever was noted"
