"""What lies over the page for a moment: notices, the chooser, lines to write in, the empty page."""
