"""The light over a plate, from a meter or from a grid coupon."""
