"""The demo project: Marigold's stall at the night market. Her line, her voice and her face are all our own."""
