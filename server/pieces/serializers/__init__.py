"""What comes in and goes out about pieces and their references. Well-formedness only."""
