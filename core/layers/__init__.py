"""Which sticks, over which areas, how hard, in which order? Plans in layers for the skin of a whole figure."""
