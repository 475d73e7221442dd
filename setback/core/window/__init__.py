"""The process window: what each criterion says of exposure, what they say together, and the next coupon worth printing."""
