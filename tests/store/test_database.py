import sqlite3
from contextlib import closing

import pytest

from setback.store import codes, copies
from setback.store.database import Connections, connect, migrate, writing
from setback.store.maintenance import NotADatabase, copy_to, restore_from
from setback.store.rows import insert


@pytest.fixture
def later(db_path, monkeypatch, tmp_path):
    """A file that is up to date, and a way to bring one more migration."""
    from setback.store import database

    own = sorted(step.name for step in database.MIGRATIONS.iterdir() if step.name.endswith(".sql"))
    assert migrate(db_path) == own
    folder = tmp_path / "migrations"
    folder.mkdir()
    for name in own:
        (folder / name).write_text((database.MIGRATIONS / name).read_text())
    monkeypatch.setattr(database, "MIGRATIONS", folder)

    def bring(script):
        name = f"{len(own) + 1:04d}_more.sql"
        (folder / name).write_text(script)
        return name

    return bring


def test_migrations_run_once_and_keep_a_copy_before_later_ones(db_path, later):
    assert migrate(db_path) == []
    assert not copies.copies(db_path), "a new file has nothing worth a copy"
    name = later("CREATE TABLE more (id TEXT) STRICT;")
    assert migrate(db_path) == [name]
    assert [copy.before for copy in copies.copies(db_path)] == [int(name[:4])]


def test_a_failing_migration_leaves_nothing(db_path, later):
    later("CREATE TABLE half (id TEXT) STRICT;\nCREATE TABLE half (id TEXT) STRICT;")
    with pytest.raises(sqlite3.OperationalError):
        migrate(db_path)
    db = connect(db_path)
    assert db.execute("SELECT count(*) FROM sqlite_master WHERE name = 'half'").fetchone()[0] == 0
    db.close()


def test_a_newer_file_is_refused(db_path):
    migrate(db_path)
    db = connect(db_path)
    db.execute("PRAGMA user_version = 99")
    db.close()
    with pytest.raises(RuntimeError, match="newer Setback"):
        migrate(db_path)


def test_a_failed_write_is_rolled_back(work):
    with pytest.raises(ValueError, match="stop"), writing(work.db):
        insert(work.db, "technician", id="a", initials="AA", created_at=work.now())
        raise ValueError("stop")
    assert work.db.execute("SELECT count(*) FROM technician").fetchone()[0] == 0


@pytest.mark.parametrize(
    ("table", "change"),
    [
        ("reading", "UPDATE reading SET note = 'x'"),
        ("reading", "DELETE FROM reading"),
        ("reading_feature", "UPDATE reading_feature SET state = 'formed'"),
        ("judgement", "DELETE FROM judgement"),
        ("parameter_set", "UPDATE parameter_set SET exposure_s = 9"),
        ("parameter_set", "DELETE FROM parameter_set"),
        ("finish_route_version", "UPDATE finish_route_version SET cure_min = 1"),
    ],
)
def test_evidence_cannot_be_changed_in_place(demo_path, table, change):
    db = connect(demo_path)
    if table == "judgement":
        row = db.execute("SELECT id, (SELECT id FROM technician LIMIT 1) FROM coupon LIMIT 1").fetchone()
        insert(
            db,
            "judgement",
            id="j",
            coupon_id=row[0],
            number=1,
            include=1,
            reason="because",
            technician_id=row[1],
            judged_at="2026-01-01T00:00:00Z",
        )
    with pytest.raises(sqlite3.IntegrityError, match=r"never|append-only|superseded|withdrawn"):
        db.execute(change)
    db.close()


def test_codes_are_never_used_again(work):
    with writing(work.db):
        first = [codes.next_code(work.db, "C"), codes.next_code(work.db, "C"), codes.next_code(work.db, "S")]
    assert first == ["C-001", "C-002", "S-001"]
    with pytest.raises(RuntimeError), writing(work.db):
        codes.next_code(work.db, "C")
        raise RuntimeError
    with writing(work.db):
        assert codes.next_code(work.db, "C") == "C-003"


