"""The face at the playhead, and the sound that moves it."""
