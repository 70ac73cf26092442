"""Files out: one module a format, one descriptor each, and writing that never leaves half a file."""
