"""Briefs and signed qualifications."""