def test_check_letters_catch_a_wrong_digit_and_swapped_neighbours():
    for number in range(100, 1000):
        letter = codes.check_letter(number)
        text = str(number)
        for i in range(3):
            for digit in "0123456789":
                other = text[:i] + digit + text[i + 1 :]
                if other != text:
                    assert codes.check_letter(int(other)) != letter or len(str(int(other))) < 3
        for i in range(2):
            swapped = text[:i] + text[i + 1] + text[i] + text[i + 2 :]
            if swapped != text and not swapped.startswith("0"):
                assert codes.check_letter(int(swapped)) != letter


def test_backup_and_restore(work, db_path, tmp_path):
    with writing(work.db):
        insert(work.db, "technician", id="a", initials="AA", created_at=work.now())
    kept = tmp_path / "kept.db"
    copy_to(db_path, kept)
    with writing(work.db):
        work.db.execute("UPDATE technician SET initials = 'BB'")
    work.db.close()
    beside = restore_from(kept, db_path)
    assert beside is not None and beside.is_file()
    db = connect(db_path)
    assert db.execute("SELECT initials FROM technician").fetchone()[0] == "AA"
    db.close()
    (tmp_path / "text.db").write_text("no database at all, just words that go on for a while")
    with pytest.raises(NotADatabase):
        restore_from(tmp_path / "text.db", db_path)


class TestConnections:
    @pytest.fixture
    def connections(self, db_path):
        migrate(db_path)
        lent = Connections(db_path, most=2)
        yield lent
        lent.close()

    def test_one_that_came_back_is_lent_again_and_two_at_a_time_are_two(self, connections):
        first = connections.lend()
        assert connections.lend() is not first
        connections.take_back(first)
        assert connections.lend() is first

    def test_nothing_of_a_request_stays_on_it(self, connections):
        db = connections.lend()
        db.execute("BEGIN IMMEDIATE")
        db.execute("INSERT INTO code_counter (prefix, last) VALUES ('x', 1)")
        connections.take_back(db)
        again = connections.lend()
        assert again is db and not again.in_transaction
        assert again.execute("SELECT count(*) FROM code_counter WHERE prefix = 'x'").fetchone()[0] == 0
        again.execute("CREATE TEMP TABLE own (id TEXT)")
        connections.take_back(again)
        assert connections.lend() is not again

    def test_a_file_that_was_replaced_is_noticed(self, connections, db_path, tmp_path):
        old = connections.lend()
        connections.take_back(old)
        other = tmp_path / "other.db"
        migrate(other)
        with closing(connect(other)) as db:
            db.execute("INSERT INTO code_counter (prefix, last) VALUES ('restored', 1)")
        restore_from(other, db_path)
        new = connections.lend()
        assert new is not old
        assert new.execute("SELECT count(*) FROM code_counter WHERE prefix = 'restored'").fetchone()[0] == 1

    def test_no_more_are_kept_than_wanted(self, connections):
        lent = [connections.lend() for _ in range(3)]
        for db in lent:
            connections.take_back(db)
        with pytest.raises(sqlite3.ProgrammingError):
            lent[2].execute("SELECT 1")


def test_names_come_in_the_order_people_count(db_path):
    names = [
        "Ironwrack + 24 %",
        "ironwrack + 6 %",
        "٣",
        "Ironwrack + 06 %",
        "Ironwrack",
        "Ironwrack + 12 %",
        "Hullform",
        "7",
    ]
    with closing(connect(db_path)) as db:
        db.execute("CREATE TABLE thing (name TEXT)")
        db.executemany("INSERT INTO thing VALUES (?)", [(name,) for name in names])
        found = [row[0] for row in db.execute("SELECT name FROM thing ORDER BY name COLLATE BY_NAME")]
    by_hand = ["Hullform", "Ironwrack", "Ironwrack + 06 %", "ironwrack + 6 %", "Ironwrack + 12 %", "Ironwrack + 24 %"]
    assert found == ["7", *by_hand, "٣"]
