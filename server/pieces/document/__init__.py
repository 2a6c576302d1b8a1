"""What was decided about a piece: its schema, its history, its older forms."""
