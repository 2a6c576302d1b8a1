"""The second step in layers: plans of figures, and what may become of them."""
