"""The newest set of each pair, kept by the database whatever order sets come in."""

import sqlite3
from contextlib import closing

from tests.store.sets import issue_again


def test_an_older_version_that_comes_later_is_not_the_newest(small_path):
    with closing(sqlite3.connect(small_path)) as db:
        for version, newest in ((7, "v7"), (5, "v7"), (8, "v8")):
            issue_again(db, version)
            assert db.execute("SELECT set_id, version FROM newest_set").fetchall() == [(newest, int(newest[1:]))]
