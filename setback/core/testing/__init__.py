"""Strength and detail tests: methods, formulas, results, what makes a comparison unfair."""
