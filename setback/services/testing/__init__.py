"""Strength and detail tests: briefs, plans, the bench, results, and all properties side by side."""
