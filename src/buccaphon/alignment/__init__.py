"""Where in the sound each word and phone lies."""
