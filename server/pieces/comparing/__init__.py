"""The fifth step: the drawing photographed, judged, and put right."""
