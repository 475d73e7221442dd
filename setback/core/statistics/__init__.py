"""Statistics that know nothing of the job: points, weights, and what they say."""
