"""From what is seen on a failed print to its cause, its check and its remedy."""
