"""Issued sets, events and checks."""
