"""The document: its state, the edits that change it, its history, and the file it is kept in."""
