"""Calibrations, arms, coupons and designs; depth and first layer; guesses."""
