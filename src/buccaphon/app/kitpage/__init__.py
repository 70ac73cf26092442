"""The kit page: the character large, what is set by dragging on it, and the names that its host uses."""
