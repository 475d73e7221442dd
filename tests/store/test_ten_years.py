"""The data set for measuring: whole, chained, and quick to show."""

import math
import sqlite3

import pytest
from scipy.special import ndtri

from setback.api.app import create_app
from setback.core.calibrate.exposure_scales import left_out
from setback.demo import is_demo, ten_years
from setback.services.calibrate.prediction import known
from setback.services.lab.records import verify
from setback.services.unit_of_work import UnitOfWork
from setback.store.database import connect

pytestmark = pytest.mark.long
CAMPAIGNS = 48
A_YEAR = {"calibrations": CAMPAIGNS, "prints": 900}


@pytest.fixture(scope="module")
def path(tmp_path_factory):
    held = pytest.MonkeyPatch()
    held.setattr(ten_years, "PER_YEAR", A_YEAR)
    path = tmp_path_factory.mktemp("years") / "years.db"
    ten_years.build(path, 1, ten_years.moment())
    held.undo()
    return path


def test_every_row_points_somewhere_and_the_chain_holds(path):
    db = connect(path)
    assert db.execute("PRAGMA foreign_key_check").fetchall() == []
    made = verify(UnitOfWork(db), lambda share, message: None, {})
    counts = [
        db.execute(f"SELECT count(*) FROM {t}").fetchone()[0]
        for t in ("material", "printer", "calibration", "coupon", "print")
    ]
    db.close()
    assert made["intact"] and made["checked"] > 12 and is_demo(path)
    assert counts == [60, 12, CAMPAIGNS, CAMPAIGNS * 7, 900]


def test_first_guesses_of_a_busy_shop_hold_as_often_as_they_say(path):
    """Each calibration as all others have it: four of five lie inside, as far as so few can tell."""
    db = connect(path)
    calibrated = known(UnitOfWork(db))
    db.close()
    off = [
        abs(math.log(one.exposure_s) - mean) / sd
        for one, (mean, sd) in zip(calibrated, left_out(calibrated), strict=True)
    ]
    assert len(calibrated) >= 10 and 0.6 < sum(one < ndtri(0.9) for one in off) / len(off) <= 0.96


def test_the_same_seed_gives_the_same_rows(path, tmp_path, monkeypatch):
    monkeypatch.setattr(ten_years, "PER_YEAR", A_YEAR)
    ten_years.build(tmp_path / "again.db", 1, ten_years.moment())
    first, again = sqlite3.connect(path), sqlite3.connect(tmp_path / "again.db")
    for table in ("calibration", "parameter_set", "reading_feature"):
        sql = f"SELECT * FROM {table} ORDER BY 1, 2"
        assert first.execute(sql).fetchall() == again.execute(sql).fetchall()
    first.close(), again.close()


def test_the_first_screenful_of_the_board_shows_no_more_than_it_reads(path):
    app = create_app(path, clock=ten_years.moment, worker=False)
    client = app.test_client()
    board = client.get("/api/board").get_json()
    assert len(board["materials"]) == 40 and board["more_after"] == board["materials"][-1]["name"]
    assert len(board["cells"]) == 40 * 12
    rest = client.get(f"/api/board?after={board['more_after']}").get_json()
    assert len(rest["materials"]) == 20 and rest["more_after"] is None
