"""How the maps of what is true of a picture are written."""

FAMILIES = ("highlight", "light", "half-tone", "core shadow", "cast shadow", "reflected light")
"""The parts of the light, counted from 1; 0 is what is not skin."""
PER_FIGURE = 32
"""Places of the first figure are counted from 1, of the second from 33; 0 is what is not skin, and the last number of a
figure is skin of no certain place."""
