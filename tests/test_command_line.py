"""The command as somebody types it: what it refuses, what it leaves as it was, what it says."""

from __future__ import annotations

import json
import socket
import sqlite3
from contextlib import closing

import pytest
from click.testing import CliRunner

from setback.cli import main
from tests.pictures import PLAIN, SCAN, picture, printed


def run(*args: object):
    done = CliRunner().invoke(main, [str(part) for part in args])
    assert "Traceback" not in done.output
    assert done.exception is None or isinstance(done.exception, SystemExit), done.exception
    return done


@pytest.mark.parametrize("command", ["backup", "verify", "rebuild", "export"])
def test_a_database_that_is_not_there_is_named_and_not_made(tmp_path, command):
    missing, target = tmp_path / "none.db", tmp_path / "target"
    done = run(command, "--db", missing, *([target] if command in ("backup", "export") else []))
    assert done.exit_code == 1 and f"There is no database at {missing}" in done.output
    assert not missing.exists() and not target.exists()


def test_the_place_of_the_database_can_come_from_the_environment(demo_path):
    done = CliRunner().invoke(main, ["verify"], env={"SETBACK_DB": str(demo_path)})
    assert done.exit_code == 0 and "none altered" in done.output


def test_an_altered_set_is_found_and_named(demo_path):
    with closing(sqlite3.connect(demo_path)) as db, db:
        for (trigger,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'").fetchall():
            db.execute(f"DROP TRIGGER {trigger}")
        db.execute("UPDATE parameter_set SET exposure_s = exposure_s + 0.1 WHERE code = 'S-001'")
    done = run("verify", "--db", demo_path)
    assert done.exit_code == 1 and "S-001" in done.output


def test_what_is_no_database_is_not_served(tmp_path):
    path = tmp_path / "lab.db"
    path.write_bytes(content := b"no database at all, but long enough to be one" * 40)
    done = run("serve", "--db", path)
    assert done.exit_code == 1 and "damaged, or no database" in done.output
    assert path.read_bytes() == content


class TestRestore:
    @pytest.mark.parametrize("content", [b"", b"no database", b"SQLite format 3\x00" + b"\xff" * 4096])
    def test_what_is_no_database_replaces_nothing(self, tmp_path, demo_path, content):
        held = demo_path.read_bytes()
        source = tmp_path / "source.db"
        source.write_bytes(content)
        done = run("restore", "--db", demo_path, source)
        assert done.exit_code == 1 and "Nothing was changed" in done.output
        assert demo_path.read_bytes() == held

    def test_another_programs_database_replaces_nothing(self, tmp_path, demo_path):
        held, source = demo_path.read_bytes(), tmp_path / "other.db"
        with closing(sqlite3.connect(source)) as db, db:
            db.execute("CREATE TABLE recipe (name TEXT)")
        assert run("restore", "--db", demo_path, source).exit_code == 1
        assert demo_path.read_bytes() == held

    def test_what_was_there_is_kept_beside_it(self, tmp_path, demo_path):
        kept, before = tmp_path / "kept.db", demo_path.with_name("demo.before-restore.db")
        run("backup", "--db", demo_path, kept)
        with closing(sqlite3.connect(demo_path)) as db, db:
            db.execute("UPDATE technician SET initials = 'ZZ' WHERE initials = 'IM'")
        done = run("restore", "--db", demo_path, kept)
        assert done.exit_code == 0 and str(before) in done.output
        assert "ZZ" in self.initials(before) and "ZZ" not in self.initials(demo_path)

    def initials(self, path):
        with closing(sqlite3.connect(path)) as db:
            return {row[0] for row in db.execute("SELECT initials FROM technician")}


def test_a_bundle_goes_from_one_lab_to_an_empty_one_with_a_look_first(tmp_path, small_path):
    bundle, other = tmp_path / "lab.zip", tmp_path / "other.db"
    told = run("export", "--db", small_path, bundle).output
    count = int(told.split()[0])
    looked = run("import", "--db", other, "--preview", bundle).output
    assert looked.startswith(f"{count} records would be new, 0 the same, 0 in conflict")
    with closing(sqlite3.connect(other)) as db:
        assert db.execute("SELECT count(*) FROM coupon").fetchone()[0] == 0
    assert run("import", "--db", other, bundle).output.startswith(f"{count} records are new")
    assert run("import", "--db", other, bundle).output.startswith(f"0 records are new, {count} the same")
    assert run("verify", "--db", other).exit_code == 0


@pytest.mark.parametrize("content", [b"", b"{}", b"[1]", b"PK\x03\x04 and no more", b"\xff\xfe"])
def test_what_is_no_bundle_is_refused_in_a_sentence(tmp_path, content):
    bundle = tmp_path / "lab.zip"
    bundle.write_bytes(content)
    done = run("import", "--db", tmp_path / "own.db", bundle)
    assert done.exit_code == 1 and done.output.startswith("Error: ") and done.output.rstrip().endswith(".")


def test_rebuild_makes_the_same_again(demo_path):
    tables = ("check_result", "set_window", "newest_set")

    def rows(db):
        return {table: db.execute(f"SELECT * FROM {table} ORDER BY 1, 2, 3").fetchall() for table in tables}

    with closing(sqlite3.connect(demo_path)) as db:
        before = rows(db)
        with db:
            for table in tables:
                db.execute(f"DELETE FROM {table}")
    done = run("rebuild", "--db", demo_path)
    assert done.output == f"{len(before['check_result'])} check coupons made again.\n" and all(before.values())
    with closing(sqlite3.connect(demo_path)) as db:
        assert rows(db) == before


def test_a_taken_port_is_said_before_anything_is_served(demo_path):
    with closing(socket.socket()) as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        done = run("serve", "--db", demo_path, "--port", taken.getsockname()[1])
    assert done.exit_code == 1 and "is taken" in done.output and "--port" in done.output


def test_a_port_that_cannot_be_is_refused():
    assert run("serve", "--port", 70000).exit_code == 2


class TestCoupon:
    @pytest.mark.parametrize(
        ("options", "said"),
        [
            (("--pixel-um", "0"), "--pixel-um: Give at least 5."),
            (("--pixel-um", "nan"), "--pixel-um: Give a number"),
            (("--layer-um", "-50"), "--layer-um: Give more than 0."),
            (("--walls", "0.3,0.1"), "--walls: Give the walls from small to large."),
            (("--walls", "0.1,nan"), "--walls: Give a number"),
            (("--thickness-mm", "1e9"), "--thickness-mm: Give at most 50."),
            (("--base-layers", "-1"), "--base-layers: Give at least 0."),
            (("--plate", "nanx80", "--exposures", "2,3"), "--plate: Give a number"),
            (("--plate", "60x40", "--exposures", "2,-3"), "--exposures: Give at least 0.0001."),
        ],
    )
    def test_what_cannot_be_drawn_leaves_no_file(self, tmp_path, options, said):
        target = tmp_path / "out.stl"
        done = run("coupon", "flat", "--format", "stl", "--output", target, *options)
        assert done.exit_code == 1 and said in done.output
        assert not target.exists()

    @pytest.mark.parametrize(("file_format", "start"), [("3mf", b"PK"), ("svg", b"<"), ("masks", b"PK")])
    def test_each_format_is_what_it_says(self, tmp_path, file_format, start):
        target = tmp_path / "out"
        done = run("coupon", "hardness-block", "--format", file_format, "--output", target)
        assert done.exit_code == 0 and done.output.endswith(" ml\n")
        assert target.read_bytes().startswith(start)


@pytest.mark.long
def test_the_api_document_is_json_of_the_version_it_names():
    told = json.loads(run("openapi").output)
    assert told["openapi"].startswith("3.") and "/api/sets/{id_or_code}" in told["paths"]


class TestOntoItself:
    """A copy of a file onto itself would empty it: refused, by whatever name the file is called."""

    @pytest.fixture(params=["same", "dotted", "symbolic link", "hard link", "its log"])
    def itself(self, request, demo_path):
        if request.param == "dotted":
            return demo_path.parent / "." / ".." / demo_path.parent.name / demo_path.name
        other = demo_path.with_name("other.db")
        if request.param == "symbolic link":
            other.symlink_to(demo_path)
        elif request.param == "hard link":
            other.hardlink_to(demo_path)
        elif request.param == "its log":
            other = demo_path.with_name(demo_path.name + "-wal")
            other.write_bytes(b"")
        else:
            other = demo_path
        return other

    @pytest.mark.parametrize("command", ["backup", "restore"])
    def test_it_is_refused_and_the_file_unchanged(self, demo_path, itself, command):
        held = demo_path.read_bytes()
        done = run(command, "--db", demo_path, itself)
        assert done.exit_code == 1 and "is the database itself" in done.output and "nothing was changed" in done.output
        assert demo_path.read_bytes() == held
        assert not demo_path.with_name("demo.before-restore.db").exists()


@pytest.mark.long
class TestRead:
    def ran(self, *args):
        return CliRunner().invoke(main, ["read", *map(str, args)])

    def test_a_scan_in_json_with_codes_sizes_and_what_is_not_sure(self, tmp_path):
        made = printed(2.6)
        path = tmp_path / "scan.jpg"
        path.write_bytes(picture(made, "104R", SCAN))
        answer = self.ran(path, "--kind", "flat", "--pixel", "35", "--dpi", "600", "--json")
        assert answer.exit_code == 0, answer.output
        (coupon,) = json.loads(answer.output)["coupons"]
        assert (coupon["code"], coupon["kind"], coupon["design"]) == ("104R", "flat", 2)
        marks = {mark["key"]: mark for mark in coupon["features"]}
        assert marks["wall-left-10"]["state"] == "formed" and marks["wall-left-10"]["sure"]
        assert marks["outer-x-2"]["size_mm"] == pytest.approx(11, abs=0.2) and marks["outer-x-2"]["sd_um"] > 0
        words = self.ran(path, "--dpi", "600")
        assert "104R: flat, design 2" in words.output and "± 0.0" in words.output

    def test_an_older_design_takes_the_code_it_is_given(self, tmp_path):
        path = tmp_path / "old.jpg"
        path.write_bytes(picture(printed(2.6, design=1), "104R", SCAN))
        (coupon,) = json.loads(self.ran(path, "--design", 1, "--code", "104R", "--json").output)["coupons"]
        assert (coupon["code"], coupon["design"]) == ("104R", 1)
        assert not any(mark["key"].startswith("taper") for mark in coupon["features"])

    def test_what_is_no_picture_ends_with_2_and_a_sentence(self, tmp_path):
        path = tmp_path / "notes.txt"
        path.write_text("no picture")
        answer = self.ran(path)
        assert answer.exit_code == 2 and "no picture that can be read" in json.loads(answer.stderr)["error"]["message"]
        path.write_bytes(picture(printed(2.6), "104R", PLAIN))
        assert "newest design" in json.loads(self.ran(path, "--design", 3).stderr)["error"]["message"]
