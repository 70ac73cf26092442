"""Characters on show: a kit's face as it is at a moment, painted anywhere."""
