"""What surrounds the skin of a piece: regions, their ramps, what they do to it."""
