"""The campaign: its range, coupons planned, evidence, window, next step, and what confirms it."""
