"""Settings of the whole lab, by name; values are JSON."""

from __future__ import annotations

import json
import sqlite3
from typing import Any


def value(db: sqlite3.Connection, name: str) -> Any:
    """What was set, or None."""
    row = db.execute("SELECT value FROM setting WHERE name = ?", (name,)).fetchone()
    return None if row is None else json.loads(row[0])


def put(db: sqlite3.Connection, name: str, value: Any) -> None:
    db.execute(
        "INSERT INTO setting (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (name, json.dumps(value, separators=(",", ":"))),
    )
