"""Sets issued again straight into a database, where only their columns matter."""

import sqlite3

_COPY = "INSERT INTO parameter_set SELECT {columns} FROM (SELECT * FROM parameter_set LIMIT 1)"


def issue_again(db: sqlite3.Connection, version: int, **own: object) -> None:
    """The first set once more as another version of its pair, with columns of its own."""
    own |= {"id": f"v{version}", "code": f"S-{900 + version}", "chain": 900 + version, "version": version}
    own |= {"hash": f"h{version}", "previous_hash": f"p{version}"}
    names = [row[1] for row in db.execute("PRAGMA table_info(parameter_set)")]
    columns = ", ".join(f":{name} AS {name}" if name in own else name for name in names)
    db.execute(_COPY.format(columns=columns), own)
