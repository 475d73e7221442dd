"""Readings, features, judgements, second readings."""
