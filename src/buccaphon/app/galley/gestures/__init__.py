"""What the hand does in the galley, one file a lane: each press begins a gesture, which gets the moves and the release."""
