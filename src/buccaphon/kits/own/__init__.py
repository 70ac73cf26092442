"""A character's own drawings: what their names claim, what their pictures show, and the one table made of both."""
