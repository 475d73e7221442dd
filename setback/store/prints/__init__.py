"""Prints, gates, confirmations, and what the virtual printer printed."""
