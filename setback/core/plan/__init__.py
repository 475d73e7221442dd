"""A day's work put in order: tasks, what they need, and when each of them begins."""
