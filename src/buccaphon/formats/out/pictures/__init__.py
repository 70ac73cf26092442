"""Pictures out: films, sequences, strips and the page to review, painted by whoever can."""
