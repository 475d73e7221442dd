"""Recipes, batches, series of fractions, and what is in the vat."""
