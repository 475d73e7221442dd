"""Setback: calibrate, test and qualify materials for resin printing."""

__version__ = "0.2.0"
