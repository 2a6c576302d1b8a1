"""Simple heads of solids that eyes and measures are tried on; the crew of the demo is drawn elsewhere."""
