"""Skerry Point: a marine field station that prints its own sampling gear. Seeded, through the services only."""

from .shed import DEMO_NOW
from .skerry_point import build, clock_of, is_demo, story_end

__all__ = ["DEMO_NOW", "build", "clock_of", "is_demo", "story_end"]
