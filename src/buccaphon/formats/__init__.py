"""Import and export formats, all told in one registry."""
