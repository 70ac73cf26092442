"""Files out: one module for each kind of content, each format a function from a delivery to bytes."""
