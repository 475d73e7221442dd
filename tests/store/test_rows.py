"""Rows to models and back, and the codes people meet."""

import json
import sqlite3
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from setback.store.codes import check_letter, next_code, next_coupon_code
from setback.store.database import connect, migrate
from setback.store.rows import Row, delete, first, insert, many, marks, one, update


class Thing(Row):
    id: str
    name: str
    on: bool
    maybe: bool | None
    held: list[Any]
    more: dict[str, Any] | None


@pytest.fixture
def db():
    made = sqlite3.connect(":memory:")
    made.execute('CREATE TABLE thing (id TEXT, name TEXT, "on" INTEGER, maybe INTEGER, held TEXT, more TEXT)')
    yield made
    made.close()


def put(db, **changes):
    values = {
        "id": "a",
        "name": "Slate 2",
        "on": True,
        "maybe": None,
        "held": [1, 2.5],
        "more": {"b": 1, "a": [2]},
    } | changes
    db.execute(
        "INSERT INTO thing VALUES (?, ?, ?, ?, ?, ?)",
        [None if v is None else v if isinstance(v, str | int) else json.dumps(v) for v in values.values()],
    )


def test_flags_lists_and_dicts_come_back_as_what_they_were(db):
    put(db)
    assert one(db, Thing, "SELECT * FROM thing") == Thing(
        id="a", name="Slate 2", on=True, maybe=None, held=[1, 2.5], more={"b": 1, "a": [2]}
    )
    put(db, id="b", on=False, maybe=True, more=None)
    assert many(db, Thing, "SELECT * FROM thing WHERE id = ?", ("b",)) == [
        Thing(id="b", name="Slate 2", on=False, maybe=True, held=[1, 2.5], more=None)
    ]


def test_nothing_found_is_none(db):
    assert one(db, Thing, "SELECT * FROM thing") is None and many(db, Thing, "SELECT * FROM thing") == []


def test_what_is_inserted_is_what_is_read_and_an_update_changes_one_row(db):
    db.execute('ALTER TABLE thing RENAME COLUMN "on" TO is_on')
    for name in ("a", "b"):
        insert(db, "thing", id=name, name="Kelpflex", is_on=True, maybe=None, held=[{"x": 1}], more={"z": 1, "a": 2})
    update(db, "thing", "b", name="Hullform", is_on=False)
    rows = db.execute("SELECT id, name, is_on, held, more FROM thing ORDER BY id").fetchall()
    assert rows == [
        ("a", "Kelpflex", 1, '[{"x":1}]', '{"a":2,"z":1}'),
        ("b", "Hullform", 0, '[{"x":1}]', '{"a":2,"z":1}'),
    ]


def test_a_row_cannot_be_changed(db):
    put(db)
    thing = one(db, Thing, "SELECT * FROM thing")
    with pytest.raises(ValidationError):
        thing.name = "Hullform"


def test_the_first_column_of_the_first_row_and_rows_by_a_key(db):
    put(db)
    put(db, id="b")
    assert first(db, "SELECT count(*) FROM thing") == 2
    assert first(db, "SELECT id FROM thing WHERE name = ?", ("Hullform",)) is None
    delete(db, "thing", "a")
    assert first(db, "SELECT id FROM thing") == "b"
    delete(db, "thing", "Slate 2", key="name")
    assert first(db, "SELECT count(*) FROM thing") == 0


def test_an_empty_list_matches_nothing(db):
    put(db)
    assert db.execute(f"SELECT count(*) FROM thing WHERE id IN ({marks([])})").fetchone() == (0,)
    assert marks(["a", "b"]) == "?, ?"


@pytest.fixture
def lab_db(db_path):
    migrate(db_path)
    made = connect(db_path)
    yield made
    made.close()


def test_codes_count_on_by_prefix_and_are_never_given_twice(lab_db):
    assert [next_code(lab_db, "C") for _ in range(3)] == ["C-001", "C-002", "C-003"]
    assert next_code(lab_db, "S") == "S-001"
    lab_db.execute("UPDATE code_counter SET last = 999 WHERE prefix = 'C'")
    assert next_code(lab_db, "C") == "C-1000"


def test_a_coupon_code_begins_with_a_digit_and_ends_with_its_letter(lab_db):
    codes = [next_coupon_code(lab_db) for _ in range(40)]
    assert len(set(codes)) == 40 and codes[0] == f"101{check_letter(101)}"
    assert all(code[:-1].isdigit() and code[-1] == check_letter(int(code[:-1])) for code in codes)


@given(number=st.integers(100, 99_999), place=st.integers(0, 4), digit=st.integers(0, 9))
def test_one_mistyped_digit_changes_the_letter(number, place, digit):
    text = list(str(number))
    place %= len(text)
    if text[place] == str(digit) or (place == 0 and digit == 0):
        return
    text[place] = str(digit)
    assert check_letter(int("".join(text))) != check_letter(number)


@given(number=st.integers(100, 99_999), place=st.integers(0, 3))
def test_two_swapped_neighbours_change_the_letter(number, place):
    text = list(str(number))
    place %= len(text) - 1
    text[place], text[place + 1] = text[place + 1], text[place]
    if text[0] == "0" or "".join(text) == str(number):
        return
    assert check_letter(int("".join(text))) != check_letter(number)


@pytest.mark.parametrize("letter", "BGIOQSZ")
def test_no_letter_is_taken_for_a_digit(letter):
    assert letter not in {check_letter(n) for n in range(100, 400)}
