"""SQLite by plain SQL: numbered migrations, and one module of queries per aggregate."""
