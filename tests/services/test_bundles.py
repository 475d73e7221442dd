"""A lab that leaves and comes back is the same lab; a bundle that is not what it says is refused whole."""

import csv
import hashlib
import io
import json
import shutil
import sqlite3
import zipfile

import pytest
from click.testing import CliRunner

from setback.cli import main
from setback.demo import ten_years
from setback.report.bundle import BadBundle, Bundle, part_json
from setback.services.climate import imports
from setback.services.files import bundles
from setback.services.shelf import technicians
from setback.services.unit_of_work import Conflict, UnitOfWork
from setback.store.database import connect, migrate
from setback.store.lab import bundles as bundle_store
from setback.store.lab.bundles import LAB_SETTINGS, STAYS

quiet = lambda share, message: None  # noqa: E731
# The queue, files that wait and answers to repeated requests stay on their machine.


def every_row(path):
    """All that is in a file, by table, read from the schema itself and not from what an export knows."""
    db = sqlite3.connect(path)
    names = [
        r[0] for r in db.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    ]
    held = {name: sorted(map(repr, db.execute(f"SELECT * FROM {name}").fetchall())) for name in names}
    db.close()
    held["setting"] = [row for row in held["setting"] if any(repr(name) in row for name in LAB_SETTINGS)]
    return {name: rows for name, rows in held.items() if name not in STAYS}


def exported(path, target):
    db = connect(path)
    manifest = bundles.write_to(UnitOfWork(db), target, quiet)
    db.close()
    return manifest


def taken_in(path, source):
    migrate(path)
    db = connect(path)
    bundle = Bundle(source)
    try:
        return bundles.import_from(UnitOfWork(db), bundle, quiet)
    finally:
        bundle.close()
        db.close()


@pytest.fixture(scope="module")
def shared_bundle(built_demo, tmp_path_factory):
    target = tmp_path_factory.mktemp("bundle") / "lab.zip"
    exported(built_demo, target)
    return target


@pytest.fixture
def demo_bundle(shared_bundle, tmp_path):
    return shutil.copy(shared_bundle, tmp_path / "lab.zip")


@pytest.fixture
def small_bundle(small_lab, tmp_path):
    exported(small_lab, tmp_path / "lab.zip")
    return tmp_path / "lab.zip"


class TestRoundTrip:
    @pytest.mark.long
    def test_the_demo_is_the_same_lab_again(self, demo_path, demo_bundle, tmp_path):
        told = taken_in(tmp_path / "again.db", demo_bundle)
        before, after = every_row(demo_path), every_row(tmp_path / "again.db")
        assert before.keys() == after.keys()
        for table in before:
            assert before[table] == after[table], table
        assert told["new"] == sum(map(len, before.values())) and told["conflicting"] == 0

    @pytest.mark.long
    @pytest.mark.parametrize("seed", [1, 2])
    def test_generated_labs_are_the_same_again(self, tmp_path, monkeypatch, seed):
        monkeypatch.setattr(ten_years, "PER_YEAR", {"calibrations": 6 * seed, "prints": 120 * seed})
        monkeypatch.setattr(ten_years, "SAMPLE_EVERY_S", 7200)
        ten_years.build(tmp_path / "made.db", 1, ten_years.moment())
        exported(tmp_path / "made.db", tmp_path / "made.zip")
        taken_in(tmp_path / "again.db", tmp_path / "made.zip")
        assert every_row(tmp_path / "made.db") == every_row(tmp_path / "again.db")

    def test_a_second_import_changes_nothing(self, small_path, small_bundle):
        before = every_row(small_path)
        told = taken_in(small_path, small_bundle)
        assert (told["new"], told["conflicting"]) == (0, 0) and every_row(small_path) == before

    @pytest.mark.long
    def test_every_table_has_its_schema_and_its_csv(self, demo_path, demo_bundle):
        with zipfile.ZipFile(demo_bundle) as held:
            names = set(held.namelist())
            for table in every_row(demo_path):
                assert {f"data/{table}.jsonl", f"schema/{table}.json", f"csv/{table}.csv"} <= names
            schema = json.loads(held.read("schema/parameter_set.json"))
            assert schema["properties"]["exposure_s"]["type"] == "number"
            assert "calibration" in schema["properties"]["calibration_id"]["description"]
            sheet = list(csv.DictReader(io.TextIOWrapper(held.open("csv/parameter_set.csv"), "utf-8")))
            assert sheet[0]["code"].startswith("S-")

    def test_by_the_command_line_too(self, small_path, tmp_path):
        run = CliRunner().invoke
        assert "records of" in run(main, ["export", str(tmp_path / "x.zip"), "--db", str(small_path)]).output
        said = run(main, ["import", str(tmp_path / "x.zip"), "--preview", "--db", str(tmp_path / "y.db")]).output
        assert "would be new" in said
        assert "are new" in run(main, ["import", str(tmp_path / "x.zip"), "--db", str(tmp_path / "y.db")]).output
        assert "none altered" in run(main, ["verify", "--db", str(tmp_path / "y.db")]).output


