"""The file: what was acknowledged is in it, one server has it, and copies are never half there."""

from __future__ import annotations

import os
import shutil
import signal
import sqlite3
import subprocess
import time
from contextlib import closing

import pytest

from setback.store.database import connect, migrate, newest_schema
from setback.store.maintenance import InUse, NotADatabase, NotCopied, OntoItself, copy_to, restore_from
from setback.store.one_server import ServedAlready, is_served, serving
from tests.reliability.process import free_port, post, serve, served


def names(path):
    with closing(sqlite3.connect(path)) as db:
        return {row[0] for row in db.execute("SELECT name FROM brief")}


@pytest.mark.long
def test_the_one_file_copied_after_a_stop_holds_everything(tmp_path, small_path):
    """SIGTERM ends as Ctrl-C does."""
    with served(small_path) as (server, url):
        line = {"property": "drop.height", "at": "least", "limit": 1}
        kept = {post(f"{url}/api/briefs", {"name": f"Brief {i}", "requirements": [line]})["name"] for i in range(20)}
        server.send_signal(signal.SIGTERM)
        assert server.wait(30) == 0
    alone = tmp_path / "alone.db"
    shutil.copy(small_path, alone)
    assert kept <= names(alone)
    assert not small_path.with_name(f"{small_path.name}.server").exists()


@pytest.mark.long
def test_a_second_server_says_who_has_it_and_changes_nothing(small_path):
    with served(small_path) as (server, url):
        with closing(connect(small_path)) as db:
            db.execute(
                "INSERT INTO job (id, kind, state, input, created_at) VALUES ('j', 'verify', 'running', '{}', 'x')"
            )
        second = subprocess.run(
            serve(small_path, free_port()),
            capture_output=True,
            text=True,
            timeout=60,
        )
        assert second.returncode == 1 and f"process {server.pid} at {url}" in second.stderr
        with closing(connect(small_path)) as db:
            assert db.execute("SELECT state FROM job WHERE id = 'j'").fetchone()[0] == "running"
        copy_to(small_path, backup := small_path.with_name("backup.db"))
        with pytest.raises(InUse, match="Stop it first"):
            restore_from(backup, small_path)


@pytest.mark.long
def test_the_lock_goes_with_the_process(small_path):
    with served(small_path) as (server, _):
        assert is_served(small_path)
        server.kill()
        server.wait()
    deadline = time.monotonic() + 10
    while is_served(small_path) and time.monotonic() < deadline:
        time.sleep(0.05)
    with serving(small_path, "here"):
        assert is_served(small_path)
        with pytest.raises(ServedAlready, match="at here"), serving(small_path, "there"):
            pass


class TestBackup:
    def test_earlier_copies_are_kept_under_numbers(self, tmp_path, small_path):
        target = tmp_path / "backup.db"
        assert copy_to(small_path, target) is None
        second, third = copy_to(small_path, target), copy_to(small_path, target)
        assert [second.name, third.name] == ["backup-2.db", "backup-3.db"]
        assert names(target) == names(second) == names(small_path)

    def test_a_copy_is_one_file_by_itself(self, tmp_path, small_path):
        target = tmp_path / "backup.db"
        copy_to(small_path, target)
        assert [path.name for path in tmp_path.iterdir() if path.name.startswith("backup")] == ["backup.db"]
        with closing(sqlite3.connect(target)) as db:
            assert db.execute("PRAGMA journal_mode").fetchone()[0] == "delete"

    def test_a_file_that_is_no_copy_of_ours_is_left_alone(self, tmp_path, small_path):
        target = tmp_path / "letter.txt"
        target.write_text("Dear Ines")
        with pytest.raises(NotADatabase, match="no backup of Setback"):
            copy_to(small_path, target)
        assert target.read_text() == "Dear Ines"

    def test_a_damaged_source_leaves_the_old_copy(self, tmp_path, small_path):
        target = tmp_path / "backup.db"
        copy_to(small_path, target)
        whole = target.read_bytes()
        content = bytearray(small_path.read_bytes())
        content[8192:40960] = os.urandom(40960 - 8192)
        small_path.write_bytes(bytes(content))
        with pytest.raises(NotCopied):
            copy_to(small_path, target)
        assert target.read_bytes() == whole and not list(tmp_path.glob("*.part*"))

    @pytest.mark.skipif(not os.path.exists("/dev/full"), reason="Linux only")
    def test_a_folder_that_is_not_there_or_not_ours(self, tmp_path, small_path):
        with pytest.raises(NotCopied, match="may not be written"):
            copy_to(small_path, tmp_path / "nowhere" / "backup.db")

    def test_onto_itself_by_another_name(self, tmp_path, small_path):
        whole, link = small_path.read_bytes(), tmp_path / "link.db"
        link.symlink_to(small_path)
        with pytest.raises(OntoItself):
            copy_to(small_path, link)
        assert small_path.read_bytes() == whole


class TestRestore:
    def test_a_newer_schema_is_refused(self, tmp_path, small_path):
        newer = tmp_path / "newer.db"
        copy_to(small_path, newer)
        with closing(sqlite3.connect(newer)) as db:
            db.execute(f"PRAGMA user_version = {newest_schema() + 1}")
        whole = small_path.read_bytes()
        with pytest.raises(NotADatabase, match="newer Setback"):
            restore_from(newer, small_path)
        assert small_path.read_bytes() == whole

    def test_an_older_one_comes_in_and_is_brought_up_to_date(self, tmp_path, small_path):
        older = tmp_path / "older.db"
        migrate(older, upto=14)
        kept = restore_from(older, small_path)
        assert kept is not None and names(kept)
        migrate(small_path)
        assert names(small_path) == set()

    def test_what_was_there_is_kept_each_time(self, tmp_path, small_path):
        backup = tmp_path / "backup.db"
        copy_to(small_path, backup)
        first, second = restore_from(backup, small_path), restore_from(backup, small_path)
        assert first != second and names(first) == names(second) == names(small_path)

    def test_a_damaged_lab_is_replaced_and_kept(self, tmp_path, small_path):
        backup = tmp_path / "backup.db"
        copy_to(small_path, backup)
        small_path.write_bytes(b"SQLite format 3\x00" + os.urandom(5000))
        kept = restore_from(backup, small_path)
        assert kept is not None and kept.stat().st_size == 5016
        assert names(small_path) == names(backup)
