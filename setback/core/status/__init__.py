"""Whether an issued set still holds: events, checks, limits."""
