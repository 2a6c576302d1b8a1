"""The parts of a piece put together."""
