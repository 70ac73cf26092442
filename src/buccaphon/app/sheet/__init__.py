"""The exposure sheet: frames from top to bottom, on the screen and on paper."""
