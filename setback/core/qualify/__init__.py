"""Qualify: what a brief can ask, and whether the evidence of a parameter set shows it."""
