"""Finding: by the start of a code or any word of a name, every kind of thing there is."""

import pytest

from setback.store.database import connect
from setback.store.lab import find as store


@pytest.fixture
def shed(demo_path):
    db = connect(demo_path)
    yield db
    db.close()


def found(db, text):
    return [(f.kind, f.code) for f in store.find(db, text)]


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("C-001", "calibration"),
        ("S-001", "set"),
        ("T-001", "test"),
        ("B-001", "bottle"),
        ("P-001", "printer"),
        ("A-001", "brief"),
        ("M-001", "batch"),
        ("G-001", "series"),
        ("N-001", "qualification"),
        ("R-001", "resin"),
    ],
)
def test_every_code_that_people_meet_is_found_whatever_its_case(shed, text, kind):
    assert (kind, text) in found(shed, text) and (kind, text) in found(shed, text.lower())


@pytest.mark.parametrize(
    ("text", "kind"), [("gannet", "printer"), ("tap-water", "finish route"), ("kelpflex", "resin"), ("B-004", "bottle")]
)
def test_things_on_the_shelf_are_found_by_code_or_a_part_of_their_name(shed, text, kind):
    assert kind in {one for one, _ in found(shed, text)}


def test_a_coupon_is_found_by_the_start_of_its_code(shed):
    code = shed.execute("SELECT code FROM coupon WHERE gone_at IS NULL ORDER BY code LIMIT 1").fetchone()[0]
    assert ("coupon", code) in found(shed, code[:2]) and found(shed, code) == [("coupon", code)]


def test_a_specimen_is_found_by_its_whole_code(shed):
    code = shed.execute("SELECT code FROM specimen ORDER BY code LIMIT 1").fetchone()[0]
    assert ("specimen", code) in found(shed, code)


def test_a_word_inside_a_name_finds_blends_and_their_series(shed):
    kinds = {kind for kind, _ in found(shed, "kelpflex")}
    assert {"resin", "blend", "bottle"} <= kinds
    assert ("series", "G-001") in found(shed, "hinge") and ("qualification", "N-001") in found(shed, "tray")


def test_what_is_retired_is_not_offered_but_keeps_its_records(shed):
    shed.execute("UPDATE material SET retired_at = '2026-01-21T00:00:00Z' WHERE name = 'Slate 2'")
    kinds = {kind for kind, _ in found(shed, "Slate 2")}
    assert "resin" not in kinds and "calibration" in kinds and "set" in kinds


@pytest.mark.parametrize("text", ["", "   ", "%", "_", "\\", "%_%"])
def test_signs_of_a_query_find_nothing(shed, text):
    assert store.find(shed, text) == []


def test_a_quote_is_only_a_quote(shed):
    assert store.find(shed, "'; DROP TABLE coupon; --") == []
    assert shed.execute("SELECT count(*) FROM coupon").fetchone()[0] > 0


def test_at_most_so_many_of_each_kind(shed):
    kinds = [kind for kind, _ in found(shed, "s")]
    assert max(kinds.count(kind) for kind in set(kinds)) <= 6
    assert all(
        [kind for kind, _ in ((f.kind, f.code) for f in store.find(shed, "s", 1))].count(k) <= 1 for k in set(kinds)
    )


def test_words_match_separately_and_in_any_order(shed):
    both = found(shed, "slate cormorant")
    assert ("calibration", "C-001") in both and ("set", "S-001") in both
    assert both == found(shed, "cormorant slat") and found(shed, "slate nowhere") == []


def test_a_print_is_found_by_its_code_and_a_part_by_its_name(shed):
    code = shed.execute("SELECT code FROM print WHERE status = 'printed' ORDER BY code LIMIT 1").fetchone()[0]
    assert ("print", code) in found(shed, code)
    part = shed.execute("SELECT name FROM print_part LIMIT 1").fetchone()[0]
    assert "part" in {kind for kind, _ in found(shed, part)}
