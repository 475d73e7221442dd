"""Probes and their samples; heaters, flow and warm starts."""
