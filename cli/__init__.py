"""The command line: what scripts and benchmarks call."""
