"""From a first estimate to an issued exposure: preparation, sources of a range, ladders, depth, first layer, rests, arms, confirmation."""