class TestMerge:
    def test_two_labs_with_records_of_one_code_conflict_and_nothing_is_kept(self, tmp_path):
        for name, initials in (("a", "IM"), ("b", "IM")):
            migrate(tmp_path / f"{name}.db")
            work = UnitOfWork(connect(tmp_path / f"{name}.db"))
            technicians.add_technician(work, technicians.TechnicianInput(initials=initials))
            work.db.close()
        exported(tmp_path / "a.db", tmp_path / "a.zip")
        before = every_row(tmp_path / "b.db")
        db = connect(tmp_path / "b.db")
        told = bundles.looked_at(UnitOfWork(db), Bundle(tmp_path / "a.zip"), quiet)
        db.close()
        (bad,) = [t for t in told["tables"] if t["conflicting"]]
        assert bad["table"] == "technician" and bad["examples"] == ["IM"]
        with pytest.raises(Conflict, match="technician"):
            taken_in(tmp_path / "b.db", tmp_path / "a.zip")
        assert every_row(tmp_path / "b.db") == before

    def test_codes_given_out_elsewhere_are_not_given_out_again(self, small_bundle, small_path, tmp_path):
        taken_in(tmp_path / "again.db", small_bundle)
        last = "SELECT last FROM code_counter WHERE prefix = 'S'"
        assert (
            sqlite3.connect(tmp_path / "again.db").execute(last).fetchone()
            == sqlite3.connect(small_path).execute(last).fetchone()
        )


def rewritten(source, target, change):
    """The same bundle with its entries passed through a function; None leaves one out."""
    with zipfile.ZipFile(source) as held, zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as made:
        for name in held.namelist():
            content = change(name, held.read(name))
            if content is not None:
                made.writestr(name, content)
    return target


