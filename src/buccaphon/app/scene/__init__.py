"""The scene at the foot of the window: where its lines lie, and where the playhead is."""
