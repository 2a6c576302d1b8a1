"""What is described rather than seen: complexions that an artist keeps, and figures under an imagined light."""
