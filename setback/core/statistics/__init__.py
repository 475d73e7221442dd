"""Methods that know nothing of the job: lines, logits, exponentials, charts, summaries, comparisons, sample sizes, posteriors."""
