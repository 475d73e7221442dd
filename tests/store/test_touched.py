"""What a connection says of the tables it read and wrote."""

from pathlib import Path

from setback.store.database import Connections, connect, migrate, writing
from tests.lab import Lab


def test_statements_say_what_they_read_and_write(tmp_path: Path) -> None:
    path = tmp_path / "lab.db"
    migrate(path)
    db = connect(path)
    db.forget_statements()
    with writing(db):
        db.execute(
            "INSERT INTO setting (name, value) VALUES ('a', '1') ON CONFLICT (name) DO UPDATE SET value = excluded.value"
        )
        db.executemany("UPDATE timer SET name = ? WHERE id = ?", [("x", "y")])
        db.execute("DELETE FROM event WHERE printer_id IN (SELECT id FROM printer WHERE name = ?)", ("bottle",))
    assert db.tables_written() == {"setting", "timer", "event"}
    assert "printer" in db.tables_read()
    assert "bottle" not in db.tables_read()  # a value, not a name in the statement
    db.forget_statements()
    assert db.tables_written() == db.tables_read() == set()
    db.close()


def test_the_next_request_begins_with_nothing_of_the_last_one(tmp_path: Path) -> None:
    path = tmp_path / "lab.db"
    migrate(path)
    connections = Connections(path)
    first = connections.lend()
    first.execute("SELECT * FROM timer").fetchall()
    connections.take_back(first)
    second = connections.lend()
    assert second is first
    assert "timer" not in second.tables_read()
    connections.close()


def test_answers_say_it_to_the_page(lab: Lab) -> None:
    client = lab.client
    printer = client.get("/api/printers?retired=false&limit=200&after=")
    assert "printer" in printer.headers["Setback-Read"].split()
    timers = client.get("/api/timers").headers["Setback-Read"].split()
    body = {"name": "Rest", "watts": 100, "cut_out": True, "thermostat": False}
    made = client.post("/api/heaters", json=body, headers={"Idempotency-Key": "k", "Setback-Technician": "IM"})
    assert "heater" in made.headers["Setback-Written"].split()
    assert "timer" in timers and "heater" not in timers
    # The answer to a repeat does not say what its first writing wrote: the page asks for everything.
    assert (
        "Setback-Written"
        not in client.post(
            "/api/heaters", json=body, headers={"Idempotency-Key": "k", "Setback-Technician": "IM"}
        ).headers
    )
    assert "Setback-Written" not in client.post("/api/heaters", json={}, headers={"Setback-Technician": "IM"}).headers
