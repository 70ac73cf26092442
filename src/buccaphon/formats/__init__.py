"""Files in and out, all told in one registry."""
