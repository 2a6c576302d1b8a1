"""What lies in an artist's box: colours told from names, sticks that stand in for others."""
