"""The day planned: tasks from the work itself, the plan, what was done of it, and what it takes."""
