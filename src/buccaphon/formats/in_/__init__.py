"""Files in: scripts, and files that know when words are said."""
