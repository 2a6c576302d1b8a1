"""The first step: reading the reference."""
