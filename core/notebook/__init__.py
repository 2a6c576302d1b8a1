"""What was made and learnt, found again by words and by colour."""
