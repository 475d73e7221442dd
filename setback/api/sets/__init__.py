"""Routes of parameter sets, the Board, events and checks."""
