"""Readings of coupons: by hand, blind, from spreadsheets and photos, and what they say as evidence."""
