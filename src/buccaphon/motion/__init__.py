"""How the mouth moves: pose, weights, keys, and the bake that brings all of it to frames."""
