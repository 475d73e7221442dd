"""What is known of a material's exposure against temperature: of one printer, layer height and policy."""

from contextlib import closing

from setback.store.climate.warm_starts import exposures_found
from setback.store.database import connect
from tests.store.sets import issue_again

COOL, WARM = {"temp_low_c": 17.0, "temp_high_c": 19.0}, {"temp_low_c": 26.0, "temp_high_c": 30.0}


def test_the_group_known_at_the_most_temperatures(small_path):
    with closing(connect(small_path)) as db:
        material, height, policy = db.execute(
            "SELECT material_id, layer_height_um, policy FROM parameter_set LIMIT 1"
        ).fetchone()
        other = "centre" if policy == "size-true" else "size-true"
        issue_again(db, 5, policy=other, **COOL)
        issue_again(db, 6, policy=other, **COOL)
        issue_again(db, 7, policy=policy, layer_height_um=height + 30, **WARM)
        rows = exposures_found(db, material)
        assert {(row.layer_height_um, row.code) for row in rows} == {(height, "S-905"), (height, "S-906")}
        issue_again(db, 8, policy=policy, layer_height_um=height + 30, exposure_s=2.5, **COOL)
        rows = exposures_found(db, material)
        assert [(row.kind, row.layer_height_um, row.temp_c) for row in rows] == [
            ("set", height + 30, 28.0),
            ("set", height + 30, 18.0),
        ]
        assert rows[1].exposure_s == 2.5 and rows[1].off_pct == 0


def test_a_set_without_its_temperature_tells_nothing(small_path):
    with closing(connect(small_path)) as db:
        material = db.execute("SELECT material_id FROM parameter_set LIMIT 1").fetchone()[0]
        issue_again(db, 5, temp_low_c=None, temp_high_c=None)
        assert "S-905" not in {row.code for row in exposures_found(db, material)}
