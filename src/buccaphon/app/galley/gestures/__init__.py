"""Mouse gestures in the galley, one file per lane: a press creates a gesture, which receives the moves and the release."""
