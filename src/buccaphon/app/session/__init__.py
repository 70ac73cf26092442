"""What the window works on: the document, and the helpers that listen to it, each for one kind of work."""
