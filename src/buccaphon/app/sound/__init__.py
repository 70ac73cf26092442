"""Sound out and in: the player and its clock, devices real and simulated, microphones, recording."""
