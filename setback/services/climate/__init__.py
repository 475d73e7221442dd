"""Climate: probes and their trace, warm starts, and what temperature does to resin and prints."""
