"""The second step: recipes, and what is worth knowing around them."""
