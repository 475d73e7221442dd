"""Routes of jobs, timers and calculators."""