class TestBadBundles:
    def refused(self, tmp_path, source, words):
        migrate(tmp_path / "own.db")
        before = every_row(tmp_path / "own.db")
        said = CliRunner().invoke(main, ["import", str(source), "--db", str(tmp_path / "own.db")])
        assert said.exit_code == 1 and words in said.output, said.output
        assert every_row(tmp_path / "own.db") == before

    @pytest.mark.long
    def test_cut_short(self, small_bundle, tmp_path):
        cut = tmp_path / "cut.zip"
        cut.write_bytes(small_bundle.read_bytes()[:-4000])
        self.refused(tmp_path, cut, "cut short")

    def test_a_missing_table(self, small_bundle, tmp_path):
        bad = rewritten(small_bundle, tmp_path / "bad.zip", lambda n, c: None if n == "data/print.jsonl" else c)
        self.refused(tmp_path, bad, "print is missing")

    def test_one_changed_byte(self, small_bundle, tmp_path):
        change = lambda n, c: c.replace(b"Cormorant", b"Cormorans", 1) if n == "data/printer.jsonl" else c  # noqa: E731
        self.refused(tmp_path, rewritten(small_bundle, tmp_path / "bad.zip", change), "its seal does not fit")

    @pytest.mark.long
    def test_a_changed_hash_of_a_signed_record(self, small_bundle, tmp_path):
        """Resealed by somebody who knows the format: the chain still tells."""
        sealed = {}

        def change(name, content):
            if name == "data/qualification.jsonl":
                content = content.replace(b"Covers of up to 120 mm", b"Covers of up to 900 mm", 1)
                sealed["sha"] = hashlib.sha256(content).hexdigest()
            if name == "manifest.json":
                held = json.loads(content)
                held["tables"]["qualification"]["sha256"] = sealed["sha"]
                content = json.dumps(held).encode()
            return content

        self.refused(tmp_path, rewritten(small_bundle, tmp_path / "bad.zip", change), "not what was signed")

    @pytest.mark.parametrize("key", ["schema", "format_version"])
    def test_from_a_newer_version(self, small_bundle, tmp_path, key):
        def change(name, content):
            if name != "manifest.json":
                return content
            held = json.loads(content)
            return json.dumps({**held, key: held[key] + 1}).encode()

        self.refused(tmp_path, rewritten(small_bundle, tmp_path / "bad.zip", change), "newer Setback")

    def test_paths_that_climb_out(self, small_bundle, tmp_path):
        with zipfile.ZipFile(small_bundle, "a") as held:
            held.writestr("../../evil.txt", "x")
        self.refused(tmp_path, small_bundle, "does not belong")
        assert not (tmp_path.parent / "evil.txt").exists()

    def test_a_bomb(self, tmp_path):
        with zipfile.ZipFile(tmp_path / "bomb.zip", "w", zipfile.ZIP_DEFLATED) as held:
            held.writestr("data/print.jsonl", b"0" * 60_000_000)
            held.writestr("manifest.json", "{}")
        with pytest.raises(BadBundle, match="would grow"):
            Bundle(tmp_path / "bomb.zip")

    @pytest.mark.long
    def test_rows_that_refer_to_nothing(self, small_bundle, tmp_path):
        def change(name, content):
            if name == "data/bottle.jsonl":
                return b""
            if name == "manifest.json":
                held = json.loads(content)
                held["tables"]["bottle"] = {
                    "rows": 0,
                    "sha256": "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855",
                }
                return json.dumps(held).encode()
            return content

        self.refused(tmp_path, rewritten(small_bundle, tmp_path / "bad.zip", change), "Nothing was kept")

    @pytest.mark.long
    @pytest.mark.parametrize(
        ("table", "row"),
        [
            (
                "probe_file",
                {
                    "id": "f",
                    "name": "log.csv",
                    "path": "../secret.csv",
                    "bytes": 9,
                    "seen": "{}",
                    "technician_id": None,
                    "at": "2020-01-01T00:00:00Z",
                    "imported_at": None,
                },
            ),
            (
                "job",
                {
                    "id": "j",
                    "kind": "import-bundle",
                    "state": "queued",
                    "progress": 0,
                    "message": "",
                    "input": "{}",
                    "result": None,
                    "cancel_asked": 0,
                    "created_at": "2020-01-01T00:00:00Z",
                    "ended_at": None,
                },
            ),
            ("request", {"key": "k", "content": {"base64": ""}, "answer": "{}", "at": "2020-01-01T00:00:00Z"}),
        ],
    )
    @pytest.mark.parametrize("form", ["lab", "part"])
    def test_files_and_work_of_another_machine(self, tmp_path, table, row, form):
        """A row could name a file of the user, which would be read and deleted, or work that would be done."""
        secret = tmp_path / "secret.csv"
        secret.write_text("time,temp")
        migrate(tmp_path / "a.db")
        db = connect(tmp_path / "a.db")
        if form == "part":
            source = tmp_path / "part.json"
            source.write_bytes(
                part_json(bundle_store.schema_version(db), "0.1.0", "2020-01-01T00:00:00Z", {table: [row]})
            )
        else:
            exported(tmp_path / "a.db", tmp_path / "a.zip")
            line = json.dumps(row).encode() + b"\n"

            def change(name, content):
                if name != "manifest.json":
                    return content
                held = json.loads(content)
                held["tables"][table] = {"rows": 1, "sha256": hashlib.sha256(line).hexdigest()}
                return json.dumps(held).encode()

            source = rewritten(tmp_path / "a.zip", tmp_path / "bad.zip", change)
            with zipfile.ZipFile(source, "a") as made:
                made.writestr(f"data/{table}.jsonl", line)
        db.close()
        self.refused(tmp_path, source, f"It brings rows of {table}")
        own = connect(tmp_path / "own.db")
        assert own.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0
        imports._forget_old(UnitOfWork(own))
        own.close()
        assert secret.read_text() == "time,temp"

    def test_what_stays_on_its_machine_does_not_leave_it(self, small_bundle):
        with zipfile.ZipFile(small_bundle) as held:
            assert not [name for name in held.namelist() for table in STAYS if f"/{table}." in name]

    def test_formulas_are_text_in_the_csv_and_themselves_in_the_data(self, work, tmp_path):
        from setback.services.shelf import printers

        technicians.add_technician(work, technicians.TechnicianInput(initials="IM"))
        given = {
            "name": "=HYPERLINK(1)",
            "light_engine": "mono screen",
            "pixel_um": 35,
            "plate_x_mm": 150,
            "plate_y_mm": 80,
            "vat_capacity_ml": 300,
            "fill_line_ml": 200,
            "exposure_step_s": 0.1,
        }
        printers.add_printer(work, printers.PrinterInput.model_validate(given))
        bundles.write_to(work, tmp_path / "lab.zip", quiet)
        with zipfile.ZipFile(tmp_path / "lab.zip") as held:
            assert b"'=HYPERLINK(1)" in held.read("csv/printer.csv")
            assert json.loads(held.read("data/printer.jsonl"))["name"] == "=HYPERLINK(1)"


