"""Qualify: briefs judged against sets and their evidence, signed, and written down."""
