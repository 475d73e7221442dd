"""Parameter sets: issued, on cards and the Board, checked, lapsed."""
