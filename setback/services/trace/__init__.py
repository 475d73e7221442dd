"""From a failed print to its cause, its check and its remedy."""
