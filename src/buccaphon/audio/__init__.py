"""Sound in, and what can be measured in it."""
