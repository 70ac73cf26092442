"""The line as it plays, sent to another program on the same desk, and a stand-in for that program."""
