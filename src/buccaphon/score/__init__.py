"""The timed result that everything else reads and edits."""
