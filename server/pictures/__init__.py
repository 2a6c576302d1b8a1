"""References and other pictures that artists put in."""
