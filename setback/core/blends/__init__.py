"""Blends: what to pour, what it will do, and which fraction answers the brief."""
