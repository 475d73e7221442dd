"""Blends and the vat: recipes, batches from bottles, what is in each printer now, series, and pours after the fact."""
