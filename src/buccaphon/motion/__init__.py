"""How the mouth moves: jaw, weights, keys, and the bake that brings all of it to frames."""
