"""The demo: made through the services, the same every time, and equal to what its evidence says."""

import hashlib
from datetime import UTC, datetime, timedelta

import pytest
from click.testing import CliRunner

from setback.cli import main
from setback.core.prints.window import PrintWindowInput, print_window
from setback.core.window.contract import WindowInput
from setback.core.window.process_window import process_window
from setback.demo import DEMO_NOW, clock_of, story_end
from setback.services.calibrate import calibrations
from setback.services.lab import records
from setback.services.unit_of_work import UnitOfWork
from setback.simulate.devices import ProbeSetting, SimulatedProbe
from setback.store.database import connect, migrate, writing
from setback.store.maintenance import copy_to
from setback.store.sets import parameter_sets


@pytest.fixture
def demo(demo_path):
    db = connect(demo_path)
    yield UnitOfWork(db)
    db.close()


def contents(db):
    """Every row of every table, in an order that does not depend on the file."""
    tables = [r[0] for r in db.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
    return {
        t: hashlib.sha256(repr(sorted(map(tuple, db.execute(f"SELECT * FROM {t}")), key=repr)).encode()).hexdigest()
        for t in tables
    }


@pytest.mark.long
def test_built_anew_over_an_older_demo_it_is_the_same_to_the_last_row(demo, built_demo, tmp_path):
    older = tmp_path / "older.db"
    copy_to(built_demo, older)
    db = connect(older)
    db.execute("UPDATE resin SET colour = 'somebody tried something'")
    db.close()
    told = CliRunner().invoke(main, ["demo", "--no-serve", "--on", "2026-01-21", "--db", str(older)])
    assert told.exit_code == 0 and "The Skerry Point demo is in" in told.output
    other = connect(older)
    assert contents(other) == contents(demo.db)
    other.close()


def test_has_the_states_it_promises(demo):
    rows = [calibrations.calibration(demo, c.id) for c in calibrations.listed(demo, "", 50)]
    assert len(rows) >= 6
    assert {r.stage for r in rows} == {"range", "refine", "decide", "issued"}
    windows = [r.arms[0].window for r in rows]
    assert any(w and w.conflict and w.conflict.proven for w in windows), "a conflict"
    cold = next(w for w in windows if w and w.conflict)
    assert cold.reference_temp_c < 15 and cold.conflict.remedies[0].code == "warm", "coupons printed in the cold"
    assert any(w and w.provisional for w in windows), "two coupons swapped"
    assert any(w and w.beyond_ladder for w in windows), "only unders so far"
    cards = [c for r in rows for arm in r.arms for c in arm.coupons]
    assert any(c.left_out for c in cards) and any(c.findings for c in cards)
    assert any("lost" in c.states.values() for c in cards) and any(c.photo_ids for c in cards)
    assert {c.status for c in cards} == {"planned", "printed", "read"}


def test_issued_sets_equal_a_fresh_computation(demo):
    rows = parameter_sets.links(demo.db, 0, 100)
    assert rows
    for row in rows:
        fresh = (
            print_window(PrintWindowInput.model_validate(row.input))
            if "prints" in row.input
            else process_window(WindowInput.model_validate(row.input))
        ).model_dump(mode="json")
        assert fresh == row.result
        view = calibrations.calibration(demo, row.calibration_id)
        arm = next(a for a in view.arms if a.id == row.arm_id)
        assert arm.window is not None and arm.window.model_dump(mode="json") == row.result


@pytest.mark.long
def test_the_chain_is_intact_and_tampering_shows(demo):
    db = demo.db
    quiet = lambda share, message: None  # noqa: E731
    assert records.verify(UnitOfWork(db), quiet, {})["intact"] is True
    db.execute("DROP TRIGGER parameter_set_kept")
    db.execute("UPDATE parameter_set SET exposure_s = exposure_s + 0.1 WHERE chain = 2")
    told = records.verify(UnitOfWork(db), quiet, {})
    assert (told["intact"], told["first_broken"]) == (False, "S-002")
    assert told["faults"] == ["S-002 is not what was signed.", "Set S-002 was changed outside Setback."]


def test_a_demo_goes_on_from_where_its_story_or_its_newest_entry_ends(built_demo, tmp_path):
    path = tmp_path / "demo.db"
    copy_to(built_demo, path)
    assert timedelta(0) <= clock_of(path)() - DEMO_NOW < timedelta(minutes=1)
    db = connect(path)
    db.moment = lambda: DEMO_NOW + timedelta(days=40)
    with writing(db):
        db.execute("UPDATE resin SET colour = 'grey' WHERE rowid = 1")
    db.close()
    assert timedelta(days=40) <= clock_of(path)() - DEMO_NOW < timedelta(days=40, minutes=1)
    own = tmp_path / "own.db"
    migrate(own)
    assert clock_of(own) is None


def test_the_story_ends_at_its_hour_on_any_day():
    assert story_end(datetime(2027, 6, 3)) == datetime(2027, 6, 3, 8, 40, tzinfo=UTC)


def test_a_demo_told_in_june_has_its_own_winter():
    day = timedelta(days=150)
    told = SimulatedProbe(ProbeSetting("room", 3, days_moved=150)).read(DEMO_NOW + day)
    assert told == SimulatedProbe(ProbeSetting("room", 3)).read(DEMO_NOW)
