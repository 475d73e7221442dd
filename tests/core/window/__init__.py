"""The window by chance."""
