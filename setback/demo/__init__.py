"""Skerry Point: a marine field station that prints its own sampling gear. Seeded, through the services only."""

from .shed import DEMO_NOW
from .skerry_point import build, is_demo

__all__ = ["DEMO_NOW", "build", "is_demo"]
