"""The panels at the left, one for each step of the work."""
