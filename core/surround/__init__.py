"""What surrounds the skin: hair, cloth and ground as regions with ramps of their own, and what they do to it."""
