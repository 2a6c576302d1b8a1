"""Photographs of things on paper that are to be measured: squared up, freed of the lamp, read."""
