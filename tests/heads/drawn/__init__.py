"""Draws them, lit and coloured by the skin model (an early form of the crew)."""
