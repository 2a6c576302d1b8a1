"""The step on paper: the order of the passes, and what was done of it."""
