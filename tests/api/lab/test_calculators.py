"""The calculators through HTTP and the command line; jobs; the spec."""

import json
import subprocess
import sys
from importlib.resources import files
from pathlib import Path

import pytest
from click.testing import CliRunner

from setback.cli import main
from setback.core.calculators import CALCULATORS
from setback.store.database import migrate
from tests.core.test_examples import BUILT, assert_holds


@pytest.mark.parametrize("example", BUILT, ids=lambda e: e["calculator"])
def test_api_door(lab, example):
    got = lab.post(f"/api/calculators/{example['calculator']}", example["input"])
    assert_holds(example["expect"], got, example["rel_tol"])


@pytest.mark.parametrize("example", BUILT, ids=lambda e: e["calculator"])
def test_command_door(example):
    done = CliRunner().invoke(main, ["calc", example["calculator"], "-"], input=json.dumps(example["input"]))
    assert done.exit_code == 0
    assert_holds(example["expect"], json.loads(done.stdout), example["rel_tol"])


class TestCommand:
    def run(self, *args, text=None):
        return CliRunner().invoke(main, ["calc", *args], input=text)

    def test_lists_the_calculators(self):
        told = self.run()
        assert told.exit_code == 0 and all(name in told.stdout for name in CALCULATORS)

    def test_prints_schemas(self):
        schema = json.loads(self.run("size-fit", "--schema").stdout)
        assert schema["input"]["properties"]["features"] and schema["output"]["properties"]["edge_growth_um"]

    @pytest.mark.parametrize(
        ("args", "text", "field"),
        [
            (("size-fit", "-"), '{"features": []}', "features"),
            (
                ("size-fit", "-"),
                '{"features": [{"kind": "outer", "nominal_mm": NaN, "measured_mm": 2}]}',
                "features.0.nominal_mm",
            ),
            (("size-fit", "-"), "{", "input"),
            (("size-fit", "/no/such/file"), None, "file"),
            (("size-fit",), None, "file"),
            (("no-such", "-"), "{}", "name"),
        ],
    )
    def test_bad_input_is_json_on_standard_error_with_code_2(self, args, text, field):
        done = self.run(*args, text=text)
        assert done.exit_code == 2 and done.stdout == ""
        error = json.loads(done.stderr)["error"]
        assert error["message"] and field in error["fields"]

    def test_reads_a_file_as_a_program_of_its_own(self, tmp_path):
        given = tmp_path / "ladder.json"
        given.write_text(json.dumps({"low_s": 1, "high_s": 4, "count": 3, "exposure_step_s": 0.1}))
        command = [str(Path(sys.executable).parent / "setback"), "calc", "exposure-ladder", str(given)]
        done = subprocess.run(command, capture_output=True, text=True, check=True)
        assert json.loads(done.stdout)["exposures_s"] == [1.0, 2.0, 4.0]


def test_demo_backup_verify_restore(demo_path, tmp_path):
    run = CliRunner().invoke
    assert "7 issued sets, 3 qualifications and 15," in run(main, ["verify", "--db", str(demo_path)]).stdout
    kept = tmp_path / "kept.db"
    assert run(main, ["backup", "--db", str(demo_path), str(kept)]).exit_code == 0
    other = tmp_path / "other.db"
    assert run(main, ["restore", "--db", str(other), str(kept)]).exit_code == 0
    assert "none altered" in run(main, ["verify", "--db", str(other)]).stdout
    assert run(main, ["verify", "--db", str(tmp_path / "none.db")]).exit_code == 1


def test_the_demo_never_replaces_somebodys_data(tmp_path):
    own = tmp_path / "own.db"
    migrate(own)
    held = own.read_bytes()
    told = CliRunner().invoke(main, ["demo", "--no-serve"], env={"SETBACK_DB": str(own)})
    assert told.exit_code == 1 and "may be your own data" in told.output
    assert own.read_bytes() == held


def test_bad_calculator_input_over_http(lab):
    told = lab.post("/api/calculators/print-time", {"layers": 0, "exposure_s": 2}, 422)
    assert told["error"]["fields"] == {"layers": "Give at least 1."}
    lab.post("/api/calculators/none", {}, 404)
    assert {c["name"] for c in lab.get("/api/calculators")["items"]} == set(CALCULATORS)
    assert lab.get("/api/calculators/size-fit")["input"]


def test_a_job_runs_reports_and_cannot_be_cancelled_when_done(lab):
    job = lab.post("/api/jobs", {"kind": "verify"}, 201)
    assert lab.ended(job)["result"]["intact"] is True
    lab.post(f"/api/jobs/{job['id']}/cancel", None, 409)
    lab.post("/api/jobs", {"kind": "dance"}, 422)


def test_every_error_has_one_shape(lab):
    for answer in (
        lab.client.get("/api/none"),
        lab.client.delete("/api/resins"),
        lab.client.post("/api/resins", data="x"),
    ):
        assert set(answer.get_json()["error"]) == {"message", "fields", "suggest", "request"}


def test_the_spec_names_every_model_once(lab):
    spec = lab.get("/api/openapi.json")
    assert spec["openapi"].startswith("3.1")
    names = spec["components"]["schemas"]
    assert "WindowResult" in names and not any("." in name for name in names)


def test_every_operation_field_and_parameter_says_what_it_is(lab):
    spec = lab.get("/api/openapi.json")
    silent = [
        f"{model}.{name}"
        for model, schema in spec["components"]["schemas"].items()
        for name, field in schema.get("properties", {}).items()
        if not field.get("description")
    ]
    for path, operations in spec["paths"].items():
        for method, operation in operations.items():
            silent += [] if operation.get("description") or operation.get("summary") else [f"{method} {path}"]
            silent += [f"{path}: {p['name']}" for p in operation.get("parameters", []) if not p.get("description")]
    assert not silent


def test_words_of_the_api_are_all_used(lab):
    """A name that went takes its words with it."""
    spec = lab.get("/api/openapi.json")
    fields = {
        (model, name)
        for model, schema in spec["components"]["schemas"].items()
        for name in schema.get("properties", {})
    }
    parameters = {
        p["name"] for operations in spec["paths"].values() for o in operations.values() for p in o.get("parameters", [])
    }
    names = {name for _, name in fields} | {f"{model}.{name}" for model, name in fields} | parameters
    words = json.loads((files("setback.api") / "words.json").read_text(encoding="utf-8"))
    assert not words.keys() - names
