"""The newest set of each pair, kept by the database whatever order sets come in."""

import sqlite3
from contextlib import closing

COPY = """INSERT INTO parameter_set SELECT {columns} FROM (SELECT * FROM parameter_set LIMIT 1)"""


def issue_again(db: sqlite3.Connection, version: int) -> None:
    """The first set once more as another version of its pair."""
    own = {"id": f"'v{version}'", "code": f"'S-{900 + version}'", "chain": 900 + version, "version": version}
    own |= {"hash": f"'h{version}'", "previous_hash": f"'p{version}'"}
    names = [row[1] for row in db.execute("PRAGMA table_info(parameter_set)")]
    db.execute(COPY.format(columns=", ".join(f"{own.get(name, name)} AS {name}" for name in names)))


def test_an_older_version_that_comes_later_is_not_the_newest(small_path):
    with closing(sqlite3.connect(small_path)) as db:
        for version, newest in ((7, "v7"), (5, "v7"), (8, "v8")):
            issue_again(db, version)
            assert db.execute("SELECT set_id, version FROM newest_set").fetchall() == [(newest, int(newest[1:]))]
