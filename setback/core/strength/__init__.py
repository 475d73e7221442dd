"""Breaking things the same way every time, and what the numbers say."""
