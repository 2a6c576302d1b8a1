"""What can be done with pieces. Only these modules write, and only they call the computation."""
