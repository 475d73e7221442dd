"""Use cases: the only place where the core and the store meet. Transactions live here."""