class TestOneMaterial:
    def part(self, demo_path, tmp_path, kind, code):
        db = connect(demo_path)
        sql = f"SELECT id FROM {kind} WHERE {'name' if kind == 'material' else 'code'} = ?"
        row_id = db.execute(sql, (code,)).fetchone()[0]
        target = tmp_path / "part.json"
        target.write_bytes(bundles.part(UnitOfWork(db), kind, row_id).content)
        db.close()
        return target

    def test_a_blend_comes_with_its_resins_and_their_flow(self, demo_path, tmp_path):
        source = self.part(demo_path, tmp_path, "material", "Ironwrack + 18 % Kelpflex")
        run = CliRunner().invoke
        said = run(main, ["import", str(source), "--db", str(tmp_path / "other.db")])
        assert said.exit_code == 0, said.output
        db = sqlite3.connect(tmp_path / "other.db")
        assert {r[0] for r in db.execute("SELECT name FROM material")} == {
            "Ironwrack",
            "Kelpflex",
            "Ironwrack + 18 % Kelpflex",
        }
        assert db.execute("SELECT count(*) FROM flow_reading").fetchone()[0] == 4
        again = run(main, ["import", str(source), "--db", str(tmp_path / "other.db")]).output
        assert again.startswith("0 records are new")

    def test_a_set_is_the_same_where_it_was_issued_and_cannot_join_another_chain(self, demo_path, tmp_path):
        source = self.part(demo_path, tmp_path, "parameter_set", "S-002")
        run = CliRunner().invoke
        assert run(main, ["import", str(source), "--db", str(demo_path)]).output.startswith("0 records are new")
        said = run(main, ["import", str(source), "--db", str(tmp_path / "other.db")])
        assert said.exit_code == 1 and "chain" in said.output

    def test_a_changed_one_is_refused(self, demo_path, tmp_path):
        source = self.part(demo_path, tmp_path, "material", "Slate 2")
        source.write_text(source.read_text().replace("Slate 2", "Slate 3", 1))
        said = CliRunner().invoke(main, ["import", str(source), "--db", str(tmp_path / "other.db")])
        assert said.exit_code == 1 and "seal" in said.output
