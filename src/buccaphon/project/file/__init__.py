"""The project on the disk: its file, what is kept while it is worked on, and finding its recordings again."""
