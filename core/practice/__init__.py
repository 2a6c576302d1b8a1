"""What trains the eye between two pieces: rounds of guesses, what they show, and a ramp laid by hand."""
